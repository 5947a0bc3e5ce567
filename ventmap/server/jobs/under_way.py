"""What runs in the server alone: told when the server did not live to end it."""

from __future__ import annotations

import logging
from collections.abc import Callable, Iterator
from contextlib import contextmanager

from django.contrib.auth.models import User
from django.db import transaction

from . import ledger
from .models import Job, UnderWay

log = logging.getLogger(__name__)
#: Kind → who brings in what a cut one left: what is said of it then, or nothing.
RESCUES: dict[str, Callable[[UnderWay], str]] = {}
TOLD = {
    "capture": "The server was stopped while a log was captured: nothing of it was kept. Capture it again.",
    "import": "The server was stopped while a log was read: nothing of it was kept. Drop it again.",
    "report": "The server was stopped while the report was printed: it is not made. Print it again.",
}


def begun(job: Job | None, kind: str, stage: str, by: User) -> UnderWay:
    """Put on record that something runs; `ended` takes it off."""
    return UnderWay.objects.create(job=job, kind=kind, stage=stage, by=by)


def ended(row: UnderWay) -> None:
    UnderWay.objects.filter(pk=row.pk).delete()


@contextmanager
def under_way(job: Job | None, kind: str, stage: str, by: User) -> Iterator[UnderWay]:
    """For the time of a block; an error of ours ends it as well, a killed server does not."""
    row = begun(job, kind, stage, by)
    try:
        yield row
    finally:
        ended(row)


def settle() -> list[str]:
    """At start nothing runs: what is on record as running was cut, and its job is told so."""
    told = []
    for row in UnderWay.objects.select_related("job", "by"):
        words = _rescued(row) or TOLD[row.kind]
        with transaction.atomic():
            if row.job is not None:
                ledger.write(row.job, row.stage, "note", f"Cut short: {row.kind}", row.by, words)
            row.delete()
        told.append(f"{row.job.number if row.job else 'a look'}: {words}")
    return told


def _rescued(row: UnderWay) -> str:
    """What was brought in of what a cut left, in words; one fault there stops no start."""
    rescue = RESCUES.get(row.kind)
    try:
        with transaction.atomic():
            return rescue(row) if rescue else ""
    except Exception:
        log.exception("what a cut %s left was not brought in", row.kind)
        return ""
