"""Choosing, setting and versioning a job's maps."""

from __future__ import annotations

import json
from dataclasses import replace
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction

from ventmap.core.basics import BadInput, Call, Computer, Injector, Verdict
from ventmap.core.fuel import (
    DeadTimeTable,
    as_petrol,
    beyond_call,
    figures_call,
    require_figures,
)
from ventmap.core.maps import (
    Calibration,
    Lineage,
    MapMatch,
    Named,
    Wanted,
    diff,
    from_json,
    identity_match,
    match_call,
    match_maps,
    out_of_range,
    parts_on_it,
    tank_call,
    to_json,
    with_tank,
)
from ventmap.link import wire

from ..jobs import ledger
from ..jobs.assemble import fuel
from ..jobs.early import NO_INJECTORS, NO_KIT, NO_MAP
from ..jobs.models import Job
from ..jobs.rows import NotFound, device_of, injectors_of, vehicle_of
from ..jobs.steps import finish, reopen
from ..shelf.models import ShelfItem
from .models import MapVersion


def wanted(job: Job) -> Wanted:
    """What a map for this job must serve."""
    if job.device is None:
        raise BadInput(NO_KIT, "kit")
    vehicle, device, injectors = vehicle_of(job), device_of(job), injectors_of(job)
    if not isinstance(device, Computer) or not device.computer:
        raise BadInput(
            f"{job.device.name} holds no map that is chosen and written here: this version prepares maps for"
            " plug-in computers. Its own settings are made on the device, by its maker's sheet.",
            "device",
        )
    if job.injectors is None or injectors is None:
        raise BadInput(NO_INJECTORS, "injectors")
    parts = parts_on_it(job.changes, vehicle)
    return Wanted(
        engine=vehicle.engine,
        computer=device.computer,
        induction=vehicle.induction,
        ron=job.ron,
        ethanol=job.ethanol,
        altitude_m=job.altitude_m,
        injector_flow=petrol_flow(injectors),
        exhaust=parts["exhaust"],
        intake=parts["intake"],
        cams=parts["cams"],
    )


def petrol_flow(injectors: Injector) -> float:
    """Flow by the sheet, as petrol passes it [cm³/min]."""
    return as_petrol(injectors.flow, injectors.test_fluid)


def dead_time_set(job: Job) -> bool:
    """The dead-time table of the injectors that are on is in the map; a diesel's driver has its own."""
    return not vehicle_of(job).petrol or job.steps_done.filter(key="base-map.dead_time").exists()


def candidates(job: Job) -> list[tuple[MapMatch, str]]:
    """Maps on the shelf, judged, with their shelf key."""
    keys, maps = {}, []
    for item in ShelfItem.objects.filter(kind="map"):
        calibration = from_json(json.dumps(item.body))
        keys[calibration.sha256] = item.key
        maps.append(calibration)
    return [(match, keys[match.sha256]) for match in match_maps(wanted(job), maps)]


def calibration_of(version: MapVersion) -> Calibration:
    return from_json(version.document)


def newest(job: Job) -> MapVersion:
    version = MapVersion.objects.filter(job=job).last()
    if version is None:
        raise BadInput(NO_MAP, "map")
    return version


def version_by(job: Job, version_id: int) -> MapVersion:
    version = MapVersion.objects.filter(job=job, pk=version_id).first()
    if version is None:
        raise NotFound("There is no such map in this job.", "map")
    return version


def keep(job: Job, calibration: Calibration, by: User, parent: MapVersion | None, note: str) -> MapVersion:
    """Store a map as the job's next version; what followed from the one before is open again."""
    version = MapVersion.objects.create(
        job=job,
        parent=parent,
        version=calibration.lineage.version,
        round=calibration.lineage.round,
        note=note,
        document=to_json(calibration),
        sha256=calibration.sha256,
        crc32=f"{calibration.crc32:08X}",
        by=by,
    )
    for step in ("load.save", "load.write", "load.cycle", "load.codes"):
        reopen(job, step)
    ledger.withdraw(job, "load", "load.")
    job.board = {k: v for k, v in job.board.items() if k in ("laptop", "kept_awake")}
    job.save()
    return version


@transaction.atomic
def choose_map(job: Job, key: str, by: User) -> MapVersion:
    """Take a map from the shelf as this job's base, for its VIN."""
    match = next((m for m, k in candidates(job) if k == key), None)
    if match is None:
        raise NotFound(f"There is no map “{key}” on the shelf.", "map")
    if not match.possible:
        raise BadInput(f"This map cannot serve: {match.conflicts[0]}.", "map")
    source = from_json(json.dumps(ShelfItem.objects.get(kind="map", key=key).body))
    calibration = replace(
        with_tank(source, fuel(job)),
        identity=replace(source.identity, vin=job.vin),
        lineage=Lineage("r0", source.sha256, round=0, note=f"base map {source.name}", author=by.username),
    )
    version = keep(job, calibration, by, None, f"base map: {source.name}")
    _judge_choice(job, match, by)
    return version


