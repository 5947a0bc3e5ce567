"""Key-on checks, pedal learning and the first start, on the job's vehicle."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace
from typing import Any

import numpy as np
from django.contrib.auth.models import User
from django.http import HttpRequest
from ninja import Router, Schema

from ventmap.core.basics import BadInput, Call, Evidence, worst
from ventmap.core.electrics import key_on_calls, pedal_calls
from ventmap.core.loading import global_trim_call, next_global_trim, running_calls
from ventmap.core.runsheet import Act
from ventmap.link.live_settings import figure, set_figure
from ventmap.link.logger import capture, plan_for

from .. import bench
from ..jobs import gate, ledger, workshop
from ..jobs.acting import changing
from ..jobs.assemble import rules
from ..jobs.models import Job
from ..jobs.rows import job_by, vehicle_of
from ..jobs.steps import finish, reopen
from ..schemas import CallsOut, call_out
from ..shop.access import worker
from ..shop.acts import waits
from .loaded import loaded_map

router = Router(tags=["first start"])
IDLE_SETTLES_S = 20.0
#: Holds whose cure is a warm log and the map after it.
CURED_LATER = ("start.mixture", "start.global_trim")


def _enter(job: Job, step: str, calls: list[Call], by: User, about: str) -> dict[str, Any]:
    """What was read now is judged; what an earlier reading found, and this one does not, stands no more."""
    seen: Counter[str] = Counter()
    named = []
    for call in calls:
        seen[call.rule] += 1
        named.append(replace(call, rule=f"{call.rule}#{seen[call.rule]}") if seen[call.rule] > 1 else call)
    with changing(job):
        kept = {call.rule for call in named}
        for entry in job.ledger.filter(stage="first-start", standing=True, rule__startswith=about):
            if entry.rule not in kept:
                ledger.withdraw_one(job, "first-start", entry.rule)
        ledger.judge(job, "first-start", named, by)
        # A hold keeps it open until it is put right, or overruled with a reason; what the next map puts right
        # stands as a hold meanwhile, and is judged again on that map.
        if worst(call for call in named if call.rule not in CURED_LATER) == "go":
            finish(job, step, by)
        else:
            reopen(job, step)
    return {"calls": [call_out(call) for call in named]}


@router.post("/jobs/{number}/key-on", response=CallsOut)
@waits("reads over the link")
def post_key_on(request: HttpRequest, number: str, stood_h: float | None = None) -> Any:
    return key_on(job_by(number), worker(request), stood_h)


@router.post("/jobs/{number}/pedal", response=CallsOut)
@waits("reads over the link")
def post_pedal(request: HttpRequest, number: str) -> Any:
    return learn_pedal(job_by(number), worker(request))


@router.post("/jobs/{number}/start", response=CallsOut)
@waits("runs the engine")
def post_start(request: HttpRequest, number: str) -> Any:
    return start_engine(job_by(number), worker(request))


class TrimOut(Schema):
    """Global trim as the computer has it, and one step of it [%]."""

    percent: float
    step: float


class TrimIn(Schema):
    """Steps up or down; 0 takes it off."""

    steps: int


@router.get("/jobs/{number}/global-trim", response=TrimOut)
def get_global_trim(request: HttpRequest, number: str) -> Any:
    job = job_by(number)
    return {"percent": round(100 * read_global_trim(job), 1), "step": rules(job)["start.trim_step"]}


@router.post("/jobs/{number}/global-trim", response=TrimOut)
@waits("writes over the link")
def post_global_trim(request: HttpRequest, number: str, body: TrimIn) -> Any:
    return step_global_trim(job_by(number), body.steps, worker(request))


def key_on(job: Job, by: User, stood_h: float | None = None) -> dict[str, Any]:
    """Key on, engine still, after it stood for so long [h], a night where nobody says: read the sensors and
    judge them.
    """
    gate.ask(job, Act.power_on)
    loaded_map(job)
    if stood_h is not None and not 0.0 <= stood_h <= 10_000.0:
        raise BadInput("Say for how many hours it stood: 0 or more.", "stood_h")
    names = ["map", "baro", "coolant", "iat"]
    with workshop.direct(job, "kit", warm=False) as (tester, car):
        car.engine.soak = 0.3
        if stood_h is not None:
            car.stood(stood_h)
        reads = [tester.read_live(names) for _ in range(20)]
    mean = {name: float(np.mean([r[name] for r in reads])) for name in names}
    house = rules(job)
    calls = key_on_calls(
        manifold_kpa=mean["map"],
        barometer_kpa=None,
        altitude_m=job.altitude_m,
        coolant_c=mean["coolant"],
        intake_c=mean["iat"],
        hold_kpa=house["key_on.hold_kpa"],
        stop_kpa=house["key_on.stop_kpa"],
        soak_c=house["key_on.soak_k"],
        stood_h=stood_h,
    )
    return _enter(job, "first-start.key_on", calls, by, "sensor.")


def learn_pedal(job: Job, by: User) -> dict[str, Any]:
    """Learn closed and open of both pedal tracks, and of both tracks of the throttle that it moves; of a
    cable's throttle its own sensor.
    """
    gate.ask(job, Act.power_on)
    loaded_map(job)
    house = rules(job)
    cable = vehicle_of(job).throttle == "cable"
    with workshop.direct(job, "kit", warm=False) as (tester, _):
        learned = [("throttle" if cable else "pedal", tester.learn_pedal())]
        if not cable:
            learned.append(("throttle", tester.learn_throttle()))
    calls: list[Call] = []
    for what, ((closed, half, opened), (twin_closed, twin_half, twin_open)) in learned:
        calls += pedal_calls(
            closed,
            opened,
            twin_closed,
            twin_open,
            low_v=house["start.pedal_low"],
            high_v=house["start.pedal_high"],
            span_v=house["start.pedal_span"],
            agree=house["start.pedal_agree"] / 100,
            half_v=half,
            twin_half_v=twin_half,
            what=what,
        )
    return _enter(job, "first-start.pedal", calls, by, "pedal.")


def start_engine(job: Job, by: User) -> dict[str, Any]:
    """Start, let idle settle, judge."""
    gate.ask(job, Act.start)
    version = loaded_map(job)
    names = ["rpm", "battery", "lambda", "stft_1", "ltft_1", "idle_target"]
    rows: list[dict[str, float]] = []
    with workshop.direct(job, "kit", warm=True) as (tester, car):
        line = bench.DirectLine(car, car.drive(bench.start_route()))
        tester = type(tester)(line)
        for at, row in capture(tester, plan_for(names)):
            if at > 5.0 + IDLE_SETTLES_S:
                rows.append(row)
            if line.ended or at > 5.0 + IDLE_SETTLES_S + 10.0:
                break
        codes = tester.codes()
        added = figure(tester, "global_trim")
    mean = {name: float(np.mean([row[name] for row in rows if name in row] or [0.0])) for name in names}
    calls = running_calls(
        idle_rpm=mean["rpm"],
        idle_target=mean["idle_target"],
        battery_v=mean["battery"],
        mixture=mean["lambda"],
        trim_percent=mean["stft_1"] + mean["ltft_1"],
        codes=len(codes),
        global_trim=added,
        started=mean["rpm"] > 400,
        rules=rules(job),
    )
    if added:
        calls.append(global_trim_call(added, rules(job)))
    with changing(job):
        ledger.write(
            job,
            "first-start",
            "reading",
            f"Started on map {version.version}",
            by,
            evidence=(
                Evidence("idle", round(mean["rpm"]), unit="rpm"),
                Evidence("trims", round(mean["stft_1"] + mean["ltft_1"], 1), unit="%"),
            ),
        )
        return _enter(job, "first-start.start", calls, by, "start.")


def read_global_trim(job: Job) -> float:
    """Global trim that is in the kit's computer now, fraction."""
    with workshop.direct(job, "kit", warm=False) as (tester, _):
        return figure(tester, "global_trim")


def step_global_trim(job: Job, steps: int, by: User) -> dict[str, Any]:
    """Global trim by steps, read back; what was judged at idle is judged again."""
    gate.ask(job, Act.power_on)
    loaded_map(job)
    house = rules(job)
    with workshop.direct(job, "kit", warm=False) as (tester, car):
        aim = next_global_trim(figure(tester, "global_trim"), steps, house)
        now = set_figure(tester, "global_trim", aim)
    with changing(job):
        ledger.withdraw(job, "first-start", "start.")
        reopen(job, "first-start.start")
        ledger.judge(job, "first-start", [global_trim_call(now, house)], by)
    return {"percent": round(100 * now, 1), "step": house["start.trim_step"]}
