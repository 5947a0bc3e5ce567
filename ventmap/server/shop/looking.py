"""One look: while a screen is put together nothing changes; what it has read of a job it reads once."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from functools import wraps
from typing import Any, Concatenate, ParamSpec, Protocol, TypeVar

_SEEN: ContextVar[dict[Any, Any] | None] = ContextVar("seen", default=None)


class Row(Protocol):
    """A row of the database."""

    pk: Any


T = TypeVar("T", bound=Row)
P = ParamSpec("P")
R = TypeVar("R")


@contextmanager
def looking() -> Iterator[None]:
    """Within it `once_a_look` reads once. For answers alone: who changes something must see the change."""
    if _SEEN.get() is not None:
        yield
        return
    token = _SEEN.set({})
    try:
        yield
    finally:
        _SEEN.reset(token)


def once_a_look(asked: Callable[Concatenate[T, P], R]) -> Callable[Concatenate[T, P], R]:
    """What a function says of a row, kept as long as somebody is `looking`."""

    @wraps(asked)
    def ask(row: T, *args: P.args, **named: P.kwargs) -> R:
        seen = _SEEN.get()
        if seen is None:
            return asked(row, *args, **named)
        key = (asked, row.pk, args, tuple(named.items()))
        if key not in seen:
            seen[key] = asked(row, *args, **named)
        return seen[key]

    return ask
