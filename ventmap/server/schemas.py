"""Shapes that several nouns share on the API."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any, Literal

from pydantic import BaseModel as Schema

from ventmap.core.basics import Call, Evidence, Verdict
from ventmap.core.vehicle import FitReason, FitResult

#: What a line of the ledger is.
LedgerKind = Literal[
    "call",
    "kit",
    "load",
    "log",
    "map",
    "note",
    "photo",
    "reading",
    "report",
    "run",
    "sum",
    "tick",
    "timer",
    "undo",
]


class EvidenceOut(Schema):
    label: str
    value: float | str
    limit: float | str | None = None
    unit: str = ""


class CallOut(Schema):
    rule: str
    verdict: Verdict
    title: str
    row: str = ""
    """The line of a grid or a list that it is about."""
    because: list[EvidenceOut]
    do_next: str
    source: str
    protects: str
    may_be_overruled: bool


class CallsOut(Schema):
    calls: list[CallOut]


class FitReasonOut(Schema):
    what: str
    result: FitResult
    verdict: Verdict
    why: str
    work: str


class Sentence(Schema):
    """What went wrong, in words, and the input that it is about."""

    sentence: str
    field: str | None = None


class Done(Schema):
    sentence: str = ""


def evidence_out(items: Iterable[Evidence]) -> list[dict[str, Any]]:
    return [{"label": e.label, "value": e.value, "limit": e.limit, "unit": e.unit} for e in items]


def fit_out(reasons: Iterable[FitReason]) -> list[dict[str, Any]]:
    """Reasons of a fit, each with what it is as a judgement."""
    return [{**vars(reason), "verdict": reason.result.verdict} for reason in reasons]


def call_out(call: Call) -> dict[str, Any]:
    return {
        "rule": call.rule,
        "verdict": call.verdict.value,
        "title": call.title,
        "row": call.row,
        "because": evidence_out(call.because),
        "do_next": call.do_next,
        "source": call.source,
        "protects": call.protects,
        "may_be_overruled": call.may_be_overruled,
    }
