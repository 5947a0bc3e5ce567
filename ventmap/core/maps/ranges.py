"""Whether every figure of a map is one that an engine can run with."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ..basics import Floats
from .calibration import SCALARS, TABLES, Calibration


@dataclass(frozen=True)
class OutOfRangeFigure:
    """A scalar, axis or cell outside its range, told in a sentence."""

    item: str
    sentence: str


def out_of_range(calibration: Calibration) -> list[OutOfRangeFigure]:
    """Every scalar, axis and table with a figure outside its range, or with none; empty for a sound map.

    What a device adds beyond the known scalars and tables must be a number, no more is known of it.
    """
    return [*_scalars(calibration), *_tables(calibration)]


def _scalars(calibration: Calibration) -> Iterator[OutOfRangeFigure]:
    for name, value in calibration.scalars.items():
        kind = SCALARS.get(name)
        low, high = (kind.low, kind.high) if kind else (-1e9, 1e9)
        if not low <= value <= high:
            told = f"{kind.text if kind else name} is {value:g}, and lies between {low:g} and {high:g}"
            yield OutOfRangeFigure(name, f"{told} {kind.unit if kind else ''}".strip() + ".")
    if calibration.scalars.get("fan_off", 0.0) >= calibration.scalars.get("fan_on", 1.0):
        yield OutOfRangeFigure(
            "fan_off", "the fan goes off at or above the temperature at which it comes on."
        )
    if calibration.scalars.get("cylinders", 1.0) % 1.0:
        yield OutOfRangeFigure("cylinders", "cylinders are whole.")


def _tables(calibration: Calibration) -> Iterator[OutOfRangeFigure]:
    for name, table in calibration.tables.items():
        kind = TABLES.get(name)
        if kind is None:
            if not np.all(np.isfinite(table.values)):
                yield OutOfRangeFigure(name, f"{name} has a cell without a number.")
            continue
        for label, axis, (low, high) in (("columns", table.x, kind.x), ("rows", table.y, kind.y)):
            if not _inside(axis, low, high):
                yield OutOfRangeFigure(name, f"{kind.text}: its {label} lie outside {low:g}–{high:g}.")
        low, high = kind.values
        bad = np.argwhere(~((table.values >= low) & (table.values <= high)))
        if len(bad):
            i, j = bad[0]
            yield OutOfRangeFigure(
                name,
                f"{kind.text} at {table.x[j]:g}, {table.y[i]:g} is {table.values[i, j]:g}, and lies between"
                f" {low:g} and {high:g} {kind.unit}.",
            )


def _inside(values: Floats, low: float, high: float) -> bool:
    return bool(np.all((values >= low) & (values <= high)))
