"""Checks of options, drivers and entries: maps that are lists, or built for one size of injector."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from ..basics import BadInput, Call, Evidence, HouseRules, Verdict
from ..forms import Calibration, Row, place
from ..vehicle import entry_steps
from .job_of_map import MapJob
from .one_check import one_call


def options_calls(calibration: Calibration, job: MapJob, rules: HouseRules) -> list[Call]:
    """Each changed option has its reason; engine and gearbox are one pair."""
    calls = []
    for row in calibration.lists.get("options", ()):
        changed = row["stock"] != row["wanted"]
        if changed:
            calls.append(
                one_call(
                    "map.option_reason",
                    bool(str(row.get("reason", "")).strip()),
                    Verdict.hold,
                    [
                        Evidence(
                            str(row["name"]),
                            float(row["wanted"]),
                            float(row["stock"]),
                            unit=str(row.get("unit", "")),
                        )
                    ],
                    ("Changed, with its reason.", "Write down why it is changed."),
                    f"Option: {row['name']}",
                )
            )
    pair = {str(row["module"]): row for row in calibration.lists.get("pair", ())}
    if pair:
        calls.append(_pair(pair))
    return calls


def _pair(pair: Mapping[str, Row]) -> Call:
    engine, gearbox = pair.get("engine"), pair.get("gearbox")
    if engine is None or gearbox is None:
        lacking = "engine" if engine is None else "gearbox"
        return one_call(
            "map.pair",
            False,
            Verdict.hold,
            [Evidence("chosen without its partner", lacking)],
            ("", f"Choose the calibration of the {lacking} with it: the two are one pair."),
            "Engine and gearbox",
        )
    asked, allowed = float(engine["torque_nm"]), float(gearbox["torque_nm"])
    return one_call(
        "map.pair",
        asked <= allowed,
        Verdict.stop,
        [Evidence("torque the engine map may ask", asked, allowed, unit="N·m")],
        (
            "The gearbox map carries it.",
            "Choose the pair whose gearbox map allows this torque: clutches burn.",
        ),
        "Engine and gearbox",
    )


def driver_calls(calibration: Calibration, job: MapJob, rules: HouseRules) -> list[Call]:
    """Pulses end inside their window, rise with demand, and are those of the injectors that are on."""
    table = calibration.tables["pulse_us"]
    window = calibration.scalars["window_deg"] / (0.006 * np.maximum(table.x, 1.0))
    share = table.values / 1000.0 / window[None, :]
    row, column = np.unravel_index(int(np.argmax(share)), share.shape)
    here = place(calibration, "pulse_us", table, int(row), int(column))
    built = calibration.scalars["injector_flow"]
    on = job.injector_flow
    alike = on is not None and abs(built / on - 1) <= 0.02
    return [
        one_call(
            "map.driver_window",
            bool(share.max() <= 1.0),
            Verdict.stop,
            [
                Evidence(
                    f"pulse at {here}",
                    round(float(table.values[row, column]) / 1000, 3),
                    round(float(window[column]), 3),
                    unit="ms",
                )
            ],
            (
                "Every pulse ends inside its window.",
                "Shorten it: fuel after the window burns on the piston or not at all.",
            ),
            "Injection window",
        ),
        one_call(
            "map.driver_rises",
            bool(np.all(np.diff(table.values, axis=0) >= -1e-9)),
            Verdict.hold,
            [Evidence("demands", len(table.y))],
            ("More demand, longer pulse.", "The pulse falls as demand rises somewhere: look at that cell."),
            "Pulse over demand",
        ),
        Call(
            "map.driver_size",
            verdict=Verdict.go if alike else Verdict.hold if on is None else Verdict.stop,
            because=(
                Evidence("built for", built, on if on is not None else "injectors not known", unit="cm³/min"),
            ),
            do_next="Built for these injectors."
            if alike
            else "Say which injectors are on, then judge again."
            if on is None
            else "Take the driver map of this size, as a set: its pulses are another injector's.",
            source="A driver map is built for one size of injector",
            title="Injector size",
        ),
    ]


def entries_calls(calibration: Calibration, job: MapJob, rules: HouseRules) -> list[Call]:
    """Each entry can be told on the dial."""
    bad = []
    rows = calibration.lists["entries"]
    for row in rows:
        try:
            entry_steps(
                float(row["wanted"]),
                str(row["coding"]),
                on_shows=float(row.get("on_shows", 1)),
                off_shows=float(row.get("off_shows", 0)),
            )
        except BadInput as error:
            bad.append(f"{row['number']:g}: {error.sentence}")
    return [
        one_call(
            "map.entry_coding",
            not bad,
            Verdict.stop,
            [Evidence("entries that the dial can tell", len(rows) - len(bad), len(rows))],
            ("Each can be entered and read back.", " ".join(bad)),
            "Coding of the entries",
        )
    ]
