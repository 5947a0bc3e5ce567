"""What of the sheet this job asks for: each step names the facts that bring it in, and is absent without
them.

A box on a cable that sets a tyre size opens nothing and runs the engine no otherwise: nobody reads plugs
for it. What is not known counts as if it were so.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace
from functools import lru_cache

from .model import Kit, SheetVehicle, Step
from .opening import at_engine, opens_fuel, retunes

#: Fact → how it is told beside a step.
FACTS_OF_A_JOB: Mapping[str, str] = {
    "no kit": "no kit is chosen yet",
    "complaint": "somebody complains of it",
    "more power": "more power is asked of it",
    "long load": "the goal is long full load",
    "retuned": "the engine is run otherwise",
    "opened": "plugs or hoses are opened",
    "bonnet": "the work lies at the engine",
    "fuel": "fuel is opened",
    "fuel parts": "injectors or a pump are new",
    "device": "a device is fitted",
}
#: The engine is worth a look before and after: somebody asks more of it, or it runs otherwise.
_ENGINE = ("no kit", "complaint", "more power", "long load", "retuned", "fuel")
#: More is asked of the engine than of one that is only put right: of injectors, of rings, of its power.
_ASKED_MORE = ("no kit", "complaint", "more power", "long load", "retuned", "fuel parts")
#: Goals under which an engine works hard for long.
LONG_LOAD = ("track", "tow", "peak")

#: Steps that begin so → facts, any one of which brings them in. What stands in no line is asked on every job.
WHEN: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("intake.leaks", _ENGINE),
    ("intake.fluids", _ENGINE),
    ("intake.plugs", _ENGINE),
    ("intake.compression", _ASKED_MORE),
    # One that opens nothing reads the battery right before its write.
    ("intake.battery", (*_ENGINE, "opened")),
    ("plan.fit", ("no kit", "device")),
    ("plan.injectors", _ASKED_MORE),
    ("plan.pump", _ASKED_MORE),
    ("plan.parts", (*_ENGINE, "opened")),
    ("baseline.log", _ENGINE),
    ("baseline.runs", _ASKED_MORE),
    ("make-safe.cool", ("no kit", "bonnet", "fuel")),
    ("make-safe.coolant", ("no kit", "bonnet", "fuel")),
    ("fit.port", (*_ENGINE, "opened")),
    ("fit.filter", _ENGINE),
    ("first-start.leaks", _ENGINE),
    ("first-start.idle", _ENGINE),
    ("first-start.charging", (*_ENGINE, "opened")),
    ("first-start.lights", (*_ENGINE, "opened")),
    ("log.", _ENGINE),
    ("correct.", _ASKED_MORE),
    ("prove.", _ASKED_MORE),
)


def facts_of_job(vehicle: SheetVehicle, kits: Sequence[Kit], goal: str) -> frozenset[str]:
    """The facts that bring steps in, by their names in `FACTS_OF_A_JOB`."""
    fuel = opens_fuel(vehicle, kits)
    opened = any(not kit.port_only for kit in kits) or bool(vehicle.besides)
    told = {
        # Parts alone are a job of their own.
        "no kit": not kits and not vehicle.besides,
        "complaint": vehicle.complaint,
        "more power": vehicle.more_power,
        "long load": goal in LONG_LOAD,
        "retuned": any(map(retunes, kits)),
        "opened": opened,
        "bonnet": any(map(at_engine, kits)) or any(part.opens for part in vehicle.besides),
        "fuel": fuel,
        "fuel parts": any(kit.opens_fuel for kit in kits),
        "device": any(kit.device for kit in kits),
    }
    return frozenset(name for name, true in told.items() if true)


@lru_cache(4_096)
def brought_in_by(key: str) -> tuple[str, ...]:
    """Names of the facts that bring a step in; none where every job asks it."""
    return next((facts for head, facts in WHEN if key.startswith(head)), ())


def applying(steps: Iterable[Step], facts: frozenset[str]) -> list[Step]:
    """The steps that these facts bring in, each with why it is there."""
    found = []
    for step in steps:
        by = brought_in_by(step.key)
        met = [name for name in by if name in facts]
        if by and not met:
            continue
        because = FACTS_OF_A_JOB[met[0]] if met else ""
        found.append(step if step.because == because else replace(step, because=because))
    return found


#: Fact → how it is told where it is not so.
NOT_SO: Mapping[str, str] = {
    "complaint": "nobody complains of it",
    "more power": "no more power is asked",
    "long load": "the goal is no long load",
    "retuned": "the engine is run as before",
    "opened": "no plug is opened",
    "bonnet": "no work lies at the engine",
    "fuel": "no fuel is opened",
    "fuel parts": "injectors and pump stay",
    "device": "no device is fitted",
}


def why_absent(facts: frozenset[str], stage: str) -> str:
    """Why nothing of a stage is asked, in one sentence: of the facts that would bring its steps in, none
    is so.
    """
    bring = {name for head, names in WHEN if head.startswith(f"{stage}.") for name in names}
    words = [text for name, text in NOT_SO.items() if name in bring - facts]
    return (
        f"Nothing of this is asked here: {', '.join(words)}." if words else "Nothing of this is asked here."
    )
