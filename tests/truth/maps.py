"""Cases of maps of every form: what is checked while one is edited, its set, its tyres and its meter."""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache
from math import nan
from typing import Any

import numpy as np

from tests.conftest import ROOT
from ventmap.core.basics import DeadTimeFigures, HouseRules, Injector, Table2D
from ventmap.core.forms import Calibration, Firmware, firmware_call, from_json
from ventmap.core.fuel import PETROL
from ventmap.core.maps import MapJob, Member, airflow_call, map_calls, sensor_curve, set_calls
from ventmap.core.vehicle import tyre_change

from .model import Case

RULES = HouseRules()
#: A sound job for each sample map: nothing of it holds.
JOB = MapJob(
    boosted=True,
    barometer_kpa=85.0,
    rev_limit=11_000.0,
    tyre_kmh=190.0,
    ron=98.0,
    trim_bounds=(-0.25, 0.4),
    thermostat_c=82.0,
    stock_fan_c=100.0,
    injector_flow=3000.0,
)


@lru_cache(maxsize=32)
def sample(name: str) -> Calibration:
    """A map of the sample shop, ``maker/key``."""
    return from_json((ROOT / "demo" / "maps" / f"{name}.json").read_text(encoding="utf-8"))


FULL = sample("fenwright/t20-free-95")
TURBO = sample("ardle/om16-open-96")
TRIM = sample("brandrel/q660-free")
LEVEL = sample("kelmar/om16-levels")
BLEND = sample("kelmar/om16-blend")
DRIVER = sample("harrow/tp30-tow-driver")
ENGINE = sample("harrow/tp30-tow-engine")
OTHER = sample("harrow/tp30-long-haul-driver")
ENTRIES = sample("harrow/tp30-body")
OPTIONS = sample("brandrel/pw15-95")


def cell(made: Calibration, table: str, row: int, column: int, value: Any) -> Calibration:
    """With one cell set, whatever it is."""
    old = made.tables[table]
    values = old.values.copy()
    values[row, column] = nan if value is None else value
    return made.with_table(table, Table2D(old.x, old.y, values))


def judged(made: Calibration, **job: Any) -> Any:
    return map_calls(made, replace(JOB, shelf=made, **job), RULES)


#: What the records of the sample's two-litre say.
SHEET = Injector(
    flow=440.0,
    rated_kpa=300.0,
    dead_time=DeadTimeFigures(
        voltages=tuple(FULL.tables["dead_time"].y.tolist()),
        pressures_kpa=tuple(FULL.tables["dead_time"].x.tolist()),
        ms=tuple(tuple(row) for row in FULL.tables["dead_time"].values.tolist()),
    ),
)
RECORDS = {"injector": SHEET, "across_kpa": 300.0, "displacement_cc": 1998.0, "cylinders": 4}


def program(trim: Any) -> Calibration:
    """The full map as another program holds it, with a trim over everything."""
    return replace(FULL, form="borrowed").with_scalars(overall_trim=nan if trim is None else trim)


def figure(name: str) -> Any:
    """The checks of the full map with one figure set, held against the records."""
    return lambda value: edited(FULL, FULL.with_scalars(**{name: nan if value is None else value}), **RECORDS)


def later(by: float) -> Any:
    """With every dead time later by so many ms."""
    table = FULL.tables["dead_time"]
    return edited(FULL, FULL.with_table("dead_time", table.with_values(table.values + by)), **RECORDS)


def scaled(name: str, of: str = "times") -> Any:
    """With a whole table times, or plus, so much."""

    def change(by: float) -> Any:
        table = FULL.tables[name]
        values = table.values * by if of == "times" else table.values + by
        return edited(FULL, FULL.with_table(name, table.with_values(values)), **RECORDS)

    return change


def targets(lam: float) -> Any:
    """With no mixture target under load richer than so much."""
    table = FULL.tables["lambda_target"]
    return edited(FULL, FULL.with_table("lambda_target", table.with_values(np.full_like(table.values, lam))))


def edited(made: Calibration, changed: Calibration, **job: Any) -> Any:
    return map_calls(changed, replace(JOB, shelf=made, **job), RULES)


def beside(made: Calibration, table: str, row: int, column: int) -> Any:
    """The check of a cell that is set to its neighbour's value and so much more."""
    base = float(made.tables[table].values[row, column])
    return lambda by: judged(cell(made, table, row, column, base + by))


