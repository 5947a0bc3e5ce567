"""Parts that are fitted beside the kit: named in Plan, fitted and proven by steps of their own."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from django.contrib.auth.models import User

from ventmap.core.basics import BadInput, how_many, read_record
from ventmap.core.runsheet import BESIDE_KINDS, BesideTyped, Memory, numbered

from . import ledger
from .acting import changes_job
from .models import Job

#: What may be opened for a part.
OPENS = ("fuel", "coolant", "oil")
#: More than so many are a build of their own.
MOST = 12


def besides_out(job: Job) -> dict[str, Any]:
    return {
        "kinds": [
            {"key": key, "title": kind.title, "opens": kind.opens} for key, kind in BESIDE_KINDS.items()
        ],
        "opens": list(OPENS),
        "parts": job.besides,
    }


@changes_job
def keep_besides(job: Job, parts: list[dict[str, Any]], by: User) -> None:
    """What is fitted besides; a part that is in no kind is refused, and nothing is half-written.

    Raises
    ------
    BadInput
        Naming the kind, or how many there may be.
    """
    if len(parts) > MOST:
        raise BadInput(f"No more than {how_many(MOST, 'part')} beside a kit; open a second job.", "parts")
    typed = [read_record(BesideTyped, part, "parts") for part in parts]
    memory = Memory.from_json(job.memory)
    stood = [BesideTyped(**{"number": n, **part}) for n, part in enumerate(job.besides, 1)]
    last = max([memory.parts, *(part.number for part in stood)])
    found, last = numbered(typed, stood, last)
    made = [part.model_dump() for part in found]
    if made == job.besides:
        return
    job.besides, job.memory = made, replace(memory, parts=last).to_json()
    job.save()
    told = ", ".join(part["name"] or BESIDE_KINDS[part["kind"]].title for part in made)
    ledger.write(job, "plan", "reading", "Fitted besides", by, told or "nothing")
