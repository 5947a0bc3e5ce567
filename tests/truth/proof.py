"""Cases of maps, writes, first start, correction and proof."""

from __future__ import annotations

from dataclasses import replace
from math import nan
from typing import Any

import numpy as np

from tests.conftest import make_base_map
from tests.core.test_corrections import CELLS, Dwell
from ventmap.core.basics import HouseRules, after_call
from ventmap.core.corrections import CorrectionRules, prediction_call, propose, worse_call
from ventmap.core.drum import (
    PowerCurve,
    RunConditions,
    compare,
    correction_factor,
    goal_call,
    same_conditions,
    stock_power_call,
)
from ventmap.core.findings import (
    NotCheckable,
    Review,
    ReviewContext,
    log_calls,
    of_another_state,
    with_scales,
)
from ventmap.core.fuel import PETROL, blend
from ventmap.core.loading import LoadBoard, global_trim_call, interrupted_call, load_calls, running_calls
from ventmap.core.logs import Window, plan_channels
from ventmap.core.maps import Wanted, match_call, match_maps, tank_call

from .model import Case

PULL = Window("pull", 0, 100, 10.0, 15.0)
MAP = make_base_map()
BOARD = LoadBoard(12.7, True, True, True, "mains", True, "equal", "equal", "yes", True, "current")
READY = {
    "idle_rpm": 850.0,
    "idle_target": 850.0,
    "battery_v": 14.0,
    "mixture": 1.0,
    "trim_percent": 0.0,
    "codes": 0,
}
RPM = np.arange(2000.0, 6001.0, 100.0)
MADE = RunConditions(
    "lower bay", 4, intake_c=20.0, barometer_kpa=85.1, humidity=0.4, fuel="95 RON", ramp="8 s", tyre_kpa=230.0
)


def board(**answer: Any) -> Any:
    return load_calls(replace(BOARD, **answer), HouseRules())


def started(**read: Any) -> Any:
    return running_calls(**{**READY, **read})


def matched(ron: float) -> Any:
    wanted = Wanted("T20", "FW-P4", "none", ron, 0.0, 100.0, 440.0)
    candidate = replace(MAP, conditions=MAP.conditions.model_copy(update={"ron": 95.0, "induction": "none"}))
    return match_call(match_maps(wanted, [candidate])[0])


def curve(power: float) -> PowerCurve:
    kilowatts = np.full(len(RPM), power)
    return PowerCurve(RPM, kilowatts, kilowatts * 9549.3 / RPM)


def compared(gain: float) -> Any:
    before = [curve(80 + noise) for noise in (-0.3, 0.0, 0.3)]
    return compare(before, [curve(80 + gain + noise) for noise in (-0.3, 0.0, 0.3)])


def corrected(error: float, **more: Any) -> Any:
    rules = CorrectionRules(barometer_kpa=85.0, **{"take_scalars": False, **more})
    return propose(Dwell(MAP, CELLS, [error] * 4).log(), MAP, rules)


def scalars(dead: float) -> Any:
    drive = Dwell(MAP, [(2, 3), (3, 4), (4, 5), (5, 6), (6, 7)], [0.0] * 5)
    across = np.full(len(drive.time), MAP.scalars["fuel_pressure_kpa"])
    for place, pulse in enumerate((2.0, 3.0, 5.0, 9.0, 14.0)):
        drive.channels["pulse"][drive.at(place)] = pulse
    open_for = drive.channels["pulse"] - MAP.tables["dead_time"].at(across, drive.channels["battery"])
    drive.channels["lambda"] = 1.0 + dead / open_for
    return propose(drive.log(), MAP, CorrectionRules(barometer_kpa=120.0))


def spread(swing: float) -> Any:
    drive = Dwell(MAP, CELLS, [0.06] * 4)
    drive.channels["lambda"][drive.at(2)] += np.where(np.arange(drive.rows) % 40 < 20, swing, -swing)
    return propose(drive.log(), MAP, CorrectionRules(barometer_kpa=85.0, take_scalars=False))


def split(between: float) -> Any:
    """Cells of alike pulse that disagree: a wrong filling table in the dress of dead time."""
    drive = Dwell(MAP, [(2, 3), (2, 5), (3, 4), (3, 6), (5, 6), (5, 8)], [0.0] * 6)
    across = np.full(len(drive.time), MAP.scalars["fuel_pressure_kpa"])
    for place, pulse in enumerate((2.0, 2.0, 4.0, 4.0, 9.0, 9.0)):
        drive.channels["pulse"][drive.at(place)] = pulse
    open_for = drive.channels["pulse"] - MAP.tables["dead_time"].at(across, drive.channels["battery"])
    drive.channels["lambda"] = 1.0 + 0.08 / open_for
    for place in (0, 2, 4):
        drive.channels["lambda"][drive.at(place)] += between
    return propose(drive.log(), MAP, CorrectionRules(barometer_kpa=120.0))


def came(error: float) -> Any:
    """The same map again, its mixture off by so much since the log before."""
    logs = [Dwell(MAP, CELLS, [off] * 4).log() for off in (0.0, error)]
    return prediction_call(logs[0], MAP, logs[1], MAP, CorrectionRules(barometer_kpa=85.0))


