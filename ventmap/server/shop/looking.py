"""One look: while a screen is put together nothing changes; what it has read of a job it reads once. While
something is changed, what was read holds until the next write.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from functools import wraps
from typing import Any, Concatenate, ParamSpec, Protocol, TypeVar

from django.db import connection

_SEEN: ContextVar[dict[Any, Any] | None] = ContextVar("seen", default=None)


_READ: ContextVar[dict[Any, Any] | None] = ContextVar("read since the last write", default=None)
#: Statements after which every row is what it was.
_LEAVES = ("SELECT", "SAVEPOINT", "RELEASE")


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


@contextmanager
def between_writes() -> Iterator[None]:
    """Within it `until_written` reads once until anything is written; for a change that holds its rows."""
    if _READ.get() is not None:
        yield
        return
    read: dict[Any, Any] = {}

    def forget(execute: Any, sql: str, params: Any, many: bool, context: Any) -> Any:
        if not sql.startswith(_LEAVES):
            read.clear()
        return execute(sql, params, many, context)

    token = _READ.set(read)
    try:
        with connection.execute_wrapper(forget):
            yield
    finally:
        _READ.reset(token)


def until_written(ask: Callable[P, R]) -> Callable[P, R]:
    """A question to the database whose arguments say all that it asks; its answer is not to be changed."""

    @wraps(ask)
    def once(*args: P.args, **named: P.kwargs) -> R:
        read = _READ.get()
        if read is None:
            return ask(*args, **named)
        key = (ask, args, tuple(named.items()))
        if key not in read:
            read[key] = ask(*args, **named)
        return read[key]

    return once
