"""Values that textbooks give for engines, and what the pretend vehicles show: shown in `docs/truth.md`."""

from __future__ import annotations

import functools
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from tests.link.test_yard import KEYS, built
from ventmap.core.drum import reduce_pull
from ventmap.server import bench
from ventmap.standin import yard
from ventmap.standin.engine import DT, Engine

SPARK = [key for key in KEYS if built(key)[1].build.burn.kind == "spark" and built(key)[1].stroke == 4]
DIESELS = [key for key in KEYS if built(key)[1].build.burn.kind == "diesel"]
TWO_STROKES = [key for key in KEYS if built(key)[1].stroke == 2]
WHEELED = [key for key in KEYS if built(key)[1].build.body.kind != "water"]


@functools.cache
def held(key: str, rpm: float, pedal: float, seconds: float = 12.0, **faults: float) -> Engine:
    """A stock engine on a brake, warm, at sea level, held at a speed [rpm] and pedal [%]."""
    _, truth = built(key, **faults)
    engine = yard.stock_engine(truth, yard.stock_parts(key)[0], 88.0)
    engine.gear, engine.drum_inertia, engine.pedal = 1, 1.0, pedal
    while engine.time < seconds:
        engine.rpm = rpm
        engine.step()
    return engine


def full(key: str) -> Engine:
    return held(key, built(key)[0].sheet.power_rpm, 100.0)


def consumption(key: str) -> float:
    """Fuel for each kilowatt-hour at the crank, at most power [g/kWh]."""
    engine = full(key)
    return engine.feed.flow * 3600.0 / (engine.torque * engine.rpm / 9549.3)


def heat_share(key: str) -> float:
    """Sensible heat of the exhaust over the fuel's heat, by its flow and 1.15 kJ/(kg·K)."""
    engine = full(key)
    fuel, air = engine.feed.flow, engine.air.flow
    return (fuel + air) * 1.15 * (engine.burn.egt - 25.0) / (fuel * engine.truth.fuel.heating_value * 1e3)


@functools.cache
def wheel_loss(key: str) -> float:
    """What the drum shows less than the crank gives, at the speed of most power at the wheel, fraction."""
    vehicle = bench.yard_vehicle(key, seed=3, faults={}, stock=True)
    curve = reduce_pull(*vehicle.drum_pull())
    most = int(np.argmax(curve.power_kw))
    rpm = float(curve.rpm[most])
    crank = yard.full_load(vehicle.truth, built(key)[0], rpm) * rpm / 9549.3
    return 1.0 - float(curve.power_kw[most]) / crank


def at_lambda(key: str, wanted: float) -> float:
    """Exhaust of a diesel at full speed and a mixture, fuelled to it [°C]."""
    engine = held(key, built(key)[0].sheet.power_rpm, 100.0)
    for _ in range(1500):
        engine.burn.warm_exhaust(wanted, engine.air.flow, True, DT)
    return engine.burn.egt


@dataclass(frozen=True)
class Against:
    """A value that textbooks give: its unit, range, where it is from, and how ours is found."""

    what: str
    unit: str
    low: float
    high: float
    source: str
    keys: list[str]
    ours: Callable[[str], float]


AGAINST = [
    Against(
        "exhaust at full load, petrol",
        "°C",
        790,
        920,
        "engine fundamentals, exhaust",
        SPARK,
        lambda k: full(k).burn.egt,
    ),
    Against(
        "exhaust at idle, petrol",
        "°C",
        340,
        460,
        "engine fundamentals, exhaust",
        SPARK,
        lambda k: held(k, built(k)[1].idle_rpm, 0.0).burn.egt,
    ),
    Against(
        "exhaust at lambda 6, diesel",
        "°C",
        150,
        200,
        "diesel handbooks",
        DIESELS,
        lambda k: at_lambda(k, 6.0),
    ),
    Against(
        "exhaust at the smoke limit, diesel",
        "°C",
        650,
        750,
        "diesel handbooks",
        DIESELS,
        lambda k: at_lambda(k, 1.2),
    ),
    Against(
        "exhaust at full load, two-stroke",
        "°C",
        560,
        700,
        "two-stroke design, exhaust",
        TWO_STROKES,
        lambda k: full(k).burn.egt,
    ),
    Against(
        "heat in the exhaust, petrol",
        "of the fuel's",
        0.25,
        0.40,
        "energy balance of an engine",
        SPARK,
        heat_share,
    ),
    Against(
        "heat in the exhaust, diesel",
        "of the fuel's",
        0.22,
        0.40,
        "energy balance of an engine",
        DIESELS,
        heat_share,
    ),
    Against(
        "fuel at most power, petrol",
        "g/kWh",
        240,
        340,
        "engine fundamentals, performance",
        SPARK,
        consumption,
    ),
    Against(
        "fuel at most power, diesel",
        "g/kWh",
        200,
        270,
        "engine fundamentals, performance",
        DIESELS,
        consumption,
    ),
    Against(
        "fuel at most power, two-stroke",
        "g/kWh",
        340,
        450,
        "two-stroke design, performance",
        TWO_STROKES,
        consumption,
    ),
    Against("lost between engine and wheel", "fraction", 0.115, 0.195, "drum practice", WHEELED, wheel_loss),
]


def lines() -> tuple[list[str], list[str]]:
    """Lines of the page, and what lies outside."""
    rows, bad = [], []
    for one in AGAINST:
        ours = {key: one.ours(key) for key in one.keys}
        digits = 2 if one.high < 2 else 0
        least, most = min(ours.values()), max(ours.values())
        bad += [
            f"{one.what}: {key} {value:.{digits}f}"
            for key, value in ours.items()
            if not one.low <= value <= one.high
        ]
        rows.append(
            f"| {one.what} [{one.unit}] | {one.low:g} to {one.high:g} | {one.source} |"
            f" {least:.{digits}f} to {most:.{digits}f} ({len(ours)} vehicles) |"
        )
    return rows, bad
