"""Slats that cannot begin yet: why, and the slat where what is missing is made good."""

from __future__ import annotations

from .assemble import linked
from .models import Job
from .rows import device_of

NO_KIT = "Choose the device in Plan first."
NO_INJECTORS = (
    "Choose the injectors in Plan first: the map's figures are theirs. The stock set may be chosen."
)
NO_MAP = "Choose a base map first."
NOT_LOADED = "No map of this job was written yet. Load one first."
NO_LOG = "Capture or drop a log in Log first."
FOREIGN_LOG = "No map of this job was in the computer when this log was made: load one, then log."


def early(job: Job) -> dict[str, dict[str, str]]:
    """Slat → sentence and the slat to go to, for a kit that is written from here; by hand nothing is
    early.
    """
    if not linked(job):
        return {}
    found: dict[str, tuple[str, str]] = {}
    if job.device is None:
        found["base-map"] = (NO_KIT, "plan")
    elif job.injectors is None and device_of(job) is not None:
        found["base-map"] = (NO_INJECTORS, "plan")
    if not job.maps.filter(part="").exists():
        found["load"] = (NO_MAP, "base-map")
    if not job.loads.filter(state="verified").exclude(map=None).exists():
        found["first-start"] = (NOT_LOADED, "load")
    logs = job.logs.filter(baseline=False)
    if not logs.exists():
        found["correct"] = (NO_LOG, "log")
    elif not logs.exclude(map=None).exists():
        found["correct"] = (FOREIGN_LOG, "load")
    return {stage: {"sentence": sentence, "stage": to} for stage, (sentence, to) in found.items()}
