"""The call board before a write, the write itself, and what follows it."""

from __future__ import annotations

import hashlib
import logging
import threading
from dataclasses import fields
from typing import Any

from django.contrib.auth.models import User
from django.db import connection, transaction
from django.utils import timezone

from ventmap.core.basics import BadInput, Call, VentMapError, Verdict, codes_call, parse, worst
from ventmap.core.maps import LoadBoard, identity_match, interrupted_call, load_calls
from ventmap.link import wire
from ventmap.link.loader import LoadStopped, read_image, write_image

from .. import workshop
from ..jobs import ledger
from ..jobs.models import Job
from ..jobs.sheet import finish, reopen, rules
from ..schemas import call_out
from .models import Load, MapVersion, SavedImage
from .services import calibration_of, newest, version_out

log = logging.getLogger(__name__)
_running: dict[int, threading.Event] = {}
ANSWERED_BY_HAND = ("loads_off", "kept_awake", "in_park", "laptop", "cable_seated")
LIGHTS = [
    "engine lamp, until the codes are cleared",
    "stability and steering lamps, for the first metres",
    "clock and windows to set again",
]


def _board(job: Job) -> LoadBoard:
    known = {field.name for field in fields(LoadBoard)}
    return LoadBoard(**{key: value for key, value in job.board.items() if key in known})


def _last_load(job: Job) -> Load | None:
    """The last write; one that the server did not live to end is told as interrupted."""
    load = Load.objects.filter(job=job).first()
    if load and load.state == "writing" and load.pk not in _running:
        _end(load, "interrupted", "The server was stopped in the middle of the write. Nothing is loaded.")
        ledger.judge(job, "load", [interrupted_call(load.done, load.total)], load.by)
    return load


def board_out(job: Job) -> dict[str, Any]:
    load = _last_load(job)
    calls = load_calls(_board(job), rules(job))
    saved = SavedImage.objects.filter(job=job).last()
    codes = job.ledger.filter(rule="load.codes", standing=True).first()
    return {
        "answers": job.board, "calls": [call_out(call) for call in calls], "verdict": _verdict(job, calls).value,
        "version": version_out(newest(job)), "load": load_out(load) if load else None,
        "saved": f"{saved.label}, SHA-256 {saved.sha256[:12]}" if saved else "",
        "off_s": float(job.device.body.get("off_s", 8.0)) if job.device else 8.0, "lights": LIGHTS,
        "codes": [e["label"] for e in codes.evidence if e["label"] != "codes"] if codes else [],
        "cycled": job.steps_done.filter(key="load.cycle").exists(),
    }  # fmt: skip


def _verdict(job: Job, calls: list[Call]) -> Verdict:
    """Worst of the board, with the holds that were overruled set aside."""
    aside = set(job.ledger.filter(stage="load", standing=True).exclude(overruled_by=None).values_list("rule", flat=True))
    return worst(call for call in calls if call.rule not in aside)


def answer(job: Job, answers: dict[str, Any], by: User) -> dict[str, Any]:
    """Enter answers; what the line can tell (battery, identity, firmware) is read, not asked."""
    board: dict[str, Any] = {}
    if answers.get("measure"):
        board |= _measure(job)
    for key, value in answers.items():
        if key == "measure":
            continue
        if key in ANSWERED_BY_HAND:
            board[key] = value
        elif key == "battery_v" and value is not None:
            board[key] = parse(str(value), "voltage")
        else:
            raise BadInput(f"The board has no row “{key}”.", key)
    with transaction.atomic():
        _merge(job, board)
        calls = load_calls(_board(job), rules(job))
        old = {e.rule: (e.verdict, e.evidence) for e in job.ledger.filter(stage="load", standing=True)}
        fresh = [c for c in calls if _differs(c, old) and c.because[0].value not in ("not answered", "not measured")]
        ledger.judge(job, "load", fresh, by)
    return board_out(job)


def _merge(job: Job, board: dict[str, Any]) -> None:
    """Put answers on the board as it is now, not as it was when this request began: taps come quicker than answers."""
    job.refresh_from_db(fields=["board"])
    job.board = {key: value for key, value in (job.board | board).items() if value is not None}
    job.save(update_fields=["board"])


def _differs(call: Call, old: dict[str, tuple[str, list[dict[str, Any]]]]) -> bool:
    if call.rule not in old:
        return True
    verdict, evidence = old[call.rule]
    return verdict != call.verdict.value or [e["value"] for e in evidence] != [e.value for e in call.because]


