"""The devices of a job that run a map: which form each runs, what its map must serve and is held against."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ventmap.core.basics import (
    BadInput,
    Computer,
    Device,
    Injector,
    InlineController,
    Vehicle,
    standard_pressure,
)
from ventmap.core.forms import FORMS, Form, MapSet, form_of
from ventmap.core.fuel import as_petrol
from ventmap.core.maps import MapJob, Wanted, parts_on_it

from ..jobs.assemble import linked
from ..jobs.early import NO_INJECTORS, NO_KIT
from ..jobs.models import Job
from ..jobs.rows import NotFound, devices, injectors_of, vehicle_of
from ..shelf.models import ShelfItem
from ..shelf.services import record_of
from ..shop.looking import until_written
from .models import Load, MapVersion
from .services import read_map

#: Kinds that rewrite the vehicle's own computer: their maps are written for it.


@dataclass(frozen=True)
class MapPart:
    """A device of a job that runs a map. `key` is empty for the computer that is written from here; `tail` is
    its number in the kit, as its steps carry it.
    """

    key: str
    item: ShelfItem
    device: Device
    form: Form
    tail: str

    @property
    def written(self) -> bool:
        return not self.key


def parts(job: Job) -> list[MapPart]:
    """The devices of the kit, the main one first."""
    found, from_here = [], linked(job)
    for number, item in enumerate(devices(job), 1):
        device = record_of(item, Device)
        key = "" if from_here and device.written_here else item.key
        tail = "" if number == 1 else f"-{number}"
        found.append(MapPart(key, item, device, form_of(device.kind), tail))
    return found


def begins(job: Job, part: MapPart) -> bool:
    """Whether its map may be begun from nothing: it is not written from here, and has none here yet."""
    return not part.written and not versions_of(job, part.key)


def as_begun_here(part: MapPart) -> MapPart:
    """A device as its map is begun here: a whole map lives in its own program, and is told by its figures and
    tables.
    """
    return borrowed(part) if part.form.key == "full" else part


def part_by(job: Job, key: str) -> MapPart:
    """A part by its key.

    Raises
    ------
    BadInput, NotFound
        If the job has no kit yet, or no such part.
    """
    found = parts(job)
    if not found:
        raise BadInput(NO_KIT, "kit")
    for part in found:
        if part.key == key:
            return part
    raise NotFound(f"This job has no device “{key or 'that is written from here'}”.", "part")


def main_part(job: Job) -> MapPart:
    """The computer that is written from here; where there is none, the main device."""
    found = parts(job)
    if not found:
        raise BadInput(NO_KIT, "kit")
    return next((part for part in found if part.written), found[0])


def versions_of(job: Job, part: str = "") -> list[MapVersion]:
    """Of a device's map, the oldest first."""
    return [version for version in _versions(job.pk) if version.part == part]


@until_written
def _versions(job_id: int) -> list[MapVersion]:
    return list(MapVersion.objects.filter(job_id=job_id).select_related("by"))


def newest_of(job: Job, part: str) -> MapVersion | None:
    return next(reversed(versions_of(job, part)), None)


def written_for(part: MapPart, vehicle: Vehicle) -> str:
    """What its map is written for: the computer that it is, or rewrites, or the device itself."""
    if isinstance(part.device, Computer) and part.device.computer:
        return part.device.computer
    if part.device.rewrites_stock:
        return vehicle.stock_computer
    return part.item.key


def petrol_flow(job: Job) -> float | None:
    """Flow by the sheet, as petrol passes it [cm³/min]; a diesel's by its own test oil."""
    injectors = injectors_of(job)
    if injectors is None or injectors.flow is None:
        return None
    return as_petrol(injectors.flow, injectors.test_fluid) if vehicle_of(job).petrol else injectors.flow


def _stock_flow(vehicle: Vehicle) -> float | None:
    """Of the set that came with the engine [cm³/min]."""
    stock = _stock_set(vehicle.stock_injectors)
    return stock.flow if stock else None


@until_written
def _stock_set(key: str) -> Injector | None:
    """The set that came with the engine, where the shelf has it: it is on until others are."""
    item = ShelfItem.objects.filter(kind="injector", key=key).first()
    return record_of(item, Injector) if item else None


def wanted_of(job: Job, part: MapPart) -> Wanted:
    """What a map for this device must serve."""
    vehicle = vehicle_of(job)
    flow = petrol_flow(job)
    if part.form.key == "full" and flow is None:
        raise BadInput(NO_INJECTORS, "injectors")
    on_it = parts_on_it(job.changes, vehicle)
    road = vehicle.kind in ("car", "van", "pickup")
    return Wanted(
        engine=vehicle.engine,
        computer=written_for(part, vehicle),
        induction=vehicle.induction,
        ron=job.ron,
        ethanol=job.ethanol,
        altitude_m=job.altitude_m,
        injector_flow=flow,
        exhaust=on_it["exhaust"],
        intake=on_it["intake"],
        cams=on_it["cams"],
        form=part.form.key,
        petrol=vehicle.petrol,
        gearbox=vehicle.gearbox,
        catalyst=_gone("catalyst", job, road and vehicle.petrol),
        particulate_filter=_gone("particulate filter", job, road and not vehicle.petrol),
        firmware=firmware_in(job.pk) or part.device.firmware,
        with_set=_set_beside(job, part),
    )


@until_written
def firmware_in(job_id: int) -> str:
    """Version that a job's writes put in last; empty where none was."""
    row = Load.objects.filter(job_id=job_id, state="verified").exclude(firmware=None).first()
    return row.firmware.version if row is not None and row.firmware else ""


def _gone(name: str, job: Job, usual: bool) -> str | None:
    """Whether it is there: Intake says what was changed; what never had one is nobody's to say."""
    if name in job.changes:
        return "removed"
    return "fitted" if usual else None


def _set_beside(job: Job, part: MapPart) -> MapSet | None:
    for other in parts(job):
        newest = newest_of(job, other.key)
        if other.key != part.key and newest is not None:
            one_of = read_map(newest.document).set
            if one_of is not None:
                return one_of
    return None


def map_job(job: Job, part: MapPart, on_drum: bool = False) -> MapJob:
    """What a map of this device is held against."""
    vehicle = vehicle_of(job)
    first = next(iter(versions_of(job, part.key)), None)
    bounds = part.device.trim_bounds if isinstance(part.device, InlineController) else None
    fitted = job.fitted
    return MapJob(
        petrol=vehicle.petrol,
        boosted=vehicle.boosted,
        barometer_kpa=standard_pressure(job.altitude_m),
        rev_limit=vehicle.valve_train_rpm or vehicle.rev_limit,
        on_tyres=vehicle.kind not in ("watercraft", "sled"),
        tyre_kmh=fitted.get("tyre_kmh"),
        ron=job.ron,
        ethanol=job.ethanol,
        shelf=read_map(first.document) if first else None,
        on_drum=on_drum,
        trim_bounds=bounds,
        thermostat_c=fitted.get("thermostat_c"),
        stock_fan_c=fitted.get("stock_fan_c"),
        injector_flow=petrol_flow(job) or _stock_flow(vehicle),
        gearbox=vehicle.gearbox,
        injector=injectors_of(job) or _stock_set(vehicle.stock_injectors),
        across_kpa=vehicle.fuel_pressure_kpa,
        displacement_cc=vehicle.displacement_cc,
        cylinders=vehicle.cylinders,
        figures_set=not linked(job) or job.steps_done.filter(key="base-map.flow").exists(),
    )


def borrowed(part: MapPart) -> MapPart:
    """The same device, its map living in another program."""
    return replace(part, form=FORMS["borrowed"])
