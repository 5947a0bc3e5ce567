"""What stands in a job, and what would stand were everything judged now, by what was entered."""

from __future__ import annotations

import json

from django.contrib.auth.models import User
from django.db import transaction

from ventmap.server.dyno.judging import judge_gain
from ventmap.server.jobs import ledger, living
from ventmap.server.jobs.acting import changing
from ventmap.server.jobs.assemble import rules, run_sheet
from ventmap.server.jobs.grids import judge_again
from ventmap.server.jobs.judging import answer_call, reading_call
from ventmap.server.jobs.models import Job
from ventmap.server.logs.correcting import judge_mixture

Standing = dict[tuple[str, str], tuple[str, str, int | None]]


#: Judged when somebody asks; when what they judged is another they fall, and nobody judges in their place.
ASKED_FOR = {"gain", "mixture"}


class _Undone(Exception):
    pass


def standing(number: str) -> Standing:
    rows = Job.objects.get(number=number).ledger.filter(standing=True, kind="call")
    return {
        (row.stage, row.rule): (row.verdict, json.dumps(row.evidence, sort_keys=True), row.overruled_by_id)
        for row in rows
    }


def from_nothing(number: str) -> Standing:
    """What would stand were everything judged now, by what was entered; nothing of it is kept."""
    found: Standing = {}
    try:
        with transaction.atomic():
            job, by = Job.objects.get(number=number), User.objects.get(username="lead")
            with changing(job):
                for name, (_, again) in living.JUDGES.items():
                    if name not in ASKED_FOR:
                        again(job, by)
                _steps(Job.objects.get(number=number), by)
                _asked_for(job, by)
            found = standing(number)
            raise _Undone
    except _Undone:
        return found


def _asked_for(job: Job, by: User) -> None:
    stands = set(job.ledger.filter(standing=True, kind="call").values_list("rule", flat=True))
    if any(rule.startswith("dyno.gain") for rule in stands):
        judge_gain(job, by)
    if any(rule.startswith("correct.") for rule in stands):
        judge_mixture(job, None, by)


def _steps(job: Job, by: User) -> None:
    sheet = {step.key: step for step in run_sheet(job).steps}
    for row in job.steps_done.filter(set_aside=""):
        step = sheet.get(row.key)
        if step is None:
            continue
        if step.evidence == "grid":
            judge_again(job, step, by)
        elif step.reading is not None and row.reading is not None:
            ledger.judge(job, step.stage, [reading_call(step, row.reading, rules(job))], by)
        elif any(answer.key == row.answer for answer in step.answers):
            ledger.judge(job, step.stage, [answer_call(step, row.answer)], by)
