"""What a step's evidence rests on: while that is as it was the step is done, and no longer.

Two things: what the step asks now (its limits, its grid, its wait), and named facts of the job. Both are kept
with the evidence; where one differs the step is judged again, or asked again.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

from .model import Step

#: Facts that may be named, in the words of the ledger.
FACTS = {
    "variant": "vehicle",
    "device": "device",
    "kit": "kit",
    "injectors": "injectors",
    "pump": "pump",
    "goal": "goal",
    "fuel": "fuel",
    "altitude": "altitude",
    "inside": "map in the computer",
    "map": "map",
    "logs": "log",
    "runs": "runs",
    "vin": "VIN",
}

#: Step → facts that its evidence rests on; the first that fits counts. *device* is the one of its key.
RESTS: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("plan.injectors", ("variant", "injectors")),
    ("plan.pump", ("variant", "pump", "injectors", "goal", "fuel")),
    ("plan.", ()),
    ("intake.variant", ("variant",)),
    ("intake.", ()),
    ("baseline.", ("variant",)),
    ("make-safe.", ()),
    ("fit.injector", ("variant", "injectors")),
    ("fit.besides_", ("variant",)),
    ("first-start.besides_", ("variant",)),
    ("fit.access", ("variant",)),
    ("fit.refit", ("variant",)),
    ("fit.covers", ("variant",)),
    ("fit.oil_level", ("variant",)),
    ("fit.coolant_level", ("variant",)),
    ("fit.revision", ("injectors",)),
    ("fit.codes", ("injectors",)),
    ("fit.", ("device",)),
    ("base-map.flow", ("variant", "injectors")),
    ("base-map.dead_time", ("variant", "injectors")),
    ("base-map.", ("device",)),
    ("load.board", ("variant", "device", "map", "vin")),
    ("load.read_back", ("variant", "device", "map")),
    ("load.", ("variant", "device")),
    ("first-start.map_key_on", ("variant", "kit", "altitude")),
    ("first-start.key_on", ("variant", "kit", "altitude")),
    ("first-start.trims", ("variant", "kit", "injectors", "fuel", "inside")),
    ("first-start.", ("variant", "kit", "injectors")),
    ("log.", ("variant", "kit", "injectors", "fuel", "inside")),
    ("correct.", ("variant", "kit", "injectors", "fuel", "inside", "logs")),
    ("prove.runs", ("variant", "kit", "injectors", "fuel", "inside")),
    ("prove.", ("variant", "kit", "injectors", "fuel", "inside", "runs")),
    ("hand-over.", ("variant", "kit", "injectors", "fuel", "inside")),
    ("", ()),
)

#: Judgement that is no step's → facts that it is made from; the first that fits counts.
RULES: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("plan.fit", ("variant", "kit")),
    ("plan.injector", ("variant", "kit", "injectors", "goal", "fuel", "altitude")),
    ("sum.", ("variant", "kit", "injectors", "pump", "goal", "fuel", "altitude")),
    ("intake.", ("variant", "vin", "goal", "fuel", "altitude")),
    ("baseline.", ("variant",)),
    ("map.", ("variant", "kit", "injectors", "goal", "fuel", "altitude", "map")),
    ("base-map.", ("variant", "kit", "injectors", "goal", "fuel", "altitude", "map")),
    ("load.", ("variant", "kit", "vin", "fuel", "inside")),
    ("log.", ("variant", "kit", "injectors", "fuel", "inside", "logs")),
    ("correct.", ("variant", "kit", "injectors", "fuel", "inside", "logs")),
    ("dyno.", ("variant", "kit", "injectors", "goal", "fuel", "inside", "runs")),
    ("prove.", ("variant", "kit", "injectors", "fuel", "inside", "runs")),
    ("", ("variant", "kit")),
)

#: Facts of each device by itself: another map in one box says nothing of what is in the other.
OF_ONE_DEVICE = ("device", "map")
#: Only what the step asks has changed, and no fact of the vehicle.
ASKED_OTHERWISE = "what it asks is another now"


def facts_of(key: str) -> tuple[str, ...]:
    """Names of the facts that a step's evidence rests on."""
    return next(facts for head, facts in RESTS if key.startswith(head))


def rests(step: Step, facts: Mapping[str, Any]) -> dict[str, Any]:
    """What evidence of a step rests on, as things are.

    Parameters
    ----------
    facts : mapping
        Fact → its value in words; those in `OF_ONE_DEVICE` are lists, by place in the kit.
    """
    found: dict[str, Any] = {"asked": asked(step)}
    for name in facts_of(step.key):
        value = facts.get(name)
        if name in OF_ONE_DEVICE:
            tail = step.key.rpartition("-")[2]
            place = int(tail) if tail.isdigit() else 1
            value = value[place - 1] if value and place <= len(value) else None
        found[name] = value
    return found


def stands_on(rule: str, facts: Mapping[str, Any]) -> dict[str, Any]:
    """What a judgement that is no step's rests on, as things are: fact → its value in words."""
    names = next(names for head, names in RULES if rule.startswith(head))
    return {name: _whole(facts.get(name)) for name in names}


def _whole(value: Any) -> Any:
    """Of a fact of each device: all of them, in one line."""
    return ", ".join(str(one) for one in value if one) if isinstance(value, list) else value


def in_words(rests: Mapping[str, Any]) -> list[str]:
    """What something rests on, a fact a line: *fuel: 98 RON, 5 % ethanol*; no unknown one."""
    return [f"{FACTS[name]}: {value}" for name, value in rests.items() if name in FACTS and value]


def asked(step: Step) -> str:
    """A mark of what a step asks: what is read within which limits, what is filled in, what is waited."""
    told = {
        "evidence": step.evidence,
        "reading": asdict(step.reading) if step.reading else None,
        "answers": [asdict(answer) for answer in step.answers],
        "about": step.about.model_dump() if step.about else None,
        "seconds": step.seconds,
    }
    return hashlib.sha256(json.dumps(told, sort_keys=True, default=str).encode()).hexdigest()[:16]


def differs(before: Mapping[str, Any], now: Mapping[str, Any]) -> str:
    """What changed, in words: *fuel 5 % → 83 % ethanol*; empty where nothing did."""
    told = [
        f"{FACTS[name]} {before.get(name) or 'none'} → {now[name] or 'none'}"
        for name in now
        if name != "asked" and name in before and before[name] != now[name]
    ]
    if not told and before.get("asked") != now.get("asked"):
        return ASKED_OTHERWISE
    return "; ".join(told)