def _measure(job: Job) -> dict[str, Any]:
    """Read battery, identity and firmware from the kit's computer."""
    with workshop.direct(job, "kit", warm=False) as (tester, car):
        for _ in range(100):
            car.engine.step()
        battery = sum(tester.read_live(["battery"])["battery"] for _ in range(8)) / 8
        identity = tester.identity()
    version = newest(job)
    calibration = calibration_of(version)
    same, sentence = identity_match(
        map_vin=calibration.identity.vin, vin=job.vin, map_computer=calibration.identity.computer, computer=identity["computer"]
    )
    minimum = calibration.identity.minimum_firmware or "0"
    firmware = job.device.body["firmware"] if job.device else "0"
    state = (
        "below"
        if _number(identity["firmware"]) < _number(minimum)
        else "current"
        if _number(identity["firmware"]) >= _number(firmware)
        else "older"
    )
    return {"battery_v": round(battery, 2), "identity": same, "identity_detail": sentence, "firmware": state, "newest": True}


def _number(version: str) -> tuple[int, ...]:
    return tuple(int(part) for part in version.split(".") if part.isdigit())


def save_image(job: Job, by: User) -> dict[str, Any]:
    """Read the computer twice; equal reads are the way back."""
    with workshop.direct(job, "kit", warm=False) as (tester, _):
        first, second = (next(item for item in read_image(tester) if isinstance(item, bytes)) for _ in range(2))
    digest = hashlib.sha256(first).hexdigest()
    with transaction.atomic():
        if first == second:
            label = "as delivered, no map in it" if first == b"\xff" * len(first) else "map that was in it"
            if not SavedImage.objects.filter(job=job, sha256=digest).exists():
                SavedImage.objects.create(job=job, image=first, sha256=digest, label=label, by=by)
            ledger.write(job, "load", "load", "Computer saved and re-read equal", by, f"{label}; {len(first)} bytes, SHA-256 {digest[:16]}")
            finish(job, "load.save", by)
        _merge(job, {"saved": "equal" if first == second else "no"})
        ledger.judge(job, "load", [c for c in load_calls(_board(job), rules(job)) if c.rule == "load.saved"], by)
    return board_out(job)


def start(job: Job, by: User, back: bool = False) -> Load:
    """Begin to write in the background; the map must still fit, and the board must allow it."""
    misfit = job.ledger.filter(rule="base-map.match", standing=True, verdict="stop", overruled_by=None).first()
    if misfit is not None and not back:
        raise BadInput(f"{misfit.title}: {misfit.evidence[0]['value']}. {misfit.text}", "map")
    calls = load_calls(_board(job), rules(job))
    heaviest = _verdict(job, calls)
    aside = set(job.ledger.filter(stage="load", standing=True).exclude(overruled_by=None).values_list("rule", flat=True))
    if heaviest is not Verdict.go:
        first = next(c for c in calls if c.verdict is heaviest and c.rule not in aside)
        raise BadInput(f"Not yet: {first.title.lower()}. {first.do_next}", first.rule)
    saved = SavedImage.objects.filter(job=job).order_by("id").first() if back else None
    if back and saved is None:
        raise BadInput("Nothing was saved to go back to.", "back")
    version = newest(job)
    image = bytes(saved.image) if saved else calibration_of(version).image(wire.FLASH_SIZE)
    car = workshop.vehicle(job, "kit", warm=False)
    holding = workshop.line_taken(job.pk, "a write")
    holding.__enter__()
    try:
        with transaction.atomic():
            load = Load.objects.create(job=job, map=None if saved else version, saved=saved, total=len(image), by=by)
            for step in ("load.write", "load.cycle", "load.codes"):
                reopen(job, step)
            # Before the row is seen by others: one that is not running would be told as interrupted.
            stopping = _running[load.pk] = threading.Event()
    except BaseException:
        holding.__exit__(None, None, None)
        raise

    def run() -> None:
        try:
            with workshop.on_bus(car) as (tester, _):
                for progress in write_image(tester, image, stopping.is_set):
                    Load.objects.filter(pk=load.pk).update(phase=progress.phase, done=progress.done)
            _end(load, "verified", "Written, read back equal, checksum proven.")
            with transaction.atomic():
                ledger.withdraw(job, "load", "load.interrupted")
                what = f"saved image ({saved.label})" if saved else f"map {version.version}, CRC-32 {version.crc32}"
                ledger.write(job, "load", "load", f"Loaded and verified: {what}", by, f"{len(image)} bytes read back equal")
                finish(job, "load.write", by)
                _start_again(job, by)
        except VentMapError as error:
            load.refresh_from_db()
            _end(load, "stopped" if isinstance(error, LoadStopped) else "interrupted", error.sentence)
            ledger.judge(job, "load", [interrupted_call(load.done if load.phase == "write" else 0, load.total)], by)
        except Exception:
            log.exception("write failed")
            _end(load, "interrupted", "The write failed in the server. Nothing is loaded.")
            ledger.judge(job, "load", [interrupted_call(0, len(image))], by)
        finally:
            _running.pop(load.pk, None)
            holding.__exit__(None, None, None)
            connection.close()

    threading.Thread(target=run, name=f"load-{load.pk}", daemon=True).start()
    return load


