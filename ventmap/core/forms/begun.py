"""A map begun from nothing, for a device that nobody knows: lists typed or pasted, tables by their axes.

What nobody said is not filled in: a wanted value is the stock one until somebody wants another, a trim adds
nothing, and a table that cannot be neutral is pasted whole. Where bounds are not given, only stock lies
within.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..basics import BadInput, Table2D, one_figure, split_cells
from .calibration import Calibration, Identity, Lineage, Row
from .document import MapConditions, Value
from .kinds import ColumnKind, Form, ListKind, TableKind
from .pasted import read_table
from .ranges import out_of_range

#: More rows than any list of the trade, more points than any axis.
MOST_ROWS, MOST_POINTS = 400, 64
#: Tables that may stand neutral: what they hold then does nothing.
NEUTRAL = {
    "fuel_trim": 0.0,
    "spark_trim": 0.0,
    "added_boost": 0.0,
    "pulse_factor": 1.0,
    "start_addition": 0.0,
}
#: Table → list whose rows are its rows.
ROWS_OF = {"added_boost": "levels", "pulse_factor": "presets"}
#: The column that names a row in a map; made from what it is called, where nobody types it.
OWN_KEY = "key"
#: Other words for figures that are held against a record wherever they stand.
ALIASES = {
    "idle_speed": "idle",
    "idle_speed_warm": "idle",
    "warm_idle": "idle",
    "idle_rpm": "idle",
    "rev_limiter": "rev_limit",
    "rpm_limit": "rev_limit",
    "engine_speed_limit": "rev_limit",
    "speed_limiter": "speed_limit",
    "road_speed_limit": "speed_limit",
    "top_speed": "speed_limit",
    "fan_comes_on": "fan_on",
    "fan_on_temperature": "fan_on",
    "fan_goes_off": "fan_off",
    "fan_off_temperature": "fan_off",
}
YES, NO = ("yes", "y", "true", "1", "x"), ("no", "n", "false", "0", "", "–", "-")


@dataclass(frozen=True)
class AxesTyped:
    """A table as it was typed: its axes as text, or the whole of it pasted."""

    x: str = ""
    y: str = ""
    whole: str = ""


def rows_of_text(kind: ListKind, text: str) -> list[dict[str, str]]:
    """Lines of a list as cells by column; the first line may be headings, else columns stand in our order.

    Raises
    ------
    BadInput
        Where a line has more cells than the list has columns, or there are too many lines.

    Examples
    --------
    >>> from .listed import ENTRIES
    >>> rows_of_text(ENTRIES.lists["entries"], "number;name;stock\\n7;idle;750")
    [{'number': '7', 'name': 'idle', 'stock': '750'}]
    """
    lines = [re.split(r"\t|;", line) for line in text.replace("\r", "").split("\n") if line.strip()]
    if lines and all(len(line) == 1 for line in lines):
        lines = split_cells(text)
    if len(lines) > MOST_ROWS:
        raise BadInput(f"{len(lines)} lines; at most {MOST_ROWS} are read.", "text")
    names = [name for name in kind.columns if name != OWN_KEY]
    if lines and len(found := _headings(kind, lines[0])) > 1:
        names, lines = found, lines[1:]
    rows = []
    for number, line in enumerate(lines, 1):
        if len(line) > len(names):
            raise BadInput(
                f"Line {number} has {len(line)} cells, the list {len(names)} columns:"
                f" {', '.join(kind.columns[name].text for name in names if name)}.",
                "text",
            )
        rows.append({name: cell.strip() for name, cell in zip(names, line, strict=False) if name})
    return rows


def _headings(kind: ListKind, line: Sequence[str]) -> list[str]:
    """The columns that a first line names; fewer than two are no headings."""
    called = {text.lower(): key for key, column in kind.columns.items() for text in (key, column.text)}
    found = [called.get(cell.strip().lower(), "") for cell in line]
    return found if sum(map(bool, found)) > 1 else []


def _value(column: ColumnKind, text: str, where: str, field: str) -> Value | None:
    if column.form == "yes":
        if text.lower() in YES:
            return True
        if text.lower() in NO:
            return False
        raise BadInput(f"{where}: {column.text} is yes or no, not “{text[:20]}”.", field)
    if not text:
        return None
    if column.form in ("number", "whole"):
        value = one_figure(text)
        if value is None:
            raise BadInput(f"{where}: {column.text} “{text[:20]}” is no figure.", field)
        return value
    return text


def _rows(name: str, kind: ListKind, typed: Sequence[Mapping[str, str]]) -> tuple[Row, ...]:
    """Rows as a map keeps them; wanted is stock, and bounds are stock, where nothing was said."""
    if kind.needed and not typed:
        raise BadInput(f"{kind.text.capitalize()}: enter one row at least.", f"lists.{name}")
    found = []
    for number, cells in enumerate(typed, 1):
        where, row = f"{kind.text.capitalize()}, row {number}", dict[str, Value]()
        for key, column in kind.columns.items():
            field = f"lists.{name}.{number}.{key}"
            value = _value(column, str(cells.get(key) or "").strip(), where, field)
            if value is not None:
                row[key] = value
        if "stock" in kind.columns:
            _as_stock(row)
        if kind.key == OWN_KEY and OWN_KEY not in row and "name" in row:
            slug = re.sub(r"[^a-z0-9]+", "_", str(row["name"]).lower()).strip("_") or f"row_{number}"
            row[OWN_KEY] = ALIASES.get(slug, slug)
        found.append(row)
    return tuple(found)


def typed_row(name: str, kind: ListKind, cells: Mapping[str, str]) -> Row:
    """One row of a list as a map keeps it, from its cells as they were typed."""
    return _rows(name, kind, [cells])[0]


def _as_stock(row: dict[str, Value]) -> None:
    if "stock" not in row:
        return
    row.setdefault("wanted", row["stock"])
    bounds = ("low" in row, "high" in row)
    if not any(bounds):
        row["low"] = row["high"] = row["stock"]


def _axis(text: str, what: str, field: str) -> list[float]:
    cells = [cell for cell in re.split(r"[\s;\t]+", text.strip()) if cell]
    points = [one_figure(cell) for cell in cells]
    bad = next((cell for cell, value in zip(cells, points, strict=True) if value is None), None)
    if not cells or bad is not None:
        raise BadInput(f"{what}: type its points with blanks between, as 1000 2000 3000.", field)
    values = sorted({float(value) for value in points if value is not None})
    if len(values) > MOST_POINTS:
        raise BadInput(f"{what}: {len(values)} points; at most {MOST_POINTS} are read.", field)
    return values


def _table(form: Form, name: str, kind: TableKind, typed: AxesTyped, rows: Sequence[float]) -> Table2D:
    called, field = form.title_of(name), f"tables.{name.partition('.')[0]}"
    if typed.whole.strip():
        try:
            return read_table(typed.whole).table
        except BadInput as error:
            raise BadInput(f"{called}: {error.sentence}", field) from error
    if name.partition(".")[0] not in NEUTRAL:
        raise BadInput(f"{called}: paste it whole, with its axes; nobody can guess it.", field)
    x = _axis(typed.x, f"{called}, {kind.columns.text} [{kind.columns.unit}]", f"{field}.x")
    if kind.rows is None:
        y: Sequence[float] = [0.0]
    elif rows:
        y = sorted(rows)
    else:
        y = _axis(typed.y, f"{called}, {kind.rows.text} [{kind.rows.unit}]", f"{field}.y")
    return Table2D(x, y, np.full((len(y), len(x)), NEUTRAL[name.partition(".")[0]]))


def begin(
    form: Form,
    *,
    name: str,
    identity: Identity,
    author: str,
    lists: Mapping[str, Sequence[Mapping[str, str]]],
    tables: Mapping[str, AxesTyped],
    scalars: Mapping[str, float],
    conditions: MapConditions,
) -> Calibration:
    """A first map of a form, from what was typed.

    Parameters
    ----------
    lists : mapping of str to rows of cells
        As typed or from `rows_of_text`.
    tables : mapping of str to AxesTyped
        By the table's stem; one for each row of a list stands in all of them alike.
    scalars : mapping of str to float
        In canonical units.

    Raises
    ------
    BadInput
        Naming the field: what is missing, no figure, or outside what its device can run with.
    """
    kept = {key: _rows(key, kind, lists.get(key, ())) for key, kind in form.lists.items()}
    kept = {key: rows for key, rows in kept.items() if rows or form.lists[key].needed}
    made: dict[str, Table2D] = {}
    for stem, kind in form.tables.items():
        typed = tables.get(stem, AxesTyped())
        if not kind.needed and typed == AxesTyped():
            continue
        if kind.each:
            for row in kept.get(kind.each, ()):
                if not row.get("fixed"):
                    full = f"{stem}.{float(row['number']):g}"
                    made[full] = _table(form, full, kind, typed, ())
            continue
        numbers = [float(row["number"]) for row in kept.get(ROWS_OF.get(stem, ""), ()) if "number" in row]
        made[stem] = _table(form, stem, kind, typed, numbers)
    if not (kept or made or scalars):
        raise BadInput("Nothing is entered yet: type one figure at least, or paste a table.", "scalars")
    missing = next((key for key, kind in form.scalars.items() if kind.needed and key not in scalars), None)
    if missing is not None:
        raise BadInput(f"{form.scalars[missing].text.capitalize()} is missing.", f"scalars.{missing}")
    calibration = Calibration(
        name,
        identity,
        dict(scalars),
        made,
        lineage=Lineage("r0", note="begun here from nothing", author=author),
        conditions=conditions,
        form=form.key,
        lists=kept,
    )
    wrong = next(iter(out_of_range(calibration)), None)
    if wrong is not None:
        raise BadInput(f"{wrong.sentence[:1].upper()}{wrong.sentence[1:]}", f"lists.{wrong.item}")
    return calibration


def as_begun(calibration: Calibration) -> tuple[dict[str, list[dict[str, str]]], dict[str, AxesTyped]]:
    """What is taken over from another device's map: its rows with stock wanted and no reasons, its axes."""
    lists = {
        key: [
            {
                column: _typed(row["stock"] if column == "wanted" and "stock" in row else value)
                for column, value in row.items()
                if column != "reason"
            }
            for row in rows
        ]
        for key, rows in calibration.lists.items()
    }
    tables: dict[str, AxesTyped] = {}
    for name, table in calibration.tables.items():
        x, y = (" ".join(f"{point:g}" for point in axis) for axis in (table.x, table.y))
        tables.setdefault(name.partition(".")[0], AxesTyped(x, y))
    return lists, tables


def without_wishes(calibration: Calibration) -> Calibration:
    """A map as it is kept for the next owner: its settings, bounds and coding, every wanted value as stock
    and nobody's reasons.
    """
    lists = {
        name: tuple(
            {key: value for key, value in {**row, "wanted": row["stock"]}.items() if key != "reason"}
            if {"stock", "wanted"} <= set(row)
            else row
            for row in rows
        )
        for name, rows in calibration.lists.items()
    }
    return replace(calibration, lists=lists)


def _typed(value: Value) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    return f"{value:g}" if isinstance(value, float | int) else value
