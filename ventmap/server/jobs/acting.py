"""One way to change a job: its row is locked, and all of a change is kept or nothing.

Two people who change one job at once come after each other, on every database; the second sees what the first
left. A kill at any moment leaves what was before or what came after, with its line in the ledger.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from functools import wraps
from typing import Concatenate, ParamSpec, TypeVar

from django.contrib.auth.models import User
from django.db import transaction

from ..shop.looking import between_writes, written
from .models import Job, LedgerEntry

P = ParamSpec("P")
R = TypeVar("R")

_held: ContextVar[frozenset[int]] = ContextVar("jobs held", default=frozenset())


_whose: ContextVar[User | None] = ContextVar("whose act", default=None)
#: What is done with a job once it was changed, in the same transaction.
AFTER: list[Callable[[Job], None]] = []


_follows: ContextVar[bool] = ContextVar("it follows from a change", default=False)


def follows() -> bool:
    """Whether what is judged now follows from a change, and nobody entered it."""
    return _follows.get()


def of_person(by: User) -> None:
    """Say whose act it is: what follows from it stands under their name."""
    _whose.set(by)


def whose(job: Job) -> User | None:
    """Whose act this is; where nobody said, whoever was last at the job."""
    known = _whose.get()
    if known is not None:
        return known
    last = LedgerEntry.objects.filter(job=job).select_related("by").first()
    return last.by if last else None


@contextmanager
def changing(job: Job) -> Iterator[None]:
    """Hold a job for a change; `job` is as it is in the database once it is held."""
    held = _held.get()
    with transaction.atomic():
        if job.pk in held:
            yield
            return
        job.refresh_from_db(from_queryset=Job.objects.select_for_update(of=("self",)))
        token = _held.set(held | {job.pk})
        said = _says.set(False)
        try:
            with between_writes():
                yield
                _settle(job)
        finally:
            _says.reset(said)
            _held.reset(token)


#: What somebody says of a job writes: its line, and that there is something new to read.
_SAID = frozenset(model._meta.db_table for model in (Job, LedgerEntry))
_says: ContextVar[bool] = ContextVar("it says something, and changes nothing", default=False)


def only_says() -> None:
    """This change is a word for the record: nothing is judged anew, unless it writes something else."""
    _says.set(True)


def _settle(job: Job) -> None:
    if _says.get() and written() <= _SAID:
        return
    following = _follows.set(True)
    try:
        for settle in AFTER:
            settle(job)
    finally:
        _follows.reset(following)


def changes_job(act: Callable[Concatenate[Job, P], R]) -> Callable[Concatenate[Job, P], R]:
    """A service whose first argument is the job that it changes."""

    @wraps(act)
    def held(job: Job, *given: P.args, **named: P.kwargs) -> R:
        with changing(job):
            return act(job, *given, **named)

    return held
