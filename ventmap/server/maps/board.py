"""The calls before a write, from what was answered and what the link reads."""

from __future__ import annotations

from dataclasses import fields
from typing import Any

from django.contrib.auth.models import User

from ventmap.core.basics import BadInput, Call, Computer, Verdict, parse, worst
from ventmap.core.forms import out_of_range
from ventmap.core.loading import Cut, LoadBoard, Named, Way, asked_words, identity_match, load_calls, ways_on
from ventmap.core.runsheet import Act, lights_of

from ..jobs import gate, ledger, workshop
from ..jobs.acting import changing
from ..jobs.assemble import rules
from ..jobs.models import Job
from ..jobs.rows import device_of, off_time, vehicle_of
from ..schemas import call_out
from .firmware import in_hand
from .judged import match_ours
from .loaded import in_computer, last_load, load_out, version_out, written_calibrations
from .models import Load, MapVersion, SavedImage
from .parts import main_part
from .services import calibration_of, dead_time_set, newest

#: Rows that are answered by yes or no, in this order.
YES_OR_NO = ("loads_off", "kept_awake", "in_park", "cable_seated")
ANSWERED_BY_HAND = ("loads_off", "kept_awake", "in_park", "laptop", "cable_seated")


def board_of(job: Job) -> LoadBoard:
    """What was answered and read; whether the map still serves is judged anew at each look."""
    known = {field.name for field in fields(LoadBoard)}
    answered = {key: value for key, value in job.board.items() if key in known}
    version = MapVersion.objects.filter(job=job, part="").last()
    if version is None:
        return LoadBoard(**answered)
    calibration = calibration_of(version)
    match, beyond = match_ours(job, main_part(job), calibration), out_of_range(calibration)
    checks = _standing_checks(job)
    if beyond or not (match.possible or match.lacks_octane_alone):
        matched, detail = "no", beyond[0].sentence if beyond else f"It is {match.conflicts[0]}."
    elif "stop" in checks:
        matched, detail = "no", f"Base map says: {checks['stop']}."
    elif not job.steps_done.filter(key="base-map.flow").exists() or not dead_time_set(job):
        matched, detail = "figures", "The map still holds those of the engine it was made on."
    elif not match.octane_stated:
        matched, detail = "octane", ""
    elif "hold" in checks:
        matched, detail = "held", f"Base map says: {checks['hold']}."
    else:
        matched, detail = "yes", ""
    return LoadBoard(**{**answered, "matched": matched, "matched_detail": detail})


def board_calls(job: Job) -> list[Call]:
    """The board as it stands, judged in the words of this kind of vehicle."""
    return load_calls(board_of(job), rules(job), vehicle_of(job).kind)


def _slot(job: Job, value: Any) -> int:
    device = device_of(job)
    slots = (device.slots if device else None) or 1
    if not isinstance(value, int) or isinstance(value, bool) or not 1 <= value <= slots:
        raise BadInput(f"This computer has {slots} slots: choose one of them.", "slot")
    if device is not None and value in device.fixed_slots:
        raise BadInput(f"Slot {value} is its maker's and stays as it is: choose another.", "slot")
    return value


def slot_of(job: Job) -> int:
    """The slot that a map is written into: the chosen one, else the first that its maker does not keep.

    Raises
    ------
    BadInput
        Where its maker keeps them all.
    """
    device = device_of(job)
    fixed = device.fixed_slots if device else ()
    free = [slot for slot in range(1, ((device.slots if device else None) or 1) + 1) if slot not in fixed]
    if not free:
        raise BadInput("Its maker keeps every slot of this computer: nothing can be written into it.", "slot")
    chosen = int(job.board.get("slot", free[0]))
    return chosen if chosen in free else free[0]


def slots_of(job: Job) -> list[str]:
    """What each slot of the kit's computer holds, by this job's writes."""
    device = device_of(job)
    held = ["as delivered"] + ["empty"] * (((device.slots if device else None) or 1) - 1)
    for load in Load.objects.filter(job=job, state="verified").select_related("map").order_by("id"):
        if load.firmware_id is not None or load.saved_id is not None:
            held[0] = "empty" if load.firmware_id is not None else "what was saved"
        elif load.map is not None and load.slot <= len(held):
            held[load.slot - 1] = f"map {load.map.version}"
    for kept in device.fixed_slots if device else ():
        if kept <= len(held):
            held[kept - 1] = "its maker's, not written"
    return held


def _standing_checks(job: Job) -> dict[str, str]:
    """Checks of the map that stop or hold and were not overruled: verdict → the first one's title."""
    standing = job.ledger.filter(stage="base-map", standing=True, overruled_by=None, rule__startswith="map.")
    found: dict[str, str] = {}
    for entry in standing.exclude(verdict="go").exclude(rule__regex=r"-\d+$"):
        found.setdefault(entry.verdict, entry.title.lower())
    return found


