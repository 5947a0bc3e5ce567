"""What of a job's steps the link can read at this bench, so that nobody types what a computer tells."""

from __future__ import annotations

from ventmap.core.basics import Device
from ventmap.core.runsheet import Step

from ..shelf.services import record_of
from .assemble import linked, on_bench, runs_here
from .models import Job
from .rows import devices

#: What a reading of the first start is on the link: channel, and whether the engine runs for it.
AT_FIRST_START = {
    "first-start.map_key_on": ("map", False),
    "first-start.charging": ("battery", True),
    "first-start.idle": ("rpm", True),
    "first-start.trims": ("trims", True),
}
BATTERY, BOARD, CODES = "load.battery", "load.board", "load.codes_read"


def device_at(job: Job, key: str) -> Device | None:
    """The device that a step is about, by the number in its key; the first where it has none."""
    tail = key.rpartition("-")[2]
    fitted = devices(job)
    place = int(tail) if tail.isdigit() else 1
    return record_of(fitted[place - 1], Device) if place <= len(fitted) else None


def live_of(job: Job, step: Step) -> str:
    """How the link takes part in a step worked by hand: ``reading``, ``codes`` or ``identity``; empty where
    it does not.
    """
    at_start = step.key in AT_FIRST_START or step.key == CODES
    if not at_start and not step.key.startswith((BATTERY, BOARD)):
        return ""
    if linked(job) or not on_bench(job):
        return ""
    if at_start:
        return ("codes" if step.key == CODES else "reading") if runs_here(job) else ""
    if step.key.startswith(BATTERY):
        return "reading"
    device = device_at(job, step.key)
    return "identity" if device is not None and device.rewrites_stock else ""
