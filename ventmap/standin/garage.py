"""Vehicles that the stand-in knows how to build, and the maps that belong to them."""

from __future__ import annotations

import numpy as np

from ventmap.core.basics import Table2D
from ventmap.core.forms import Calibration, Identity, MapConditions
from ventmap.core.fuel import PETROL, DeadTimeTable

RPM_AXIS = (700, 1100, 1500, 2000, 2500, 3000, 3600, 4200, 4800, 5400, 6000, 6600)
#: Idle of an engine whose sheet names none [rpm].
IDLE_RPM = 820.0
TOP_RPM = 6800.0
KPA_AXIS = (20, 30, 40, 50, 60, 70, 80, 90, 100)


def filling() -> Table2D:
    """Honest filling of the two-litre four [%]: a hump over speed, rising with pressure."""
    rpm, kpa = np.array(RPM_AXIS, float), np.array(KPA_AXIS, float)
    speed = 87 + 24 * np.exp(-(((rpm - 4300) / 2600) ** 2))
    pressure = 0.82 + 0.18 * (1 - np.exp(-(kpa - 12) / 26))
    return Table2D(rpm, kpa, np.round(speed[None, :] * pressure[:, None], 1))


def dead_time(base_ms: float = 0.62) -> DeadTimeTable:
    """Opening delay of a saturated port injector."""
    volts, kpa = np.array([8, 10, 12, 13, 14, 15, 16], float), np.array([250, 300, 350, 400], float)
    shape = base_ms * (14.0 / volts) ** 1.55
    return DeadTimeTable(volts, kpa, np.round(shape[:, None] * (1 + 0.00075 * (kpa - 300))[None, :], 3))


def lambda_target(full_load: float) -> Table2D:
    rpm, kpa = np.array(RPM_AXIS, float), np.array(KPA_AXIS, float)
    rich = np.clip((kpa - 68) / 10, 0, 1)
    values = 1.0 - (1.0 - full_load) * rich[:, None] * np.ones(len(rpm))[None, :]
    return Table2D(rpm, kpa, np.round(values, 3))


def spark(retard: float) -> Table2D:
    rpm, kpa = np.array(RPM_AXIS, float), np.array(KPA_AXIS, float)
    best = 33.0 - 0.16 * (kpa[:, None] - 40.0) + 0.0016 * (rpm[None, :] - 3000.0)
    idle = np.clip((1500 - rpm) / 800, 0, 1)
    return Table2D(rpm, kpa, np.round(np.clip(best - retard - 14 * idle[None, :], 4, 40), 1))


def two_litre_map(
    *,
    name: str,
    identity: Identity,
    injector_flow: float,
    dead_ms: float,
    full_load_lambda: float,
    spark_retard: float,
    rev_limit: float = TOP_RPM,
    idle: float = IDLE_RPM,
    conditions: MapConditions | None = None,
) -> Calibration:
    """A whole map of the two-litre four."""
    return Calibration(
        name=name,
        identity=identity,
        scalars={
            "injector_flow": injector_flow,
            "injector_rated_kpa": 300.0,
            "fuel_pressure_kpa": 300.0,
            "fuel_density": PETROL.density,
            "stoichiometric": PETROL.stoichiometric,
            "displacement_cc": 1998.0,
            "cylinders": 4.0,
            "rev_limit": rev_limit,
            "idle_target": idle,
            "fan_on": 96.0,
            "fan_off": 91.0,
        },
        tables={
            "ve": filling(),
            "lambda_target": lambda_target(full_load_lambda),
            "spark": spark(spark_retard),
            "dead_time": dead_time(dead_ms).table,
        },
        conditions=conditions or MapConditions(),
    )
