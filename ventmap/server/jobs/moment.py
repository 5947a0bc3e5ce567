"""When something was read, where it reached the server later: a tablet without Wi-Fi keeps it until then."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from datetime import datetime, timedelta

from django.utils import timezone

from ventmap.core.basics import BadInput

#: How long ago an entry was made, by the tablet's own clock from making to sending [s].
AGO = "X-Entered-Ago"
#: What waited less than this was entered now [s]; what is said to be older than this is not believed [s].
AT_ONCE, OLDEST = 30.0, 60 * 86400.0

_moment: ContextVar[datetime | None] = ContextVar("when it was entered", default=None)


@contextmanager
def entered(ago: str | None) -> Iterator[None]:
    """What is entered in here was entered so many seconds ago.

    Raises
    ------
    BadInput
        Where that is no count of seconds.
    """
    try:
        seconds = float(ago or 0.0)
    except ValueError:
        seconds = -1.0
    if not 0 <= seconds <= OLDEST:
        raise BadInput(
            "This tablet's clock was put forward or back while the entry waited: nobody can say when it was"
            " made. Enter it again.",
            "moment",
        )
    token = _moment.set(timezone.now() - timedelta(seconds=seconds) if seconds > AT_ONCE else None)
    try:
        yield
    finally:
        _moment.reset(token)


def moment() -> datetime:
    """When what is entered now was entered."""
    return _moment.get() or timezone.now()


def late() -> datetime | None:
    """When it was entered, where that was not just now."""
    return _moment.get()


def told(at: datetime) -> str:
    """A moment in words: the time, and the day where it was another."""
    here = timezone.localtime(at)
    same = here.date() == timezone.localdate()
    return here.strftime("%H:%M" if same else "%Y-%m-%d %H:%M")
