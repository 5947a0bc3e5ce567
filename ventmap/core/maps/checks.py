"""What is checked while a map is edited, and stands in the ledger when the version is kept."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..basics import Call, Evidence, Floats, HouseRules, Table2D, Verdict, in_boost, under_load
from ..forms import MIXTURE, SPARK, Calibration, place
from .checks_of_figures import figure_calls
from .checks_of_forms import form_calls
from .checks_of_limits import limit_calls
from .job_of_map import MapJob
from .own_tables import by_pressure, called, holding, unjudged_load
from .sensor_curves import sensor_calls

SOURCE = "Checks while a map is edited"


def map_calls(calibration: Calibration, job: MapJob, rules: HouseRules) -> list[Call]:
    """Every check that this form of map allows, go, hold or stop."""
    calls = []
    if job.petrol:
        for name in holding(calibration, "lambda_target", MIXTURE):
            calls += _mixture(calibration, job, rules, name)
        for name in holding(calibration, "spark", SPARK):
            calls += _spark(calibration, job, rules, name)
    if "dead_time" in calibration.tables:
        calls += _dead_time(calibration)
    calls += sensor_calls(calibration)
    calls += figure_calls(calibration, job, rules)
    return [*calls, *limit_calls(calibration, job, rules), *form_calls(calibration, job, rules)]


def _steepest(table: Table2D, rows: NDArray[np.bool_]) -> tuple[float, tuple[int, int]]:
    """The largest step between neighbours of these rows, and the cell that it ends at."""
    best, at = 0.0, (int(np.flatnonzero(rows)[0]) if rows.any() else 0, 0)
    for axis in (0, 1):
        steps = np.abs(np.diff(table.values, axis=axis))
        both = rows[:-1] & rows[1:] if axis == 0 else rows
        steps = np.where(both[:, None], steps, 0.0)
        if np.isnan(steps).any():
            # A cell without a figure is no smooth one.
            return float("nan"), at
        if steps.size and float(steps.max()) > best:
            row, column = np.unravel_index(int(np.argmax(steps)), steps.shape)
            best = float(steps.max())
            at = (int(row) + (axis == 0), int(column) + (axis == 1))
    return best, at


def _step(
    calibration: Calibration, name: str, job: MapJob, limit: float, unit: str, title: str
) -> list[Call]:
    table = calibration.tables[name]
    # Where rows are no pressure nobody knows which of them are load: all of them are.
    rows = under_load(table.y, job.barometer_kpa) if by_pressure(calibration, name) else table.y == table.y
    if not rows.any():
        return []
    most, (row, column) = _steepest(table, rows)
    good = most <= limit + 1e-9
    here = place(calibration, name, table, row, column)
    return [
        Call(
            f"map.{'spark' if unit == '°' else 'mixture'}_step",
            verdict=Verdict.go if good else Verdict.hold,
            because=(Evidence(f"steepest step under load, at {here}", round(most, 3), limit, unit=unit),),
            do_next="Smooth under load."
            if good
            else f"Smooth it around {here}: an engine does not jump there.",
            source=SOURCE,
            title=title,
        )
    ]


def _mixture(calibration: Calibration, job: MapJob, rules: HouseRules, name: str) -> list[Call]:
    table, own = calibration.tables[name], called(calibration, name)
    calls = _step(
        calibration, name, job, rules["map.mixture_step"], "lambda", f"Steps of the mixture target{own}"
    )
    if not by_pressure(calibration, name):
        return [*calls, *unjudged_load(calibration, name, job)]
    boost = in_boost(table.y, job.barometer_kpa)
    if not job.boosted or not boost.any():
        return calls
    inside = np.where(boost[:, None], table.values, -np.inf)
    row, column = np.unravel_index(int(np.argmax(inside)), inside.shape)
    leanest = float(inside.max())
    hold, stop = rules["map.boost_mixture"], rules["map.boost_mixture_stop"]
    verdict = Verdict.stop if leanest > stop else Verdict.hold if leanest > hold else Verdict.go
    here = place(calibration, name, table, int(row), int(column))
    return [
        *calls,
        Call(
            "map.mixture_boost",
            verdict=verdict,
            because=(
                Evidence(f"leanest target in boost, at {here}", round(leanest, 3), hold, unit="lambda"),
            ),
            do_next={
                Verdict.go: "Rich enough to keep pistons.",
                Verdict.hold: f"Enrich it at {here}, or say why this engine stands it.",
                Verdict.stop: f"Enrich it at {here}: this melts pistons.",
            }[verdict],
            source="Boost needs the cooling of rich running",
            title=f"Mixture target in boost{own}",
        ),
    ]


def _spark(calibration: Calibration, job: MapJob, rules: HouseRules, name: str) -> list[Call]:
    table, own = calibration.tables[name], called(calibration, name)
    calls = _step(calibration, name, job, rules["map.spark_step"], "°", f"Steps of the spark{own}")
    shelf = job.shelf.tables.get(name) if job.shelf else None
    if shelf is None:
        return calls
    above = table.values - _on(shelf, table)
    row, column = np.unravel_index(int(np.argmax(above)), above.shape)
    most, limit = float(above.max()), rules["map.spark_above"]
    below, low = float(-above.min()), rules["map.spark_below"]
    late = below > low + 1e-9
    good = (most <= limit + 1e-9 or job.on_drum) and not late
    here = place(calibration, name, table, int(row), int(column))
    return [
        *calls,
        Call(
            "map.spark_shelf",
            verdict=Verdict.go if good else Verdict.hold,
            because=(
                Evidence(f"spark above the shelf map's, at {here}", round(most, 1), limit, unit="°"),
                Evidence("most below it", round(below, 1), low, unit="°"),
            ),
            do_next=("Within what the shelf map was proven with." if most <= limit + 1e-9 else "On the drum.")
            if good
            else "Put spark back where it is so late: exhaust and turbine take that heat."
            if late
            else "Take it back, or prove it on the drum: a road log never advances spark.",
            source="Spark is never advanced without torque measured",
            title=f"Spark against the shelf map{own}",
        ),
    ]


def _on(shelf: Table2D, table: Table2D) -> Floats:
    """The shelf's values at this table's cells."""
    if shelf.values.shape == table.values.shape and np.array_equal(shelf.x, table.x):
        return shelf.values
    x, y = np.meshgrid(table.x, table.y)
    return shelf.at(x.ravel(), y.ravel()).reshape(table.values.shape)


def _dead_time(calibration: Calibration) -> list[Call]:
    """The shape of the dead time; each slip in it is one line of evidence."""
    problems = calibration.dead_time.problems()
    low, high = float(calibration.dead_time.ms.min()), float(calibration.dead_time.ms.max())
    because = [Evidence("from", round(low, 3), unit="ms"), Evidence("to", round(high, 3), unit="ms")]
    because += [item for call in problems for item in call.because][:6]
    return [
        Call(
            "map.dead_time",
            verdict=Verdict.hold if problems else Verdict.go,
            because=tuple(because),
            do_next=problems[0].do_next if problems else "It falls with voltage and rises with pressure.",
            source="An injector opens later on a weak battery and against more pressure",
            title=problems[0].title if problems else "Shape of the dead time",
        )
    ]
