"""Saving what is in a computer, and writing a map to it."""

from __future__ import annotations

import hashlib
import logging
import threading
from typing import Any

from django.contrib.auth.models import User
from django.db import DatabaseError, connection

from ventmap.core.basics import BadInput, VentMapError, Verdict, worst
from ventmap.core.loading import battery_call, interrupted_call
from ventmap.core.runsheet import Act
from ventmap.link import wire
from ventmap.link.live_settings import figure, set_figure
from ventmap.link.loader import LoadStopped, Progress, read_image, write_image
from ventmap.link.tester import Tester
from ventmap.link.transport import LinkLost

from .. import bench
from ..doors import need_room
from ..jobs import gate, ledger, workshop
from ..jobs.acting import changing
from ..jobs.assemble import rules
from ..jobs.known import answered
from ..jobs.models import Job
from ..jobs.steps import finish, reopen
from .board import board_calls, board_out, merge, slot_of, verdict_of, ways_of
from .firmware import cut_firmware, may_write
from .loaded import end, last_load, running, verified
from .models import Load, SavedImage
from .services import calibration_of, newest

log = logging.getLogger(__name__)
#: Rows of the board that keep the computer alive, whatever is written.
ALIVE = (
    "load.battery",
    "load.loads_off",
    "load.kept_awake",
    "load.in_park",
    "load.laptop",
    "load.cable_seated",
    "load.saved",
)


def save_image(job: Job, by: User) -> dict[str, Any]:
    """Read the computer twice; equal reads are the way back."""
    gate.ask(job, Act.power_on)
    with workshop.direct(job, "kit", warm=False) as (tester, _):
        first, second = (
            next(item for item in read_image(tester) if isinstance(item, bytes)) for _ in range(2)
        )
    digest = hashlib.sha256(first).hexdigest()
    with changing(job):
        if first == second:
            label = "as delivered, no map in it" if first == b"\xff" * len(first) else "map that was in it"
            if not SavedImage.objects.filter(job=job, sha256=digest).exists():
                SavedImage.objects.create(job=job, image=first, sha256=digest, label=label, by=by)
            ledger.write(
                job,
                "load",
                "load",
                "Computer saved and re-read equal",
                by,
                f"{label}; {len(first)} bytes, SHA-256 {digest[:16]}",
            )
            finish(job, "load.save", by)
        merge(job, {"saved": "equal" if first == second else "no"})
        ledger.judge(job, "load", [c for c in board_calls(job) if c.rule == "load.saved"], by)
    return board_out(job)


