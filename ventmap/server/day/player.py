"""Plays the files of demo/day: one a job, each a list of acts with their evidence."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.auth.models import User

from ventmap.core.basics import BadInput, VentMapError

from ..jobs.intake import open_job
from ..jobs.models import Job
from .acts import ACTS, bring_file
from .clock import Clock
from .desk import Desk

FOLDER = Path(settings.BASE) / "demo" / "day"


def play(
    clock: Clock,
    tell: Callable[[str], None] = lambda line: None,
    record: bool = False,
    pattern: str = "*.json",
) -> int:
    """Play the files of demo/day, in the order of their names; how many jobs were worked on.

    On record, what can be captured is captured, and its file is written anew.

    Raises
    ------
    BadInput
        Where an act is refused, or leaves open what it set out to do: the file and the act are named.
    """
    common = json.loads((FOLDER / "evidence.json").read_text(encoding="utf-8"))
    files = [file for file in sorted(FOLDER.glob(pattern)) if file.stem != "evidence"]
    people = {user.username: user for user in User.objects.all()}
    for file in files:
        told = json.loads(file.read_text(encoding="utf-8"))
        clock.back_to(told["began_h_ago"])
        if "look" in told:
            _look(told, people)
            continue
        job = _job(told, people)
        desk = Desk(job, people, clock, FOLDER, {**common, **told.get("evidence", {})}, record)
        for number, act in enumerate(told["acts"], start=1):
            _one(desk, act, f"{file.name}, act {number} ({act['do']})")
        tell(f"job {job.number}: {told['about']}")
    return sum("look" not in file.stem for file in files)


def _job(told: dict[str, Any], people: dict[str, User]) -> Job:
    """The job of a file: one of the sample's, by its plate, or one that is opened now."""
    if "open" in told:
        new = told["open"]
        return open_job(
            new["vehicle"], told["registration"], new["owner"], people["lead"], devices=new.get("devices", ())
        )
    return Job.objects.get(registration=told["registration"])


def _look(told: dict[str, Any], people: dict[str, User]) -> None:
    """Logs that were looked at without a job: what one looks at is one's own, so each person has them."""
    for person in people.values():
        for name in told["look"]:
            bring_file(FOLDER / "logs" / name, person)


def _one(desk: Desk, act: dict[str, Any], where: str) -> None:
    desk.act = act
    desk.by = desk.people[act.get("who", "installer")]
    desk.job.refresh_from_db()
    try:
        ACTS[act["do"]](desk)
        desk.job.refresh_from_db()
        done = set(desk.job.steps_done.values_list("key", flat=True))
        open_ = [key for key in act.get("ends", []) if key not in done]
        if open_:
            raise BadInput(f"open still: {', '.join(open_)}")
    except VentMapError as error:
        raise BadInput(f"demo/day/{where}: {error.sentence}", "day") from error
