"""Bodies to core: what a job's rows stand for, and the run sheet made from them."""

from __future__ import annotations

import json
from collections.abc import Hashable, Sequence

from ventmap.core.basics import Device, HouseRules, Injector, Vehicle, standard_pressure
from ventmap.core.forms import APART_FORMS, BESIDE_FORMS, form_of
from ventmap.core.fuel import Fuel, blend, injector_seated
from ventmap.core.needs import usual_minutes
from ventmap.core.runsheet import (
    Beside,
    Kit,
    Memory,
    RunSheet,
    SheetVehicle,
    Step,
    build,
    complaints_in,
    facts_of_job,
    in_the_tank,
    in_usual_time,
    opened_for,
    why_absent,
)
from ventmap.core.vehicle import KitMatch, match_kit

from .. import bench
from ..shelf.models import ShelfItem
from ..shelf.services import record_of, text_of
from ..shop.looking import once_a_look, until_written
from ..shop.services import rules_of
from .idle import idle_of
from .models import Job, LedgerEntry, StepDone
from .rows import NotFound, devices, vehicle_of


def rules(job: Job) -> HouseRules:
    return rules_of(job.rules)


def fuel(job: Job) -> Fuel:
    return blend(job.ethanol)


def tank(job: Job) -> str:
    """What is in the tank, in words."""
    return in_the_tank(vehicle_of(job).injection, job.ron, job.ethanol)


def sheet_vehicle(job: Job) -> SheetVehicle:
    """What the run sheet needs of a job's vehicle."""
    vehicle = vehicle_of(job)
    return SheetVehicle(
        cylinders=vehicle.cylinders,
        injection=vehicle.injection,
        stroke=vehicle.stroke,
        rotary=vehicle.rotary,
        air_cooled=vehicle.air_cooled,
        automatic=None if vehicle.gearbox_kind is None else vehicle.gearbox_kind == "automatic",
        kind=vehicle.kind,
        two_batteries=vehicle.two_batteries,
        hybrid=vehicle.hybrid,
        airbag_near=vehicle.airbag_near,
        feed_kpa=vehicle.feed_kpa,
        fuel_wait_s=vehicle.fuel_wait_s,
        sleep_s=vehicle.sleep_s,
        compression_kpa=vehicle.compression_kpa,
        compression_spread=vehicle.compression_spread,
        power_rise=_rise(job.power_goal_kw, vehicle.power_kw),
        complaint=bool(job.complaint.strip()),
        complaints=complaints_in(job.complaint),
        more_power=job.power_goal_kw is not None
        and (vehicle.power_kw is None or job.power_goal_kw > vehicle.power_kw),
        ron=job.ron,
        banks=vehicle.banks,
        throttle=vehicle.throttle or "electronic",
        prepared=on_bench(job),
        idle_rpm=idle_of(job),
        barometer_kpa=standard_pressure(job.altitude_m),
        look_alike_parts=vehicle.look_alike_parts,
        access=vehicle.access,
        besides=tuple(opened_for(Beside(**{"number": n, **part})) for n, part in enumerate(job.besides, 1)),
        stock_injectors=record_of(stock, Injector) if (stock := _stock_set(job)) else None,
        rail_bolt_nm=vehicle.rail_bolt_nm,
        found=_found(job.pk),
        begun=(kept := Memory.from_json(job.memory)).begun,
        off=kept.off,
        variants=_variants(vehicle.model),
    )


@until_written
def _variants(model: str) -> bool:
    """Whether a model hides several engines."""
    return ShelfItem.objects.filter(kind="vehicle", body__model=model).count() > 1


@until_written
def _found(job_id: int) -> tuple[str, ...]:
    """Steps at which something was found that nobody put right or overruled."""
    found = LedgerEntry.objects.filter(
        job_id=job_id, standing=True, kind="call", overruled_by=None, verdict__in=("hold", "stop")
    )
    rules = found.filter(rule__startswith="step.").values_list("rule", flat=True)
    return tuple(sorted({rule.removeprefix("step.").split("#")[0] for rule in rules}))


def _rise(goal_kw: float | None, stock_kw: float | None) -> float | None:
    """Share by which the goal exceeds stock power; None while one of them is not known."""
    return None if goal_kw is None or stock_kw is None else round(goal_kw / stock_kw - 1, 4)


def kits_of(
    on: ShelfItem, found: Sequence[ShelfItem], injectors: ShelfItem | None, pump: ShelfItem | None
) -> tuple[Kit, ...]:
    """Injectors and pump go with the first device; those on the engine already are not fitted again."""
    vehicle = record_of(on, Vehicle)
    new = injectors if injectors is not None and injectors.key != vehicle.stock_injectors else None
    fuel_parts = {
        "injectors": new.key if new else None,
        "injector_about": (about := record_of(new, Injector) if new else None),
        "injector_work": _work(vehicle, about) if about else (),
        "pump": pump.key if pump else None,
    }
    kits: list[Kit] = []
    for item in found:
        device = record_of(item, Device)
        kits.append(
            Kit(
                device.kind,
                hose=bool(device.hose),
                off_s=device.off_s,
                rail_bolt_nm=vehicle.rail_bolt_nm,
                name=item.name,
                about=device,
                **({} if kits else fuel_parts),  # type: ignore[arg-type]
            )
        )
    if not kits and (new or pump):
        # Fuel-system parts alone: no device, and the stock computer stays.
        kits.append(Kit("", hose=False, rail_bolt_nm=vehicle.rail_bolt_nm, **fuel_parts))  # type: ignore[arg-type]
    return tuple(kits)