def _start_again(job: Job, by: User) -> None:
    """A first idle that held was judged on the map before this one: it is judged anew."""
    held = job.ledger.filter(stage="first-start", rule__startswith="start.", standing=True, overruled_by=None).exclude(verdict="go")
    if held.exists():
        ledger.withdraw(job, "first-start", "start.")
        reopen(job, "first-start.start")
        ledger.write(job, "first-start", "note", "Another map is in: start and judge idle again", by)


def _end(load: Load, state: str, sentence: str) -> None:
    load.state, load.sentence, load.ended_at = state, sentence, timezone.now()
    load.save(update_fields=["state", "sentence", "ended_at"])


def stop(load_id: int) -> None:
    if load_id in _running:
        _running[load_id].set()


def load_out(load: Load) -> dict[str, Any]:
    what = f"map {load.map.version}" if load.map else "what was saved"
    return {
        "id": load.pk, "state": load.state, "phase": load.phase, "done": load.done, "total": load.total,
        "sentence": load.sentence, "what": what, "started_at": load.started_at,
    }  # fmt: skip


def ignition(job: Job, on: bool, by: User) -> dict[str, Any]:
    """The ignition was switched; on again after the device's off time restarts the computer from its new map."""
    load = _last_load(job)
    if load is None or load.state != "verified":
        raise BadInput("First write and verify a map.", "load")
    if not on:
        with transaction.atomic():
            _merge(job, {"off_at": timezone.now().timestamp()})
        ledger.write(job, "load", "tick", "Ignition off", by)
        return board_out(job)
    off_at, wait = job.board.get("off_at"), float(job.device.body.get("off_s", 8.0)) if job.device else 8.0
    if off_at is None:
        raise BadInput("Switch the ignition off first.", "ignition")
    rested = timezone.now().timestamp() - off_at
    if rested < wait - 0.3:
        raise BadInput(f"Wait {wait - rested:.0f} s more: the computer stores its memory while off.", "ignition")
    with workshop.direct(job, "kit", warm=False) as (tester, car):
        car.computer.power(False)
        car.computer.power(True)
        identity = tester.identity()
    expected = load.map.sha256[:16] if load.map else None
    with transaction.atomic():
        if expected and identity["map_sha256"] != expected:
            _end(load, "interrupted", "After the restart the computer does not run the map that was written. Write it again.")
            ledger.judge(job, "load", [interrupted_call(0, load.total)], by)
            return board_out(job)
        _merge(job, {"off_at": None})
        ledger.write(
            job,
            "load",
            "reading",
            "Ignition on, identity read back",
            by,
            f"computer {identity['computer']}, map SHA-256 {identity['map_sha256'] or 'none'}, firmware {identity['firmware']}",
        )
        finish(job, "load.cycle", by)
    return board_out(job)


def clear_codes(job: Job, by: User) -> dict[str, Any]:
    """Read, record, clear, read again."""
    with workshop.direct(job, "kit", warm=False) as (tester, _):
        before = tester.codes()
        tester.clear_codes()
        after = tester.codes()
    with transaction.atomic():
        words = ", ".join(f"{c.code} {c.status}" for c in before) or "none"
        ledger.write(job, "load", "reading", "Codes read and cleared", by, f"before: {words}")
        ledger.judge(job, "load", [codes_call("load.codes", [(c.code, c.status) for c in after])], by)
        if not after:
            finish(job, "load.codes", by)
    return board_out(job)


def loaded_map(job: Job) -> MapVersion:
    """The map that the kit's computer runs.

    Raises
    ------
    BadInput
        If the last write was not verified.
    """
    load = _last_load(job)
    if load is None or load.state != "verified" or load.map is None:
        raise BadInput("No verified map is in the computer. Load one first.", "load")
    return load.map
