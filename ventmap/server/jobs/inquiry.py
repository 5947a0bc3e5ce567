"""Intake's two inquiries: which variant stands here, and what its complaint comes from."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.http import HttpRequest
from ninja import Router, Schema

from ventmap.core.basics import BadInput, Evidence, Vehicle
from ventmap.core.vehicle import BOOK, complaints_of, diagnose, next_question, remaining, traits_of

from ..shelf.models import ShelfItem
from ..shelf.services import record_of
from ..shop.access import worker
from ..shop.acts import asks
from . import ledger
from .acting import changes_job
from .kit import change_kit
from .models import Job
from .rows import NotFound, devices, job_by, vehicle_of
from .steps import finish

router = Router(tags=["intake"])


class QuestionOut(Schema):
    tell_tale: str
    options: list[str]
    expected_left: float


class CandidateOut(Schema):
    key: str
    name: str
    left: bool
    tell_tales: dict[str, str]


class VariantsOut(Schema):
    model: str
    answers: dict[str, str]
    candidates: list[CandidateOut]
    question: QuestionOut | None
    settled: str


class AnswersIn(Schema):
    answers: dict[str, str]


class VehicleIn(Schema):
    vehicle: str
    answers: dict[str, str] = {}


class SignOut(Schema):
    key: str
    text: str


class ComplaintOut(Schema):
    key: str
    text: str
    signs: list[SignOut]


class CauseOut(Schema):
    cause: str
    share: float
    cure: str


class DiagnosisOut(Schema):
    complaint: str
    signs: dict[str, bool]
    causes: list[CauseOut]
    check: str
    check_minutes: float
    check_tells: str
    ask: str
    ask_text: str


class SymptomIn(Schema):
    complaint: str
    signs: dict[str, bool] = {}
    job: str = ""


def variants_out(model: str, answers: dict[str, str]) -> dict[str, Any]:
    """Candidates of a model after the answers given, and the question that tells most."""
    items = list(ShelfItem.objects.filter(kind="vehicle", body__model=model))
    if not items:
        raise NotFound(f"There is no model “{model}” on the shelf.", "model")
    tales = {item.key: record_of(item, Vehicle).tell_tales for item in items}
    left = remaining(tales, answers)
    if not left:
        raise BadInput(
            "No variant on the shelf looks like that. Look again, or add the variant to the shelf.", "answers"
        )
    question = next_question(tales, answers)
    return {
        "model": model,
        "answers": answers,
        "settled": left[0] if len(left) == 1 else "",
        "candidates": [
            {"key": i.key, "name": i.name, "left": i.key in left, "tell_tales": tales[i.key]} for i in items
        ],
        "question": vars(question) if question else None,
    }


@changes_job
def settle_vehicle(job: Job, key: str, answers: dict[str, str], by: User) -> None:
    """Name the variant; a kit that was planned for another one is judged again."""
    item = ShelfItem.objects.filter(kind="vehicle", key=key).first()
    if item is None:
        raise NotFound(f"There is no vehicle “{key}” on the shelf.", "vehicle")
    changed = item.pk != job.vehicle_id
    job.vehicle, job.tell_tales = item, answers
    if changed:
        job.injectors = None
    job.save()
    told = ", ".join(f"{tale}: {answer}" for tale, answer in answers.items() if answer)
    ledger.write(job, "intake", "reading", f"Variant: {item.name}", by, told or "known without a look")
    finish(job, "intake.variant", by)
    if changed:
        change_kit(job, [device.key for device in devices(job)], job.pump.key if job.pump else "", by)


@router.get("/models", response=list[str])
def models(request: HttpRequest) -> Any:
    """Models on the shelf; one may hide several variants."""
    return sorted({record_of(item, Vehicle).model for item in ShelfItem.objects.filter(kind="vehicle")})


@router.post("/models/{model}/variants", response=VariantsOut)
@asks
def variants(request: HttpRequest, model: str, body: AnswersIn) -> Any:
    return variants_out(model, body.answers)


@router.get("/jobs/{number}/variants", response=VariantsOut)
def job_variants(request: HttpRequest, number: str) -> Any:
    job = job_by(number)
    return variants_out(vehicle_of(job).model, job.tell_tales)


@router.put("/jobs/{number}/vehicle", response=VariantsOut)
def set_vehicle(request: HttpRequest, number: str, body: VehicleIn) -> Any:
    job = job_by(number)
    settle_vehicle(job, body.vehicle, body.answers, worker(request))
    return variants_out(vehicle_of(job).model, job.tell_tales)


@router.get("/complaints", response=list[ComplaintOut])
def complaints(request: HttpRequest, job: str = "") -> Any:
    """Complaints of the book; of a job, those that its engine can have."""
    return [
        {
            "key": key,
            "text": entry.text,
            "signs": [{"key": sign, "text": text} for sign, text in entry.signs.items()],
        }
        for key, entry in complaints_of(traits_of(vehicle_of(job_by(job))) if job else None).items()
    ]


def diagnosis_out(complaint: str, signs: dict[str, bool], job: Job | None = None) -> dict[str, Any]:
    found = diagnose(complaint, signs, traits_of(vehicle_of(job)) if job else None)
    return {
        **vars(found),
        "causes": [vars(cause) for cause in found.causes],
        "complaint": complaint,
        "signs": signs,
    }


@router.post("/diagnoses", response=DiagnosisOut)
@asks
def diagnosis(request: HttpRequest, body: SymptomIn) -> Any:
    """Ranked causes and the cheapest telling check; nothing is kept."""
    return diagnosis_out(body.complaint, body.signs, job_by(body.job) if body.job else None)


@router.put("/jobs/{number}/diagnosis", response=DiagnosisOut)
def keep_diagnosis(request: HttpRequest, number: str, body: SymptomIn) -> Any:
    """The same, kept with the job."""
    job, by = job_by(number), worker(request)
    found = diagnosis_out(body.complaint, body.signs, job)
    with transaction.atomic():
        job.symptom = {"complaint": body.complaint, "signs": body.signs}
        job.save()
        ledger.write(
            job,
            "intake",
            "reading",
            f"Complaint: {BOOK[body.complaint].text}",
            by,
            f"Next check: {found['check']}",
            [
                Evidence(cause["cause"], round(100 * cause["share"]), unit="%")
                for cause in found["causes"][:3]
            ],
        )
    return found


@router.get("/jobs/{number}/diagnosis", response=DiagnosisOut | None)
def kept_diagnosis(request: HttpRequest, number: str) -> Any:
    job = job_by(number)
    kept = job.symptom
    # A variant that was settled later may have another kind of engine.
    if not kept or kept["complaint"] not in complaints_of(traits_of(vehicle_of(job))):
        return None
    return diagnosis_out(kept["complaint"], kept["signs"], job)
