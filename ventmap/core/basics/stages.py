"""The twelve stages of a job and how far each is open."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from .calls import Call, Verdict, worst


class StageKey(StrEnum):
    """The stages in the order in which practitioners work."""

    intake = "intake"
    plan = "plan"
    baseline = "baseline"
    make_safe = "make-safe"
    fit = "fit"
    base_map = "base-map"
    load = "load"
    first_start = "first-start"
    log = "log"
    correct = "correct"
    prove = "prove"
    hand_over = "hand-over"


class SlatState(StrEnum):
    """How far a stage is: how far its slat is open, or what stops it."""

    shut = "shut"
    ajar = "ajar"
    open = "open"
    held = "held"
    stopped = "stopped"


@dataclass(frozen=True)
class Stage:
    key: StageKey
    label: str
    purpose: str


STAGES: tuple[Stage, ...] = (
    Stage(StageKey.intake, "Intake", "who, which vehicle, what for, what is wrong with it"),
    Stage(StageKey.plan, "Plan", "choose the parts, check the sums, book the time"),
    Stage(StageKey.baseline, "Baseline", "measure before touching"),
    Stage(StageKey.make_safe, "Make safe", "cool, power down, relieve fuel pressure"),
    Stage(StageKey.fit, "Fit", "mount, plug, measure, torque"),
    Stage(StageKey.base_map, "Base map", "the nearest safe map, then this vehicle's figures"),
    Stage(StageKey.load, "Load", "save, write, verify, clear codes"),
    Stage(StageKey.first_start, "First start", "key-on checks, learning, leaks, idle"),
    Stage(StageKey.log, "Log", "capture and read"),
    Stage(StageKey.correct, "Correct", "turn findings into the next map"),
    Stage(StageKey.prove, "Prove", "repeatable runs against the baseline"),
    Stage(StageKey.hand_over, "Hand over", "what was done, how to go back, what to watch"),
)
STAGE_KEYS = tuple(stage.key for stage in STAGES)


@dataclass(frozen=True)
class Slat:
    """A stage on the strip, with the share of its steps that is done."""

    key: StageKey
    label: str
    state: SlatState
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
    share = done / total if total else 1.0
    verdict = worst(calls)
    if verdict is Verdict.stop:
        state = SlatState.stopped
    elif verdict is Verdict.hold:
        state = SlatState.held
    elif done == total:
        # Nothing is asked of a stage without steps.
        state = SlatState.open
    else:
        state = SlatState.ajar if done else SlatState.shut
    return Slat(stage.key, stage.label, state=state, share=round(share, 3))