def _judge_choice(job: Job, match: MapMatch, by: User) -> None:
    """A map was taken: what was said and set of the one before no longer stands."""
    for step in ("base-map.flow", "base-map.dead_time"):
        reopen(job, step)
    ledger.withdraw(job, "base-map", "")
    call = match_call(match)
    ledger.judge(job, "base-map", [call], by)
    if call.verdict is Verdict.stop:
        reopen(job, "base-map.choose")
    else:
        finish(job, "base-map.choose", by)


def judge_again(job: Job, by: User) -> None:
    """Intake changed: the map that was chosen is held against what the job is now."""
    version = MapVersion.objects.filter(job=job).last()
    if version is None:
        return
    calibration = calibration_of(version)
    match = match_maps(wanted(job), [calibration])[0]
    tank = tank_call(calibration, fuel(job))
    ledger.judge(job, "base-map", [match_call(match), tank], by)
    if not match.possible:
        reopen(job, "base-map.choose")
    if tank.verdict is not Verdict.go:
        reopen(job, "base-map.flow")


#: Largest map file that is read [bytes]: text around an image that fits the device.
MOST_BYTES = 4_000_000


@transaction.atomic
def upload_map(job: Job, data: bytes, by: User) -> MapVersion:
    """A map file from elsewhere, if it is whole, fits the device and serves this vehicle as one from the
    shelf would.
    """
    if len(data) > MOST_BYTES:
        raise BadInput(f"This file has {len(data)} bytes; no map is larger than {MOST_BYTES}.", "file")
    calibration = from_json(data)
    calibration.image(flash_bytes(job))
    want = wanted(job)
    answer, sentence = identity_match(
        file=Named(calibration.identity.vin, calibration.identity.computer),
        job=Named(job.vin, want.computer),
        answered=Named(job.vin, want.computer),
    )
    if answer == "differs":
        raise BadInput(f"This map is not for this vehicle. {sentence}", "file")
    match = match_maps(want, [calibration])[0]
    if not match.possible:
        raise BadInput(f"This map cannot serve: {match.conflicts[0]}.", "file")
    parent = MapVersion.objects.filter(job=job).last()
    version = keep(job, calibration, by, parent, f"from a file: {calibration.name or 'unnamed'}")
    ledger.write(
        job, "base-map", "map", f"Map from a file: {calibration.name}", by, f"CRC-32 {version.crc32}"
    )
    _judge_choice(job, match, by)
    return version


def flash_bytes(job: Job) -> int:
    """Whole image of the job's device [bytes]."""
    device = device_of(job)
    return min(device.flash_bytes or wire.FLASH_SIZE, wire.FLASH_SIZE) if device else wire.FLASH_SIZE


@transaction.atomic
def set_parameters(
    job: Job,
    flow: float,
    rated_kpa: float,
    pressure_kpa: float,
    table: dict[str, Any],
    anyway: bool,
    by: User,
) -> tuple[MapVersion | None, list[Call]]:
    """Set injector figures in the newest map. Slips in the dead-time table hold the step back unless
    overruled.
    """
    require_figures(flow, rated_kpa, pressure_kpa)
    base = newest(job)
    calibration = calibration_of(base)
    dead = DeadTimeTable(table["voltages"], table["pressures_kpa"], table["ms"])
    calls = dead.problems()
    beyond = beyond_call(dead, pressure_kpa)
    calls += [beyond] if beyond else []
    if calls and not anyway:
        return None, calls
    changed = with_tank(
        calibration.with_scalars(
            injector_flow=flow, injector_rated_kpa=rated_kpa, fuel_pressure_kpa=pressure_kpa
        ).with_dead_time(dead),
        fuel(job),
    )
    beyond_range = out_of_range(changed)
    if beyond_range:
        raise BadInput(f"The map cannot be: {beyond_range[0].sentence}", beyond_range[0].item)
    number = MapVersion.objects.filter(job=job, version__startswith=f"{base.version.split('.')[0]}").count()
    changed = replace(
        changed,
        lineage=Lineage(
            f"{base.version.split('.')[0]}.{number}",
            calibration.sha256,
            round=base.round,
            note="injector figures set",
            author=by.username,
        ),
    )
    version = (
        base if changed.same_figures(calibration) else keep(job, changed, by, base, "injector figures set")
    )
    ledger.withdraw(job, "base-map", "injector.")
    ledger.judge(
        job,
        "base-map",
        [
            figures_call(flow, rated_kpa, pressure_kpa, dead),
            tank_call(changed, fuel(job)),
            *calls,
        ],
        by,
    )
    finish(job, "base-map.flow", by)
    finish(job, "base-map.dead_time", by)
    return version, calls


def changes(version: MapVersion, other: MapVersion) -> list[dict[str, Any]]:
    return [vars(change) for change in diff(calibration_of(other), calibration_of(version))]
