"""Drum runs and their comparison."""

from __future__ import annotations

from datetime import datetime
from typing import Any, Literal

from django.http import HttpRequest
from ninja import Query, Router, Schema

from ..jobs.rows import job_by
from ..schemas import CallOut
from ..shop.access import worker
from ..shop.acts import waits
from . import judging, planning, services

router = Router(tags=["dyno"])


class RunOut(Schema):
    id: int
    when: str
    at: datetime
    map: str
    counts: bool
    pressure_kpa: float
    intake_c: float
    humidity: float
    gear: int
    drum: str
    fuel: str
    ramp: str
    tyre_kpa: float | None
    taken: list[str]
    peak_kw: float
    peak_kw_rpm: float
    peak_nm: float
    peak_nm_rpm: float
    rpm: list[float]
    kw: list[float]


class RunsOut(Schema):
    runs: list[RunOut]
    repeats: int
    standards: list[str]
    standard: str
    fuel: str


class ConditionsIn(Schema):
    """How a run that is brought was made: texts as typed, with their units."""

    drum: str = ""
    gear: str = ""
    intake: str = ""
    barometer: str = ""
    humidity: str = ""
    tyres: str = ""
    fuel: str = ""
    ramp: str = ""
    measured: Literal["", "wheels", "hubs", "engine"] = ""


class RunIn(Schema):
    when: str


class CountsIn(Schema):
    counts: bool


class StandardIn(Schema):
    standard: str


class ComparisonOut(Schema):
    rpm: list[float]
    before_kw: list[float]
    after_kw: list[float]
    gain_kw: list[float]
    gain_low_kw: list[float]
    gain_high_kw: list[float]
    scatter_known: bool
    claimable_share: float
    limit_kw: list[float | None]
    before_nm: list[float]
    after_nm: list[float]
    claimable: list[bool]
    peak_before: list[float]
    peak_after: list[float]
    mean_gain_kw: float
    mean_limit_kw: float | None
    torque_band: list[float]
    score: float
    score_parts: dict[str, float]
    factor: float
    factor_valid: bool
    factor_bounds: list[float]
    unlike: list[CallOut]
    """How the runs after were not made as those before."""
    standard: str
    confidence: float
    crank_kw: list[float]
    calls: list[CallOut]


class SeenByOut(Schema):
    before: int
    after: int
    one_day_kw: float
    other_day_kw: float


class ExpectedOut(Schema):
    low_kw: float
    high_kw: float
    peak_low_kw: float
    peak_high_kw: float
    source: str
    rests_on: str


class ToMatchOut(Schema):
    label: str
    value: str
    low: float | None
    high: float | None
    unit: str


class DrumGearOut(Schema):
    gear: int
    told: str
    ratio: float
    kmh: float
    letter: str
    too_fast: bool
    lower: bool
    most_kmh: float
    """Drum and tyres allow no more."""
    rev_limit: float
    tyre_kmh: float | None


class RunPlanOut(Schema):
    """Runs that are still to be made, and the runs before as they are held against."""

    before: int
    rpm: list[float]
    kw: list[float]
    low_kw: list[float]
    """Between this and `high_kw` one more run made alike lies; empty of one run."""
    high_kw: list[float]
    peak_kw: float | None
    peak_rpm: float | None
    peak_nm: float | None
    confidence: float
    scatter_kw: float | None
    scatter_source: str
    days_source: str
    today: bool
    """All runs before were made today."""
    rows: list[SeenByOut]
    expected: list[ExpectedOut]
    advice: list[str]
    match: list[ToMatchOut]
    gear: DrumGearOut | None


@router.get("/jobs/{number}/runs", response=RunsOut)
def runs(request: HttpRequest, number: str) -> Any:
    return judging.runs_out(job_by(number))


@router.post("/jobs/{number}/runs", response=RunsOut)
@waits("runs the engine")
def make_run(request: HttpRequest, number: str, body: RunIn) -> Any:
    job = job_by(number)
    services.make_run(job, body.when, worker(request))
    return judging.runs_out(job)


@router.put("/jobs/{number}/run-files", response=RunsOut)
@waits("reads a file")
def bring_run(
    request: HttpRequest, number: str, when: str, made: Query[ConditionsIn], name: str = "run.csv"
) -> Any:
    """A run from another drum: its CSV, sent as it is, with the conditions it was made in."""
    job, by = job_by(number), worker(request)
    services.bring_run(job, when, request.body.decode("utf-8", "replace"), name, made.dict(), by)
    return judging.runs_out(job)


@router.put("/jobs/{number}/runs/{run_id}", response=RunsOut)
def run_counts(request: HttpRequest, number: str, run_id: int, body: CountsIn) -> Any:
    job = job_by(number)
    services.leave_out(job, run_id, body.counts, worker(request))
    return judging.runs_out(job)


@router.get("/jobs/{number}/run-plan", response=RunPlanOut)
def run_plan(request: HttpRequest, number: str) -> Any:
    return planning.run_plan_out(job_by(number))


@router.put("/jobs/{number}/standard", response=RunsOut)
def set_standard(request: HttpRequest, number: str, body: StandardIn) -> Any:
    return judging.set_standard(job_by(number), body.standard, worker(request))


@router.get("/jobs/{number}/comparison", response=ComparisonOut)
def comparison(request: HttpRequest, number: str) -> Any:
    return judging.comparison_out(job_by(number))


@router.post("/jobs/{number}/comparison", response=ComparisonOut)
def judge(request: HttpRequest, number: str) -> Any:
    return judging.judge_gain(job_by(number), worker(request))
