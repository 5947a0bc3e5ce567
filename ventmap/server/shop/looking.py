"""One look: while a screen is put together nothing changes; what it has read of a job it reads once. While
something is changed, what was read holds until a table is written that it came from.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass, field
from functools import lru_cache, wraps
from typing import Any, Concatenate, ParamSpec, Protocol, TypeVar

from django.db import connection

_SEEN: ContextVar[dict[Any, Any] | None] = ContextVar("seen", default=None)


@dataclass
class _Reading:
    """What was read within a change: each answer with the tables that it came from."""

    kept: dict[Any, tuple[Any, frozenset[str]]] = field(default_factory=dict)
    #: Tables of every answer that is being put together now, the outermost first.
    open: list[set[str]] = field(default_factory=list)
    #: Every table that was written.
    written: set[str] = field(default_factory=set)

    def notice(self, execute: Any, sql: str, params: Any, many: bool, context: Any) -> Any:
        read, written = tables_of(sql)
        for tables in self.open:
            tables |= read
        if written:
            self.written |= written
            self.kept = {key: was for key, was in self.kept.items() if not written_meets(written, was[1])}
        return execute(sql, params, many, context)


_READ: ContextVar[_Reading | None] = ContextVar("read since it was written", default=None)
#: Statements after which every row is what it was.
_LEAVES = ("SAVEPOINT", "RELEASE", "BEGIN", "PRAGMA", "SET ", "SHOW ")
_FROM = re.compile(r'(?:FROM|JOIN) "(\w+)"')
_INTO = re.compile(r'(?:INSERT INTO|INSERT OR \w+ INTO|UPDATE|DELETE FROM) "(\w+)"')
#: Of a statement that nobody can read: whatever was read may be another.
_ANY = "*"


@lru_cache(4096)
def tables_of(sql: str) -> tuple[frozenset[str], frozenset[str]]:
    """Tables that a statement reads, and those that it writes; any, where it does not say which."""
    if sql.startswith(_LEAVES):
        return frozenset(), frozenset()
    read = frozenset(_FROM.findall(sql))
    if sql.startswith("SELECT"):
        return read, frozenset()
    into = _INTO.match(sql)
    return read, frozenset({into.group(1) if into else _ANY})


def written_meets(written: frozenset[str], read: frozenset[str]) -> bool:
    return _ANY in written or bool(written & read)


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


def once(asked: Callable[[], R]) -> Callable[[], R]:
    """What one look needs once, whoever asks."""

    @wraps(asked)
    def ask() -> R:
        seen = _SEEN.get()
        if seen is None:
            return asked()
        if asked not in seen:
            seen[asked] = asked()
        return seen[asked]

    return ask


@contextmanager
def between_writes() -> Iterator[None]:
    """Within it `until_written` reads once until a table is written that the answer came from; for a change
    that holds its rows.
    """
    if _READ.get() is not None:
        yield
        return
    reading = _Reading()
    token = _READ.set(reading)
    try:
        with connection.execute_wrapper(reading.notice):
            yield
    finally:
        _READ.reset(token)


def written() -> frozenset[str]:
    """Tables that the change under way has written so far."""
    reading = _READ.get()
    return frozenset(reading.written) if reading is not None else frozenset({_ANY})


def until_written(ask: Callable[P, R]) -> Callable[P, R]:
    """A question to the database whose arguments say all that it asks; its answer is not to be changed."""

    @wraps(ask)
    def once(*args: P.args, **named: P.kwargs) -> R:
        reading = _READ.get()
        if reading is None:
            return ask(*args, **named)
        key = (ask, args, tuple(named.items()))
        if key not in reading.kept:
            tables: set[str] = set()
            reading.open.append(tables)
            try:
                answer = ask(*args, **named)
            finally:
                reading.open.pop()
            reading.kept[key] = (answer, frozenset(tables))
        answer, read = reading.kept[key]
        for outer in reading.open:
            outer |= read
        return answer

    return once
