"""What is set in a device's map, in the order people work; what is on the vehicle; the card to print."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from django.http import HttpRequest
from ninja import Router, Schema

from ventmap.core.basics import BadInput, Sensor, one_figure, parse
from ventmap.core.forms import table_cells
from ventmap.core.fuel import bsfc_rule, read_dead_time
from ventmap.core.maps import CURVES, Card, advice, airflow_call, map_card, parameters_of, sensor_curve
from ventmap.core.vehicle import diameter_mm, rating_kmh, tyre_change

from ..jobs import ledger
from ..jobs.assemble import fuel, rules
from ..jobs.models import Job
from ..jobs.rows import job_by, shelf, vehicle_of
from ..schemas import CallOut, call_out
from ..shelf.models import ShelfItem
from ..shelf.services import record_of
from ..shop.access import worker
from ..shop.acts import asks
from .drafts import as_it_is, draft_of, part_of, put
from .judged import settle
from .models import MapVersion
from .parts import map_job, parts
from .sheet import sheet_out
from .sheet_api import SheetOut

router = Router(tags=["map settings"])


class MapAdvice(Schema):
    name: str
    value: float
    reason: str
    school: str


class MapParameter(Schema):
    key: str
    title: str
    names: list[str]
    reason: str
    wrong: str


class FittedOut(Schema):
    on_tyres: bool
    stock_tyre: str
    tyre_size: str
    tyre_mm: float | None
    tyre_rating: str
    thermostat_c: float | None
    stock_thermostat_c: float | None
    stock_fan_c: float | None
    meter_g_s: float | None
    sentences: list[str]
    calls: list[CallOut]


class SensorChoice(Schema):
    key: str
    name: str
    table: str


class SettingsOut(Schema):
    sensors: list[SensorChoice]
    """Sensors of the shelf, by the curve that each can be."""
    curves: list[str]
    """Curves that this form of map has."""
    parameters: list[MapParameter]
    advice: list[MapAdvice]
    fitted: FittedOut


class FittedIn(Schema):
    tyre_size: str = ""
    tyre_mm: str = ""
    tyre_rating: str = ""
    thermostat: str = ""
    stock_thermostat: str = ""
    stock_fan: str = ""
    meter: str = ""


class MapCardOut(Schema):
    title: str
    heads: list[str]
    lines: list[list[str]]
    notes: list[str]
    vehicle: str
    registration: str
    device: str
    map: str


def _fitted(job: Job) -> dict[str, Any]:
    vehicle, on = vehicle_of(job), job.fitted
    sentences: list[str] = []
    calls = []
    size, measured = str(on.get("tyre_size", "")), on.get("tyre_mm")
    if vehicle.stock_tyre and (size or measured is not None):
        change = tyre_change(diameter_mm(vehicle.stock_tyre), size, measured, on.get("tyre_kmh"))
        sentences, calls = list(change.sentences), list(change.calls)
    if on.get("meter_g_s") and job.power_goal_kw:
        bsfc = rules(job)[bsfc_rule(vehicle)]
        calls.append(airflow_call(job.power_goal_kw, fuel(job), on["meter_g_s"], bsfc))
    return {
        "on_tyres": vehicle.kind not in ("watercraft", "sled"),
        "stock_tyre": vehicle.stock_tyre,
        "tyre_size": size,
        "tyre_mm": measured,
        "tyre_rating": str(on.get("tyre_rating", "")),
        **{name: on.get(name) for name in ("thermostat_c", "stock_thermostat_c", "stock_fan_c", "meter_g_s")},
        "sentences": sentences,
        "calls": [call_out(call) for call in calls],
        "raw_calls": calls,
    }


@router.get("/jobs/{number}/settings/{part}", response=SettingsOut)
def map_settings(request: HttpRequest, number: str, part: str) -> Any:
    """What is set in this map, in the order people work, with what is offered and why."""
    job = job_by(number)
    found = part_of(job, part)
    now = as_it_is(draft_of(job, found))
    on = job.fitted
    size = str(on.get("tyre_size", ""))
    tyre = on.get("tyre_mm") or (diameter_mm(size) if size else None)
    return {
        "parameters": [vars(one) for one in parameters_of(now, map_job(job, found))],
        "advice": [
            vars(one)
            for one in advice(
                now,
                map_job(job, found),
                rules(job),
                fuel(job),
                tyre_mm=tyre,
                stock_thermostat_c=on.get("stock_thermostat_c"),
            )
        ],
        "fitted": _fitted(job),
        "sensors": _sensors(),
        "curves": [name for name in CURVES if name in now.kind.tables and now.form == "full"],
    }


def _sensors() -> list[dict[str, str]]:
    found = []
    for item in ShelfItem.objects.filter(kind="sensor").order_by("name"):
        sensor = record_of(item, Sensor)
        for table, (count, _) in CURVES.items():
            wanted = {"pressure_sensor": ("kPa", "manifold"), "coolant_sensor": ("°C", "coolant")}
            unit, word = wanted.get(table, ("°C", "intake"))
            if len(sensor.points) == count and sensor.value_unit == unit and word in sensor.measures:
                found.append({"key": item.key, "name": item.name, "table": table})
    return found


class CurveIn(Schema):
    table: str
    points: list[list[str]] = []
    sensor: str = ""
    """Shelf key, in place of points."""


@router.post("/jobs/{number}/sheets/{part}/sensor-curve", response=SheetOut)
def set_sensor_curve(request: HttpRequest, number: str, part: str, body: CurveIn) -> Any:
    """A sensor's curve from two or three points, or from the shelf, put into the sheet as one edit."""
    job, by = job_by(number), worker(request)
    found = part_of(job, part)
    if body.sensor:
        points = list(record_of(shelf("sensor", body.sensor), Sensor).points)
    else:
        typed = [[one_figure(cell) for cell in row] for row in body.points]
        if any(len(row) != 2 or None in row for row in typed):
            raise BadInput("Each point is two figures, its signal and its value.", "points")
        points = [(float(a or 0.0), float(b or 0.0)) for a, b in typed]
    table = sensor_curve(body.table, points)
    with transaction.atomic():
        draft = draft_of(job, found)
        now = as_it_is(draft)
        if body.table not in now.kind.tables:
            raise BadInput(f"A {now.kind.title} has no such curve.", "table")
        put(draft, body.table, "curve", table_cells(now.tables.get(body.table), table), "sensor curve", by)
    return sheet_out(job, found)


