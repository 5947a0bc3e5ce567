"""Cases of the engine and its fuel: intake, injectors, pump, wires, lines, rods."""

from __future__ import annotations

from math import nan
from typing import Any

import numpy as np

from tests.core.records import bodies, fit, injector, sized
from ventmap.core.basics import (
    HouseRules,
    Pump,
    Vehicle,
    Verdict,
    baseline_call,
    codes_call,
    judge_answer,
    judge_reading,
    read_record,
    stock_log_call,
    works_calibration_call,
)
from ventmap.core.fuel import (
    PETROL,
    BodyCode,
    DeadTimeTable,
    Fitting,
    Gap,
    beyond_call,
    compare_read_back,
    duty_call,
    flow_spread_call,
    plan_feed_line,
    plan_stack,
    plan_wire,
    pump_check,
    relay_call,
)
from ventmap.core.grids import judge_grid
from ventmap.core.runsheet import (
    Fastener,
    ShelfInjector,
    Wrench,
    direct_ohms,
    plan_rod,
    torque_call,
    wrench_call,
)
from ventmap.core.sums import JobFigures, known_figures, other_figures
from ventmap.core.vehicle import check_vin, goal_fits

from .model import Case

CURVE = [(300.0, 200.0), (400.0, 170.0), (500.0, 130.0)]
STRAIGHT = Fitting("8 mm quick, straight", 18.0, 22.0)
ROD = {"stock_length_mm": 245.0, "sensor_mm": 68.0, "coupler_mm": 30.0, "stock_rod_mm": 205.0}
ROD |= {"thread_mm": 6.0}


def dead_time(at_14_v: float) -> DeadTimeTable:
    """A sound sheet at 300 and 400 kPa with one figure of it typed as given."""
    volts = np.array([8.0, 10.0, 12.0, 14.0, 16.0])
    ms = np.array([[2.2, 2.3], [1.5, 1.58], [1.1, 1.16], [0.85, 0.9], [0.7, 0.74]])
    ms[3, 0] = at_14_v
    return DeadTimeTable(volts, np.array([300.0, 400.0]), ms)


def injectors(flow: float, **more: Any) -> Any:
    asked: dict[str, Any] = {
        "power_kw": 120.0,
        "boosted": False,
        "cylinders": 4,
        "fuel": PETROL,
        "fuel_pressure_kpa": 300.0,
        "altitude_m": 0.0,
        "rescaled": True,
    }
    shelf = (ShelfInjector("a", "A", flow=flow, rated_kpa=300.0, ohms=12.0),)
    return sized(**{**asked, **more}, injectors=shelf, rules=HouseRules())


def pump_figures(rail: Any) -> Any:
    """The pump's sum of a turbo four, with this rail typed into it."""
    pump = Pump(curve=((300.0, 190.0), (500.0, 120.0)), volts=13.5)
    vehicle = read_record(Vehicle, bodies("vehicles")["ostrel-merrin-16t"])
    job = JobFigures(vehicle, [], injector(), pump, 150.0, 0.0, 1450.0)
    typed = known_figures(job, HouseRules(), "fuel-pump")
    return other_figures(job, HouseRules(), "fuel-pump", {**typed, "rail": f"{rail:g}"})


def choice(flow: float, **more: Any) -> Any:
    return injectors(flow, **more).choices[0].call


def need_of(power: float = 120.0) -> float:
    """Flow at 85 % duty by hand: 300 g/kWh of petrol at 0.745 kg/l through four injectors [cm³/min]."""
    per_injector = power * 300.0 / 0.745 / 60.0 / 4.0
    return per_injector / 0.85


def grid(name: str, about: dict[str, Any], typed: dict[str, Any]) -> Any:
    return judge_grid(name, about, typed)


def compression(worst: Any) -> Any:
    about = {"cylinders": 4, "low": 1000.0, "high": 1400.0, "spread": 0.1, "leak_most": 0.2}
    return grid("compression", about, {"kpa": ["1200", "1210", "1190", "" if worst is None else str(worst)]})


def rotors(worst: Any) -> Any:
    limits = {"face_kpa": 150.0, "rotor_kpa": 101.0}
    faces = [f"rotor {n}, face {face}" for n in (1, 2) for face in (1, 2, 3)]
    about = {"cylinders": 2, "low": 590.0, "high": None, "spread": 0.1, "leak_most": 0.2, "places": faces}
    kpa = ["690", "700", "690", "690", "690", "" if worst is None else str(worst)]
    return grid("compression", about | {"rotor": limits}, {"kpa": kpa})


def torque(applied: Any) -> Any:
    return torque_call(Fastener("rail", 9.0), applied, Wrench("5–25", 25.0), snug=False, snug_allowed=False)


def sealed(seconds: Any) -> Any:
    return grid(
        "seal_timers", {"cylinders": 1, "seconds": 60.0}, {"seals": [{"cylinder": 1, "seconds": seconds}]}
    )


def fitted(key: str) -> Any:
    """The two-litre car of the sample shelf and a device of it."""
    return fit(bodies("vehicles")["corvane-estate-20"], bodies("devices")[key]).call


