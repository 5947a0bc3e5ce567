"""Electrics: wires, pins, buses and sensors, from continuity to key-on. Uses basics."""

from .allotment import SERVED_BY, Demand, Pin, allot_io
from .base_timing import trigger_offset
from .bus import can_termination
from .continuity import common_side
from .grounds import ground_call
from .key_on import key_on_calls
from .link_ladder import Rung, climb, rungs
from .pedal import pedal_calls
from .pin_plan import PinRow, check_pin_plan, pin_plan_csv, read_pin_plan
from .transfer import SteinhartHart, linear_from_points

__all__ = [
    "SERVED_BY",
    "Demand",
    "Pin",
    "PinRow",
    "Rung",
    "SteinhartHart",
    "allot_io",
    "can_termination",
    "check_pin_plan",
    "climb",
    "common_side",
    "ground_call",
    "key_on_calls",
    "linear_from_points",
    "pedal_calls",
    "pin_plan_csv",
    "read_pin_plan",
    "rungs",
    "trigger_offset",
]
