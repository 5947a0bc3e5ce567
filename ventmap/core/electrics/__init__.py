"""Electrics: wires, pins, buses and sensors, from continuity to key-on. Uses basics."""

from .allotment import SERVED_BY, Demand, Pin, allot_io
from .base_timing import base_timing_calls, pickup_delay_ms, trigger_offset
from .bus import can_termination
from .continuity import common_side
from .grounds import ground_call
from .key_on import key_on_calls
from .link_ladder import Rung, climb, rungs
from .outputs import INTERLOCKS, SEEN, Interlock, Output, OutputSeen, locked, output_call, outputs_of
from .pedal import pedal_calls
from .pin_plan import PinRow, check_pin_plan, pin_plan_csv, read_pin_plan
from .transfer import SteinhartHart, linear_from_points

__all__ = [
    "INTERLOCKS",
    "SEEN",
    "SERVED_BY",
    "Demand",
    "Interlock",
    "Output",
    "OutputSeen",
    "Pin",
    "PinRow",
    "Rung",
    "SteinhartHart",
    "allot_io",
    "base_timing_calls",
    "can_termination",
    "check_pin_plan",
    "climb",
    "common_side",
    "ground_call",
    "key_on_calls",
    "linear_from_points",
    "locked",
    "output_call",
    "outputs_of",
    "pedal_calls",
    "pickup_delay_ms",
    "pin_plan_csv",
    "read_pin_plan",
    "rungs",
    "trigger_offset",
]
