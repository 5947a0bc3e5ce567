"""Shapes of a job on the API."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from pydantic import BaseModel as Schema

from ventmap.core.basics import StageKey, Verdict
from ventmap.core.runsheet import EvidenceKind
from ventmap.core.vehicle import FitResult

from ..schemas import CallOut, EvidenceOut, FitReasonOut, LedgerKind
from .slat_schemas import SlatOut


class ReadingOut(Schema):
    label: str
    quantity: str
    unit: str
    low: float | None = None
    high: float | None = None


class AnswerOut(Schema):
    key: str
    label: str
    verdict: Verdict


class AskColumn(Schema):
    """One column of an answer that is a list."""

    name: str
    label: str
    quantity: str
    unit: str
    choices: list[str]
    optional: bool


class BeginWith(Schema):
    """A usual answer to begin with: rows as they would be typed."""

    name: str
    rows: list[dict[str, str]]


class AskOut(Schema):
    """What a step asks of a thing, where its answer is usually found, and what is done without it."""

    of: str
    key: str
    name: str
    field: str
    title: str
    found: str
    without: str
    must: bool
    protects: str
    """It is looked up, never guessed."""
    form: str
    quantity: str
    unit: str
    choices: list[str]
    none: str
    columns: list[AskColumn]
    begin: list[BeginWith]
    """Lists on the shelf that it may begin with."""


class KnownOut(Schema):
    """What was answered before, and from where."""

    of: str
    key: str
    name: str
    field: str
    title: str
    value: str
    source: str
    by: str
    on: str
    ask: AskOut


class AnswerIn(Schema):
    """An answer to what a step asks: text, the two ends of a pair, or the rows of a list."""

    of: str
    key: str
    field: str
    given: str | list[str] | list[dict[str, str]]
    unit: str = ""
    source: str
    anyway: bool = False
    """It differs from what is known, and stands all the same."""


class StepOut(Schema):
    key: str
    stage: StageKey
    title: str
    do: str
    know: str
    wrong: str
    evidence: EvidenceKind
    caution: str
    reading: ReadingOut | None = None
    seconds: float
    answers: list[AnswerOut] = []
    grid: str = ""
    live: str = ""
    beware: str = ""
    tools: list[str] = []
    consumables: list[str] = []
    minutes: float = 0.0
    waits_for: str = ""
    answer: str = ""
    words: str = ""
    hint: str = ""
    set_aside: str = ""
    safety: bool = False
    asks: list[AskOut] = []
    known: list[KnownOut] = []
    shows: list[str] = []
    done: bool
    by: str = ""
    at: datetime | None = None
    value: float | None = None
    aside: bool = True
    """A person may say that it does not apply to this job."""
    firm: bool = False
    """A wait that nobody ends early."""
    because: str = ""
    """The fact of this job that brings it in; empty where every job asks it."""
    on: str = ""
    """What was in and on the vehicle when it was done."""


class TimerOut(Schema):
    id: int
    step: str
    label: str
    seconds: float
    started_at: datetime
    ends_at: datetime


class RunningOut(TimerOut):
    """A wait that runs on some job of the shop."""

    job: str


class LedgerOut(Schema):
    id: int
    stage: StageKey
    kind: LedgerKind
    at: datetime
    who: str
    title: str
    text: str
    rule: str
    verdict: Verdict | Literal[""]
    """Empty where it is no call."""
    evidence: list[EvidenceOut]
    source: str
    protects: str
    rests: list[str]
    """What it was judged from, a fact a line; of what stands alone."""
    changed: str
    """What had changed since it was judged before; empty where nothing had, or it is the first."""
    standing: bool
    may_be_overruled: bool
    overruled_by: str = ""
    overruled_reason: str = ""
    overruled_at: datetime | None = None


class Plate(Schema):
    number: str
    vehicle: str
    registration: str
    vin: str
    owner: str
    odometer_km: int | None = None
    kit: str
    device: str
    injectors: str
    goal: str
    power_goal_kw: float | None = None
    ron: float | None = None
    ethanol: float
    altitude_m: float
    barometer_kpa: float
    complaint: str
    changes: list[str]
    standard: str
    revision: int
    bench_engine: bool
    linked: bool
    runs_here: bool
    remote_tuner: bool
    """Its map is written by a tuner elsewhere: rounds go out and come back."""
    vehicle_key: str
    petrol: bool
    practice: bool


class JobRow(Schema):
    number: str
    vehicle: str
    registration: str
    owner: str
    kit: str
    goal: str
    slats: list[SlatOut]
    stage: StageKey
    stage_label: str
    next: str
    timers: list[TimerOut]
    holds: int
    stops: int
    practice: bool


class KeptOut(Schema):
    """A step that was done for a kit that is no longer the one."""

    key: str
    title: str
    by: str
    at: datetime
    value: float | None = None


class JobOut(Schema):
    plate: Plate
    slats: list[SlatOut]
    steps: list[StepOut]
    kept: list[KeptOut]
    next: StepOut | None
    timers: list[TimerOut]
    ledger: list[LedgerOut]
    ledger_older: int
    """Entries before these, to be asked for."""
    link: str


class NewJob(Schema):
    vehicle: str
    registration: str = ""
    owner: str = ""
    vin: str = ""
    """Of a customer's vehicle that is known; judged when Intake is saved."""
    devices: list[str] = []
    """What somebody chose to fit, by shelf key; empty until Plan."""


class IntakeIn(Schema):
    revision: int
    registration: str
    vin: str
    owner: str
    odometer_km: float | str | None = None
    goal: str
    power_goal_kw: float | str | None = None
    ron: float | str | None = None
    ethanol: float | str
    altitude_m: float | str
    complaint: str = ""
    changes: list[str] = []
    units: dict[str, str] = {}
    """The unit meant where a figure was typed without one."""


class StepDoneIn(Schema):
    reading: str | None = None
    unit: str | None = None
    anyway: bool = False
    answer: str | None = None
    words: str | None = None


class SetAsideIn(Schema):
    because: str


class OverruleIn(Schema):
    reason: str


class NoteIn(Schema):
    stage: str
    text: str


class SumOut(Schema):
    title: str
    formula: str
    inputs: list[EvidenceOut]
    result: EvidenceOut
    source: str


class InjectorChoiceOut(Schema):
    key: str
    name: str
    flow: float
    supports_kw: float | None
    duty_at_goal: float | None
    call: CallOut
    chosen: bool
    fit: list[FitReasonOut]
    result: FitResult
    at_hand: bool
    """Looked at first; the others on demand."""


class PlanOut(Schema):
    sums: list[SumOut]
    choices: list[InjectorChoiceOut]
    calls: list[CallOut]


class PlanIn(Schema):
    injectors: str


class BaselineOut(Schema):
    identity: dict[str, str]
    codes: list[dict[str, str]]
    codes_read: bool
    read_at: datetime | None


class CodeIn(Schema):
    code: str
    status: str = "stored"


class BaselineIn(Schema):
    computer: str
    calibration: str
    vin: str = ""
    codes: list[CodeIn] = []
    none_shown: bool = False
    """The tester was asked for codes and showed none; without it an empty list is *not read*."""


class DoingOut(Schema):
    at: datetime
    job: str
    stage: StageKey
    title: str
    verdict: Verdict | Literal[""]
