"""What arrives late stands in its own place in the order: never in place of something newer, and never for
what was done after it was read.
"""

from __future__ import annotations

from datetime import datetime

from django.contrib.auth.models import User

from ventmap.core.basics import BadInput, Call
from ventmap.core.runsheet import Step

from . import ledger
from .models import Job, LedgerEntry
from .moment import late, told


def newer(job: Job, step: Step, rule: str) -> datetime | None:
    """When the step was read after this entry was made; None where it was not."""
    made = late()
    if made is None:
        return None
    row = job.steps_done.filter(key=step.key, at__gt=made).first()
    call = LedgerEntry.objects.filter(job=job, stage=step.stage, rule=rule, standing=True).first()
    stands = [row.at if row is not None else None, (call.moment or call.at) if call is not None else None]
    return max((at for at in stands if at is not None and at > made), default=None)


def in_its_order(job: Job, step: Step) -> None:
    """What it needs was done before it was read.

    Raises
    ------
    BadInput
        Naming what was done after it.
    """
    made = late()
    if made is None:
        return
    after = job.steps_done.filter(key__in=step.needs, at__gt=made).order_by("-at").first()
    if after is not None:
        raise BadInput(
            f"It was read at {told(made)}, before “{after.title}” was done at {told(after.at)}: read it"
            " again.",
            "reading",
        )


def arrived_late(job: Job, step: Step, call: Call, stands: datetime, by: User) -> None:
    """On record, and nothing else: what was read after it stands."""
    made = late()
    assert made is not None
    ledger.write(
        job,
        step.stage,
        "reading",
        f"Arrived late: {step.title}",
        by,
        f"Read at {told(made)}; what was read at {told(stands)} is newer, and stands.",
        call.because,
    )
