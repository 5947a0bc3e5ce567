"""What the sample maps are made of: curves, targets, spark, whole maps by their sheet, options, entries."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np

from ventmap.core.basics import Table2D
from ventmap.core.forms import Calibration, Identity, MapConditions, to_json
from ventmap.core.fuel import PETROL
from ventmap.standin import garage

OUT = Path(__file__).resolve().parents[1] / "maps"
COOLANT = np.array([-30, -10, 0, 20, 40, 60, 80], float)
OPTION = ("key", "name", "stock", "wanted", "low", "high", "unit", "closed_course", "reason")


def write(maker: str, key: str, calibration: Calibration) -> None:
    folder = OUT / maker
    folder.mkdir(parents=True, exist_ok=True)
    (folder / f"{key}.json").write_text(to_json(calibration) + "\n", encoding="utf-8")


def curve(x: Any, values: Any) -> Table2D:
    return Table2D(x, [0.0], [np.asarray(values, float)])


def starting() -> dict[str, Table2D]:
    """Idle air and fuel for cold, by coolant: what a port-injected petrol engine is given."""
    return {
        "idle_air": curve(COOLANT, [46, 38, 34, 27, 22, 17, 14]),
        "cranking_fuel": curve(COOLANT, [820, 560, 450, 300, 210, 160, 130]),
        "after_start": curve(COOLANT, [60, 45, 38, 25, 15, 8, 4]),
        # The stand-in's engine asks for 0.4 % more for each kelvin below 60 °C.
        "warm_up": curve(COOLANT, [36, 28, 24, 16, 8, 0, 0]),
    }


def mixture(rpm: Any, kpa: Any, full_load: float) -> Table2D:
    low, span = (60, 30) if full_load > 0.82 else (30, 75)
    rich = np.clip((np.asarray(kpa, float) - low) / span, 0, 1)
    return Table2D(rpm, kpa, np.round(1.0 - (1.0 - full_load) * rich[:, None] * np.ones(len(rpm)), 3))


def spark(rpm: Any, kpa: Any, retard: float) -> Table2D:
    speed, load = np.asarray(rpm, float)[None, :], np.asarray(kpa, float)[:, None]
    best = 33.0 - 0.16 * (load - 40.0) + 0.0016 * (speed - 3000.0)
    idle = np.where(
        load < 68, 14 * np.clip((1500 - speed) / 800, 0, 1), 8 * np.clip((2000 - speed) / 1300, 0, 1)
    )
    return Table2D(rpm, kpa, np.round(np.clip(best - retard - idle, 4, 40), 1))


def two_litre(name: str, identity: Identity, full_load: float, retard: float, **about: Any) -> Calibration:
    made = garage.two_litre_map(
        name=name,
        identity=identity,
        injector_flow=440.0,
        dead_ms=0.62,
        full_load_lambda=full_load,
        spark_retard=retard,
        conditions=MapConditions(
            **{
                "ethanol": 0.05,
                "exhaust": "free",
                "altitude_m": (0.0, 2500.0),
                "author": "Fenwright",
                **about,
            }
        ),
    )
    tables = {
        **made.tables,
        "lambda_target": mixture(garage.RPM_AXIS, garage.KPA_AXIS, full_load),
        "spark": spark(garage.RPM_AXIS, garage.KPA_AXIS, retard),
        **starting(),
    }
    return replace(made, tables=tables).with_scalars(
        overrun_on_rpm=1520.0, overrun_off_rpm=1170.0, after_start_s=20.0, pedal_response=100.0
    )


def full(
    name: str, identity: Identity, sheet: dict[str, float], full_load: float, top_kpa: float, **about: Any
) -> Calibration:
    """A full map of an engine by its sheet: filling as a hump, targets and spark to suit."""
    rpm = np.round(np.linspace(sheet["idle"] * 0.8, sheet["rev"], 12) / 50) * 50
    kpa = np.round(np.linspace(20, top_kpa, 10))
    speed = 80 + 22 * np.exp(-(((rpm - 0.68 * sheet["rev"]) / (0.4 * sheet["rev"])) ** 2))
    filling = (
        sheet.get("fill", 1.0) * speed[None, :] * (0.84 + 0.16 * (1 - np.exp(-(kpa - 12) / 26)))[:, None]
    )
    best = 30 - 0.13 * (kpa[:, None] - 40) + 9.0 * (rpm[None, :] / sheet["rev"] - 0.45)
    tables = {
        "ve": Table2D(rpm, kpa, np.round(filling, 1)),
        "lambda_target": mixture(rpm, kpa, full_load),
        "spark": Table2D(rpm, kpa, np.round(np.clip(best, 4, 40), 1)),
        "dead_time": garage.dead_time(sheet.get("dead_ms", 0.7)).table,
        **starting(),
    }
    scalars = {
        "injector_flow": sheet["flow"],
        "injector_rated_kpa": 300.0,
        "fuel_pressure_kpa": sheet["kpa"],
        "fuel_density": PETROL.density,
        "stoichiometric": PETROL.stoichiometric,
        "displacement_cc": sheet["cc"],
        "cylinders": sheet["cylinders"],
        "rev_limit": sheet["rev"],
        "idle_target": sheet["idle"],
    }
    conditions = MapConditions(**{"altitude_m": (0.0, 2500.0), "ethanol": 0.05, **about})
    return Calibration(name, identity, scalars, tables, conditions=conditions)


def options(name: str, identity: Identity, rows: list[tuple[Any, ...]], **about: Any) -> Calibration:
    def row(values: tuple[Any, ...]) -> dict[str, Any]:
        return {key: float(v) if type(v) is int else v for key, v in zip(OPTION, values, strict=True)}

    return Calibration(
        name,
        identity,
        {},
        {},
        conditions=MapConditions(**about),
        form="options",
        lists={"options": tuple(row(values) for values in rows)},
    )


def entry(
    number: int,
    name: str,
    coding: str,
    stock: float,
    wanted: float,
    low: float,
    high: float,
    unit: str,
    reason: str,
    *,
    on: int | None = None,
    off: int | None = None,
    before: str = "cruise off, standing still",
) -> dict[str, Any]:
    row: dict[str, Any] = {
        "number": float(number),
        "name": name,
        "coding": coding,
        "stock": float(stock),
        "wanted": float(wanted),
        "low": float(low),
        "high": float(high),
        "unit": unit,
        "before": before,
        "closed_course": False,
        "reason": reason,
    }
    return (
        {**row, "on_shows": float(on), "off_shows": float(off)} if on is not None and off is not None else row
    )
