"""Logs as the API tells and takes them."""

from __future__ import annotations

from datetime import datetime

from ninja import Schema

from ..schemas import CallOut, EvidenceOut
from .drive_schemas import DriveOut


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
    windows: list[WindowOut]
    findings: list[FindingOut]
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


class CaptureOut(Schema):
    state: str
    at_s: float
    length_s: float
    rows: int
    rate_hz: float
    doing: str
    drives: list[DriveOut]
    values: dict[str, float]
    sentence: str
    log_id: int | None


class CaptureIn(Schema):
    watched: bool = True
    baseline: bool = False


class BudgetOut(Schema):
    hz: dict[str, float]
    megabytes_per_minute: float
    calls: list[CallOut]


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
    ticks: list[list[int]]
    measured: list[list[bool]]
    filled: list[list[bool]]
    changed: list[list[bool]]
    within: float
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


class CallsOut(Schema):
    calls: list[CallOut]
