"""What a job's computer holds, by its writes."""

from __future__ import annotations

import threading
from dataclasses import dataclass
from typing import Any

from django.utils import timezone

from ventmap.core.basics import BadInput, VentMapError
from ventmap.core.loading import interrupted_call
from ventmap.link.loader import read_image

from ..jobs import ledger, workshop
from ..jobs.acting import changing
from ..jobs.models import Job
from ..jobs.steps import finish, reopen
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
        _settle(load)
    return load


def _settle(load: Load) -> None:
    """A write that the server did not live to end: the computer says whether it is whole."""
    is_in = _is_in(load)
    with changing(load.job):
        if is_in:
            verified(load, "The server was stopped after the proof; the computer answers this map.")
        else:
            end(load, "interrupted", "The server was stopped in the middle of the write. Nothing is loaded.")
            ledger.judge(load.job, "load", [interrupted_call(load.written, load.total)], load.by)


def _is_in(load: Load) -> bool:
    """Whether the computer answers now what this write put in. An erase takes a map away: one that is there
    was proven after it; of a saved image every byte is compared.
    """
    try:
        with workshop.direct(load.job, "kit", warm=False) as (tester, _):
            if load.firmware is not None:
                return tester.identity()["firmware"] == load.firmware.version
            if load.map is not None:
                return tester.identity()["map_sha256"] == calibration_of(load.map).image_sha256[:16]
            read = next(item for item in read_image(tester, load.total) if isinstance(item, bytes))
            return load.saved is not None and read == bytes(load.saved.image)
    except VentMapError:
        return False


def verified(load: Load, sentence: str) -> None:
    """A write that was proven: told, its step closed, and what rested on the map before judged anew."""
    job, by = load.job, load.by
    end(load, "verified", sentence)
    ledger.withdraw(job, "load", "load.interrupted")
    if load.firmware is not None:
        ledger.withdraw_one(job, "load", "load.firmware_file")
        told = f"{load.total} bytes read back equal; the map went with the one before: write it now"
        ledger.write(job, "load", "load", f"Firmware {load.firmware.version} written and proven", by, told)
        _start_again(job)
        return
    what = (
        f"map {load.map.version}, CRC-32 {load.map.crc32}, slot {load.slot}"
        if load.map
        else f"saved image ({load.saved.label if load.saved else ''})"
    )
    ledger.write(
        job, "load", "load", f"Loaded and verified: {what}", by, f"{load.total} bytes read back equal"
    )
    if load.map is None:
        # The way back was taken: no map of this job is in, whatever was started on one before.
        _start_again(job)
        return
    finish(job, "load.write", by)
    # A first idle was judged on the map before this one, whatever came of it: it is judged anew.
    if job.ledger.filter(stage="first-start", rule__startswith="start.", standing=True).exists():
        ledger.withdraw(job, "first-start", "start.")
        reopen(job, "first-start.start")
        ledger.write(job, "first-start", "note", "Another map is in: start and judge idle again", by)


def _start_again(job: Job) -> None:
    ledger.withdraw(job, "first-start", "start.")
    reopen(job, "first-start.start")


def settle() -> list[str]:
    """At start nothing is written: every open write is settled, looked at or not."""
    told = []
    for load in Load.objects.filter(state="writing").select_related("job", "map", "saved", "firmware", "by"):
        _settle(load)
        told.append(f"{load.job.number}: {load.sentence}")
    return told


def load_out(load: Load) -> dict[str, Any]:
    what = f"map {load.map.version}" if load.map else "what was saved"
    if load.firmware is not None:
        what = f"firmware {load.firmware.version}"
    return {
        "slot": load.slot,
        "id": load.pk,
        "state": load.state,
        "phase": load.phase,
        "done": load.done,
        "written": load.written,
        "total": load.total,
        "sentence": load.sentence,
        "what": what,
        "of_firmware": load.firmware is not None,
        "started_at": load.started_at,
    }


@dataclass(frozen=True)
class InComputer:
    """What the newest finished write put in: ``"map"`` with its version, ``"saved"`` image,
    ``"firmware"``, ``"cut"``
    where the write did not end well, or ``"untouched"`` where nothing was written here.
    """

    state: str
    version: MapVersion | None = None

    @property
    def sentence(self) -> str:
        if self.version is not None:
            return f"Map {self.version.version} is in the computer, verified."
        return {
            "firmware": "Its firmware was written; the map went with the one before. No map is in it.",
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
    if load.firmware_id is not None:
        return InComputer("firmware")
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
