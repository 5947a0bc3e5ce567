"""What the level that is set of a sensor piggyback adds."""

from __future__ import annotations

from ..forms import Calibration


def added_at(calibration: Calibration) -> tuple[tuple[float, float], ...]:
    """Speed [rpm] and added boost [kPa] of the level that is set; nothing where it is off, or has no row."""
    table, level = calibration.tables["added_boost"], calibration.scalars.get("level", 0.0)
    rows = [number for number, value in enumerate(table.y) if float(value) == level]
    if not rows or not table.values[rows[0]].any():
        return ()
    return tuple((float(x), float(added)) for x, added in zip(table.x, table.values[rows[0]], strict=True))
