"""Transfer curves of sensors in a map: two points for a linear one, three for a thermistor."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..basics import BadInput, Call, Evidence, Table2D, Verdict
from ..electrics import SteinhartHart, linear_from_points
from ..forms import FORMS, Calibration

#: Table → how many points make it, and what they are.
CURVES = {
    "pressure_sensor": (2, "volts and kPa"),
    "coolant_sensor": (3, "ohms and °C"),
    "intake_sensor": (3, "ohms and °C"),
}
#: Temperatures at which a thermistor's curve has a point [°C], coldest last: resistance rises.
TEMPERATURES = (130, 110, 90, 75, 60, 45, 30, 20, 10, 0, -10, -20, -30, -40)
SOURCE = "Linear from two points; thermistor from three (Steinhart and Hart 1968)"


def sensor_curve(name: str, points: Sequence[tuple[float, float]]) -> Table2D:
    """The curve of a sensor from its points (signal, value).

    Parameters
    ----------
    name : str
        One of `CURVES`.
    points : sequence of pair
        Signal [V or Ω] and value [kPa or °C].

    Raises
    ------
    BadInput
        If there are too few points, two of one signal, or a curve that no such sensor has.
    """
    if name not in CURVES:
        raise BadInput(f"“{name}” is none of {', '.join(CURVES)}.", "table")
    count, what = CURVES[name]
    if len(points) != count:
        raise BadInput(f"This curve is made from {count} points, {what}; {len(points)} were given.", "points")
    if not np.all(np.isfinite(np.asarray(points, float))):
        raise BadInput(f"Each point is two figures: {what}.", "points")
    made = _linear(points) if name == "pressure_sensor" else _thermistor(points)
    kind = FORMS["full"].tables[name]
    if not np.all((made.values >= kind.low) & (made.values <= kind.high)):
        raise BadInput(
            f"From these points it would read {made.values.min():.0f} to {made.values.max():.0f} {kind.unit}:"
            " one of them is mistyped.",
            "points",
        )
    return made


def _linear(points: Sequence[tuple[float, float]]) -> Table2D:
    curve = linear_from_points(points)
    low, high = sorted(volts for volts, _ in points)
    if curve.slope <= 0:
        raise BadInput("A pressure sensor's signal rises with pressure: the points are crossed.", "points")
    volts = np.round(np.linspace(low, high, 9), 3)
    return Table2D(volts, [0.0], [np.round(curve.slope * volts + curve.offset, 2)])


def _thermistor(points: Sequence[tuple[float, float]]) -> Table2D:
    ranked = sorted(points)
    if any(colder >= warmer for (_, warmer), (_, colder) in zip(ranked, ranked[1:], strict=False)):
        raise BadInput("A thermistor's resistance falls as it warms: the points are crossed.", "points")
    curve = SteinhartHart.from_points([(celsius, ohms) for ohms, celsius in points])
    ohms = np.array([curve.ohms(celsius) for celsius in TEMPERATURES])
    back = np.array([curve.temp_c(value) for value in ohms])
    if np.any(np.diff(ohms) <= 0) or np.any(np.abs(back - TEMPERATURES) > 0.5):
        raise BadInput(
            "These three points bend as no thermistor does: measure them again, the middle one first.",
            "points",
        )
    return Table2D(np.round(ohms, 2), [0.0], [np.array(TEMPERATURES, float)])


def sensor_calls(calibration: Calibration) -> list[Call]:
    """Each curve rises or falls as such a sensor does, from end to end."""
    calls = []
    for name in CURVES:
        table = calibration.tables.get(name)
        if table is None:
            continue
        steps = np.diff(table.values[0]) * (1.0 if name == "pressure_sensor" else -1.0)
        least = float(steps.min(initial=1.0))
        good = least > 0
        calls.append(
            Call(
                "map.sensor_curve",
                verdict=Verdict.go if good else Verdict.stop,
                because=(Evidence("least step, in its direction", round(least, 3), 0.0),),
                do_next="It runs one way."
                if good
                else "A cell is mistyped: the computer would take one signal for two values.",
                source=SOURCE,
                title=FORMS["full"].title_of(name),
            )
        )
    return calls