def listed(made: Calibration, name: str, row: int, **parts: Any) -> Calibration:
    rows = [dict(one) for one in made.lists[name]]
    rows[row].update(parts)
    return made.with_list(name, rows)


def full_table(table: str, value: float) -> Calibration:
    """The turbo map with one row of boost at a value, and smooth below it."""
    old = TURBO.tables[table]
    values = old.values.copy()
    values[old.y > 90] = np.minimum(values[old.y > 90], value) if value < 1 else value
    values[-1] = value
    return TURBO.with_table(table, old.with_values(values))


def members(driver: Calibration) -> Any:
    made = [
        Member("flasher", ENGINE, ENGINE.sha256),
        Member("driver module", driver, driver.sha256),
    ]
    return set_calls(made, {})


def stretched(by: float) -> Calibration:
    """The driver map with its longest pulse so many times as long."""
    table = DRIVER.tables["pulse_us"]
    values = table.values.copy()
    values[-1, -1] = values[-1, -1] * by
    return DRIVER.with_table("pulse_us", table.with_values(values))


def leaner(share: float) -> Calibration:
    table = BLEND.tables["pulse_factor"]
    values = table.values.copy()
    values[1, 4] = values[1, 4] * (1 - share)
    return BLEND.with_table("pulse_factor", table.with_values(values))


def scalar(**figures: Any) -> Calibration:
    return FULL.with_scalars(**figures)


def bounded(bounds: Any) -> Any:
    return judged(TRIM, trim_bounds=bounds)


def sized(flow: Any) -> Any:
    return judged(DRIVER, injector_flow=flow)


def sensed(kpa: Any) -> Any:
    """A pressure sensor's curve with its third cell at so many kPa, between 55 and 125."""
    return judged(cell(FULL.with_table("pressure_sensor", CURVE), "pressure_sensor", 0, 2, kpa))


CURVE = sensor_curve("pressure_sensor", [(0.5, 20.0), (4.5, 300.0)])
LOAD_ROW = len(FULL.tables["spark"].y) - 2


def firmware(version: str, answered: str = "2.1", own: str = "FW-P4") -> Any:
    return firmware_call(Firmware("FW-P4", version, b""), own, answered, "3.0")


