"""Plan: injectors for the goal."""

from __future__ import annotations

from dataclasses import asdict, replace
from math import isnan
from typing import Any

from django.contrib.auth.models import User

from ventmap.core.basics import BadInput, Call, Device, Evidence, Injector, OutOfRange, Verdict
from ventmap.core.fuel import FuelDemand, demand_of, injector_seated, most_ethanol
from ventmap.core.runsheet import (
    InjectorPlan,
    ShelfInjector,
    cannot_feed,
    nothing_to_size,
    plan_injectors,
    stock_stays,
)
from ventmap.core.vehicle import FitResult

from ..schemas import call_out, evidence_out, fit_out
from ..shelf.models import ShelfItem
from ..shelf.services import record_of
from . import ledger
from .acting import changes_job
from .assemble import rules
from .known import answered, marked
from .models import Job
from .rows import devices, shelf, vehicle_of
from .steps import finish, reopen


def injector_plan(job: Job) -> InjectorPlan:
    """The injector sum for the job's goal over the injectors on the shelf of this kind of injection, with
    how each fits.
    """
    vehicle = vehicle_of(job)
    kit = [record_of(item, Device) for item in devices(job)]
    demand = demand_of(vehicle, kit, job.power_goal_kw, job.ethanol, rules(job))
    if not isinstance(demand, FuelDemand):
        return nothing_to_size(demand)
    try:
        demand.require_flow()
    except OutOfRange as error:
        return cannot_feed(demand, str(error))
    # An engine with both keeps its direct ones: those of the port rail are chosen.
    kind = "port" if vehicle.injection == "both" else vehicle.injection
    candidates = []
    for item in ShelfItem.objects.filter(kind="injector", body__kind=kind):
        injector = record_of(item, Injector)
        candidates.append(
            ShelfInjector(
                item.key,
                item.name,
                flow=injector.flow,
                rated_kpa=injector.rated_kpa,
                ohms=injector.ohms,
                fluid=injector.test_fluid,
                direct=kind in ("direct", "diesel"),
                dead_ms=injector.dead_time_14v,
                fit=injector_seated(vehicle, injector),
            )
        )
    return plan_injectors(
        demand=demand,
        boosted=vehicle.boosted,
        altitude_m=job.altitude_m,
        injectors=tuple(candidates),
        rules=rules(job),
        stock=vehicle.stock_injectors,
        rescaled=_rescaled(job),
    )


def _rescaled(job: Job) -> bool | None:
    found = [record_of(item, Device) for item in devices(job)]
    return any(device.rescales_injectors for device in found) if found else None


def judge_injectors(job: Job, by: User) -> None:
    """The kit changed: the injectors that were chosen are held against what it can do now."""
    if job.injectors is None:
        if not job.ledger.filter(stage="plan", standing=True, rule="plan.injector").exists():
            return
        if vehicle_of(job).stock_injectors:
            # Now that the stock set has a sheet, it is chosen there and judged by it.
            ledger.withdraw_one(job, "plan", "plan.injector")
            reopen(job, "plan.injectors")
        else:
            ledger.judge(job, "plan", [_stays(job)], by)
        return
    choice = next((c for c in injector_plan(job).choices if c.key == job.injectors.key), None)
    if choice is None:
        # What full load asks is not known any more, or nothing flows there: what was chosen is not judged.
        ledger.judge(job, "plan", [replace(injector_plan(job).calls[0], rule="plan.injector")], by)
        reopen(job, "plan.injectors")
        return
    entry = job.ledger.filter(stage="plan", standing=True, rule=choice.call.rule).first()
    if entry is None or not any(ledger.finds_same(entry, one) for one in marked(job, [choice.call])):
        ledger.judge(job, "plan", [choice.call], by)
    if choice.call.verdict is Verdict.stop:
        reopen(job, "plan.injectors")
    else:
        finish(job, "plan.injectors", by)


def plan_out(job: Job) -> dict[str, Any]:
    plan = injector_plan(job)
    return {
        "sums": [
            {**asdict(item), "inputs": evidence_out(item.inputs), "result": evidence_out([item.result])[0]}
            for item in plan.sums
        ],
        "choices": [
            {
                "key": c.key,
                "name": c.name,
                "flow": round(c.flow, 1),
                "supports_kw": None if c.supports_kw is None else round(c.supports_kw, 1),
                "duty_at_goal": None if isnan(c.duty_at_goal) else round(c.duty_at_goal, 4),
                "call": call_out(c.call),
                "chosen": bool(job.injectors and job.injectors.key == c.key),
                "fit": fit_out(c.fit),
                "result": c.result,
                "at_hand": plan.at_hand(c, job.injectors.key if job.injectors else ""),
            }
            for c in plan.choices
        ],
        "calls": [call_out(call) for call in marked(job, plan.calls)],
    }


@changes_job
def choose_injectors(job: Job, key: str, by: User) -> None:
    """Take an injector into the kit; the judgement goes into the ledger with its sum.

    No key: those that are in stay, and no sheet of theirs is on the shelf.
    """
    if not key:
        _stock_stays(job, by)
        return
    answered(job, "plan.injectors")
    plan = injector_plan(job)
    choice = next((c for c in plan.choices if c.key == key), None)
    if not plan.choices and plan.calls:
        raise BadInput(plan.calls[0].do_next, "injectors")
    if choice is None:
        raise BadInput("This injector is of another kind than this engine's.", "injectors")
    misfit = next((reason for reason in choice.fit if reason.result is FitResult.no), None)
    if misfit:
        raise BadInput(f"{choice.name} does not go into this engine: {misfit.why}.", "injectors")
    if choice.call.protects:
        raise BadInput(f"{choice.name}: {choice.call.do_next}", "injectors")
    before = job.injectors
    job.injectors = shelf("injector", key)
    job.save()
    ledger.judge(job, "plan", [choice.call], by)
    if before is not None and before.key != key:
        # Figures that were set for other injectors no longer hold.
        for step in ("base-map.flow", "base-map.dead_time"):
            reopen(job, step)
    ledger.write(
        job,
        "plan",
        "reading",
        f"Injectors: {job.injectors.name}",
        by,
        evidence=(
            Evidence("flow here", round(choice.flow, 1), unit="cm³/min"),
            *(
                ()
                if choice.supports_kw is None
                else (Evidence("supports", round(choice.supports_kw, 1), unit="kW"),)
            ),
        ),
    )
    finish(job, "plan.injectors", by)


def _stock_stays(job: Job, by: User) -> None:
    """Nothing is chosen: what is in stays, and holds until somebody looked its sheet up."""
    if vehicle_of(job).stock_injectors:
        raise BadInput("The stock set of this vehicle is on the shelf: choose it there.", "injectors")
    job.injectors = None
    job.save()
    ledger.judge(job, "plan", [_stays(job)], by)
    finish(job, "plan.injectors", by)


def _stays(job: Job) -> Call:
    most = most_ethanol([record_of(item, Device) for item in devices(job)], job.ethanol)
    return stock_stays(rules(job)["plan.duty"] / 100, most, job.ethanol)
