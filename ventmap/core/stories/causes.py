"""Causes, and how often each shows as which finding: a small table, written down to be argued with.

A share is of logs in which the cause is there and the finding could have been seen.
"""

from __future__ import annotations

from ..findings import ReviewContext
from .model import Cause


def _spark(context: ReviewContext) -> bool:
    return context.spark


def _diesel(context: ReviewContext) -> bool:
    return not context.spark


def _turbo(context: ReviewContext) -> bool:
    return context.induction in ("turbo", "unknown")


def _blower(context: ReviewContext) -> bool:
    return context.induction in ("blower", "unknown")


def _trims(context: ReviewContext) -> bool:
    return context.spark and not context.oil_in_fuel


CAUSES: dict[str, Cause] = {
    # What feeds.
    "weak_pump": Cause(
        "pump does not keep up",
        {
            "injector_limit": 0.3,
            "fuel_pressure_drop": 0.95,
            "lean_under_load": 0.7,
            "knock": 0.3,
            "trim_offset": 0.25,
            "exhaust_hot": 0.15,
        },
        not_this="a clogged filter: there the pump itself still makes its pressure with the line shut",
    ),
    "clogged_filter": Cause(
        "filter or line restricts",
        {
            "injector_limit": 0.3,
            "fuel_pressure_drop": 0.95,
            "lean_under_load": 0.65,
            "knock": 0.25,
            "trim_offset": 0.25,
        },
        not_this="a weak pump: there pressure falls with the line shut as well",
    ),
    "pump_wiring": Cause(
        "pump gets too little voltage",
        {
            "injector_limit": 0.25,
            "fuel_pressure_drop": 0.9,
            "voltage_low": 0.45,
            "lean_under_load": 0.6,
            "knock": 0.25,
        },
        common=0.6,
        not_this="a weak pump: there the plug of the pump has the battery's voltage",
    ),
    "injectors_small": Cause(
        "injectors are too small for this",
        {"injector_limit": 0.97, "lean_under_load": 0.5, "knock": 0.2},
        not_this="falling pressure, which makes the pulse long as well: look at the rail first",
    ),
    "one_injector": Cause(
        "one injector flows wrong",
        {
            "lean_under_load": 0.25,
            "knock": 0.13,
            "egt_spread": 0.6,
            "trim_offset": 0.5,
            "misfire": 0.4,
            "idle_unstable": 0.4,
            "bank_imbalance": 0.4,
        },
        common=0.8,
        not_this="a plug or coil of that cylinder: the fault goes with a swapped injector, not with a coil",
    ),
    "water_in_fuel": Cause(
        "water or dirt in the fuel",
        {"ethanol_jump": 0.9, "misfire": 0.2, "lean_under_load": 0.15},
        common=0.4,
        not_this="the sensor's own wire: a sample settles in a glass, a broken wire does not",
    ),
    # What the map says.
    "flow_figure": Cause(
        "flow in the map is not the set's",
        {"trim_offset": 0.8, "lean_under_load": 0.45, "rich_under_load": 0.45, "idle_unstable": 0.15},
        not_this="dead time, which shows at idle and hardly at load",
        of=_trims,
    ),
    "dead_time_figure": Cause(
        "dead time in the map is not the set's",
        {"trim_offset": 0.75, "idle_unstable": 0.35, "lean_under_load": 0.05},
        not_this="an air leak at idle: that lifts the idle speed, dead time does not",
        of=_trims,
    ),
    "fuel_table": Cause(
        "fuel table is off there",
        {"lean_under_load": 0.7, "rich_under_load": 0.5, "lean_hole": 0.5, "trim_offset": 0.3, "knock": 0.15},
        not_this="supply: a table is wrong at the same speed each time, and the rail stays up",
    ),
    "too_much_spark": Cause(
        "more spark than this engine takes",
        {"knock": 0.95, "exhaust_hot": 0.05},
        not_this="low octane: better fuel moves the limit everywhere, a map is wrong in its cells",
        of=_spark,
    ),
    "limit_not_set": Cause(
        "limit is not set, or a gear was missed",
        {"overspeed": 0.97},
        not_this="a wrong scale of engine speed: then road speed fits no gear",
    ),
    "over_fuelled": Cause(
        "more fuel than air for it",
        {"smoke": 0.95, "exhaust_hot": 0.6},
        not_this="lost boost: then the same fuel was right before",
        of=_diesel,
    ),
    # Air.
    "air_leak": Cause(
        "air leaks in past a seal",
        {
            "idle_high_air": 0.85,
            "trim_offset": 0.6,
            "idle_unstable": 0.35,
            "slow_to_idle": 0.2,
            "lean_hole": 0.05,
        },
        not_this="a throttle that does not close: its angle is above nought at idle",
    ),
    "throttle_open": Cause(
        "throttle or its follow-up stays open",
        {"slow_to_idle": 0.9, "idle_high_air": 0.5},
        common=0.7,
        not_this="an air leak: there the throttle reads shut",
    ),
    "boost_leak": Cause(
        "boost leaks",
        {
            "boost_plateau_low": 0.9,
            "boost_falls_with_rpm": 0.2,
            "smoke": 0.3,
            "exhaust_hot": 0.2,
            "rich_under_load": 0.1,
        },
        not_this="a gate that stays open: its duty is high and the pipes hold pressure",
        of=_turbo,
    ),
    "gate_open": Cause(
        "wastegate does not shut",
        {"boost_plateau_low": 0.9, "boost_falls_with_rpm": 0.25},
        common=0.8,
        not_this="a leak: pipes under pressure hiss, a gate does not",
        of=_turbo,
    ),
    "gate_shut": Cause(
        "wastegate does not open, or its line is off",
        {
            "overboost": 0.95,
            "knock": 0.4,
            "intake_hot": 0.25,
            "lean_under_load": 0.15,
            "injector_limit": 0.15,
        },
        common=0.8,
        not_this="a target set too high: then boost meets its target",
        of=_turbo,
    ),
    "out_of_flow": Cause(
        "turbo is out of flow",
        {"boost_falls_with_rpm": 0.9, "boost_plateau_low": 0.3, "intake_hot": 0.3, "exhaust_hot": 0.2},
        common=0.6,
        not_this="a gate that is blown open: more spring, same turbo, holds",
        of=_turbo,
    ),
    "drive_slip": Cause(
        "blower drive slips",
        {"boost_falls_with_rpm": 0.95, "boost_plateau_low": 0.3},
        not_this="a bypass that opens: a mark on the belt stays where it was",
        of=_blower,
    ),
    "level_off": Cause(
        "level is not in, or still asleep",
        {"level_asleep": 0.95, "boost_plateau_low": 0.2},
        not_this="a leak: at stock level boost is stock",
    ),
    # Heat, octane.
    "low_octane": Cause(
        "octane below what the map needs",
        {"knock": 0.95, "exhaust_hot": 0.03},
        not_this="too much spark in one place: low octane knocks wherever it is loaded",
        of=_spark,
    ),
    "charge_heat": Cause(
        "charge air stays hot",
        {"heat_soak": 0.85, "intake_hot": 0.5, "knock": 0.35},
        not_this="a sensor beside something hot: that reads high standing, and cools at once in the wind",
    ),
    "cooling": Cause(
        "cooling does not keep up",
        {"coolant_high": 0.95, "heat_soak": 0.2, "knock": 0.15},
        not_this="a shorted sensor: that reads high cold as well",
    ),
    "cold_engine": Cause(
        "engine was not warm",
        {"not_warm": 0.97, "rich_under_load": 0.15, "trim_offset": 0.1},
        not_this="a thermostat that stays open: that never gets warm",
    ),
    # Electrics, sensors.
    "charging": Cause(
        "charging or its wire",
        {"voltage_low": 0.95, "fuel_pressure_drop": 0.1, "lean_under_load": 0.05},
        not_this="the logger's own supply: read it at the battery",
    ),
    "regulator": Cause(
        "regulator charges too high", {"voltage_high": 0.97}, not_this="a scale: read it with a meter"
    ),
    "sensor": Cause(
        "a sensor, its wire or its scale",
        {
            "not_warm": 0.3,
            "sensor_implausible": 0.95,
            "trim_offset": 0.1,
            "coolant_high": 0.15,
            "slow_sampling": 0.02,
        },
        not_this="the engine: a sensor is wrong standing as well",
    ),
    "probe_loop": Cause(
        "mixture loop swings: probe, delay or exhaust",
        {"trim_hunting": 0.95, "idle_unstable": 0.2},
        not_this="a leak at idle: that stands off, and does not swing",
        of=_trims,
    ),
    "ignition": Cause(
        "plug, coil or its wire",
        {"misfire": 0.95, "idle_unstable": 0.3, "egt_spread": 0.15},
        not_this="an injector: swap coils, and see whether the misfire moves",
        of=_spark,
    ),
    "one_bank": Cause(
        "leak, probe or injector of one bank",
        {"bank_imbalance": 0.95, "trim_offset": 0.4},
        common=0.8,
        not_this="all of the fuel: then both banks stand off alike",
        of=_trims,
    ),
    "oil": Cause(
        "oil: level, pick-up or pump", {"oil_pressure_low": 0.95}, not_this="the sender: read it with a gauge"
    ),
    "driver_aid": Cause(
        "traction control cuts",
        {"torque_cut": 0.95},
        not_this="misfire: a cut is smooth, and wheel speeds jump before it",
    ),
    "limit_shuts": Cause(
        "a limit of the computer shuts the throttle",
        {"throttle_shut": 0.95, "boost_plateau_low": 0.2},
        not_this="traction control: that opens again within a second and a half",
    ),
    "clutch": Cause(
        "clutch or converter slips",
        {"gear_slips": 0.95},
        not_this="spinning wheels: then the wheels' own speeds lie apart",
    ),
    "many_channels": Cause("too many channels on this link", {"slow_sampling": 0.97}, not_this="a busy bus"),
    "wrong_file": Cause(
        "log of another vehicle",
        {"other_vehicle": 0.97, "another_engine": 0.6},
        not_this="a wrong scale: say what the column is",
    ),
    "wrong_engine": Cause("mixture of another kind of engine", {"another_engine": 0.97}, common=0.6),
}
