"""What a cause is, and the order in which one thing makes another."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from ..findings import ReviewContext

#: From what drives to what suffers.
CHAIN = (
    "other_vehicle",
    "another_engine",
    "sensor_implausible",
    "not_warm",
    "slow_sampling",
    "torque_cut",
    "throttle_shut",
    "gear_slips",
    "voltage_high",
    "voltage_low",
    "ethanol_jump",
    "fuel_pressure_drop",
    "injector_limit",
    "overboost",
    "boost_falls_with_rpm",
    "boost_plateau_low",
    "level_asleep",
    "overspeed",
    "coolant_high",
    "heat_soak",
    "intake_hot",
    "idle_high_air",
    "trim_hunting",
    "trim_offset",
    "bank_imbalance",
    "lean_hole",
    "rich_under_load",
    "lean_under_load",
    "smoke",
    "knock",
    "exhaust_hot",
    "egt_spread",
    "misfire",
    "idle_unstable",
    "slow_to_idle",
    "oil_pressure_low",
)


@dataclass(frozen=True)
class Cause:
    """One thing that may be wrong.

    Parameters
    ----------
    title : str
    shows : mapping of str to float
        Kind of finding → share of logs in which it shows; any other kind shows by chance alone.
    common : float
        How common it is against the others, 1 for an ordinary one.
    not_this : str
        What it must not be confused with, and how that one differs.
    of : callable
        Whether this engine can have it.
    """

    title: str
    shows: Mapping[str, float]
    common: float = 1.0
    not_this: str = ""
    of: Callable[[ReviewContext], bool] = lambda context: True
