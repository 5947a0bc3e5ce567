"""The twelve stages of a job and how far each is open."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from .calls import Call, Verdict, worst


@dataclass(frozen=True)
class Stage:
    key: str
    label: str
    purpose: str


STAGES: tuple[Stage, ...] = (
    Stage("intake", "Intake", "who, which vehicle, what for, what is wrong with it"),
    Stage("plan", "Plan", "choose the parts, check the sums, book the time"),
    Stage("baseline", "Baseline", "measure before touching"),
    Stage("make-safe", "Make safe", "cool, power down, relieve fuel pressure"),
    Stage("fit", "Fit", "mount, plug, measure, torque"),
    Stage("base-map", "Base map", "the nearest safe map, then this vehicle's figures"),
    Stage("load", "Load", "save, write, verify, clear codes"),
    Stage("first-start", "First start", "key-on checks, learning, leaks, idle"),
    Stage("log", "Log", "capture and read"),
    Stage("correct", "Correct", "turn findings into the next map"),
    Stage("prove", "Prove", "repeatable runs against the baseline"),
    Stage("hand-over", "Hand over", "what was done, how to go back, what to watch"),
)
STAGE_KEYS = tuple(stage.key for stage in STAGES)


@dataclass(frozen=True)
class Slat:
    """A stage on the strip: state ``shut``, ``ajar``, ``open``, ``held`` or ``stopped``; share of its steps
    done.
    """

    key: str
    label: str
    state: str
    share: float


def slat(stage: Stage, done: int, total: int, calls: Sequence[Call]) -> Slat:
    """How far a stage is.

    Parameters
    ----------
    done, total : int
        Steps.
    calls : sequence of Call
        The calls that stand in this stage: the newest of each rule, without the overruled ones.
    """
    share = done / total if total else 0.0
    verdict = worst(calls)
    if verdict is Verdict.stop:
        state = "stopped"
    elif verdict is Verdict.hold:
        state = "held"
    elif total and done == total:
        state = "open"
    else:
        state = "ajar" if done else "shut"
    return Slat(stage.key, stage.label, state=state, share=round(share, 3))
