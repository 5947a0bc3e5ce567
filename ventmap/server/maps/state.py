"""The state of a job's vehicle now, as it is stamped on what is measured on it."""

from __future__ import annotations

from ventmap.core.runsheet import VehicleState

from .. import bench
from ..jobs.assemble import linked, tank
from ..jobs.models import Job
from ..jobs.rows import devices
from .loaded import in_computer
from .models import MapVersion
from .parts import MapPart, parts, versions_of
from .services import calibration_of


def state_of(job: Job, *, stock: bool = False) -> VehicleState:
    """What is in and on the vehicle; `stock`: as it came, before the kit."""
    if stock:
        return VehicleState(inside="stock", fuel=tank(job))
    on = [(part, version) for part in parts(job) if (version := _in(job, part)) is not None]
    words = [_told(part, version) for part, version in on]
    if not any("level" in word for word in words):
        # A box that no map of ours sets: its level is what was answered at it.
        by_hand = job.steps_done.filter(key__startswith="fit.level").exclude(answer="")
        words += [answer.replace("_", " ") for answer in by_hand.values_list("answer", flat=True)]
    return VehicleState(
        inside=", ".join(words),
        kit=", ".join(item.name for item in devices(job)),
        injectors=job.injectors.name if job.injectors else "",
        fuel=tank(job),
        versions=tuple(version.pk for _, version in on),
    )


def _told(part: MapPart, version: MapVersion) -> str:
    return f"{part.item.name} {version.version}{bench.place_of(calibration_of(version))}"


def _in(job: Job, part: MapPart) -> MapVersion | None:
    """The map that a device runs: the one that was written and proven, else the newest that was set."""
    if part.written and linked(job):
        return in_computer(job).version
    found = versions_of(job, part.key)
    return found[-1] if found else None
