"""Checks that only one form of map has: trims, levels, blends; which check each form."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from ..basics import Call, Evidence, HouseRules, Table2D, Verdict
from ..forms import Calibration, place
from ..fuel import blend, pulse_multiplier
from .checks_of_lists import driver_calls, entries_calls, options_calls
from .job_of_map import MapJob
from .one_check import one_call


def form_calls(calibration: Calibration, job: MapJob, rules: HouseRules) -> list[Call]:
    """The checks of this map's own form."""
    return _CHECKS.get(calibration.form, _none)(calibration, job, rules)


def _none(calibration: Calibration, job: MapJob, rules: HouseRules) -> list[Call]:
    return []


def _peak(table: Table2D, of: Calibration, name: str, sign: float) -> tuple[float, str]:
    row, column = np.unravel_index(int(np.argmax(sign * table.values)), table.values.shape)
    return float(table.values[row, column]), place(of, name, table, int(row), int(column))


def _trim(calibration: Calibration, job: MapJob, rules: HouseRules) -> list[Call]:
    calls = []
    bounds = job.trim_bounds
    for name, table in calibration.tables.items():
        called = calibration.title_of(name)
        if name.startswith("fuel_trim"):
            least, at_least = _peak(table, calibration, name, -1.0)
            most, at_most = _peak(table, calibration, name, 1.0)
            if bounds is None:
                told = Evidence("bounds of the device", "not known")
                calls.append(
                    one_call(
                        "map.trim_bounds",
                        False,
                        Verdict.hold,
                        [told],
                        ("", "Type its bounds from its sheet."),
                        called,
                    )
                )
                continue
            low, high = _limited(calibration, name, 100 * bounds[0], 100 * bounds[1])
            calls.append(
                one_call(
                    "map.trim_bounds",
                    low - 1e-9 <= least and most <= high + 1e-9,
                    Verdict.stop,
                    [
                        Evidence(f"least, at {at_least}", round(least, 1), low, unit="%"),
                        Evidence(f"most, at {at_most}", round(most, 1), high, unit="%"),
                    ],
                    ("Within what it can do.", "The device cannot do this: it would cut it off in silence."),
                    called,
                )
            )
        elif name.startswith("spark_trim"):
            most, at = _peak(table, calibration, name, 1.0)
            limit = rules["map.spark_above"]
            calls.append(
                one_call(
                    "map.spark_trim",
                    most <= limit + 1e-9 or job.on_drum,
                    Verdict.hold,
                    [Evidence(f"most advance, at {at}", round(most, 1), limit, unit="°")],
                    ("As much as the road may prove.", "Take it back, or prove it on a drum."),
                    called,
                )
            )
    return [*calls, *_learner(calibration)]


def _limited(calibration: Calibration, name: str, low: float, high: float) -> tuple[float, float]:
    """Bounds of one position [%]: the device's, narrowed where its maker limits that position."""
    number = name.partition(".")[2]
    rows = calibration.lists.get("positions", ())
    row = next((row for row in rows if f"{row['number']:g}" == number), {})
    return max(low, float(row.get("low", low))), min(high, float(row.get("high", high)))


def _learner(calibration: Calibration) -> list[Call]:
    """A learner's position never revs higher than the others."""
    rows = [row for row in calibration.lists.get("positions", ()) if row.get("rev_limit") is not None]
    learners = [row for row in rows if "learner" in str(row["name"]).lower()]
    others = [float(row["rev_limit"]) for row in rows if row not in learners]
    return [
        one_call(
            "map.learner",
            not others or float(row["rev_limit"]) < min(others),
            Verdict.hold,
            [
                Evidence(
                    f"rev limit, position {row['number']:g}",
                    float(row["rev_limit"]),
                    min(others) if others else None,
                    unit="rpm",
                )
            ],
            (
                "Lower than every other position.",
                "A learner's position carries a lower limit than the others.",
            ),
            "Learner position",
        )
        for row in learners
    ]


