"""Where a log comes from: known by the set of its headings, or by the frames of its trace."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from ..basics import LogSource
from .files import dbc_covers, is_trace


def source_of(headings: Iterable[str], sources: Mapping[str, LogSource]) -> str:
    """Key of the source with just these headings; empty where none has them.

    Examples
    --------
    >>> source_of(["t", "n"], {"bench": LogSource(headings=("n", "t"))})
    'bench'
    """
    wanted = frozenset(headings)
    return next((key for key, one in sources.items() if wanted and frozenset(one.headings) == wanted), "")


def dbc_for(data: bytes, name: str, sources: Mapping[str, LogSource]) -> str:
    """Text of the kept DBC file that names the most frames of a trace; empty where it is no trace, or none
    names any.
    """
    kept = [source.dbc for source in sources.values() if source.dbc]
    if not kept or not is_trace(data, name):
        return ""
    covered = [(dbc_covers(dbc, data, name), dbc) for dbc in dict.fromkeys(kept)]
    most, dbc = max(covered)
    return dbc if most else ""
