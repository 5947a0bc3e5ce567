"""Signed statements for settings that are lawful on closed courses only."""

from __future__ import annotations

import re
from typing import Any

from django.contrib.auth.models import User

from ventmap.core.basics import BadInput

from ..jobs import ledger
from ..jobs.acting import changes_job
from ..jobs.models import Job
from ..shop.access import full_name
from .drafts import as_it_is, draft_of
from .judged import closed_course, settle
from .models import Statement
from .parts import MapPart, versions_of
from .services import calibration_of

#: Strokes of a pen: moves and lines, nothing else.
_STROKES = re.compile(r"^(?:[ML] ?-?\d{1,4}(?:\.\d)? -?\d{1,4}(?:\.\d)? ?)+$")
LONGEST_STROKES = 20_000


@changes_job
def sign(job: Job, part: MapPart, setting: str, name: str, drawn: str, by: User) -> Statement:
    """Keep a statement for a setting's present value.

    Raises
    ------
    BadInput
        Without a name, with strokes that are none, or for a setting that asks for no statement.
    """
    versions = versions_of(job, part.key)
    if not versions:
        raise BadInput("Choose the map first.", "setting")
    asked = {**closed_course(calibration_of(versions[-1])), **closed_course(as_it_is(draft_of(job, part)))}
    if setting not in asked:
        raise BadInput("This setting asks for no statement: as stock, or lawful on the road.", "setting")
    called = " ".join(name.split())
    if not 3 <= len(called) <= 80:
        raise BadInput("Who signs? Type the whole name.", "name")
    if drawn and (len(drawn) > LONGEST_STROKES or not _STROKES.match(drawn)):
        raise BadInput("The signature could not be read. Draw it again, or leave it typed.", "drawn")
    made = Statement.objects.create(
        job=job, part=part.key, setting=setting, what=asked[setting], name=called, drawn=drawn, by=by
    )
    ledger.write(job, "base-map", "note", f"Closed course only, signed: {asked[setting]}"[:160], by, called)
    settle(job, part, by)
    return made


def statement_text() -> str:
    """What is signed."""
    return (
        "This vehicle is driven on closed courses only with this setting, never on public roads. I know that"
        " it is unlawful on the road in many places and may end warranty and insurance; local rules and"
        " licensed inspection decide."
    )


def statements_out(job: Job) -> list[dict[str, Any]]:
    return [
        {
            "setting": one.setting,
            "what": one.what,
            "name": one.name,
            "drawn": one.drawn,
            "at": one.at,
            "by": full_name(one.by),
        }
        for one in Statement.objects.filter(job=job).select_related("by")
    ]
