"""Intake, plan and baseline of a job."""

from __future__ import annotations

import re
from dataclasses import asdict
from typing import Any

from django.contrib.auth.models import User
from django.db import IntegrityError, transaction

from ventmap.core.basics import (
    BadInput,
    Evidence,
    VentMapError,
    Verdict,
    codes_call,
    parse_field,
    require_between,
)
from ventmap.core.fuel import injector_fit
from ventmap.core.runsheet import InjectorPlan, ShelfInjector, plan_injectors
from ventmap.core.vehicle import FITS, NOT, FitReason, check_vin

from ..schemas import call_out, evidence_out
from ..shelf.models import ShelfItem
from ..shop.models import House
from ..shop.services import changed_rules
from . import ledger
from .judging import rule_of
from .models import Job
from .sheet import finish, fuel, reopen, rules, shelf

CHANGES = ("exhaust", "filter", "catalyst", "intercooler", "cams", "injectors", "pump")
GOALS = ("street", "track", "tow", "economy", "learner", "peak")

#: The step whose answer hangs on the octane in the tank.
POWER_LEVEL = "fit.level"

#: Figures of Intake: quantity, and the unit meant where none is typed.
FIGURES = {
    "odometer_km": ("distance", "km"),
    "power_goal_kw": ("power", "kW"),
    "ron": ("octane", "RON"),
    "ethanol": ("fraction", "%"),
    "altitude_m": ("altitude", "m"),
}


class Overtaken(VentMapError):
    """Somebody else changed the same thing meanwhile."""


@transaction.atomic
def open_job(vehicle: str, registration: str, owner: str, by: User) -> Job:
    """A new job with the next number, judged by the rules of the day."""
    item = shelf("vehicle", vehicle)
    numbers = [int(number) for number in Job.objects.values_list("number", flat=True) if number.isdigit()]
    device = ShelfItem.objects.filter(kind="device", key=item.body.get("usual_device", "")).first()
    for number in range(max(numbers, default=0) + 1, max(numbers, default=0) + 5):
        try:
            with transaction.atomic():
                job = Job.objects.create(
                    number=f"{number:04d}",
                    vehicle=item,
                    device=device,
                    registration=registration.strip(),
                    owner=owner.strip(),
                    altitude_m=House.current().altitude_m,
                    rules=changed_rules(),
                    power_goal_kw=float(item.body.get("power_kw", 100.0)),
                )
            break
        except IntegrityError:
            continue
    ledger.write(job, "intake", "note", f"Job opened: {item.name}", by)
    if device is not None:
        from .kit import change_kit

        change_kit(job, [device.key], "", by)
    return job


@transaction.atomic
def save_intake(job: Job, entered: dict[str, Any], by: User) -> Job:
    """Identity, goal, fuel and altitude; the VIN is judged by its check digit.

    Raises
    ------
    Overtaken
        If a field was changed by somebody else since the sender saw the job.
    """
    seen, units = entered.pop("revision"), entered.pop("units")
    for name, (quantity, unit) in FIGURES.items():
        if isinstance(entered[name], str):
            entered[name] = _typed(entered[name], quantity, units.get(name) or unit, name)
    if entered["odometer_km"] is not None:
        require_between(0.0, 3e6, odometer_km=entered["odometer_km"])
        entered["odometer_km"] = round(entered["odometer_km"])
    if entered["goal"] not in GOALS:
        raise BadInput(f"The goal is one of {', '.join(GOALS)}.", "goal")
    strange = [name for name in entered["changes"] if name not in CHANGES]
    if strange:
        raise BadInput(f"An existing change is one of {', '.join(CHANGES)}.", "changes")
    require_between(5.0, 1500.0, power_goal_kw=entered["power_goal_kw"])
    require_between(70.0, 115.0, ron=entered["ron"])
    require_between(0.0, 1.0, ethanol=entered["ethanol"])
    require_between(-400.0, 5500.0, altitude_m=entered["altitude_m"])
    last = job.history.filter(history_change_reason="intake").first()  # type: ignore[attr-defined]
    if last is not None and last.revision > seen:
        theirs = ", ".join(name for name, value in entered.items() if getattr(job, name) != value)
        if theirs:
            raise Overtaken(
                f"Somebody saved Intake meanwhile and differs in: {theirs}. Their entry is shown now; yours"
                " is still in the form.",
                "revision",
            )
    years = job.vehicle.body.get("years")
    call = check_vin(entered["vin"], (years[0], years[1]) if years else None)
    if call.verdict is Verdict.stop:
        raise BadInput(f"{call.do_next} ({call.because[0].label}: {call.because[0].value}).", "vin")
    entered["vin"] = entered["vin"].strip().upper().replace(" ", "").replace("-", "")
    changed = [name for name, value in entered.items() if getattr(job, name) != value]
    for name, value in entered.items():
        setattr(job, name, value)
    job.revision += 1
    job._change_reason = "intake"  # type: ignore[attr-defined]
    job.save()
    ledger.judge(job, "intake", [call], by)
    if changed:
        ledger.write(
            job, "intake", "reading", "Intake saved", by, "Changed: " + ", ".join(changed).replace("_", " ")
        )
    finish(job, "intake.identity", by)
    if {"ron", "ethanol", "altitude_m", "changes"} & set(changed):
        from ..maps.services import judge_again

        judge_again(job, by)
    if "ron" in changed and job.steps_done.filter(key=POWER_LEVEL).exists():
        reopen(job, POWER_LEVEL)
        ledger.withdraw_one(job, "fit", rule_of(POWER_LEVEL))
        ledger.write(job, "fit", "note", "Other octane in the tank: set the power level again", by)
    return job


