"""Opening a job, and Intake."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.contrib.auth.models import User

from ventmap.core.basics import BadInput, Vehicle, VentMapError, parse_field, require_between
from ventmap.core.vehicle import check_vin, goal_fits

from ..lists.services import came
from ..shelf.services import record_of
from ..shop.models import House
from ..shop.services import changed_rules, changing_shop
from . import ledger
from .acting import changes_job
from .judging import rule_of
from .kit import change_kit
from .models import Job
from .rows import shelf, vehicle_of
from .steps import finish, reopen

CHANGES = (
    "exhaust",
    "filter",
    "catalyst",
    "particulate filter",
    "intercooler",
    "cams",
    "injectors",
    "pump",
)

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


@changing_shop()
def open_job(
    vehicle: str, registration: str, owner: str, by: User, vin: str = "", devices: Sequence[str] = ()
) -> Job:
    """A new job with the next number, judged by the rules of the day.

    A kit is in it only where somebody chose one: what is usual for a vehicle is offered, never entered.
    """
    item = shelf("vehicle", vehicle)
    numbers = [int(number) for number in Job.objects.values_list("number", flat=True) if number.isdigit()]
    vehicle_record = record_of(item, Vehicle)
    job = Job.objects.create(
        number=f"{max(numbers, default=0) + 1:04d}",
        vehicle=item,
        registration=registration.strip(),
        owner=owner.strip(),
        vin=vin.strip().upper().replace(" ", "")[:20],
        altitude_m=House.current().altitude_m,
        rules=changed_rules(),
        power_goal_kw=vehicle_record.power_kw,
    )
    ledger.write(job, "intake", "note", f"Job opened: {item.name}", by)
    if devices:
        change_kit(job, list(devices), "", by)
    return job


@changes_job
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
    if entered["power_goal_kw"] is not None:
        require_between(5.0, 1500.0, power_goal_kw=entered["power_goal_kw"])
    if entered["ron"] is None and vehicle_of(job).petrol:
        raise BadInput("Octane in the tank: type it, as RON or AKI.", "ron")
    if entered["ron"] is not None:
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
    call = check_vin(entered["vin"], vehicle_of(job).years, vehicle_of(job).kind)
    entered["vin"] = entered["vin"].strip().upper().replace(" ", "").replace("-", "")
    changed = [name for name, value in entered.items() if getattr(job, name) != value]
    for name, value in entered.items():
        setattr(job, name, value)
    if "vin" in changed:
        _identity_again(job)
    job.revision += 1
    job._change_reason = "intake"  # type: ignore[attr-defined]
    job.save()
    twins = Job.objects.filter(vin=job.vin).exclude(pk=job.pk) if job.vin else Job.objects.none()
    if twins and "vin" in changed:
        numbers = ", ".join(twin.number for twin in twins)
        ledger.write(job, "intake", "note", f"The same vehicle is in job {numbers}", by)
    goal = goal_fits(job.goal, job.power_goal_kw, vehicle_of(job).power_kw)
    if goal is None:
        ledger.withdraw_one(job, "intake", "intake.goal")
    ledger.judge(job, "intake", [call, *([goal] if goal else [])], by)
    if changed:
        ledger.write(
            job, "intake", "reading", "Intake saved", by, "Changed: " + ", ".join(changed).replace("_", " ")
        )
    finish(job, "intake.identity", by)
    if not job.practice:
        came(
            registration=job.registration,
            vin=job.vin,
            model=job.vehicle.name,
            owner=job.owner,
            odometer_km=job.odometer_km,
            shelf_key=job.vehicle.key,
        )
    if "ron" in changed and job.steps_done.filter(key=POWER_LEVEL).exists():
        reopen(job, POWER_LEVEL)
        ledger.withdraw_one(job, "fit", rule_of(POWER_LEVEL))
        ledger.write(job, "fit", "note", "Other octane in the tank: set the power level again", by)
    return job


#: Figures that may stay blank: not known is an answer there.
MAY_BE_BLANK = ("odometer_km", "power_goal_kw", "ron")


def _typed(text: str, quantity: str, unit: str, name: str) -> float | None:
    """A typed figure of Intake; nothing typed is no figure, where that is allowed."""
    if not text.strip() and name in MAY_BE_BLANK:
        return None
    return parse_field(name, text, quantity, unit)


def _identity_again(job: Job) -> None:
    """What was read or answered before a write was held against another VIN: it is asked again."""
    if "identity" in job.board:
        job.board = {key: value for key, value in job.board.items() if not key.startswith("identity")}
        ledger.withdraw_one(job, "load", "load.identity")
    for grid in job.grids.filter(step__startswith="load.board"):
        answers = {key: value for key, value in grid.data.get("answers", {}).items() if key != "identity"}
        grid.data, grid.revision = {"answers": answers}, grid.revision + 1
        grid.save()
        reopen(job, grid.step)