def no_load(top: bool) -> Any:
    rows = [(len(MAP.tables["ve"].y) - 1, 3), (len(MAP.tables["ve"].y) - 1, 6)] if top else []
    return propose(
        Dwell(MAP, [*CELLS, *rows], [0.0] * (4 + len(rows))).log(),
        MAP,
        CorrectionRules(barometer_kpa=100.0, take_scalars=False),
    )


def logged(missing: tuple[str, ...]) -> Any:
    seen = tuple(kind for kind in ("lean_under_load", "knock", "boost_falls_with_rpm") if kind not in missing)
    review = Review((), seen, tuple(NotCheckable(kind, ("lambda",)) for kind in missing), (PULL,))
    context = ReviewContext(induction="turbo", concerns=("mixture", "knock", "boost"))
    return log_calls(review, "log 1", context)


def scaled(scales: dict[str, str]) -> Any:
    """A log in which nothing is found, by columns whose scale somebody said."""
    return with_scales(logged(()), scales, "", "log 1")


#: Rows of the board before a write: the answer that must stop, the one that passes, the one between.
ROWS: list[tuple[str, Any, Any, Any]] = [
    ("loads_off", False, True, False),
    ("kept_awake", False, True, False),
    ("in_park", False, True, False),
    ("laptop", "low", "mains", "battery"),
    ("cable_seated", False, True, False),
    ("saved", "no", "equal", "unreadable"),
    ("identity", "differs", "equal", "unknown"),
    ("matched", "no", "yes", "octane"),
    ("matched", "figures", "yes", "octane"),
    ("newest", False, True, False),
    ("firmware", "below", "current", "older"),
]


def row_of(name: str, bad: Any, good: Any, between: Any) -> Case:
    return Case(
        f"load.{name}", lambda answer: board(**{name: answer}), bad, good, between, good, (None, nan, "")
    )


CASES = [
    Case("base-map.match", matched, 91.0, 95.0, 94.0, 98.0),
    Case(
        "base-map.tank",
        lambda v: tank_call(MAP.with_scalars(stoichiometric=v, fuel_density=PETROL.density), PETROL),
        9.0,
        PETROL.stoichiometric,
        PETROL.stoichiometric * 1.006,
        PETROL.stoichiometric * 1.004,
    ),
    # Its mean is sound, and it jumps: a main ground is open, which a computer does not survive.
    Case("load.battery", lambda v: board(battery_jumps_v=v), 3.0, 0.08, 0.51, 0.49, (nan,)),
    Case("load.battery", lambda v: board(battery_v=v), 11.0, 12.8, 12.19, 12.5, (None, nan)),
    *(row_of(*row) for row in ROWS),
    Case(
        "load.interrupted", lambda v: None if v is None else interrupted_call(v, 1024), 512, None, 1, None, ()
    ),
    Case("start.idle", lambda v: started(idle_rpm=v), 1500.0, 850.0, 951.0, 949.0),
    Case("start.mixture", lambda v: started(trim_percent=v), 25.0, 1.0, 10.1, 9.9),
    Case("start.charging", lambda v: started(battery_v=v), 12.0, 14.0, 13.1, 13.3),
    Case("start.codes", lambda v: started(codes=v), 3, 0, 1, 0, ()),
    Case("start.mixture", lambda v: started(mixture=1.0, global_trim=v), 0.2, 0.0, 0.101, 0.099),
    Case("start.global_trim", global_trim_call, 0.25, 0.0, 0.05, 0.0, ()),
    Case("start.runs", lambda v: started(started=v), False, True, False, True, ()),
    Case("correct.within", corrected, 0.3, 0.0, 0.035, 0.02),
    Case("correct.spread", spread, 0.2, 0.0, 0.09, 0.01),
    Case("correct.scalar", scalars, 0.3, 0.0, 0.2, 0.05),
    Case("correct.split", split, 0.06, 0.0, 0.05, 0.001),
    Case("correct.no_load", no_load, False, True, False, True, ()),
    Case("correct.foretold", came, 0.2, 0.0, 0.05, 0.025),
    Case("correct.worse", lambda v: worse_call(v, 80.0, "r1"), 40.0, 90.0, 77.0, 80.0),
    Case("prove.loaded", lambda v: after_call(v, "No map is in the computer."), "", "r1", "", "r1", ("",)),
    Case("log.scales", scaled, {"knock": "× 0.1"}, {}, {"lambda": "÷ 9"}, {}, ()),
    Case("log.state", lambda v: of_another_state("log", v) if v else None, ("fuel",), (), ("kit",), (), ()),
    Case("log.unchecked", logged, ("lean_under_load",), (), ("knock",), (), ()),
    Case(
        "log.budget", lambda v: plan_channels(["rpm", "map", "lambda"], request_ms=v), 400.0, 5.0, 120.0, 20.0
    ),
    Case("dyno.gain", compared, 0.1, 8.0, 0.4, 1.5),
    Case("baseline.runs", lambda v: stock_power_call(100.0, v), 160.0, 84.0, 115.2, 114.8),
    Case("dyno.goal", lambda v: goal_call(100.0, v, 0.12, 0.18), 50.0, 95.0, 81.9, 88.1),
    Case("dyno.correction", lambda v: correction_factor("SAE J1349", v, 25.0, 0.4), 80.0, 99.0, 92.0, 97.0),
    Case(
        "(same_conditions)",
        lambda v: same_conditions("dyno.alike", [MADE, replace(MADE, intake_c=v)]),
        40.0,
        20.0,
        26.1,
        25.0,
    ),
]
assert blend(0.0).density == PETROL.density
