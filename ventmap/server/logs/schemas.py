"""Logs as the API tells and takes them."""

from __future__ import annotations

from datetime import datetime

from ninja import Schema

from ..schemas import CallOut, EvidenceOut


class NoteOut(Schema):
    kind: str
    text: str
    column: str = ""


class ColumnOut(Schema):
    name: str
    column: str
    label: str
    unit: str
    quantity: str
    low: float | None
    high: float | None
    canonical: bool


class ReadOut(Schema):
    """A column of the file: what it was taken for, and what its values look like."""

    column: str
    status: str
    channel: str
    label: str
    unit: str
    why: str
    best: list[str]
    first: list[float]
    sketch: list[float | None]
    words: list[str]


class ColumnSaid(Schema):
    column: str
    channel: str = ""
    unit: str = ""
    factor: float = 1.0
    offset: float = 0.0
    pressure: str = ""


class LogSaid(Schema):
    """What a person says of a log; what is empty is left to the file."""

    columns: list[ColumnSaid] = []
    afr_scale: float | None = None
    induction: str = ""
    stroke: int | None = None
    altitude_m: float | None = None
    diesel: bool = False
    remember: str = ""
    ticket: str = ""


class ChannelChoice(Schema):
    channel: str
    label: str
    unit: str
    units: list[str]


class WindowOut(Schema):
    kind: str
    from_s: float
    to_s: float


class FindingOut(Schema):
    kind: str
    verdict: str
    title: str
    from_s: float
    to_s: float
    evidence: list[EvidenceOut]
    causes: list[str]
    check: str
    next: str
    channels: list[str] = []
    """Channels of this log that it is told by."""


class NotCheckableOut(Schema):
    kind: str
    missing: list[str]
    perhaps: list[str] = []


class KeptIn(Schema):
    kept: bool


class ImportOut(Schema):
    phase: str
    seconds: float


class MarkOut(Schema):
    """A word that somebody put at a moment."""

    at_s: float
    word: str


class StoryCauseOut(Schema):
    """A cause, its share now, and what it was before the last answer."""

    key: str
    title: str
    weight: float
    before: float | None
    not_this: str


class CheckOut(Schema):
    """The one check that parts the first two causes best for its time."""

    key: str
    ask: str
    minutes: int
    needs: str
    caution: str
    answers: list[str]


class AnsweredOut(Schema):
    check: str
    ask: str
    answer: str


class StoryOut(Schema):
    """Findings that hang together, by their places in the list."""

    lead: int
    follows: list[int]
    headline: str
    """What is likely, in a line."""
    candidates: list[StoryCauseOut]
    check: CheckOut | None


class LogOut(Schema):
    id: int
    name: str
    source: str
    rows: int
    duration_s: float
    rate_hz: float
    size: int
    sha256: str
    at: datetime
    by: str
    map: str
    job: str
    kept: bool
    may_delete: bool
    notes: list[NoteOut]
    columns: list[ColumnOut]
    reads: list[ReadOut]
    clock: str
    known: str
    known_name: str
    said: LogSaid
    marks: list[MarkOut]
    vehicle: str
    """Key of the vehicle on the shelf; empty for a look without a job."""
    windows: list[WindowOut]
    findings: list[FindingOut]
    stories: list[StoryOut]
    answered: list[AnsweredOut]
    checked: list[str]
    not_checkable: list[NotCheckableOut]


class LogRow(Schema):
    id: int
    name: str
    source: str
    rows: int
    duration_s: float
    at: datetime
    map: str


class Lane(Schema):
    name: str
    time_s: list[float]
    values: list[float]


class LanesOut(Schema):
    lanes: list[Lane]


class ScalarOut(Schema):
    name: str
    old: float
    new: float
    unit: str
    low: float
    high: float


class SplitOut(Schema):
    flow_percent: float
    flow_low: float
    flow_high: float
    dead_ms: float
    dead_low: float
    dead_high: float


class RoundOut(Schema):
    title: str
    share: float
    limit: float
    text: str
    version: str


class LimitsOut(Schema):
    """House rules of a round [%]."""

    within: float
    done: float
    explains: float
    spread: float
    step: float


class ProposalOut(Schema):
    log: str
    log_id: int
    version: str
    stale: bool
    x: list[float]
    y: list[float]
    old: list[list[float]]
    new: list[list[float]]
    error: list[list[float | None]]
    samples: list[list[float]]
    spread: list[list[float | None]]
    margin: list[list[float]]
    ticks: list[list[int]]
    measured: list[list[bool]]
    filled: list[list[bool]]
    changed: list[list[bool]]
    within: float
    next_within: float
    rounds_forced: str
    """Rounds still to go by the limits of each, in words; empty where it is done."""
    used: int
    delay_s: float
    scalars: list[ScalarOut]
    why_no_scalars: str
    explained: float | None
    split: SplitOut | None
    calls: list[CallOut]
    rounds: list[RoundOut]
    limits: LimitsOut


class RoundIn(Schema):
    log_id: int
    take_scalars: bool = True
    cells: list[tuple[int, int]] | None = None


class MadeOut(Schema):
    version: str
