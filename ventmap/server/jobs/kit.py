"""The kit of a job: from shelf bodies to core, whether it fits, and changing it under way."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User
from django.db import transaction

from ventmap.core.basics import BadInput, Evidence
from ventmap.core.runsheet import Change, Kit, RunSheet, SheetVehicle, build, revise
from ventmap.core.vehicle import KitMatch, match_kit

from ..schemas import call_out
from ..shelf.models import ShelfItem
from ..shop.services import rules_of
from . import ledger
from .models import Job


def sheet_vehicle(job: Job) -> SheetVehicle:
    body = job.vehicle.body
    low, high = body.get("compression_kpa", (900.0, 1500.0))
    power = float(body.get("power_kw", 0.0))
    return SheetVehicle(
        cylinders=int(body["cylinders"]),
        injection=str(body["injection"]),
        referenced_regulator=bool(body.get("referenced_regulator", True)),
        kind=str(body.get("kind", "car")),
        two_batteries=bool(body.get("two_batteries", False)),
        hybrid=bool(body.get("hybrid", False)),
        airbag_near=bool(body.get("airbag_near", False)),
        feed_kpa=float(body.get("feed_kpa", 400.0)),
        fuel_wait_s=float(body.get("fuel_wait_s", 0.0)),
        sleep_s=float(body.get("sleep_s", 600.0)),
        rail_bolt_nm=float(body.get("rail_bolt_nm", 9.0)),
        compression_kpa=(float(low), float(high)),
        compression_spread=float(body.get("compression_spread", 0.15)),
        power_rise=round(job.power_goal_kw / power - 1, 4) if power else 0.0,
        ron=job.ron,
        variants=ShelfItem.objects.filter(kind="vehicle", body__model=body.get("model", "")).count() > 1,
    )


def devices(job: Job) -> list[ShelfItem]:
    """The main device first."""
    also = (
        {item.key: item for item in ShelfItem.objects.filter(kind="device", key__in=job.also)}
        if job.also
        else {}
    )
    return [*([job.device] if job.device else []), *(also[key] for key in job.also if key in also)]


def kits_of(
    vehicle: ShelfItem, found: list[ShelfItem], injectors: ShelfItem | None, pump: ShelfItem | None
) -> tuple[Kit, ...]:
    """Injectors and pump go with the first device; those on the engine already are not fitted again."""
    body = vehicle.body
    new = injectors if injectors is not None and injectors.key != body.get("stock_injectors") else None
    kits = []
    for index, device in enumerate(found):
        first = index == 0
        kits.append(
            Kit(
                device.body.get("kind", ""),
                injectors=new.key if first and new else None,
                hose=bool(device.body.get("hose", False)),
                off_s=float(device.body.get("off_s", 8.0)),
                rail_bolt_nm=float(body.get("rail_bolt_nm", 9.0)),
                name=device.name,
                about={**device.body, "name": device.name},
                injector_about=new.body if first and new else {},
                pump=pump.key if first and pump else None,
            )
        )
    if not kits and (new or pump):
        # Fuel-system parts alone: no device, and the stock computer stays.
        kits.append(
            Kit(
                "",
                injectors=new.key if new else None,
                hose=False,
                off_s=8.0,
                rail_bolt_nm=float(body.get("rail_bolt_nm", 9.0)),
                injector_about=new.body if new else {},
                pump=pump.key if pump else None,
            )
        )
    return tuple(kits)


def kits(job: Job) -> tuple[Kit, ...]:
    return kits_of(job.vehicle, devices(job), job.injectors, job.pump)


def run_sheet(job: Job) -> RunSheet:
    """The sheet of a job as it stands; built once for a request as long as nothing it is made from
    changes.
    """
    made_from = (
        job.vehicle_id,
        job.device_id,
        tuple(job.also),
        job.injectors_id,
        job.pump_id,
        job.goal,
        job.power_goal_kw,
        job.ron,
        tuple(job.rules.items()),
    )
    kept = job.__dict__.get("_run_sheet")
    if kept is None or kept[0] != made_from:
        kept = job.__dict__["_run_sheet"] = (
            made_from,
            build(sheet_vehicle(job), kits(job), job.goal, rules_of(job.rules)),
        )
    return kept[1]


def match(job: Job, device: ShelfItem) -> KitMatch:
    return match_kit(job.vehicle.body, {**device.body, "name": device.name})


def match_out(job: Job, device: ShelfItem) -> dict[str, Any]:
    found = match(job, device)
    return {
        "key": device.key,
        "name": device.name,
        "kind": device.body.get("kind", ""),
        "result": found.result,
        "call": call_out(found.call),
        "reasons": [vars(reason) for reason in found.reasons],
        "work": list(found.work),
        "not_in_the_box": list(found.not_in_the_box),
        "options": list(found.options),
        "will_not_control": list(found.will_not_control),
        "chosen": device.key in {d.key for d in devices(job)},
        "price": device.body.get("price"),
    }


def kit_out(job: Job) -> dict[str, Any]:
    """Every device on the shelf held against this vehicle, the fitting ones first; and the pumps."""
    order = {"fits": 0, "fits with work": 1, "does not fit": 2}
    rows = [match_out(job, device) for device in ShelfItem.objects.filter(kind="device")]
    rows.sort(key=lambda row: (not row["chosen"], order[row["result"]], row["name"]))
    return {
        "devices": rows,
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


@transaction.atomic
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
    ledger.withdraw(job, "plan", "plan.fit")
    calls = []
    for number, device in enumerate(found):
        call = match(job, device).call
        calls.append(call if number == 0 else type(call)(f"plan.fit#{number + 1}", *_rest(call)))
    ledger.judge(job, "plan", calls, by)
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
    from .sheet import finish, reopen

    if found and all(call.verdict == "go" for call in calls):
        finish(job, "plan.fit", by)
    else:
        reopen(job, "plan.fit")
    return told


def _rest(call: Any) -> tuple[Any, ...]:
    return call.verdict, call.because, call.do_next, call.source, call.title, call.protects


def _words(told: dict[str, list[str]]) -> str:
    parts = [
        f"{word}: {'; '.join(told[word])}" for word in ("added", "dropped", "changed", "kept") if told[word]
    ]
    return "Steps " + " · ".join(parts) if parts else "No step changes."
