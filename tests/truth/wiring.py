"""Cases of wires and sensors: continuity, pins, grounds, bus, pedal, key on."""

from __future__ import annotations

from math import nan
from typing import Any

from ventmap.core.electrics import (
    Demand,
    Pin,
    PinRow,
    allot_io,
    can_termination,
    check_pin_plan,
    climb,
    common_side,
    ground_call,
    key_on_calls,
    pedal_calls,
)
from ventmap.core.grids import judge_grid

from .model import Case

FEED = "1B-2A 2A-3B 3B-4B"
LOOSE = {"cable": False}
UP = dict.fromkeys(("cable", "port", "driver", "key"), True)
SILENT = "1A-2A 2B-1B 3A-1B 4A-1B"


def pairs(text: str) -> list[tuple[tuple[str, str], tuple[str, str]]]:
    ends = [item.split("-") for item in text.split()]
    return [((a[0], a[1]), (b[0], b[1])) for a, b in ends]


def sides(readings: tuple[str, str]) -> Any:
    return common_side(list("1234"), pairs(readings[0]), pairs(readings[1]))


def pin(**changes: Any) -> Any:
    rows = [PinRow("A", "1", "red", function="feed", action="keep")]
    rows.append(PinRow("A", "2", "blue", function="signal", **{"action": "keep", **changes}))
    return check_pin_plan(rows, ["feed", "signal"])


def plan(rows: list[tuple[str, str]], needs: tuple[str, ...] = ("feed", "signal")) -> Any:
    return check_pin_plan([PinRow("A", number, "red", function=what) for number, what in rows], needs)


def moved(*targets: str) -> Any:
    rows = [
        PinRow("A", str(n), "red", function=f"f{n}", action="move", to=target)
        for n, target in enumerate(targets, 1)
    ]
    return check_pin_plan(rows, [])


def key_on(manifold: float, **more: Any) -> Any:
    return key_on_calls(**{"manifold_kpa": manifold, "barometer_kpa": 85.0, **more})


def pedal(open_v: float, twin_open: float | None = None) -> Any:
    half = 0.7 + (open_v - 0.7) / 2
    twin = {} if twin_open is None else {"twin_closed_v": 0.35, "twin_open_v": twin_open, "half_v": half}
    return pedal_calls(0.7, open_v, **twin, **({"twin_half_v": 0.35 + 0.9} if twin else {}))


def grounds(volts: Any) -> Any:
    return judge_grid("grounds", {"grounds": ["block"]}, {"rows": [{"name": "block", "static": volts}]})


def typed_pins(rows: list[str]) -> Any:
    entered = [{"connector": "A", "number": n, "function": "feed", "action": "keep"} for n in rows]
    return judge_grid("pin_plan", {"needs": ["feed"]}, {"rows": entered})


def soaked(coolant: float, stood_h: float | None = None) -> Any:
    read = {"manifold_kpa": 85.0, "barometer_kpa": 85.0, "intake_c": 18.0}
    return key_on_calls(**read, coolant_c=coolant, stood_h=stood_h)


