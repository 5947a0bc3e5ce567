"""Checks that part causes: what is done, what it costs, and how far each answer moves which cause.

A factor says how many times as often the answer comes where that cause is there; causes that are not named
are not moved.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from ..findings import ReviewContext

#: Before a check that opens fuel or works at a running engine.
FUEL = "Fuel under pressure: by the maker's procedure, cold, with rag, eye protection and extinguisher."
RUNNING = "The engine runs: nothing loose near belts and fans, the exhaust led out, wheels chocked."


@dataclass(frozen=True)
class Check:
    """Something that is looked at or done.

    Parameters
    ----------
    ask : str
    minutes : int
    needs : str
        Parts and tools.
    answers : mapping of str to mapping
        Answer in words → cause → factor.
    caution : str
        Said before it.
    of : callable
        Whether it can be done on this engine.
    known_by : tuple of str
        Kinds that tell it already where the log could show them, found or not.
    """

    ask: str
    minutes: int
    needs: str
    answers: Mapping[str, Mapping[str, float]]
    caution: str = ""
    of: Callable[[ReviewContext], bool] = lambda context: True
    known_by: tuple[str, ...] = ()


def _spark(context: ReviewContext) -> bool:
    return context.spark


def _charged(context: ReviewContext) -> bool:
    return context.induction != "none"


CHECKS: dict[str, Check] = {
    "pump_volts": Check(
        "Voltage at the pump's own plug while it pumps hard, against the battery's",
        10,
        "meter with long leads",
        {
            "within 0.5 V": {"pump_wiring": 0.08, "charging": 0.6},
            "more than 0.5 V lost": {"pump_wiring": 9.0, "weak_pump": 0.5, "clogged_filter": 0.4},
        },
        RUNNING,
    ),
    "pump_shut": Check(
        "Pressure of the pump with the line after it shut for a moment, by its maker's procedure",
        15,
        "gauge, clamp",
        {
            "makes its full pressure": {"weak_pump": 0.15, "pump_wiring": 0.4, "clogged_filter": 4.0},
            "does not": {"weak_pump": 5.0, "pump_wiring": 2.0, "clogged_filter": 0.2},
        },
        FUEL,
    ),
    "new_filter": Check(
        "The same pull with a new filter",
        30,
        "fuel filter",
        {
            "pressure holds now": {"clogged_filter": 12.0, "weak_pump": 0.1, "pump_wiring": 0.1},
            "the same": {"clogged_filter": 0.08},
        },
        FUEL,
    ),
    "figures_against_sheet": Check(
        "Flow, pressure and dead times in the map against the set's own sheet",
        5,
        "the sheet of the injectors",
        {
            "a figure differs": {
                "flow_figure": 5.0,
                "dead_time_figure": 5.0,
                "air_leak": 0.4,
                "fuel_table": 0.4,
            },
            "all equal": {"flow_figure": 0.15, "dead_time_figure": 0.15},
        },
        of=_spark,
    ),
    "two_voltages": Check(
        "Idle trims with lamps and blower off, then on (battery a volt lower)",
        5,
        "nothing",
        {
            "trims move": {"dead_time_figure": 8.0, "air_leak": 0.3, "flow_figure": 0.3},
            "trims stay": {"dead_time_figure": 0.15},
        },
        RUNNING,
        of=_spark,
    ),
    "intake_smoke": Check(
        "Smoke or low pressure into the closed intake, engine off",
        20,
        "smoke machine or a cap with a valve",
        {
            "leaks": {
                "air_leak": 7.0,
                "boost_leak": 7.0,
                "gate_open": 0.2,
                "out_of_flow": 0.3,
                "throttle_open": 0.3,
            },
            "tight": {"air_leak": 0.1, "boost_leak": 0.1},
        },
    ),
    "throttle_shut": Check(
        "Throttle angle at idle, and whether its plate is shut by eye",
        5,
        "lamp",
        {
            "shut": {"throttle_open": 0.15, "air_leak": 2.0},
            "stands open": {"throttle_open": 8.0, "air_leak": 0.4},
        },
    ),
    "gate_arm": Check(
        "Wastegate arm and its line: shut at rest, moves by hand pump, line on and whole",
        15,
        "hand pump",
        {
            "stays open": {"gate_open": 9.0, "boost_leak": 0.3, "out_of_flow": 0.4},
            "does not open, or line off": {"gate_shut": 9.0},
            "as it should": {"gate_open": 0.12, "gate_shut": 0.15},
        },
        of=_charged,
    ),
    "belt_mark": Check(
        "A paint mark over belt and pulley, then one pull",
        10,
        "paint pen",
        {
            "mark has moved": {"drive_slip": 12.0, "out_of_flow": 0.2},
            "mark stands": {"drive_slip": 0.1},
        },
        of=_charged,
    ),
    "better_fuel": Check(
        "The same pull on fuel of known, higher octane",
        40,
        "fuel",
        {
            "knock is gone": {"low_octane": 6.0, "too_much_spark": 0.6, "charge_heat": 0.6},
            "the same": {"low_octane": 0.12},
        },
        of=_spark,
    ),
    "three_degrees": Check(
        "Three degrees less in those cells, the same pull",
        20,
        "drum or closed course",
        {
            "knock is gone": {"too_much_spark": 2.5, "low_octane": 1.5},
            "the same": {"too_much_spark": 0.2, "low_octane": 0.3, "sensor": 3.0},
        },
        of=_spark,
    ),
    "cool_again": Check(
        "The same pull once intake air is back where the first one began",
        20,
        "fan",
        {
            "gone": {"charge_heat": 8.0, "low_octane": 0.4, "too_much_spark": 0.5},
            "the same": {"charge_heat": 0.12},
        },
    ),
    "swap_injector": Check(
        "Swap the injector with another cylinder's, and look where the fault goes",
        45,
        "seals",
        {
            "goes with it": {"one_injector": 12.0, "ignition": 0.08},
            "stays": {"one_injector": 0.08, "ignition": 2.0},
        },
        FUEL,
    ),
    "swap_coil": Check(
        "Swap coil and plug with another cylinder's, and look where the misfire goes",
        15,
        "spark plug socket",
        {
            "goes with it": {"ignition": 12.0, "one_injector": 0.1, "water_in_fuel": 0.3},
            "stays": {"ignition": 0.1, "one_injector": 2.0},
        },
        of=_spark,
    ),
    "fuel_glass": Check(
        "A sample from the rail in a glass, left for ten minutes",
        15,
        "glass, hose",
        {
            "parts in layers, or dirt": {"water_in_fuel": 12.0},
            "clear": {"water_in_fuel": 0.1},
        },
        FUEL,
    ),
    "rail_beside": Check(
        "Rail pressure under the same load, in this log or the next",
        5,
        "the channel, or a gauge",
        {
            "stays up": {
                "weak_pump": 0.08,
                "clogged_filter": 0.08,
                "pump_wiring": 0.08,
                "fuel_table": 2.0,
                "injectors_small": 2.0,
            },
            "falls": {
                "weak_pump": 4.0,
                "clogged_filter": 4.0,
                "pump_wiring": 4.0,
                "fuel_table": 0.3,
                "injectors_small": 0.4,
            },
        },
        known_by=("fuel_pressure_drop",),
    ),
    "meter": Check(
        "Battery at its posts with a meter, lamps on at 2 000 rpm",
        5,
        "meter",
        {
            "13.2 to 14.8 V": {"charging": 0.15, "regulator": 0.1, "pump_wiring": 2.0},
            "below": {"charging": 8.0, "pump_wiring": 0.5},
            "above": {"regulator": 10.0},
        },
        RUNNING,
    ),
    "sensor_beside": Check(
        "The reading beside another instrument, key on and cold",
        10,
        "gauge or thermometer",
        {
            "reads right": {"sensor": 0.1, "cooling": 2.0},
            "reads wrong": {"sensor": 10.0, "cooling": 0.2},
        },
    ),
    "half_load": Check(
        "The same gear and speeds at half the load",
        10,
        "drum or closed course",
        {"holds": {"clutch": 4.0}, "slips as well": {"clutch": 1.5, "sensor": 2.0}},
    ),
    "next_gear": Check(
        "Codes read, then the same pull in the next gear",
        15,
        "tester; drum or closed course",
        {
            "open there": {"limit_shuts": 4.0, "sensor": 0.3},
            "shut as well": {"limit_shuts": 0.7},
            "a code stands": {"sensor": 5.0, "limit_shuts": 0.5},
        },
    ),
    "gauge_at_block": Check(
        "Oil pressure with a gauge at the block, idling only",
        20,
        "oil gauge",
        {"low as well": {"oil": 8.0, "sensor": 0.2}, "right": {"oil": 0.1, "sensor": 6.0}},
        RUNNING,
    ),
    "smoke_before": Check(
        "The log of before: the same fuel at the same load without smoke",
        5,
        "the stock log",
        {
            "clean then, boost as now": {"over_fuelled": 3.0, "boost_leak": 0.3},
            "clean then, more boost": {"boost_leak": 5.0, "gate_open": 3.0, "over_fuelled": 0.4},
        },
    ),
    "probe_beside": Check(
        "Trims of that bank with a second probe in its exhaust",
        30,
        "wideband",
        {"agrees": {"probe_loop": 0.3, "one_bank": 2.0}, "differs": {"probe_loop": 5.0, "sensor": 3.0}},
    ),
}