def board_out(job: Job) -> dict[str, Any]:
    load = last_load(job)
    calls = board_calls(job)
    saved = SavedImage.objects.filter(job=job).last()
    codes = job.ledger.filter(rule="load.codes", standing=True).first()
    return {
        "answers": job.board,
        "words": {row: list(asked_words(row, vehicle_of(job).kind).values()) for row in YES_OR_NO},
        "laptop": asked_words("laptop"),
        "firmware_first": any(c.rule == "load.firmware" and c.verdict is Verdict.stop for c in calls),
        "calls": [call_out(call) for call in calls],
        "verdict": verdict_of(job, calls),
        "version": version_out(newest(job)),
        "load": load_out(load) if load else None,
        "inside": in_computer(job).sentence,
        "saved": f"{saved.label}, SHA-256 {saved.sha256[:12]}" if saved else "",
        "ways": [vars(way) for way in ways_of(job)],
        "off_s": off_time(job),
        "slots": slots_of(job),
        "slot": slot_of(job),
        "lights": lights_of(vehicle_of(job).kind, {"load.write", "make-safe.battery"}),
        "codes": [
            e["label"] for e in codes.evidence if e["label"] not in ("codes", "stored codes", "pending codes")
        ]
        if codes
        else [],
        "cycled": job.steps_done.filter(key="load.cycle").exists(),
    }


def ways_of(job: Job) -> list[Way]:
    """After a write that was cut: what this device offers, first tried first; else nothing."""
    load, device = last_load(job), device_of(job)
    if load is None or device is None or load.state not in ("interrupted", "stopped"):
        return []
    cut = Cut(load.phase, load.written, load.total, same=_same(job, load))
    return ways_on(device.kind, cut, saved=SavedImage.objects.filter(job=job).exists(), linked=True)


def _same(job: Job, load: Load) -> bool:
    """Whether what would be written now is what was being written then."""
    if load.firmware is not None:
        return load.firmware == in_hand(job)
    return load.map is not None and load.map == newest(job)


def verdict_of(job: Job, calls: list[Call]) -> Verdict:
    """Worst of the board, with the holds that were overruled set aside."""
    aside = ledger.is_aside(job, "load")
    return worst(call for call in calls if not aside(call))


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
        elif key == "slot":
            board[key] = _slot(job, value)
        elif key == "battery_v" and value is not None:
            if job.board.get("battery_jumps_v") is not None:
                raise BadInput(
                    "The battery was measured over the link: measure again. No typed figure stands over a"
                    " measured one.",
                    key,
                )
            board[key] = parse(str(value), "voltage")
            board["battery_jumps_v"] = None
        else:
            raise BadInput(f"The board has no row “{key}”.", key)
    with changing(job):
        if answers.get("measure"):  # it answers: whatever was looked for is found
            ledger.withdraw_one(job, "load", "link.up")
        merge(job, board)
        calls = board_calls(job)
        old = {e.rule: (e.verdict, e.evidence) for e in job.ledger.filter(stage="load", standing=True)}
        fresh = [
            c
            for c in calls
            if _differs(c, old) and c.because[0].value not in ("not answered", "not measured")
        ]
        ledger.judge(job, "load", fresh, by)
    return board_out(job)


def merge(job: Job, board: dict[str, Any]) -> None:
    """Put answers on the board as it is now, not as it was when this request began: taps come quicker than
    answers.
    """
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
    gate.ask(job, Act.power_on)
    with workshop.direct(job, "kit", warm=False) as (tester, car):
        for _ in range(100):
            car.engine.step()
        reads = [tester.read_live(["battery"])["battery"] for _ in range(12)]
        identity = tester.identity()
    version = newest(job)
    calibration = calibration_of(version)
    device = device_of(job)
    own = calibration.identity
    same, sentence = identity_match(
        file=Named(own.vin, own.computer, own.calibration),
        job=Named(job.vin, device.computer if isinstance(device, Computer) else ""),
        answered=Named(identity["vin"], identity["computer"], identity["calibration"]),
        known=written_calibrations(job),
    )
    minimum = calibration.identity.minimum_firmware or "0"
    firmware = (device.firmware if device else None) or "0"
    state = (
        "below"
        if _number(identity["firmware"]) < _number(minimum)
        else "current"
        if _number(identity["firmware"]) >= _number(firmware)
        else "older"
    )
    return {
        "battery_v": round(sum(reads) / len(reads), 2),
        "battery_jumps_v": round(max(reads) - min(reads), 3),
        "identity": same,
        "identity_detail": sentence,
        "firmware": state,
        "newest": True,
    }


def _number(version: str) -> tuple[int, ...]:
    return tuple(int(part) for part in version.split(".") if part.isdigit())
