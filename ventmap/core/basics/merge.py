"""Two people on one grid: what each changed is kept, and where both changed one field it is said."""

from __future__ import annotations

from typing import Any

from .errors import VentMapError


class Conflict(VentMapError):
    """Both changed the same field to different values; `field` names the way to it."""


def merge(base: Any, theirs: Any, mine: Any, path: str = "") -> Any:
    """Three-way merge of nested tables, lists and plain values.

    Parameters
    ----------
    base : value
        What both started from.
    theirs, mine : value
        What is stored now, and what is to be stored.

    Returns
    -------
    value
        Tables are merged key by key; lists of one length place by place; other lists by what each added and
        took away.

    Raises
    ------
    Conflict
        Where both changed one plain value differently.

    Examples
    --------
    >>> merge({"a": "", "b": ""}, {"a": "20 mV", "b": ""}, {"a": "", "b": "30 mV"})
    {'a': '20 mV', 'b': '30 mV'}
    """
    if theirs == mine or mine == base:
        return theirs
    if theirs == base:
        return mine
    if isinstance(theirs, dict) and isinstance(mine, dict):
        before = base if isinstance(base, dict) else {}
        keys = [*theirs, *(key for key in mine if key not in theirs)]
        return {
            key: merge(before.get(key), theirs.get(key), mine.get(key), f"{path} {key}".strip())
            for key in keys
        }
    if isinstance(theirs, list) and isinstance(mine, list):
        start: list[Any] = base if isinstance(base, list) else []
        if len(theirs) == len(mine) and len(start) in (0, len(mine)) and not _added(start, theirs, mine):
            from_there = start or [None] * len(mine)
            return [
                merge(b, t, m, f"{path} {n}".strip())
                for n, (b, t, m) in enumerate(zip(from_there, theirs, mine, strict=True), 1)
            ]
        gone = [item for item in start if item not in mine]
        return [item for item in theirs if item not in gone] + [
            item for item in mine if item not in theirs and item not in start
        ]
    if theirs in (None, ""):
        return mine
    if mine in (None, ""):
        return theirs
    raise Conflict(f"{path}: they entered {theirs}, you {mine}.", path)


def _added(before: list[Any], theirs: list[Any], mine: list[Any]) -> bool:
    """Whether these are lists of things added one by one (readings), not rows with fields to fill."""
    return (
        not before
        and any(item not in mine for item in theirs)
        and all(isinstance(item, dict) and "beeps" in item for item in theirs)
    )
