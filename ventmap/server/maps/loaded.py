"""What a job's computer holds, by its writes."""

from __future__ import annotations

import threading
from typing import Any

from django.utils import timezone

from ventmap.core.basics import BadInput
from ventmap.core.maps import interrupted_call

from ..jobs import ledger
from ..jobs.models import Job
from .models import Load, MapVersion

#: Writes of this process: what stops them.
running: dict[int, threading.Event] = {}


def end(load: Load, state: str, sentence: str) -> None:
    load.state, load.sentence, load.ended_at = state, sentence, timezone.now()
    load.save(update_fields=["state", "sentence", "ended_at"])


def last_load(job: Job) -> Load | None:
    """The last write; one that the server did not live to end is told as interrupted."""
    load = Load.objects.filter(job=job).first()
    if load and load.state == "writing" and load.pk not in running:
        end(load, "interrupted", "The server was stopped in the middle of the write. Nothing is loaded.")
        ledger.judge(job, "load", [interrupted_call(load.done, load.total)], load.by)
    return load


def load_out(load: Load) -> dict[str, Any]:
    what = f"map {load.map.version}" if load.map else "what was saved"
    return {
        "id": load.pk,
        "state": load.state,
        "phase": load.phase,
        "done": load.done,
        "total": load.total,
        "sentence": load.sentence,
        "what": what,
        "started_at": load.started_at,
    }


def loaded_map(job: Job) -> MapVersion:
    """The map that the kit's computer runs.

    Raises
    ------
    BadInput
        If the last write was not verified.
    """
    load = last_load(job)
    if load is None or load.state != "verified" or load.map is None:
        raise BadInput("No verified map is in the computer. Load one first.", "load")
    return load.map