@router.put("/jobs/{number}/fitted", response=FittedOut)
def set_fitted(request: HttpRequest, number: str, body: FittedIn) -> Any:
    """What is on this one vehicle: tyres, thermostat, airflow meter. Its maps are judged again by it."""
    job, by = job_by(number), worker(request)
    made: dict[str, Any] = {}
    if body.tyre_size.strip():
        diameter_mm(body.tyre_size)
        made["tyre_size"] = body.tyre_size.strip()
    if body.tyre_rating.strip():
        made["tyre_kmh"] = rating_kmh(body.tyre_rating)
        made["tyre_rating"] = body.tyre_rating.strip().upper()
    for name, typed, quantity in (
        ("tyre_mm", body.tyre_mm, "length"),
        ("thermostat_c", body.thermostat, "temperature"),
        ("stock_thermostat_c", body.stock_thermostat, "temperature"),
        ("stock_fan_c", body.stock_fan, "temperature"),
    ):
        if typed.strip():
            made[name] = parse(typed, quantity)
    if body.meter.strip():
        flow = one_figure(body.meter)
        if flow is None or not 5 <= flow <= 5000:
            raise BadInput("The airflow meter's range is in g/s, between 5 and 5000.", "meter")
        made["meter_g_s"] = flow
    if "tyre_mm" in made and not 200 <= made["tyre_mm"] <= 1500:
        raise BadInput("A tyre's rolling diameter lies between 200 and 1500 mm. Measure it again.", "tyre_mm")
    with transaction.atomic():
        job.fitted = made
        job.save(update_fields=["fitted"])
        told = _fitted(job)
        ledger.withdraw(job, "base-map", "map.tyre")
        ledger.withdraw(job, "base-map", "map.airflow")
        ledger.judge(job, "base-map", told["raw_calls"], by)
        for part in parts(job):
            if MapVersion.objects.filter(job=job, part=part.key).exists():
                settle(job, part, by)
    return told


@router.get("/jobs/{number}/map-card/{part}", response=MapCardOut)
def card(request: HttpRequest, number: str, part: str) -> Any:
    """The card that is printed: selector legend, modes, presets, options, or entries press by press."""
    job = job_by(number)
    found = part_of(job, part)
    now = as_it_is(draft_of(job, found))
    made = map_card(now, found.device.shows_on or "") or Card(f"A {now.kind.title} has no card", (), ())
    return {
        "title": made.title,
        "heads": list(made.heads),
        "lines": [list(line.cells) for line in made.lines],
        "notes": list(made.notes),
        "vehicle": job.vehicle.name,
        "registration": job.registration,
        "device": found.item.name,
        "map": f"{now.name} {draft_of(job, found).base.version}",
    }


class SheetPasted(Schema):
    text: str
    rated: str


class DeadTimeRead(Schema):
    voltages: list[float]
    pressures_kpa: list[float]
    ms: list[list[float]]
    calls: list[CallOut]


@router.post("/dead-time-tables", response=DeadTimeRead)
@asks
def read_dead_times(request: HttpRequest, body: SheetPasted) -> Any:
    """A data sheet's dead times, pasted in any orientation, unit or decimal mark; nothing is kept."""
    worker(request)
    table, calls = read_dead_time(body.text, parse(body.rated, "pressure"))
    return {**table, "calls": [call_out(call) for call in calls]}