def _work(vehicle: Vehicle, injectors: Injector) -> tuple[str, ...]:
    """What a set needs to go into this rail and seat."""
    return tuple(reason.work for reason in injector_seated(vehicle, injectors) if reason.work)


def kits(job: Job) -> tuple[Kit, ...]:
    return kits_of(job.vehicle, devices(job), job.injectors, job.pump)


def _on_shelf(job: Job) -> list[ShelfItem]:
    return [job.vehicle, *devices(job), *filter(None, (job.injectors, job.pump, _stock_set(job)))]


@until_written
def _stock_set(job: Job) -> ShelfItem | None:
    """The set that is on the vehicle, where a part beside is its service and its sheet is known."""
    if not any(part["kind"] == "injectors" for part in job.besides):
        return None
    key = vehicle_of(job).stock_injectors
    return ShelfItem.objects.filter(kind="injector", key=key).first() if key else None


def _minutes(job: Job) -> dict[str, float]:
    """How long the steps took on earlier jobs with these things [min]."""
    return usual_minutes([record_of(job.vehicle, Vehicle), *(record_of(d, Device) for d in devices(job))])


#: By all that each is made from, the oldest first: a floor of jobs and what they were a moment ago.
_BUILT: dict[Hashable, RunSheet] = {}
SHEETS_KEPT = 600


@once_a_look
def run_sheet(job: Job) -> RunSheet:
    """The sheet of a job as it stands; built once as long as nothing it is made from changes."""
    made_from = (
        # Bodies grow by what is answered on the way.
        *(text_of(item) for item in _on_shelf(job)),
        _variants(vehicle_of(job).model),
        on_bench(job),
        job.device_id,
        tuple(job.also),
        job.injectors_id,
        job.pump_id,
        job.goal,
        job.complaint,
        json.dumps(job.besides),
        json.dumps(job.memory),
        job.power_goal_kw,
        job.ron,
        job.altitude_m,
        idle_of(job),
        _found(job.pk),
        (ended := _ended(job.pk)),
        tuple(job.rules.items()),
    )
    sheet = _BUILT.get(made_from)
    if sheet is None:
        sheet = build(sheet_vehicle(job), kits(job), job.goal, rules_of(job.rules))
        if ended:
            sheet = RunSheet(tuple(step for step in sheet.steps if step.key in ended))
        while len(_BUILT) >= SHEETS_KEPT:
            _BUILT.pop(next(iter(_BUILT)), None)
        sheet = _BUILT[made_from] = in_usual_time(sheet, _minutes(job))
    return sheet


@until_written
def _ended(job_id: int) -> frozenset[str]:
    """Of a job that was handed over: the steps that it asked then, that are done, or that found something."""
    done = set(StepDone.objects.filter(job_id=job_id).values_list("key", flat=True))
    if "hand-over.told" not in done:
        return frozenset()
    asked = Job.objects.filter(pk=job_id).values_list("asked_then", flat=True)
    return frozenset(done.union(_found(job_id), *asked))


def why_nothing(job: Job, stage: str) -> str:
    """Why a slat of this job asks nothing."""
    return why_absent(facts_of_job(sheet_vehicle(job), kits(job), job.goal), stage)


def linked(job: Job) -> bool:
    """Whether this kit's map is written, run and logged from here; every other kit is worked by hand."""
    return any(step.key == "load.write" for step in run_sheet(job).steps)


def on_bench(job: Job) -> bool:
    """Whether this very vehicle's engine runs at this bench; with a computer that the bench does not know, or
    another engine's, it is worked by hand, as anywhere else.
    """
    if not (vehicle_of(job).bench_engine and bench.has_engine(job.vehicle.key)):
        return False
    if any(record_of(item, Device).no_way_back for item in devices(job)):
        return False
    written = [item.key for item in devices(job) if record_of(item, Device).written_here]
    return set(written) <= set(bench.yard.devices())


@once_a_look
def runs_here(job: Job) -> bool:
    """Whether the kit runs its engine at this bench: as its computer, over the stock program, as a box
    beside it, or apart from it.
    """
    if linked(job):
        return True
    forms = {form_of(record_of(item, Device).kind).key for item in devices(job)}
    return on_bench(job) and bool(forms) and forms <= {*BESIDE_FORMS, *APART_FORMS}


def step_by(job: Job, key: str) -> Step:
    step = next((step for step in run_sheet(job).steps if step.key == key), None)
    if step is None:
        raise NotFound(f"The run sheet of job {job.number} has no step “{key}”.", "step")
    return step


def match(job: Job, device: ShelfItem) -> KitMatch:
    return match_kit(vehicle_of(job), record_of(device, Device), device.name)
