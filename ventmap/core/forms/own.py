"""Tables of another program that no form knows: names, units and axes, and what they hold where known."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace

from .kinds import Axis, ColumnKind, ListKind, TableKind

Row = Mapping[str, float | bool | str]
#: Stem of such tables in a map, ``own.3``; and the list that says what each is.
OWN, OWN_LIST = "own", "tables"
#: A program has not more of them that anybody pastes.
MOST_OWN = 99


@dataclass(frozen=True)
class Holds:
    """A quantity that a table may hold: its unit, and what an engine can run with."""

    unit: str
    low: float
    high: float


NOBODY_KNOWS = "something else"
SPARK, MIXTURE, REV_LIMIT, SPEED_LIMIT = "spark", "mixture target", "rev limit", "speed limit"
HOLDS = {
    NOBODY_KNOWS: Holds("", -1e9, 1e9),
    SPARK: Holds("° BTDC", -30, 60),
    MIXTURE: Holds("lambda", 0.6, 1.4),
    "filling": Holds("%", 2, 250),
    "fuel added or taken": Holds("%", -100, 1_200),
    "boost": Holds("kPa", 0, 600),
    "cam timing": Holds("°", -90, 120),
    "throttle opening": Holds("%", 0, 100),
    "duty of a valve or fan": Holds("%", 0, 100),
    "share of the second injectors": Holds("%", 0, 100),
    "torque": Holds("N·m", -1_000, 10_000),
    "temperature": Holds("°C", -60, 250),
    REV_LIMIT: Holds("rpm", 500, 25_000),
    SPEED_LIMIT: Holds("km/h", 5, 500),
}
#: Any axis: what it may be is said with the table.
_ANY = Axis("columns", "", -1e6, 1e6)
OWN_TABLE = TableKind(
    "",
    _ANY,
    replace(_ANY, text="rows"),
    "a table by its own name",
    -1e9,
    1e9,
    needed=False,
    each=OWN_LIST,
    decimals=3,
)
OWN_TABLES = ListKind(
    "tables by their own names",
    "number",
    {
        "number": ColumnKind("number", "whole", low=1, high=MOST_OWN),
        "name": ColumnKind("what it is called"),
        "holds": ColumnKind("what it holds", "choice", choices=tuple(HOLDS)),
        "unit": ColumnKind("unit", needed=False),
        "x_text": ColumnKind("columns are"),
        "x_unit": ColumnKind("unit of the columns", needed=False),
        "y_text": ColumnKind("rows are", needed=False),
        "y_unit": ColumnKind("unit of the rows", needed=False),
        "low": ColumnKind("least", "number", needed=False),
        "high": ColumnKind("most", "number", needed=False),
    },
    needed=False,
)


def own_kind(row: Row) -> TableKind:
    """What a table of its own name is, by its row of the list.

    What it holds gives unit and widest range where somebody knows it; the program's own bounds narrow it.
    """
    holds = HOLDS[str(row["holds"])]
    low, high = float(row.get("low", holds.low)), float(row.get("high", holds.high))
    y_text = str(row.get("y_text", ""))
    return replace(
        OWN_TABLE,
        unit=holds.unit or str(row.get("unit", "")),
        text=str(row["name"]),
        columns=replace(_ANY, text=str(row["x_text"]), unit=str(row.get("x_unit", ""))),
        rows=replace(_ANY, text=y_text, unit=str(row.get("y_unit", ""))) if y_text else None,
        low=max(low, holds.low),
        high=min(high, holds.high),
    )


def own_row(rows: Iterable[Row], name: str) -> Row | None:
    """The row that says what ``own.3`` is; None where none does, or it is no such table."""
    stem, _, number = name.partition(".")
    if stem != OWN or not number.isdigit():
        return None
    return next((row for row in rows if row.get("number") == float(number)), None)
