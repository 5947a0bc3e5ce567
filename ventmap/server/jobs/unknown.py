"""Things that no shelf knows yet: kind and name are enough to begin; the rest is asked as its step comes."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User

from ventmap.core.basics import DEVICES, BadInput, Call, parse_field
from ventmap.core.fuel import read_dead_time

from ..shelf.models import ShelfItem
from ..shelf.services import free_key, plain_called, put
from . import ledger
from .acting import changes_job
from .asks import told_now
from .injector_choice import choose_injectors
from .kit import change_kit
from .models import Job
from .rows import devices, vehicle_of

#: What is tapped of a new vehicle, as its record calls it.
TAPPED = (
    "kind",
    "cylinders",
    "banks",
    "stroke",
    "rotary",
    "cooling",
    "injection",
    "induction",
    "throttle",
    "load_sensing",
)


def new_vehicle(given: dict[str, Any], by: User) -> ShelfItem:
    """A vehicle by its kind, its name and what was tapped; everything else is not known yet.

    Raises
    ------
    BadInput
        Naming the field; also where the shelf has one of this name already.
    """
    name = plain_called("vehicle", given["name"])
    body: dict[str, Any] = {"model": name, "engine": name}
    for field in TAPPED:
        # Pistons are what an engine has unless rotors were tapped.
        if given.get(field) not in (None, False):
            body[field] = given[field]
    if given.get("displacement", "").strip():
        body["displacement_cc"] = parse_field(
            "displacement", given["displacement"], "volume", given.get("unit") or "cm³"
        )
    told = told_now("measured here", by)
    body["told"] = {field: told for field in body if field not in ("model", "engine")}
    return put({"kind": "vehicle", "key": free_key("vehicle", name), "name": name, "body": body})


@changes_job
def new_device(job: Job, kind: str, name: str, by: User) -> ShelfItem:
    """A device by its kind and its name, onto the shelf and into the kit."""
    if kind not in DEVICES:
        raise BadInput(f"Which kind of device is it? Choose one of {', '.join(DEVICES)}.", "kind")
    called = plain_called("device", name)
    item = put(
        {"kind": "device", "key": free_key("device", called), "name": called, "body": {"kind": kind}},
        job.practice,
    )
    ledger.write(job, "plan", "note", f"New on the shelf: {called}"[:160], by, kind)
    change_kit(
        job, [*(device.key for device in devices(job)), item.key], job.pump.key if job.pump else "", by
    )
    return item


@changes_job
def new_injectors(job: Job, given: dict[str, Any], by: User) -> ShelfItem:
    """A sheet of injectors as typed: flow at its pressure and fluid, and a pasted table of dead times."""
    vehicle = vehicle_of(job)
    name = plain_called("injector", given["name"])
    kind = "port" if vehicle.injection == "both" else vehicle.injection
    rated = parse_field("rated", given["rated"], "pressure", given.get("rated_unit") or "kPa")
    body: dict[str, Any] = {
        "family": vehicle.injector_family,
        "kind": kind,
        "flow": parse_field("flow", given["flow"], "injector_flow", given.get("flow_unit") or "cm³/min"),
        "rated_kpa": rated,
        "test_fluid": given["fluid"],
    }
    if given.get("ohms", "").strip():
        body["ohms"] = parse_field("ohms", given["ohms"], "resistance", "Ω")
    calls: list[Call] = []
    if given.get("dead_time", "").strip():
        body["dead_time"], calls = read_dead_time(given["dead_time"], rated)
    told = told_now(given["source"], by)
    body["told"] = {field: told for field in body if field not in ("family", "kind")}
    item = put(
        {"kind": "injector", "key": free_key("injector", name), "name": name, "body": body}, job.practice
    )
    ledger.write(job, "plan", "note", f"New on the shelf: {name}"[:160], by, f"injectors · {given['source']}")
    if calls:
        ledger.judge(job, "plan", calls, by)
    if given.get("stock"):
        on = job.vehicle
        put(
            {
                "kind": "vehicle",
                "key": on.key,
                "name": on.name,
                "body": {**on.body, "stock_injectors": item.key},
            }
        )
        job.vehicle.refresh_from_db()
        if job.power_goal_kw is not None and vehicle_of(job).fuel_pressure_kpa is not None:
            choose_injectors(job, item.key, by)
    return item


@changes_job
def new_pump(job: Job, name: str, by: User) -> ShelfItem:
    """A pump by its name, into the kit; its curve is asked at its step."""
    called = plain_called("pump", name)
    item = put({"kind": "pump", "key": free_key("pump", called), "name": called, "body": {}}, job.practice)
    ledger.write(job, "plan", "note", f"New on the shelf: {called}"[:160], by, "pump")
    change_kit(job, [device.key for device in devices(job)], item.key, by)
    return item
