"""What is true of a job because of its maps, and what is judged again when it differs."""

from __future__ import annotations

from typing import Any

from ..jobs.assemble import linked
from ..jobs.models import Job, LedgerEntry
from ..jobs.plan_facts import recorded
from ..jobs.rows import devices
from .choosing import judge_again, set_again
from .loaded import in_computer
from .models import Load, MapVersion
from .parts import parts
from .state import state_of

__all__ = ["chosen_by", "devices_of", "facts", "judge_again", "on_it_now", "set_again", "state"]


def facts(job: Job) -> dict[str, Any]:
    """The newest version of each device's map, and the one that is in the computer."""
    newest: dict[str, str] = {}
    for part, version in MapVersion.objects.filter(job=job).order_by("id").values_list("part", "version"):
        newest[part] = version
    return {"map": [newest.get(part.key) for part in parts(job)], "inside": _inside(job)}


def state(job: Job, stock: bool) -> dict[str, Any]:
    """What is in and on the vehicle, kept with what is read on it."""
    return state_of(job, stock=stock).plain()


def _inside(job: Job) -> str:
    """As it was proven last; a write under way changes nothing until it ended."""
    load = Load.objects.filter(job=job).exclude(state="writing").select_related("map").first()
    if load is None or load.firmware_id is not None:
        return ""
    return load.map.version if load.map is not None and load.state == "verified" else ""


def on_it_now(job: Job, entry: LedgerEntry) -> bool | None:
    """Of a map that is written from here: whether the one that a stop judged is in the computer."""
    if entry.stage not in ("base-map", "log"):
        return None
    if not linked(job):
        return None if entry.stage == "base-map" else not _set_since(job, entry)
    if entry.stage == "base-map":
        inside = in_computer(job).version
        return inside is None or inside == MapVersion.objects.filter(job=job, part="").last()
    return not Load.objects.filter(job=job, state="verified", ended_at__gt=entry.at).exists()


def _set_since(job: Job, entry: LedgerEntry) -> bool:
    """Whether a device that is worked by hand was set, or read back, since a log was judged."""
    made = MapVersion.objects.filter(job=job, made_at__gt=entry.at).exists()
    return made or job.steps_done.filter(key__startswith="load.read_back", at__gt=entry.at).exists()


def devices_of(job: Job) -> dict[str, Any]:
    return {"kit": [item.key for item in devices(job)]}


def chosen_by(job: Job) -> dict[str, Any]:
    """What a map was chosen by and is checked against."""
    return {**recorded(job), "figures": job.steps_done.filter(key="base-map.flow").exists()}