def start(
    job: Job,
    by: User,
    back: bool = False,
    resume: bool = False,
    watched: bool = True,
    firmware: bool = False,
) -> Load:
    """Begin to write in the background; the map must still fit, and the board must allow it. Where nobody
    watches, time runs as fast as it can. Resumed, it goes on where the last one was cut. Firmware goes in
    before a map that asks for it, and takes the map that is in with it.
    """
    last = last_load(job)
    if resume and last is not None and last.firmware_id is not None:
        firmware = True
    # What was saved, or firmware that was cut, is the way out: only what protects the computer bars it.
    gate.ask(job, Act.power_on if back or firmware else Act.write)
    answered(job, "load.write")
    if cut_firmware(job) and not firmware:
        raise BadInput(
            "Its firmware was cut in the middle: write that first, no map runs without.", "firmware"
        )
    file = may_write(job) if firmware else None
    calls = board_calls(job)
    heaviest = verdict_of(job, calls)
    aside = ledger.is_aside(job, "load")
    if file is not None:
        # What is asked of the map waits for the map; what keeps the computer alive does not.
        calls = [call for call in calls if call.rule in ALIVE]
        heaviest = worst(call for call in calls if not aside(call))
    if heaviest is not Verdict.go:
        first = next(c for c in calls if c.verdict is heaviest and not aside(c))
        raise BadInput(f"Not yet: {first.title.lower()}. {first.do_next}", first.rule)
    cut_at = 0
    if resume:
        if not any(way.key == "resume" for way in ways_of(job)):
            raise BadInput("There is nothing to resume: write again from the start.", "resume")
        cut_at = last.written if last else 0
    saved = SavedImage.objects.filter(job=job).order_by("id").first() if back else None
    if back and saved is None:
        raise BadInput("Nothing was saved to go back to.", "back")
    need_room()
    version = newest(job)
    image = bytes(saved.image) if saved else calibration_of(version).image(wire.FLASH_SIZE)
    if file is not None:
        image = bytes(file.image)
    region = wire.FIRMWARE_REGION if file is not None else wire.MAP_REGION
    slot = 1 if saved or file is not None else slot_of(job)
    car = workshop.vehicle(job, "kit", warm=False)
    holding = workshop.line_taken(job.pk, "a write")
    holding.__enter__()
    try:
        with changing(job):
            load = Load.objects.create(
                job=job,
                map=None if saved or file else version,
                saved=saved,
                firmware=file,
                slot=slot,
                total=len(image),
                by=by,
            )
            for step in ("load.write", "load.cycle", "load.codes"):
                reopen(job, step)
            # Before the row is seen by others: one that is not running would be told as interrupted.
            stopping = running[load.pk] = threading.Event()
    except BaseException:
        holding.__exit__(None, None, None)
        raise

    def run() -> None:
        try:
            with workshop.on_bus(car) if watched else workshop.unwatched(car) as (tester, _):
                if file is None and figure(tester, "slot") != slot:
                    set_figure(tester, "slot", slot)
                for progress in write_image(tester, image, stopping.is_set, cut_at, region):
                    _note(load, progress)
                if file is not None:
                    _answers(tester, file.version)
            with changing(job):
                verified(load, "Written, read back equal, checksum proven.")
        except VentMapError as error:
            load.refresh_from_db()
            fell = _fell_to(job, car, by)
            sentence = f"{error.sentence} {fell}".strip()
            with changing(job):
                end(load, "stopped" if isinstance(error, LoadStopped) else "interrupted", sentence)
                ledger.judge(job, "load", [interrupted_call(load.written, load.total)], by)
        except Exception:
            log.exception("write failed")
            with changing(job):
                end(load, "interrupted", "The write failed in the server. Nothing is loaded.")
                ledger.judge(job, "load", [interrupted_call(0, len(image))], by)
        finally:
            running.pop(load.pk, None)
            holding.__exit__(None, None, None)
            connection.close()

    threading.Thread(target=run, name=f"load-{load.pk}", daemon=True).start()
    return load


def _fell_to(job: Job, car: bench.PretendVehicle, by: User) -> str:
    """Whether the battery is why a write was cut: what it reads now goes on the board, before any retry."""
    try:
        with workshop.unwatched(car) as (tester, _):
            volts = round(tester.read_live(["battery"])["battery"], 2)
    except VentMapError:
        return ""
    call = battery_call(volts, rules(job))
    if call.verdict is Verdict.go:
        return ""
    with changing(job):
        merge(job, {"battery_v": volts, "battery_jumps_v": None})
        ledger.judge(job, "load", [call], by)
    return f"The battery fell to {volts:g} V: fit a supply, then measure again."


def _answers(tester: Tester, version: str) -> None:
    """Restart it and hear the new firmware named."""
    tester.ask("ecu_reset", 1)
    found = tester.identity()["firmware"]
    if found != version:
        raise LinkLost(
            f"After the restart it answers firmware {found}, not {version}. Write it again.", "load"
        )


def _note(load: Load, progress: Progress) -> None:
    """How far it is; a note that cannot be kept never ends a write."""
    try:
        Load.objects.filter(pk=load.pk).update(phase=progress.phase, done=progress.done)
    except DatabaseError:
        log.warning("progress of write %s was not kept", load.pk, exc_info=True)


def stop(load_id: int) -> None:
    if load_id in running:
        running[load_id].set()