def _level(calibration: Calibration, job: MapJob, rules: HouseRules) -> list[Call]:
    need = {float(row["number"]): float(row["ron"]) for row in calibration.lists["levels"]}
    used = {"level that is set": calibration.scalars["level"]}
    used |= {f"mode {row['mode']}": float(row["level"]) for row in calibration.lists.get("modes", ())}
    calls = []
    for where, level in used.items():
        if level == 0:
            continue
        ron = need.get(level)
        calls.append(
            Call(
                "map.level_octane",
                verdict=Verdict.stop
                if ron is None or (job.ron is not None and not ron <= job.ron)
                else Verdict.hold
                if job.ron is None
                else Verdict.go,
                because=(
                    Evidence(
                        f"{where}: level {level:g} needs",
                        ron if ron is not None else "no such level",
                        job.ron if job.ron is not None else "tank not known",
                        unit="RON",
                    ),
                ),
                do_next="The tank stands it."
                if ron is not None and job.ron is not None and ron <= job.ron
                else "Say what is in the tank: save Intake."
                if ron is not None and job.ron is None
                else "Set a level whose octane the tank has.",
                source="A level is never above the octane in the tank",
                title="Level and octane",
            )
        )
    lowest = min(need)
    set_now = calibration.scalars["level"]
    calls.append(
        one_call(
            "map.level_first",
            set_now <= lowest or job.on_drum,
            Verdict.hold,
            [Evidence("level that is set", set_now, lowest)],
            ("The lowest, or proved.", f"Start at level {lowest:g}; step up only after a log that is go."),
            "Lowest level first",
        )
    )
    calls.append(
        one_call(
            "map.warm_up",
            calibration.scalars["warm_up_s"] > 0,
            Verdict.hold,
            [Evidence("warm-up delay", calibration.scalars["warm_up_s"], 0, unit="s")],
            ("Boost waits for warm oil.", "Set a delay: boost on cold oil wears the turbo."),
            "Warm-up delay",
        )
    )
    table = calibration.tables["added_boost"]
    falls = np.diff(table.values, axis=0)
    order = [need.get(float(level), 0.0) for level in table.y]
    rises = bool(np.all(falls >= -1e-9)) and order == sorted(order)
    calls.append(
        one_call(
            "map.level_order",
            rises and [float(y) for y in table.y] == sorted(need),
            Verdict.hold,
            [Evidence("levels that the boost table has", len(table.y), len(need))],
            (
                "Each level adds at least what the one below does, and asks for at least its octane.",
                "Levels must each have a row, and neither boost nor octane falls from one to the next.",
            ),
            "Order of the levels",
        )
    )
    return calls


def _blend(calibration: Calibration, job: MapJob, rules: HouseRules) -> list[Call]:
    """The curve against what the fuel needs of pulse: by ratio, and by density through an orifice."""
    table = calibration.tables["pulse_factor"]
    need = np.array([pulse_multiplier(blend(content / 100.0)) for content in table.x])
    short = 1.0 - table.values / need[None, :]
    row, column = np.unravel_index(int(np.argmax(short)), short.shape)
    lean, hold, stop = float(short.max()), rules["map.blend_lean"] / 100, rules["map.blend_lean_stop"] / 100
    here = place(calibration, "pulse_factor", table, int(row), int(column))
    calls = [
        Call(
            "map.blend_curve",
            verdict=Verdict.stop if lean > stop else Verdict.hold if lean > hold else Verdict.go,
            because=(
                Evidence(
                    f"factor at {here}", round(float(table.values[row, column]), 3), round(need[column], 3)
                ),
                Evidence("leaner than the fuel needs", round(100 * lean, 1), 100 * hold, unit="%"),
            ),
            do_next="It follows the fuel."
            if lean <= hold
            else f"Raise the factor at {here}: trims cannot carry more, and under load there are none.",
            source="Pulse on the blend per pulse on petrol at equal lambda: (14.7/AFR)·√(ρ petrol/ρ)",
            title="Blend curve",
        ),
        one_call(
            "map.blend_rises",
            bool(np.all(np.diff(table.values, axis=1) >= -1e-9)),
            Verdict.stop,
            [
                Evidence(
                    "least step over content",
                    round(float(np.diff(table.values, axis=1).min(initial=1.0)), 3),
                    0,
                )
            ],
            ("More ethanol, more fuel.", "The factor falls as ethanol rises: a cell is mistyped."),
            "Blend curve rises",
        ),
    ]
    start = calibration.tables["start_addition"]
    calls.append(
        one_call(
            "map.start_falls",
            bool(np.all(np.diff(start.values[0]) <= 1e-9)),
            Verdict.hold,
            [Evidence("addition at the coldest", float(start.values[0, 0]), unit="%")],
            (
                "Cold asks for more, warm for less.",
                "The addition rises with warmth somewhere: look at that cell.",
            ),
            "Fuel for starting",
        )
    )
    return calls


_CHECKS: dict[str, Callable[[Calibration, MapJob, HouseRules], list[Call]]] = {
    "trim": _trim,
    "level": _level,
    "blend": _blend,
    "options": options_calls,
    "borrowed": options_calls,
    "driver": driver_calls,
    "entries": entries_calls,
}
