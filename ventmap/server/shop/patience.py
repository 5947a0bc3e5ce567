"""How long a request waits for the database while somebody else writes: not for ever, and it is said.

What works in the background (a capture, an import) waits as long as the settings say.
"""

from __future__ import annotations

from collections.abc import Callable
from contextvars import ContextVar
from typing import Any

from django.conf import settings
from django.http import HttpRequest, HttpResponse

_asked: ContextVar[bool] = ContextVar("somebody waits for the answer", default=False)


def somebody_waits(
    get_response: Callable[[HttpRequest], HttpResponse],
) -> Callable[[HttpRequest], HttpResponse]:
    """A middleware before all that read the database."""

    def ask(request: HttpRequest) -> HttpResponse:
        token = _asked.set(True)
        try:
            return get_response(request)
        finally:
            _asked.reset(token)

    return ask


def on_connection(sender: Any, connection: Any, **_: Any) -> None:
    """A connection that is opened for a request gives up sooner: a setting, in each database's own words."""
    if not _asked.get():
        return
    longest = int(1000 * settings.PATIENCE_S)
    setting = "PRAGMA busy_timeout =" if connection.vendor == "sqlite" else "SET lock_timeout ="
    with connection.cursor() as cursor:
        cursor.execute(f"{setting} {longest}")