CASES = [
    Case("intake.goal", lambda v: goal_fits("learner", v, 90.0), 120.0, 90.0, 92.0, 91.5),
    Case(
        "intake.vin",
        check_vin,
        "1M8GDM9A1KP042788",
        "1M8GDM9AXKP042788",
        "1M8GDM9AXKP04278",
        "WVE2TWA06GS10441Z",
        ("",),
    ),
    Case("intake.compression", compression, "700", "1180", "1080", "1095", (None, "nan")),
    Case("intake.compression", rotors, "400", "690", "589", "590", (None, "nan")),
    Case("(direct_ohms)", lambda v: direct_ohms("r", "t", v), 90e3, 2.0, 16.1, 16.0),
    Case(
        "(judge_reading)",
        lambda v: judge_reading("r", "coolant", "coolant", v, "°C", None, 40.0, "It burns.", "people"),
        90.0,
        20.0,
        40.01,
        40.0,
    ),
    Case(
        "(judge_answer)",
        lambda v: judge_answer("r", "Leaks", "seen", v, "Mend it."),
        Verdict.stop,
        Verdict.go,
        Verdict.hold,
        Verdict.go,
        (),
    ),
    Case(
        "(codes_call)",
        lambda v: codes_call("r", v),
        [("P0171", "stored")],
        [],
        [("P0171", "pending")],
        [],
        (),
    ),
    Case(
        "baseline.calibration",
        lambda v: works_calibration_call(v, "CV20-0417"),
        "CV20-0417-S",
        "CV20-0417",
        "CV20-0418",
        "cv20-0417 ",
        (),
    ),
    Case(
        "baseline.log",
        lambda v: stock_log_call(v, []),
        ["idle"],
        ["idle", "cruise", "pull"],
        ["idle", "cruise"],
        ["idle", "cruise", "pull"],
        ([],),
    ),
    Case("prove.baseline", baseline_call, ["codes", "runs"], [], ["codes"], [], ()),
    Case("injector.duty", duty_call, 0.97, 0.5, 0.8501, 0.8499),
    Case(
        "injector.spread", lambda v: flow_spread_call([440, 440, 440, 440 * (1 + v)]), 0.2, 0.0, 0.045, 0.015
    ),
    Case(
        "injector.body_code",
        lambda v: compare_read_back([BodyCode(1, 512), BodyCode(2, 498)], v),
        [498.0, 512.0],
        [512.0, 498.0],
        [514.0, 498.0],
        [512.4, 498.0],
        ([nan, nan],),
    ),
    Case("injector.dead_time_entry", lambda v: dead_time(v).problems(), 8.5, 0.85, 1.2, 0.86),
    Case("injector.dead_time_range", lambda v: beyond_call(dead_time(0.85), v), 900.0, 350.0, 401.0, 400.0),
    Case("plan.injector", choice, 200.0, 400.0, need_of() * 0.985, need_of() * 1.03),
    Case("plan.injectors", injectors, 200.0, 400.0, need_of() * 0.985, need_of() * 1.03),
    Case("sum.figures", pump_figures, 300.0, 350.0, 352.0, 351.0, ()),
    Case("plan.spacers", lambda v: plan_stack(60.0, 60.0 + v, [0.5, 1.0]), 5.0, 1.0, 1.61, 1.6),
    Case("supply.pump", lambda v: pump_check(CURVE, v, 4, 300.0, 0.0, True), 900.0, 500.0, 726.0, 723.0),
    Case("supply.wire", lambda v: plan_wire(8.0, v, 1.0), 9.0, 0.5, 1.48, 1.46),
    Case("supply.relay", lambda v: relay_call(v, 3.0), 12.0, 1.0, 3.01, 3.0),
    Case(
        "supply.bend",
        lambda v: plan_feed_line([Gap("g", 110.0, STRAIGHT, STRAIGHT, v)], 14.0, 86.0),
        120.0,
        0.0,
        76.0,
        74.0,
    ),
    Case(
        "linkage.room",
        lambda v: plan_rod(**{**ROD, "stock_length_mm": v}, sensor_overlap_mm=11.0, coupler_overlap_mm=9.0),
        90.0,
        245.0,
        100.0,
        240.0,
    ),
    Case(
        "linkage.thread_sensor",
        lambda v: plan_rod(**ROD, sensor_overlap_mm=v, coupler_overlap_mm=9.0),
        3.0,
        12.0,
        8.9,
        9.0,
    ),
    Case(
        "linkage.thread_coupler",
        lambda v: plan_rod(**ROD, sensor_overlap_mm=12.0, coupler_overlap_mm=v),
        2.0,
        9.0,
        5.9,
        6.0,
    ),
    Case("fit.wrench", lambda v: wrench_call(v, Wrench("5–25", 25.0)), 1.0, 12.0, 4.99, 5.0),
    Case("fit.torque", torque, 20.0, 9.0, 9.6, 9.1, (None, nan)),
    Case("fit.seal", sealed, 600.0, 30.0, 60.1, 59.0, (None,)),
    Case(
        "fit.revision",
        lambda v: grid("injector_set", {"count": 2}, {"revisions": ["F33 A", v]}),
        "G99",
        "F33 A",
        "F33 B",
        "F33 A",
        ("",),
    ),
    Case("plan.fit", fitted, "fenwright-s2", "fenwright-p4", "ardle-swap", "fenwright-p4", ()),
]
