"""Whether every figure of a map is one that its device can run with."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ..basics import BadInput, Floats, parse
from .calibration import Calibration, Row
from .catalogue import FORMS
from .kinds import Axis, ColumnKind, ListKind
from .own import OWN, OWN_LIST


@dataclass(frozen=True)
class OutOfRangeFigure:
    """A scalar, axis, cell or row outside its range, told in a sentence."""

    item: str
    sentence: str


def out_of_range(calibration: Calibration) -> list[OutOfRangeFigure]:
    """Every scalar, axis, table and list with a figure outside its range, or with none; empty for a sound
    map.

    What a device adds beyond the known scalars and tables must be a number, no more is known of it.
    """
    return [*_scalars(calibration), *_tables(calibration), *_own(calibration), *_lists(calibration)]


def _scalars(calibration: Calibration) -> Iterator[OutOfRangeFigure]:
    for name, value in calibration.scalars.items():
        kind = calibration.kind.scalars.get(name)
        low, high = (kind.low, kind.high) if kind else (-1e9, 1e9)
        if not low <= value <= high:
            told = f"{kind.text if kind else name} is {value:g}, and lies between {low:g} and {high:g}"
            yield OutOfRangeFigure(name, f"{told} {kind.unit if kind else ''}".strip() + ".")
    scalars = calibration.scalars
    if scalars.get("fan_off", 0.0) >= scalars.get("fan_on", 1.0):
        yield OutOfRangeFigure(
            "fan_off", "the fan goes off at or above the temperature at which it comes on."
        )
    if scalars.get("overrun_off_rpm", 0.0) >= scalars.get("overrun_on_rpm", 1e9):
        yield OutOfRangeFigure(
            "overrun_off_rpm", "overrun: fuel comes back at or above the speed at which it is cut."
        )
    for name in ("cylinders", "level", "preset"):
        if scalars.get(name, 1.0) % 1.0:
            yield OutOfRangeFigure(name, f"{name} {scalars[name]:g}: use a whole number.")


def _tables(calibration: Calibration) -> Iterator[OutOfRangeFigure]:
    for name, table in calibration.tables.items():
        kind = calibration.table_kind(name)
        if kind is None:
            if not np.all(np.isfinite(table.values)):
                yield OutOfRangeFigure(name, f"{name} has a cell without a number.")
            continue
        called = calibration.title_of(name)
        if kind.rows is None and len(table.y) != 1:
            yield OutOfRangeFigure(name, f"{called}: it is a curve of one row, and has {len(table.y)}.")
        axes = [("columns", table.x, kind.columns)]
        axes += [("rows", table.y, kind.rows)] if kind.rows else []
        for label, axis, about in axes:
            if not _inside(axis, about):
                yield OutOfRangeFigure(
                    name, f"{called}: its {label} lie outside {about.low:g}–{about.high:g}."
                )
        bad = np.argwhere(~((table.values >= kind.low) & (table.values <= kind.high)))
        if len(bad):
            i, j = bad[0]
            at = f"{table.x[j]:g}, {table.y[i]:g}" if kind.rows else f"{table.x[j]:g}"
            yield OutOfRangeFigure(
                name,
                f"{called} at {at} is {table.values[i, j]:g}, and lies between"
                f" {kind.low:g} and {kind.high:g} {kind.unit}.",
            )


def _inside(values: Floats, axis: Axis) -> bool:
    return bool(np.all((values >= axis.low) & (values <= axis.high)))


def _lists(calibration: Calibration) -> Iterator[OutOfRangeFigure]:
    for name, rows in calibration.lists.items():
        kind = calibration.kind.lists.get(name)
        if kind is None:
            yield OutOfRangeFigure(name, f"a {calibration.kind.title} has no list “{name}”.")
            continue
        keys = [str(row.get(kind.key)) for row in rows]
        for key in sorted({key for key in keys if keys.count(key) > 1}):
            yield OutOfRangeFigure(name, f"{kind.text}: {key} stands there twice.")
        for row in rows:
            yield from _row(name, kind, row)


def _own(calibration: Calibration) -> Iterator[OutOfRangeFigure]:
    """Each table of its own name is there, and each that is there is said what it is."""
    told = {
        f"{OWN}.{float(row['number']):g}" for row in calibration.lists.get(OWN_LIST, ()) if "number" in row
    }
    there = {name for name in calibration.tables if name.startswith(f"{OWN}.")}
    for name in sorted(told ^ there):
        lacks = "nobody pasted it" if name in told else "nobody says what it is"
        yield OutOfRangeFigure(name, f"table {name.partition('.')[2]} of its own name: {lacks}.")


def _row(name: str, kind: ListKind, row: Row) -> Iterator[OutOfRangeFigure]:
    here = f"{kind.text}, {row.get(kind.key, 'a row')}"
    for strange in sorted(set(row) - set(kind.columns)):
        yield OutOfRangeFigure(name, f"{here}: it has no “{strange}”.")
    for key, column in kind.columns.items():
        if key not in row:
            if column.needed:
                yield OutOfRangeFigure(name, f"{here}: {column.text} is missing.")
            continue
        said = _wrong(column, row[key])
        if said:
            yield OutOfRangeFigure(name, f"{here}: {column.text} {said}.")
    if name == "options" and (unit := _strange_unit(row)):
        known = FORMS["full"].scalars[str(row["key"])].unit
        yield OutOfRangeFigure(name, f"{here}: nobody knows the unit “{unit}”; say it in {known}.")
    low, high = row.get("low"), row.get("high")
    if isinstance(low, float | int) and isinstance(high, float | int):
        for part in ("stock", "wanted"):
            value = row.get(part)
            if isinstance(value, float | int) and not low <= value <= high:
                told = f"{kind.columns[part].text} is {value:g}, and lies between {low:g} and {high:g}"
                yield OutOfRangeFigure(name, f"{here}: {told} {row.get('unit', '')}".strip() + ".")


def _strange_unit(row: Row) -> str:
    """The unit of an option that a record judges, where it cannot be brought to ours; else empty."""
    kind, unit = FORMS["full"].scalars.get(str(row.get("key"))), str(row.get("unit", ""))
    if kind is None or not kind.quantity or unit in ("", kind.unit):
        return ""
    try:
        parse(f"1 {unit}", kind.quantity)
    except BadInput:
        return unit
    return ""


def _wrong(column: ColumnKind, value: object) -> str:
    """What is wrong with a value of a list, or nothing."""
    if column.form == "yes":
        return "" if isinstance(value, bool) else "is yes or no"
    if column.form in ("text", "choice"):
        if not isinstance(value, str):
            return "is a word"
        return (
            "" if not column.choices or value in column.choices else f"is one of {', '.join(column.choices)}"
        )
    if isinstance(value, bool) or not isinstance(value, float | int):
        return "is a figure"
    if not column.low <= value <= column.high:
        return f"is {value:g}, and lies between {column.low:g} and {column.high:g} {column.unit}".strip()
    return "is whole" if column.form == "whole" and value % 1 else ""
