"""Plan: sums with a job's figures, parts and time; and the sums without a job."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from django.http import HttpRequest
from ninja import Router, Schema

from ventmap.core.basics import Record
from ventmap.core.runsheet import Stocked, parts_plan
from ventmap.core.sums import SUMS, sum_by

from ..schemas import CallOut
from ..shelf.models import ShelfItem
from ..shelf.services import record_of
from ..shop.access import lead, worker
from ..shop.acts import asks
from ..shop.services import changed_rules, rule_differences
from . import ledger, sums
from .assemble import match, rules, run_sheet
from .besides import besides_out, keep_besides
from .rows import devices, job_by, new_injectors, vehicle_of
from .schemas import SumOut

router = Router(tags=["sums"])


class FieldOut(Schema):
    name: str
    label: str
    kind: str
    quantity: str
    unit: str
    default: Any
    choices: list[str]
    columns: list[FieldOut]
    hint: str


class SumKindOut(Schema):
    key: str
    title: str
    purpose: str
    fields: list[FieldOut]


class TableOut(Schema):
    title: str
    columns: list[str]
    rows: list[list[str | float]]


class ShapeOut(Schema):
    kind: str
    x: float
    y: float
    x2: float
    y2: float
    text: str
    tone: str


class DrawingOut(Schema):
    title: str
    width: float
    height: float
    shapes: list[ShapeOut]


class SumResultOut(Schema):
    sums: list[SumOut]
    calls: list[CallOut]
    tables: list[TableOut]
    drawing: DrawingOut | None
    cautions: list[str]


class SumTyped(Schema):
    typed: dict[str, Any] = {}


class JobSumOut(Schema):
    key: str
    title: str
    purpose: str
    typed: dict[str, Any]
    kept: bool


class PartOut(Schema):
    name: str
    kind: str
    count: int
    stock: float | None
    order: int
    cost: float | None
    known: bool


class ToolOut(Schema):
    name: str
    at_hand: bool


class PartsOut(Schema):
    lines: list[PartOut]
    tools: list[ToolOut]
    minutes: float
    wait_minutes: float
    parts_cost: float
    labour_cost: float
    labour_rate: float
    unknown_prices: list[str]


@router.get("/sums", response=list[SumKindOut])
def all_sums(request: HttpRequest) -> Any:
    return [sums.kind_out(kind) for kind in SUMS.values()]


@router.post("/sums/{key}/results", response=SumResultOut)
@asks
def compute(request: HttpRequest, key: str, body: SumTyped) -> Any:
    """Compute a sum from what was typed; nothing is kept."""
    return sums.result_out(sum_by(key).run(body.typed))


@router.get("/jobs/{number}/sums", response=list[JobSumOut])
def job_sums(request: HttpRequest, number: str) -> Any:
    """The sums that this job asks for, with its own figures."""
    job = job_by(number)
    kept = set(job.grids.filter(step__startswith="sum.").values_list("step", flat=True))
    return [
        {
            "key": key,
            "title": SUMS[key].title,
            "purpose": SUMS[key].purpose,
            "typed": sums.typed_for(job, key),
            "kept": f"sum.{key}" in kept,
        }
        for key in sums.for_job(job)
    ]


@router.put("/jobs/{number}/sums/{key}", response=SumResultOut)
def keep_sum(request: HttpRequest, number: str, key: str, body: SumTyped) -> Any:
    return sums.result_out(sums.keep(job_by(number), key, body.typed, worker(request)))


def _stocked(item: ShelfItem) -> Stocked:
    record = record_of(item, Record)
    return Stocked(getattr(record, "price", None), getattr(record, "stock", None))


@router.get("/jobs/{number}/parts", response=PartsOut)
def parts(request: HttpRequest, number: str) -> Any:
    """Parts, consumables and tools of the run sheet, with stock, cost and time."""
    job = job_by(number)
    cylinders = vehicle_of(job).cylinders
    wanted = [(device.name, 1) for device in devices(job)]
    if job.injectors and new_injectors(job):
        wanted.append((job.injectors.name, cylinders))
    if job.pump:
        wanted.append((job.pump.name, 1))
    for device in devices(job):
        # What is not in the box, and what it fits with, is laid out with it or missed on the bench.
        found_fit = match(job, device)
        wanted += [(name, 1) for name in (*found_fit.not_in_the_box, *found_fit.parts)]
    shelf = {
        item.name: _stocked(item)
        for item in ShelfItem.objects.filter(kind__in=("device", "injector", "pump", "sensor", "consumable"))
    }
    tools = ShelfItem.objects.filter(kind="tool").values_list("name", flat=True)
    rate = rules(job)["plan.labour"]
    found = parts_plan(run_sheet(job).steps, wanted, cylinders, shelf, tools, rate)
    return {
        "lines": [vars(line) for line in found.lines],
        "tools": [{"name": name, "at_hand": here} for name, here in found.tools],
        "minutes": found.minutes,
        "wait_minutes": round(found.wait_minutes, 1),
        "parts_cost": round(found.parts_cost, 2),
        "labour_cost": round(found.labour_cost, 2),
        "labour_rate": rate,
        "unknown_prices": list(found.unknown_prices),
    }


class BesideIn(Schema):
    kind: str
    name: str = ""
    opens: str = ""
    """What is opened for it, where its kind does not say that itself."""
    number: int = 0
    """Its number on this job; 0: a new one."""


class BesideKindOut(Schema):
    key: str
    title: str
    opens: str


class BesidesOut(Schema):
    kinds: list[BesideKindOut]
    opens: list[str]
    parts: list[BesideIn]


class BesidesIn(Schema):
    parts: list[BesideIn]


@router.get("/jobs/{number}/besides", response=BesidesOut)
def parts_besides(request: HttpRequest, number: str) -> Any:
    """Parts that are fitted beside the kit, and the kinds there are."""
    return besides_out(job_by(number))


@router.put("/jobs/{number}/besides", response=BesidesOut)
def keep_parts_besides(request: HttpRequest, number: str, body: BesidesIn) -> Any:
    job = job_by(number)
    keep_besides(job, [part.dict() for part in body.parts], worker(request))
    return besides_out(job)


class RuleDifferenceOut(Schema):
    key: str
    text: str
    unit: str
    job: float | str
    today: float | str


@router.get("/jobs/{number}/house-rules", response=list[RuleDifferenceOut])
def job_rules(request: HttpRequest, number: str) -> Any:
    """Where the rules that this job is judged by differ from today's."""
    return rule_differences(job_by(number).rules)


@router.post("/jobs/{number}/house-rules", response=list[RuleDifferenceOut])
def take_todays_rules(request: HttpRequest, number: str) -> Any:
    """Judge this job by today's rules from here on; what was judged stays as it was."""
    by = lead(request)
    job = job_by(number)
    told = rule_differences(job.rules)
    if told:
        with transaction.atomic():
            job.rules = changed_rules()
            job.save()
            ledger.write(
                job,
                "intake",
                "note",
                "Judged by today's house rules",
                by,
                "; ".join(f"{d['text']}: {d['job']} → {d['today']} {d['unit']}" for d in told),
            )
    return rule_differences(job.rules)