def _typed(text: str, quantity: str, unit: str, name: str) -> float | None:
    """A typed figure of Intake; nothing typed is no figure, where that is allowed."""
    return None if not text.strip() and name == "odometer_km" else parse_field(name, text, quantity, unit)


def injector_plan(job: Job) -> InjectorPlan:
    """The injector sum for the job's goal over the injectors on the shelf of this kind of injection, with how
    each fits.
    """
    body = job.vehicle.body
    # An engine with both keeps its direct ones: those of the port rail are chosen.
    kind = "port" if body["injection"] == "both" else body["injection"]
    candidates = tuple(
        ShelfInjector(
            item.key,
            item.name,
            flow=float(item.body["flow"]),
            rated_kpa=float(item.body["rated_kpa"]),
            ohms=float(item.body["ohms"]),
            fluid=item.body.get("test_fluid", "petrol"),
            direct=kind == "direct",
            fit=_seated(body, item.body),
        )
        for item in ShelfItem.objects.filter(kind="injector", body__kind=kind)
    )
    return plan_injectors(
        power_kw=job.power_goal_kw,
        boosted=body["induction"] != "none",
        cylinders=int(body["cylinders"]),
        fuel=fuel(job),
        fuel_pressure_kpa=float(body["fuel_pressure_kpa"]),
        altitude_m=job.altitude_m,
        injectors=candidates,
        rules=rules(job),
    )


def _seated(vehicle: dict[str, Any], injector: dict[str, Any]) -> tuple[FitReason, ...]:
    """How an injector fits; by the name of its family where no dimensions are on the shelf."""
    reasons = injector_fit(vehicle.get("injector_seat", {}), injector)
    if reasons:
        return reasons
    wanted, has = vehicle.get("injector_family", ""), injector.get("family", "")
    return (
        FitReason(
            "family",
            FITS if has == wanted else NOT,
            has if has == wanted else f"{has}; this engine takes {wanted}",
        ),
    )


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
                "supports_kw": round(c.supports_kw, 1),
                "duty_at_goal": round(c.duty_at_goal, 4),
                "call": call_out(c.call),
                "chosen": bool(job.injectors and job.injectors.key == c.key),
                "fit": [vars(reason) for reason in c.fit],
            }
            for c in plan.choices
        ],
        "calls": [call_out(call) for call in plan.calls],
    }


@transaction.atomic
def choose_injectors(job: Job, key: str, by: User) -> None:
    """Take an injector into the kit; the judgement goes into the ledger with its sum."""
    plan = injector_plan(job)
    choice = next((c for c in plan.choices if c.key == key), None)
    if choice is None:
        raise BadInput("This injector is of another kind than this engine's.", "injectors")
    misfit = next((reason for reason in choice.fit if reason.result == NOT), None)
    if misfit:
        raise BadInput(f"{choice.name} does not go into this engine: {misfit.why}.", "injectors")
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
            Evidence("supports", round(choice.supports_kw, 1), unit="kW"),
        ),
    )
    finish(job, "plan.injectors", by)


def read_baseline(job: Job, by: User) -> dict[str, Any]:
    """Codes and identity from the stock computer."""

    from ..workshop import direct

    with direct(job, "stock", warm=True) as (tester, _):
        identity, codes = tester.identity(), tester.codes()
    with transaction.atomic():
        ledger.write(
            job,
            "baseline",
            "reading",
            "Stock computer read",
            by,
            f"computer {identity['computer']}, calibration {identity['calibration']}, VIN"
            f" {identity['vin'] or 'not stored'}",
        )
        _judge_codes(job, [(c.code, c.status) for c in codes], by)
    return baseline_out(job)


STATUSES = ("stored", "pending", "permanent")


@transaction.atomic
def enter_baseline(
    job: Job, computer: str, calibration: str, vin: str, codes: list[tuple[str, str]], by: User
) -> dict[str, Any]:
    """Codes and identity as another tester showed them, entered by hand."""
    if not computer.strip() or not calibration.strip():
        raise BadInput("Enter the computer and the calibration as the tester shows them.", "computer")
    for code, status in codes:
        if not re.fullmatch(r"[PCBU][0-3][0-9A-F]{3}", code):
            raise BadInput(
                f"“{code}” is no trouble code: a letter P, C, B or U and four digits (SAE J2012).", "codes"
            )
        if status not in STATUSES:
            raise BadInput(f"The status of {code} is one of {', '.join(STATUSES)}.", "codes")
    clean = [text.strip().replace(",", " ") for text in (computer, calibration, vin)]
    told = f"computer {clean[0]}, calibration {clean[1]}, VIN {clean[2] or 'not stored'}"
    ledger.write(job, "baseline", "reading", "Stock computer read", by, told)
    _judge_codes(job, codes, by)
    return baseline_out(job)


def _judge_codes(job: Job, codes: list[tuple[str, str]], by: User) -> None:
    ledger.judge(job, "baseline", [codes_call("baseline.codes", codes)], by)
    finish(job, "baseline.codes", by)


def baseline_out(job: Job) -> dict[str, Any]:
    """The last read of the stock computer, from the ledger."""
    call = job.ledger.filter(rule="baseline.codes", standing=True).first()
    read = job.ledger.filter(stage="baseline", title="Stock computer read").first()
    codes = (
        [
            {"code": e["label"], "status": str(e["value"])}
            for e in call.evidence
            if e["label"] != "stored codes"
        ]
        if call
        else []
    )
    parts = dict(part.split(" ", 1) for part in read.text.split(", ")) if read else {}
    return {"identity": parts, "codes": codes, "read_at": read.at if read else None}
