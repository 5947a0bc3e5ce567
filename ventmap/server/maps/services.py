"""A job's maps: their versions, read and kept."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

from django.contrib.auth.models import User

from ventmap.core.basics import BadInput
from ventmap.core.forms import Calibration, diff, from_json, to_json
from ventmap.link import wire

from ..jobs import ledger
from ..jobs.early import NO_MAP
from ..jobs.models import Job
from ..jobs.rows import NotFound, device_of, vehicle_of
from ..jobs.steps import reopen
from .models import MapVersion


def dead_time_set(job: Job) -> bool:
    """The dead-time table of the injectors that are on is in the map; a diesel's driver has its own."""
    return not vehicle_of(job).petrol or job.steps_done.filter(key="base-map.dead_time").exists()


@lru_cache(maxsize=1024)
def read_map(document: str) -> Calibration:
    """A map document, read and its sums checked once."""
    return from_json(document)


def calibration_of(version: MapVersion) -> Calibration:
    return read_map(version.document)


def newest(job: Job, part: str = "") -> MapVersion:
    version = MapVersion.objects.filter(job=job, part=part).last()
    if version is None:
        raise BadInput(NO_MAP, "map")
    return version


def version_by(job: Job, version_id: int) -> MapVersion:
    version = MapVersion.objects.filter(job=job, pk=version_id).first()
    if version is None:
        raise NotFound("There is no such map in this job.", "map")
    return version


def keep(
    job: Job, calibration: Calibration, by: User, parent: MapVersion | None, note: str, part: str = ""
) -> MapVersion:
    """Store a map as the next version of a device's; what followed from the one before is open again.

    A name that a version of this device has already (a map of the shelf taken twice, say) is numbered on, for
    two of one name could not be told apart in any record; the document stays as it came, byte for byte.
    """
    version = MapVersion.objects.create(
        job=job,
        part=part,
        parent=parent,
        version=_named_once(job, part, calibration.lineage.version),
        round=calibration.lineage.round,
        note=note,
        document=to_json(calibration),
        sha256=calibration.sha256,
        crc32=f"{calibration.crc32:08X}",
        by=by,
    )
    if part:
        return version
    for step in ("load.save", "load.write", "load.cycle", "load.codes"):
        reopen(job, step)
    ledger.withdraw(job, "load", "load.")
    job.board = {k: v for k, v in job.board.items() if k in ("laptop", "kept_awake")}
    job.save()
    return version


def _named_once(job: Job, part: str, name: str) -> str:
    used = set(MapVersion.objects.filter(job=job, part=part).values_list("version", flat=True))
    stem = name.split(".")[0]
    numbered = (f"{stem}.{n}" for n in range(1, len(used) + 2))
    return name if name not in used else next(one for one in numbered if one not in used)


def flash_bytes(job: Job) -> int:
    """Whole image of the job's device [bytes]."""
    device = device_of(job)
    return min(device.flash_bytes or wire.FLASH_SIZE, wire.FLASH_SIZE) if device else wire.FLASH_SIZE


def next_number(job: Job, base: MapVersion) -> str:
    """The next version of the same round: r1.2 after r1.1."""
    stem = base.version.split(".")[0]
    same = MapVersion.objects.filter(job=job, part=base.part, version__startswith=stem)
    used = {row.version for row in same if row.version.split(".")[0] == stem}
    return next(f"{stem}.{n}" for n in range(1, len(used) + 2) if f"{stem}.{n}" not in used)


def changes(version: MapVersion, other: MapVersion) -> list[dict[str, Any]]:
    return [vars(change) for change in diff(calibration_of(other), calibration_of(version))]
