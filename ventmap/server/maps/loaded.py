"""What a job's computer holds, by its writes."""

from __future__ import annotations

import threading
from dataclasses import dataclass
from typing import Any

from django.utils import timezone

from ventmap.core.basics import BadInput
from ventmap.core.maps import interrupted_call

from ..jobs import ledger
from ..jobs.models import Job
from .models import Load, MapVersion
from .services import calibration_of

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
        ledger.judge(job, "load", [interrupted_call(load.written, load.total)], load.by)
    return load


def load_out(load: Load) -> dict[str, Any]:
    what = f"map {load.map.version}" if load.map else "what was saved"
    return {
        "id": load.pk,
        "state": load.state,
        "phase": load.phase,
        "done": load.done,
        "written": load.written,
        "total": load.total,
        "sentence": load.sentence,
        "what": what,
        "started_at": load.started_at,
    }


@dataclass(frozen=True)
class InComputer:
    """What the newest finished write put in: ``"map"`` with its version, ``"saved"`` image, ``"cut"``
    where the write did not end well, or ``"untouched"`` where nothing was written here.
    """

    state: str
    version: MapVersion | None = None

    @property
    def sentence(self) -> str:
        if self.version is not None:
            return f"Map {self.version.version} is in the computer, verified."
        return {
            "saved": "What was saved is back in the computer; no map of this job is.",
            "cut": "The last write was cut: no whole map is in the computer.",
        }.get(self.state, "No map of this job was written yet.")


def in_computer(job: Job) -> InComputer:
    """The one answer to what a job's computer holds; screens, report and gates all ask here."""
    last_load(job)
    load = Load.objects.filter(job=job).exclude(state="writing").select_related("map").first()
    if load is None:
        return InComputer("untouched")
    if load.state != "verified":
        return InComputer("cut")
    return InComputer("map", load.map) if load.map else InComputer("saved")


def loaded_map(job: Job) -> MapVersion:
    """The map that the kit's computer runs.

    Raises
    ------
    BadInput
        Where the newest finished write did not put one in.
    """
    found = in_computer(job)
    if found.version is None:
        raise BadInput(f"{found.sentence} Load one first.", "load")
    return found.version


def written_calibrations(job: Job) -> list[str]:
    """Calibrations that this job's verified writes put in."""
    loads = Load.objects.filter(job=job, state="verified").exclude(map=None).select_related("map")
    return [calibration_of(load.map).identity.calibration for load in loads if load.map]


def version_out(version: MapVersion) -> dict[str, Any]:
    """A version as screens show it; loaded is the one that the newest finished write put in."""
    return {
        "id": version.pk,
        "version": version.version,
        "round": version.round,
        "note": version.note,
        "crc32": version.crc32,
        "sha256": version.sha256,
        "made_at": version.made_at,
        "by": version.by.get_full_name() or version.by.username,
        "loaded": in_computer(version.job).version == version,
    }
