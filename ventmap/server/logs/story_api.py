"""What findings of a log have in common, and answers to the checks that part their causes."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.http import HttpRequest
from ninja import Field, Router, Schema

from ventmap.core.basics import BadInput
from ventmap.core.stories import CHECKS

from ..jobs import ledger
from ..shop.access import person, worker
from . import services, store
from .models import LogFile
from .schemas import LogOut
from .stories import told

router = Router(tags=["logs"])


class CheckAnswerIn(Schema):
    check: str = Field(max_length=40)
    answer: str = Field("", max_length=80)


@router.put("/logs/{log_id}/answers", response=LogOut)
def answer(request: HttpRequest, log_id: int, body: CheckAnswerIn) -> Any:
    """Answer a check; the causes weigh anew. Without an answer the one that was given is taken back."""
    row = store.log_by(log_id, person(request))
    by = worker(request) if row.job_id else person(request)
    if body.check not in CHECKS:
        raise BadInput("There is no such check.", "check")
    if body.answer.strip() and body.answer.strip() not in CHECKS[body.check].answers:
        raise BadInput(f"Answer one of: {', '.join(CHECKS[body.check].answers)}.", "answer")
    with transaction.atomic():
        now = LogFile.objects.select_for_update().get(pk=row.pk)
        left = [one for one in now.answers if one[0] != body.check]
        given = body.answer.strip()
        now.answers = [*left, *([[body.check, given]] if given else [])]
        before, after = told(row), told(now)
        now.save(update_fields=["answers"])
        if row.job is not None:
            _into_ledger(row, body.check, given, _moved(before, after), by)
    return services.log_out(store.log_by(row.pk), by)


def _into_ledger(row: LogFile, check: str, given: str, moved: str, by: User) -> None:
    assert row.job is not None
    stage = "baseline" if row.baseline else "log"
    what = f"{CHECKS[check].ask}: {given or 'taken back'}"
    ledger.write(row.job, stage, "note", f"Checked after {row.name}", by, f"{what}. {moved}".strip())


def _moved(before: dict[str, Any], after: dict[str, Any]) -> str:
    """Causes whose share has moved by a tenth or more, in words."""
    was = {one["key"]: one["weight"] for story in before["stories"] for one in story["candidates"]}
    now = {one["key"]: one for story in after["stories"] for one in story["candidates"]}
    told = [
        f"{one['title']} {100 * was.get(key, 0.0):.0f} → {100 * one['weight']:.0f} %"
        for key, one in now.items()
        if abs(one["weight"] - was.get(key, 0.0)) >= 0.1
    ]
    return "; ".join(told)
