"""The sums, alone and with a job's own figures in them."""

from __future__ import annotations

from dataclasses import asdict, replace
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction

from ventmap.core.basics import Sum, Verdict, standard_pressure, worst
from ventmap.core.sums import SUMS, Field, SumKind, SumResult, sum_by

from ..schemas import call_out, evidence_out
from . import ledger
from .kit import devices
from .models import GridEntry, Job
from .sheet import finish, rules


def field_out(item: Field) -> dict[str, Any]:
    return {
        "name": item.name,
        "label": item.label,
        "kind": item.kind,
        "quantity": item.quantity,
        "unit": item.unit,
        "default": item.default,
        "choices": list(item.choices),
        "columns": [field_out(column) for column in item.columns],
        "hint": item.hint,
    }


def kind_out(kind: SumKind) -> dict[str, Any]:
    return {
        "key": kind.key,
        "title": kind.title,
        "purpose": kind.purpose,
        "fields": [field_out(item) for item in kind.fields],
    }


def sum_out(item: Sum) -> dict[str, Any]:
    return {**asdict(item), "inputs": evidence_out(item.inputs), "result": evidence_out([item.result])[0]}


def result_out(result: SumResult) -> dict[str, Any]:
    return {
        "sums": [sum_out(item) for item in result.sums],
        "calls": [call_out(call) for call in result.calls],
        "tables": [
            {"title": t.title, "columns": list(t.columns), "rows": [list(row) for row in t.rows]}
            for t in result.tables
        ],
        "drawing": asdict(result.drawing) if result.drawing else None,
        "cautions": list(result.cautions),
    }


def for_job(job: Job) -> list[str]:
    """Which sums this job asks for, in the order in which they are worked."""
    body = job.vehicle.body
    kit = {name: value for device in devices(job) for name, value in device.body.items() if value}
    wanted = {
        "injector-need": body["injection"] != "diesel",
        "injector-pressure": body["injection"] in ("port", "both"),
        "injection-window": body["injection"] in ("direct", "both"),
        "fuel-pump": body["injection"] != "diesel",
        "wire-and-fuse": True,
        "flow-match": body["injection"] != "diesel",
        "injector-care": True,
        "spacer-stack": job.injectors is not None,
        "feed-line": bool(kit.get("ethanol_sensor")),
        "ethanol-cost": bool(kit.get("ethanol_sensor")),
        "ethanol-content": bool(kit.get("ethanol_sensor")),
        "shift-rod": bool(kit.get("shift_sensor")),
        "inputs-outputs": bool(kit.get("spare_pins")),
    }
    return [key for key in SUMS if wanted.get(key)]


def typed_for(job: Job, key: str) -> dict[str, Any]:
    """What the job knows of a sum's inputs, as it would be typed; what was kept wins."""
    kept = job.grids.filter(step=f"sum.{key}").first()
    if kept:
        return dict(kept.data)
    body, house = job.vehicle.body, rules(job)
    boosted = body["induction"] != "none"
    typed: dict[str, Any] = dict(body.get("sums", {}).get(key, {}))
    for device in devices(job):
        typed |= device.body.get("sums", {}).get(key, {})
    injectors = job.injectors.body if job.injectors else {}
    barometer = standard_pressure(job.altitude_m)
    boost = float(body.get("boost_kpa", 0.0))
    rail = f"{body.get('fuel_pressure_kpa', 300):g}"
    known: dict[str, dict[str, Any]] = {
        "injector-need": {
            "power": f"{job.power_goal_kw:g}",
            "bsfc": f"{house['plan.bsfc_boosted' if boosted else 'plan.bsfc_natural']:g}",
            "count": str(body["cylinders"]),
            "duty": f"{house['plan.duty']:g}",
            "ethanol": f"{100 * job.ethanol:g} %",
            "pressure": rail,
            "rated": rail,
        },
        "injector-pressure": {
            "rail": rail,
            "barometer": f"{barometer:.1f}",
            "manifold": f"{barometer + boost:.1f}",
            "referenced": "yes" if body.get("referenced_regulator") else "no",
        },
        "injection-window": {"rpm": f"{body['rev_limit']:g}"},
        "injector-duty": {"rpm": f"{body['rev_limit']:g}", "stroke": str(body["stroke"])},
        "fuel-pump": {
            "count": str(body["cylinders"]),
            "rail": rail,
            "boost": f"{boost:g}",
            "referenced": "yes" if body.get("referenced_regulator") else "no",
            "reserve": f"{house['plan.pump_reserve']:g}",
        },
        "wire-and-fuse": {"allowed": f"{house['plan.wire_drop']:g}", "margin": f"{house['plan.fuse']:g}"},
        "flow-match": {
            "count": str(body["cylinders"]),
            "good": f"{house['plan.spread_good']:g}",
            "usable": f"{house['plan.spread_usable']:g}",
        },
        "injector-care": {
            "count": str(body["cylinders"]),
            "kind": "port" if body["injection"] == "port" else "direct",
        },
        "feed-line": {
            "slack": f"{house['plan.hose_slack']:g}",
            "bend_factor": f"{house['plan.bend_factor']:g}",
        },
        "ethanol-cost": {"ethanol": f"{100 * job.ethanol:g} %"} if job.ethanol > 0.3 else {},
    }
    there, has = body.get("injector_seat", {}).get("seat_to_rail_mm"), injectors.get("seat_to_rail_mm")
    if there and has:
        known["spacer-stack"] = {"old": f"{there:g}", "new": f"{has:g}"}
    if injectors.get("flow"):
        known["injector-pressure"] |= {
            "flow": f"{injectors['flow']:g}",
            "rated": f"{injectors['rated_kpa']:g}",
            "fluid": "n-heptane" if injectors.get("test_fluid") == "n-heptane" else "petrol",
        }
        known["fuel-pump"]["flow"] = f"{injectors['flow']:g}"
    if job.pump:
        known["fuel-pump"] |= {
            "curve": [{"kpa": f"{k:g}", "lph": f"{f:g}"} for k, f in job.pump.body["curve"]],
            "nominal": f"{job.pump.body.get('volts', 13.5):g}",
        }
        known["wire-and-fuse"]["current"] = f"{job.pump.body.get('current_a', 12):g}"
    return {**known.get(key, {}), **typed}


@transaction.atomic
def keep(job: Job, key: str, typed: dict[str, Any], by: User) -> SumResult:
    """Keep a sum with the job: its inputs, its judgements, its results in the ledger."""
    kind = sum_by(key)
    result = kind.run(typed)
    row, fresh = GridEntry.objects.get_or_create(
        job=job, step=f"sum.{key}", defaults={"data": typed, "by": by}
    )
    if not fresh:
        row.data, row.by, row.revision = typed, by, row.revision + 1
        row.save()
    ledger.withdraw(job, "plan", f"sum.{key}")
    ledger.judge(
        job,
        "plan",
        [
            replace(call, rule=f"sum.{key}" if n == 0 else f"sum.{key}#{n + 1}")
            for n, call in enumerate(result.calls)
        ],
        by,
    )
    ledger.write(
        job, "plan", "sum", f"Sum kept: {kind.title}", by, evidence=[item.result for item in result.sums]
    )
    if key == "fuel-pump" and job.pump and worst(result.calls) is Verdict.go:
        finish(job, "plan.pump", by)
    return result
