"""Baseline: codes and identity of the stock computer."""

from __future__ import annotations

import re
from typing import Any

from django.contrib.auth.models import User

from ventmap.core.basics import BadInput, Verdict, codes_call, works_calibration_call
from ventmap.core.runsheet import Act

from . import gate, ledger, workshop
from .acting import changes_job, changing
from .models import Job
from .rows import vehicle_of
from .steps import finish, reopen


def read_baseline(job: Job, by: User) -> dict[str, Any]:
    """Codes and identity from the stock computer."""
    gate.ask(job, Act.as_it_came)
    with workshop.direct(job, "stock", warm=True) as (tester, _):
        identity, codes = tester.identity(), tester.codes()
    with changing(job):
        ledger.write(
            job,
            "baseline",
            "reading",
            "Stock computer read",
            by,
            f"computer {identity['computer']}, calibration {identity['calibration']}, VIN"
            f" {identity['vin'] or 'not stored'}",
        )
        _judge_codes(job, [(c.code, c.status) for c in codes], by)
        _judge_calibration(job, identity["calibration"], by)
    return baseline_out(job)


STATUSES = ("stored", "pending", "permanent")


@changes_job
def enter_baseline(
    job: Job,
    computer: str,
    calibration: str,
    vin: str,
    codes: list[tuple[str, str]],
    by: User,
    *,
    none_shown: bool,
) -> dict[str, Any]:
    """Codes and identity as another tester showed them, entered by hand. No code typed and none shown is a
    read; no code typed and nothing said is none.
    """
    if none_shown and codes:
        raise BadInput("Codes are listed, and it says that none were shown: take off one of them.", "codes")
    if not computer.strip() or not calibration.strip():
        raise BadInput("Enter the computer and the calibration as the tester shows them.", "computer")
    for code, status in codes:
        if not re.fullmatch(r"[PCBU][0-3][0-9A-F]{3}", code):
            raise BadInput(
                f"“{code}” is no trouble code: a letter P, C, B or U and four digits (SAE J2012).", "codes"
            )
        if status not in STATUSES:
            raise BadInput(f"The status of {code} is one of {', '.join(STATUSES)}.", "codes")
    clean = [text.strip().replace(",", " ") for text in (computer, calibration, vin)]
    told = f"computer {clean[0]}, calibration {clean[1]}, VIN {clean[2] or 'not stored'}"
    ledger.write(job, "baseline", "reading", "Stock computer read", by, told)
    _judge_codes(job, codes if codes or none_shown else None, by)
    _judge_calibration(job, clean[1], by)
    return baseline_out(job)


def _judge_codes(job: Job, codes: list[tuple[str, str]] | None, by: User) -> None:
    call = codes_call("baseline.codes", codes)
    ledger.judge(job, "baseline", [call], by)
    if call.verdict is Verdict.go:
        finish(job, "baseline.codes", by)
    else:
        reopen(job, "baseline.codes")


def _judge_calibration(job: Job, answered: str, by: User) -> None:
    """Against what the vehicle's record says its works put in; where it says nothing, nothing is judged."""
    works = vehicle_of(job).stock_calibration
    if works:
        ledger.judge(job, "baseline", [works_calibration_call(answered, works)], by)


def baseline_out(job: Job) -> dict[str, Any]:
    """The last read of the stock computer, from the ledger."""
    call = job.ledger.filter(rule="baseline.codes", standing=True).first()
    read = job.ledger.filter(stage="baseline", title="Stock computer read").first()
    codes = (
        [
            {"code": e["label"], "status": str(e["value"])}
            for e in call.evidence
            if e["label"] not in ("stored codes", "pending codes", "codes")
        ]
        if call
        else []
    )
    parts = dict(part.split(" ", 1) for part in read.text.split(", ")) if read else {}
    unread = call is None or any(e["label"] == "codes" for e in call.evidence)
    return {"identity": parts, "codes": codes, "codes_read": not unread, "read_at": read.at if read else None}