CASES = [
    Case("load.firmware_file", lambda v: firmware("3.0", own=v), "FW-S2", "FW-P4", "", "FW-P4", ()),
    Case("load.firmware_file", firmware, "1.0", "3.1", "2.9", "3.0", ("",)),
    Case("load.firmware_file", lambda v: firmware("3.0", v), "3.0", "2.1", "3.0.1", "2.9", ("",)),
    Case("map.sensor_curve", sensed, 10.0, 90.0, 54.9, 55.1),
    Case("map.flow", figure("injector_flow"), 330.0, 440.0, 454.0, 452.0),
    Case("map.flow", figure("injector_rated_kpa"), 400.0, 300.0, 320.0, 303.0),
    Case("map.overall_trim", lambda v: judged(program(v)), 10.0, 0.0, 0.5, 0.0),
    Case("map.across", figure("fuel_pressure_kpa"), 400.0, 300.0, 320.0, 303.0),
    Case("map.dead_time_sheet", later, 0.3, 0.0, 0.06, 0.04),
    Case("map.engine", figure("displacement_cc"), 999.0, 1998.0, 2002.0, 1997.0),
    Case("map.engine", figure("cylinders"), 8.0, 4.0, 5.0, 4.0),
    Case("map.ratio", figure("stoichiometric"), 16.0, 14.7, 14.9, 14.8),
    Case("map.filling", scaled("ve"), 0.7, 1.0, 1.16, 1.14),
    Case("map.spark_shelf", scaled("spark", "plus"), -25.0, 0.0, -10.5, -9.5),
    Case("map.mixture_load", targets, 1.10, 0.95, 1.01, 1.0),
    Case("map.spark_step", beside(FULL, "spark", LOAD_ROW, 6), 12.0, 0.0, 3.5, 0.5),
    Case("map.mixture_step", beside(FULL, "lambda_target", LOAD_ROW, 6), 0.2, 0.0, 0.065, 0.005),
    Case("map.mixture_boost", lambda v: judged(full_table("lambda_target", v)), 1.0, 0.8, 0.89, 0.87),
    Case(
        "map.spark_shelf",
        lambda v: edited(FULL, cell(FULL, "spark", 2, 6, float(FULL.tables["spark"].values[2, 6]) + v)),
        6.0,
        0.0,
        2.1,
        1.9,
    ),
    Case("map.dead_time", lambda v: judged(cell(FULL, "dead_time", 3, 1, v)), 9.0, 0.696, 0.1, 0.7),
    Case(
        "map.rev_limit",
        lambda v: judged(FULL.with_scalars(rev_limit=v)),
        12_000.0,
        7_000.0,
        11_001.0,
        11_000.0,
    ),
    Case("map.rev_limit", lambda v: judged(FULL, rev_limit=v), 6_000.0, 7_000.0, 6_799.0, 6_800.0, (None,)),
    Case("map.speed_limit", lambda v: judged(FULL.with_scalars(speed_limit=v)), 240.0, 150.0, 191.0, 190.0),
    Case(
        "map.speed_limit",
        lambda v: judged(FULL.with_scalars(speed_limit=150.0), tyre_kmh=v),
        100.0,
        190.0,
        149.0,
        150.0,
        (None,),
    ),
    Case(
        "map.fan",
        lambda v: judged(FULL.with_scalars(fan_on=v, fan_off=v - 5.0)),
        104.0,
        90.0,
        84.0,
        84.1,
    ),
    Case("map.trim_bounds", lambda v: judged(cell(TRIM, "fuel_trim.1", 2, 2, v)), 55.0, 10.0, 40.1, 40.0),
    Case(
        "map.trim_bounds",
        lambda v: judged(TRIM, trim_bounds=v),
        (-0.1, 0.05),
        (-0.25, 0.4),
        None,
        (-0.2, 0.2),
        (None,),
    ),
    Case("map.spark_trim", lambda v: judged(cell(TRIM, "spark_trim.1", 2, 2, v)), 6.0, 1.0, 2.1, 2.0),
    Case(
        "map.learner",
        lambda v: judged(listed(TRIM, "positions", 3, rev_limit=v)),
        10_500.0,
        8_200.0,
        10_300.0,
        10_299.0,
    ),
    Case("map.level_octane", lambda v: judged(LEVEL, ron=v), 90.0, 98.0, 94.9, 95.0, (None, nan)),
    Case("map.level_octane", lambda v: judged(LEVEL.with_scalars(level=v)), 3.0, 1.0, 9.0, 1.0),
    Case("map.level_first", lambda v: judged(LEVEL.with_scalars(level=v)), 2.0, 1.0, 2.0, 1.0),
    Case("map.warm_up", lambda v: judged(LEVEL.with_scalars(warm_up_s=v)), 0.0, 300.0, 0.0, 1.0),
    Case("map.level_order", lambda v: judged(cell(LEVEL, "added_boost", 1, 3, v)), 1.0, 22.0, 11.9, 12.1),
    Case("map.blend_curve", lambda v: judged(leaner(v)), 0.2, 0.0, 0.051, 0.049),
    Case("map.blend_rises", lambda v: judged(cell(BLEND, "pulse_factor", 1, 7, v)), 1.0, 1.6, 1.2, 1.55),
    Case("map.start_falls", lambda v: judged(cell(BLEND, "start_addition", 0, 3, v)), 90.0, 25.0, 40.1, 39.9),
    Case(
        "map.option_reason",
        lambda v: judged(listed(OPTIONS, "options", 0, reason=v)),
        "",
        "impeller",
        " ",
        "so",
        ("",),
    ),
    Case("map.pair", lambda v: judged(listed(ENGINE, "pair", 0, torque_nm=v)), 900.0, 640.0, 701.0, 700.0),
    Case("map.driver_window", lambda v: judged(stretched(v)), 2.0, 1.0, 1.05, 1.02),
    Case(
        "map.driver_rises", lambda v: judged(cell(DRIVER, "pulse_us", 4, 3, v)), 50.0, 1345.0, 1050.0, 1070.0
    ),
    Case(
        "map.driver_size",
        lambda v: judged(DRIVER, injector_flow=v),
        1_000.0,
        3_000.0,
        3_090.0,
        3_045.0,
        (None,),
    ),
    Case(
        "map.entry_coding", lambda v: judged(listed(ENTRIES, "entries", 0, wanted=v)), 30.95, 30.9, -1.0, 30.0
    ),
    Case("map.set", members, OTHER, DRIVER, replace(DRIVER, set=None), DRIVER, ()),
    Case("map.tyre", lambda v: tyre_change(634.0, "225/45R17", v, None), 500.0, 634.0, 654.0, 650.0),
    Case("map.airflow", lambda v: airflow_call(v, PETROL, 150.0, 300.0), 200.0, 100.0, 126.0, 124.0),
]
