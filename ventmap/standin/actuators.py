"""Outputs that the pretend computer drives on request, and what is then seen and heard at the vehicle."""

from __future__ import annotations

from ventmap.link import wire

from . import answers as refuse
from .answers import Negative
from .engine import Engine
from .memory import TRIGGER_DEG, Memory
from .runtime import Runtime
from .state import State
from .truth import VehicleTruth

#: Slots that a computer of this bench has.
SLOTS = 4
#: Current that each kind of output draws when its circuit is whole [A].
AMPS = {"pump": 6.4, "fan_slow": 8.5, "fan_fast": 17.0, "injector": 0.95, "coil": 5.8}


def there(truth: VehicleTruth, name: str) -> bool:
    """Whether this engine has such an output."""
    kind, _, number = name.rpartition("_")
    if kind in ("injector", "coil"):
        spark = truth.build.burn.kind == "spark" or kind == "injector"
        return spark and 1 <= int(number) <= truth.cylinders
    # What is cooled by the water it floats on has no fan.
    return name == "pump" or truth.build.body.kind != "water"


def acts(truth: VehicleTruth, name: str) -> str:
    """Which one really moves when the computer drives `name`; empty where none does."""
    faults, count = truth.faults, truth.cylinders
    kind, _, number = name.rpartition("_")
    if kind == "injector":
        if faults.crossed_plugs and count > 1:
            # The plugs of two banks exchanged: each reaches its opposite number.
            number = str((int(number) - 1 + count // 2) % count + 1)
        return "" if int(number) == int(faults.dead_injector) else f"injector_{number}"
    if kind == "coil" and faults.crossed_coils and number in ("1", "2") and count > 1:
        return f"coil_{3 - int(number)}"
    return name


def amps(truth: VehicleTruth, name: str) -> float:
    """Current that the computer measures in the driver of this output [A]."""
    kind = name.rpartition("_")[0]
    return AMPS[kind if kind in AMPS else name] if acts(truth, name) else 0.0


def control(engine: State, acting: set[str], request: bytes) -> bytes:
    """InputOutputControlByIdentifier (ISO 14229-1): drive one output, or give it back.

    Raises
    ------
    Negative
        While the engine turns, or where there is no such output.
    """
    did, action = int.from_bytes(request[1:3], "big"), request[3]
    name = wire.OUTPUT_BY_DID.get(did)
    if name is None or not there(engine.truth, name):
        raise Negative(refuse.OUT_OF_RANGE)
    if action == wire.GIVE_BACK:
        # A relay that sticks goes on whatever it is told.
        acting.intersection_update({"pump"} if engine.truth.faults.stuck_pump else ())
        return bytes([0x6F]) + request[1:4]
    if action != wire.DRIVE or len(request) != 5:
        raise Negative(refuse.WRONG_FORMAT)
    if engine.rpm > 50:
        raise Negative(refuse.CONDITIONS)
    if moved := acts(engine.truth, name):
        acting.add(moved)
    return bytes([0x6F]) + request[1:4] + round(1000 * amps(engine.truth, name)).to_bytes(2, "big")


#: Identifiers of what is set live.
FIGURES = (wire.DID_TRIGGER, wire.DID_GLOBAL_TRIM, wire.DID_SLOT)


def figure_of(memory: Memory, did: int) -> int:
    """A figure that is set live, in its counts."""
    if did == wire.DID_SLOT:
        return memory.slot
    return round(memory.trigger_offset * 10 if did == wire.DID_TRIGGER else memory.global_trim * 1000)


def set_figure(engine: Engine, memory: Memory, request: bytes) -> None:
    """WriteDataByIdentifier of a figure that is set live: it holds at once, and after the power was off.

    Raises
    ------
    Negative
        Where it is no such figure.
    """
    did, value = int.from_bytes(request[1:3], "big"), int.from_bytes(request[3:5], "big", signed=True)
    if did not in FIGURES or len(request) != 5:
        raise Negative(refuse.OUT_OF_RANGE)
    if did == wire.DID_SLOT:
        if not 1 <= value <= SLOTS or engine.rpm > 50:
            raise Negative(refuse.OUT_OF_RANGE)
        memory.select(value)
        return
    if did == wire.DID_TRIGGER:
        memory.trigger_offset = value / 10
        engine.offset_off = value / 10 - TRIGGER_DEG
        return
    memory.global_trim = value / 1000
    if isinstance(engine.runtime, Runtime):
        engine.runtime.global_trim = value / 1000
