"""The full map: what a computer that replaces the stock one runs."""

from __future__ import annotations

from ..basics import DeviceKind
from .kinds import COOLANT, PRESSURE, SPEED, Axis, Form, ScalarKind, TableKind

FULL = Form(
    key="full",
    title="full map",
    used_by=(DeviceKind.plug_in, DeviceKind.stock_case, DeviceKind.standalone),
    holds="scalars; filling, mixture target, spark and dead time; boost, idle air, starting fuel, limits",
    enters="firmware first if older than the map's minimum; written into one of its slots",
    proof="read back equal, slot named",
    checked=(
        "steps of spark and mixture under load, mixture in boost, spark above the shelf map's, shape of the"
        " dead time, limits, fan"
    ),
    scalars={
        "injector_flow": ScalarKind(
            "cm³/min", "injector static flow at the rated pressure", 10, 20_000, quantity="injector_flow"
        ),
        "injector_rated_kpa": ScalarKind(
            "kPa", "pressure across the injector at which the flow is rated", 50, 400_000, quantity="pressure"
        ),
        "fuel_pressure_kpa": ScalarKind(
            "kPa", "pressure across the injector in this vehicle", 50, 400_000, quantity="pressure"
        ),
        "fuel_density": ScalarKind("kg/l", "fuel density", 0.6, 0.95),
        "stoichiometric": ScalarKind("", "air to fuel by mass at lambda 1", 5.0, 16.0),
        "displacement_cc": ScalarKind("cm³", "engine displacement", 40, 20_000),
        "cylinders": ScalarKind("", "cylinders", 1, 16),
        "rev_limit": ScalarKind("rpm", "rev limit", 1_000, 20_000, quantity="engine_speed"),
        "idle_target": ScalarKind("rpm", "idle speed, warm", 400, 3_000, quantity="engine_speed"),
        "fan_on": ScalarKind("°C", "fan on", 50, 115, needed=False, quantity="temperature"),
        "fan_off": ScalarKind("°C", "fan off", 40, 112, needed=False, quantity="temperature"),
        "speed_limit": ScalarKind("km/h", "speed limit", 20, 400, needed=False, quantity="speed"),
        "tyre_mm": ScalarKind("mm", "tyre, rolling diameter", 200, 1500, needed=False, quantity="length"),
        "overrun_off_rpm": ScalarKind(
            "rpm", "overrun: fuel comes back below", 500, 4_000, needed=False, quantity="engine_speed"
        ),
        "overrun_on_rpm": ScalarKind(
            "rpm", "overrun: fuel is cut above", 800, 8_000, needed=False, quantity="engine_speed"
        ),
        "after_start_s": ScalarKind("s", "after-start fuel dies away within", 1, 120, needed=False),
        "pedal_response": ScalarKind("%", "pedal response, 100 = as stock", 40, 200, needed=False),
        "load_sensing": ScalarKind("", "load from 0 pressure, 1 airflow", 0, 1, needed=False),
    },
    tables={
        "ve": TableKind("%", SPEED, PRESSURE, "volumetric efficiency", 5, 200, decimals=1),
        "lambda_target": TableKind("lambda", SPEED, PRESSURE, "mixture target", 0.6, 1.3, decimals=3),
        "spark": TableKind("° BTDC", SPEED, PRESSURE, "spark advance", -20, 60, decimals=1),
        "dead_time": TableKind(
            "ms",
            Axis("pressure across the injector", "kPa", 0, 400_000),
            Axis("battery", "V", 5, 20),
            "injector dead time",
            0.05,
            6.0,
            decimals=3,
        ),
        "pressure_sensor": TableKind(
            "kPa", Axis("signal", "V", 0, 5), None, "pressure sensor", -20, 1_200, needed=False, decimals=2
        ),
        "coolant_sensor": TableKind(
            "°C", Axis("resistance", "Ω", 1, 5e6), None, "coolant sensor", -60, 200, needed=False, decimals=1
        ),
        "intake_sensor": TableKind(
            "°C", Axis("resistance", "Ω", 1, 5e6), None, "intake sensor", -60, 200, needed=False, decimals=1
        ),
        "boost_target": TableKind(
            "kPa", SPEED, None, "boost target, above the barometer", 0, 300, needed=False, decimals=1
        ),
        "wastegate_duty": TableKind(
            "%", SPEED, None, "base wastegate duty", 0, 100, needed=False, decimals=1
        ),
        "idle_air": TableKind("%", COOLANT, None, "idle air", 0, 100, needed=False, decimals=1),
        "cranking_fuel": TableKind(
            "% of running fuel", COOLANT, None, "cranking fuel", 50, 1200, needed=False, decimals=0
        ),
        "after_start": TableKind(
            "% added", COOLANT, None, "after-start fuel", 0, 150, needed=False, decimals=1
        ),
        "warm_up": TableKind("% added", COOLANT, None, "warm-up fuel", 0, 100, needed=False, decimals=1),
    },
)