CASES = [
    # Eight hours leave 3 K of a warm engine: 26 °C beside 18 is its own heat, 27 is not.
    Case("sensor.cold_soak", lambda v: soaked(v, 8.0), 60.0, 20.0, 26.4, 26.0, (nan,)),
    Case("sensor.cold_soak", lambda v: soaked(v, 3.0), 50.0, 38.0, 45.2, 44.9, (nan,)),
    Case("sensor.cold_soak", lambda v: soaked(18.0, v), 0.0, 9.0, 1.9, 2.1, (nan,)),
    Case("sensor.cold_soak", lambda v: soaked(v, 100.0), 60.0, 18.0, 23.1, 22.9, (nan,)),
    Case("wiring.pin_plan", typed_pins, [], ["1"], [], ["2"], ([],)),
    Case(
        "wiring.contradiction",
        sides,
        (FEED, "1B-4B"),
        (FEED, SILENT),
        (FEED, SILENT + " 2A-4B"),
        (FEED, SILENT),
        (),
    ),
    Case(
        "wiring.both_sides",
        sides,
        ("1A-2A 1A-2B", ""),
        (FEED, SILENT),
        (FEED + " 1A-2A", ""),
        (FEED, SILENT),
        (),
    ),
    Case(
        "wiring.banks",
        sides,
        ("1A-4A 2A-3A", "1B-2A 4B-2A 2B-1A 3B-1A"),
        (FEED, SILENT),
        ("1A-4A 2A-3A", ""),
        (FEED, SILENT),
        (),
    ),
    Case(
        "wiring.other_side",
        sides,
        (FEED, ""),
        (FEED, SILENT),
        (FEED, "1A-2A 2B-1B 3A-1B"),
        (FEED, SILENT),
        (),
    ),
    Case(
        "wiring.left_out",
        sides,
        ("1B-2A 2A-3B", SILENT),
        (FEED, SILENT),
        ("1B-2A 2A-3B", ""),
        (FEED, SILENT),
        (),
    ),
    Case(
        "wiring.no_common_side",
        sides,
        ("", "1A-2A 1B-2B"),
        (FEED, SILENT),
        ("", "1A-2A"),
        (FEED, SILENT),
        (("", ""),),
    ),
    Case("wiring.can", can_termination, 120.0, 60.0, 69.1, 68.9),
    # It is looked at where a link is dead: nothing that is found there lets a write go on.
    Case(
        "link.up",
        lambda v: v and climb("plug-in ECU", *v),
        ({"cable": False}, None),
        None,
        (UP, 60.0),
        None,
        (),
    ),
    Case("wiring.ground", lambda v: ground_call("block", v), 0.3, 0.01, 0.0501, 0.05),
    Case("(missing)", grounds, "", "20 mV", " ", "50 mV", ("", None)),
    Case(
        "wiring.allotment",
        lambda v: allot_io([Demand("flex", "analog in", v)], [Pin("A1", ("analog in",), 5.0)]),
        12.0,
        4.5,
        5.01,
        5.0,
        (),
    ),
    Case(
        "wiring.need_missing",
        plan,
        [("1", "feed")],
        [("1", "feed"), ("2", "signal")],
        [("2", "signal")],
        [("2", "feed"), ("1", "signal")],
        ([],),
    ),
    Case(
        "wiring.need_twice",
        plan,
        [("1", "feed"), ("2", "feed"), ("3", "signal")],
        [("1", "feed"), ("2", "signal")],
        [("1", "feed"), ("2", "signal"), ("3", "signal")],
        [("1", "feed"), ("2", "signal")],
        (),
    ),
    Case(
        "wiring.pin_twice",
        plan,
        [("1", "feed"), ("1", "signal")],
        [("1", "feed"), ("2", "signal")],
        [("1", "feed"), ("1", "signal")],
        [("1", "feed"), ("2", "signal")],
        (),
    ),
    Case("wiring.pin_damaged", lambda v: pin(damaged=v), "bent", "", "green", "", ()),
    Case("wiring.pin_bare", lambda v: pin(action=v), "pull", "keep", "Pull", "keep", ()),
    Case("wiring.move_nowhere", lambda v: moved(*v), ("",), ("B 1",), (" ",), ("B 1",), ()),
    Case(
        "wiring.place_taken",
        lambda v: moved(*v),
        ("B 1", "B 1"),
        ("B 1", "B 2"),
        ("B 1", "b 1"),
        ("B 1", "B 2"),
        (),
    ),
    Case("sensor.key_on_pressure", key_on, 101.0, 85.0, 87.1, 86.9),
    Case(
        "sensor.circuit",
        lambda v: key_on(85.0, coolant_c=v, intake_c=20.0, ambient_c=20.0),
        -40.0,
        20.0,
        # As a link reads it, with its noise.
        -39.6,
        21.0,
    ),
    Case(
        "sensor.cold_soak",
        lambda v: key_on(85.0, coolant_c=v, intake_c=20.0, ambient_c=20.0),
        45.0,
        20.0,
        25.2,
        24.9,
    ),
    Case("pedal.range", pedal, 4.95, 4.3, 1.0, 4.2, (nan,)),
    Case("pedal.tracks", lambda v: pedal(4.3, v), 4.0, 2.15, 2.7, 2.16, (nan,)),
]
