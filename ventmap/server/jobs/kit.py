"""The kit of a job: from shelf bodies to core, whether it fits, and changing it under way."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from django.contrib.auth.models import User

from ventmap.core.basics import DEVICES, BadInput, Device, Evidence
from ventmap.core.runsheet import Change, revise
from ventmap.core.vehicle import clash

from ..schemas import call_out, fit_out
from ..shelf.models import ShelfItem
from ..shelf.services import record_of
from ..shop.services import rules_of
from . import ledger
from .acting import changes_job
from .assemble import kits_of, match, run_sheet, sheet_vehicle
from .injector_choice import judge_injectors
from .models import Job
from .rows import devices, vehicle_of
from .steps import finish, reopen


def match_out(job: Job, device: ShelfItem) -> dict[str, Any]:
    found = match(job, device)
    return {
        "key": device.key,
        "name": device.name,
        "kind": record_of(device, Device).kind,
        "result": found.result,
        "verdict": found.result.verdict,
        "call": call_out(found.call),
        "reasons": fit_out(found.reasons),
        "work": list(found.work),
        "not_in_the_box": list(found.not_in_the_box),
        "options": list(found.options),
        "will_not_control": list(found.will_not_control),
        "chosen": device.key in {d.key for d in devices(job)},
        "usual": device.key == vehicle_of(job).usual_device,
        "price": record_of(device, Device).price,
    }


def kit_out(job: Job) -> dict[str, Any]:
    """Every device on the shelf held against this vehicle, the fitting ones first; and the pumps."""
    rows = [match_out(job, device) for device in ShelfItem.objects.filter(kind="device")]
    rows.sort(key=lambda row: (not row["chosen"], not row["usual"], row["result"].rank, row["name"]))
    return {
        "devices": rows,
        "kinds": list(DEVICES),
        "pump": job.pump.key if job.pump else "",
        "pumps": [{"key": item.key, "name": item.name} for item in ShelfItem.objects.filter(kind="pump")],
    }


def _asked(job: Job, keys: list[str], pump: str) -> tuple[list[ShelfItem], ShelfItem | None]:
    if len(set(keys)) != len(keys):
        raise BadInput("A device is in a kit once.", "devices")
    rows = {item.key: item for item in ShelfItem.objects.filter(kind="device", key__in=keys)}
    unknown = [key for key in keys if key not in rows]
    if unknown:
        raise BadInput(f"There is no device “{unknown[0]}” on the shelf.", "devices")
    against = clash([(rows[key].name, record_of(rows[key], Device).kind) for key in keys])
    if against:
        raise BadInput(against, "devices")
    item = ShelfItem.objects.filter(kind="pump", key=pump).first() if pump else None
    if pump and item is None:
        raise BadInput(f"There is no pump “{pump}” on the shelf.", "pump")
    return [rows[key] for key in keys], item


def difference(job: Job, keys: list[str], pump: str) -> dict[str, list[str]]:
    """What a change of kit would do to the run sheet: titles of steps added, dropped, changed, and kept
    though no longer asked.
    """
    found, item = _asked(job, keys, pump)
    before = run_sheet(job)
    done = dict(job.steps_done.values_list("key", "title"))
    change = Change(
        sheet_vehicle(job),
        kits_of(job.vehicle, found, job.injectors, item),
        job.goal,
        rules_of(job.rules),
        tuple(done),
    )
    after, keys_by = revise(before, change)
    titles = {step.key: step.title for step in (*after.steps, *before.steps)}
    return {
        word: [titles.get(key, key) for key in keys_by[word]]
        for word in ("added", "dropped", "changed", "kept")
    }


def judge_fit(job: Job, by: User) -> None:
    """Every device of the kit held against the vehicle as both are known now; where all fit, it is done."""
    calls = []
    for number, device in enumerate(devices(job)):
        call = match(job, device).call
        calls.append(call if number == 0 else replace(call, rule=f"plan.fit#{number + 1}"))
    standing = job.ledger.filter(stage="plan", standing=True, rule__startswith="plan.fit")
    was = {entry.rule: (entry.verdict, entry.title) for entry in standing}
    if calls and {call.rule: (call.verdict.value, call.title) for call in calls} == was:
        return
    ledger.found_now(job, "plan", "plan.fit", calls, by)
    if calls and all(call.verdict == "go" for call in calls):
        finish(job, "plan.fit", by)
    else:
        reopen(job, "plan.fit")


@changes_job
def change_kit(job: Job, keys: list[str], pump: str, by: User) -> dict[str, list[str]]:
    """Take another kit: what is done stays done, what is open is written anew, the difference stands in the
    ledger.
    """
    told = difference(job, keys, pump)
    found, item = _asked(job, keys, pump)
    started = job.steps_done.exclude(key__startswith="intake.").exclude(key__startswith="plan.").exists()
    was = [device.name for device in devices(job)]
    job.device = found[0] if found else None
    job.also = [device.key for device in found[1:]]
    job.pump = item
    job.save()
    judge_fit(job, by)
    judge_injectors(job, by)
    names = ", ".join(device.name for device in found) or "none"
    ledger.write(
        job,
        "plan",
        "kit",
        f"Kit: {names}",
        by,
        f"Changed under way from {', '.join(was) or 'none'}. {_words(told)}" if started else "",
        [
            Evidence(word, len(told[word]), unit="steps")
            for word in ("added", "dropped", "kept")
            if started and told[word]
        ],
    )
    return told


def _words(told: dict[str, list[str]]) -> str:
    parts = [
        f"{word}: {'; '.join(told[word])}" for word in ("added", "dropped", "changed", "kept") if told[word]
    ]
    return "Steps " + " · ".join(parts) if parts else "No step changes."
