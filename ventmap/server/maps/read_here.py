"""Steps worked by hand, as far as the link reads them at this bench: live values, identity, codes."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from django.contrib.auth.models import User
from django.http import HttpRequest
from ninja import Router, Schema

from ventmap.core.basics import BadInput, Verdict, codes_call
from ventmap.core.loading import Named, battery_call, identity_match
from ventmap.core.runsheet import Act, Step
from ventmap.link.tester import Tester

from .. import bench
from ..jobs import gate, ledger, workshop
from ..jobs.acting import changing
from ..jobs.assemble import rules, step_by
from ..jobs.fit_api import GridOut
from ..jobs.grids import enter_grid, grid_out
from ..jobs.judging import rule_of
from ..jobs.live import AT_FIRST_START, BATTERY, live_of
from ..jobs.models import Job
from ..jobs.rows import job_by, vehicle_of
from ..jobs.steps import do_step, reopen
from ..shop.access import worker
from ..shop.acts import waits
from .boxes import runs_beside
from .parts import parts, versions_of
from .services import calibration_of

router = Router(tags=["first start"])
#: From when an idle is read [s]; how long key on is waited for codes [s].
SETTLED_S, CODES_S = 35.0, 3.0
NO_LINK = "No link tells this: read it at the vehicle and type it."


class LiveReadOut(Schema):
    """A reading as the link gives it, in the unit that its step asks for."""

    value: float
    unit: str


class CodesReadOut(Schema):
    """Codes before they were cleared, and what came back."""

    before: list[str]
    after: list[str]


@router.get("/jobs/{number}/steps/{key}/live", response=LiveReadOut)
def get_live(request: HttpRequest, number: str, key: str) -> Any:
    return read_here(job_by(number), key, worker(request))


@router.post("/jobs/{number}/steps/{key}/identity", response=GridOut)
@waits("reads over the link")
def post_identity(request: HttpRequest, number: str, key: str) -> Any:
    return read_identity(job_by(number), key, worker(request))


@router.post("/jobs/{number}/steps/{key}/codes", response=CodesReadOut)
@waits("reads over the link")
def post_codes(request: HttpRequest, number: str, key: str) -> Any:
    return read_codes(job_by(number), key, worker(request))


def _asked(job: Job, key: str, how: str) -> Step:
    step = step_by(job, key)
    if live_of(job, step) != how:
        raise BadInput(NO_LINK, "step")
    return step


def read_here(job: Job, key: str, by: User) -> dict[str, Any]:
    """Read what a step asks for from the computer that runs this engine, with the kit beside it.

    Raises
    ------
    BadInput
        Where no link tells it, or a battery jumps: then nothing is written.
    """
    step = _asked(job, key, "reading")
    assert step.reading is not None
    if key.startswith(BATTERY):
        value = _battery(job, step, by)
    else:
        value = _running(job, key)
    return {"value": round(value, 2), "unit": step.reading.unit}


def _battery(job: Job, step: Step, by: User) -> float:
    """Key on, loads off: the mean; one that jumps is a stop, whatever its mean."""
    gate.ask(job, Act.power_on)
    with workshop.line_taken(job.pk, "a read"):
        car = workshop.beside(job, [], warm=False)
        line = bench.DirectLine(car)
        line.advance(1.0)
        tester = Tester(line)
        reads = [tester.read_live(["battery"])["battery"] for _ in range(12)]
    mean, jumps = sum(reads) / len(reads), max(reads) - min(reads)
    call = replace(battery_call(mean, rules(job), jumps), rule=rule_of(step.key))
    if call.verdict is Verdict.stop:
        with changing(job):
            ledger.judge(job, step.stage, [call], by)
            reopen(job, step.key)
        raise BadInput(f"{mean:.1f} V, {jumps:.1f} V apart: {call.do_next}", "reading")
    return mean


def _running(job: Job, key: str) -> float:
    channel, runs = AT_FIRST_START[key]
    gate.ask(job, Act.start if runs else Act.power_on)
    names = ["stft_1", "ltft_1"] if channel == "trims" else [channel]
    car = workshop.beside(job, [calibration for _, _, calibration in runs_beside(job)], warm=runs)
    with workshop.line_taken(job.pk, "a read"):
        legs = bench.start_route() if runs else [bench.Leg("stop", 3.0)]
        line = bench.DirectLine(car, car.drive(legs))
        tester, sums = Tester(line), []
        while not line.ended:
            row = tester.read_live(names)
            if not runs or line.now() > SETTLED_S:
                sums.append(sum(row.values()))
            line.advance(0.2)
        car.computer.power(False)
    return sum(sums) / len(sums)


def read_identity(job: Job, key: str, by: User) -> dict[str, Any]:
    """What the stock computer answers now, against the map that goes into it: the board's row by the link."""
    _asked(job, key, "identity")
    tail = key.removeprefix("load.board")
    part = next(part for part in parts(job) if part.tail == tail)
    versions = versions_of(job, part.key)
    if not versions:
        raise BadInput(f"Choose the map of {part.item.name} in Base map first.", "map")
    gate.ask(job, Act.power_on)
    with workshop.line_taken(job.pk, "a read"):
        answered = Tester(bench.DirectLine(workshop.beside(job, [], warm=False))).identity()
    maps = [calibration_of(version).identity for version in versions]
    stock = vehicle_of(job)
    answer, sentence = identity_match(
        file=Named(maps[-1].vin, maps[-1].computer, maps[-1].calibration),
        job=Named(job.vin, stock.stock_computer),
        answered=Named(answered["vin"], answered["computer"], answered["calibration"]),
        known=[stock.stock_calibration, *(identity.calibration for identity in maps)],
    )
    grid = grid_out(job, key)
    read = {"identity": {"answer": answer, "told": sentence}}
    return enter_grid(job, key, {**grid["data"], "read": read}, grid["revision"], by, by_link=True)


def read_codes(job: Job, key: str, by: User) -> dict[str, Any]:
    """Key on: the engine computer's codes read and recorded, cleared, read again. One that comes back holds;
    where none does, lamps and other modules are still a person's answer.
    """
    _asked(job, key, "codes")
    gate.ask(job, Act.power_on)
    car = workshop.beside(job, [calibration for _, _, calibration in runs_beside(job)], warm=False)
    with workshop.line_taken(job.pk, "a read"):
        line = bench.DirectLine(car)
        line.advance(CODES_S)
        tester = Tester(line)
        before = tester.codes()
        tester.clear_codes()
        line.advance(CODES_S)
        after = tester.codes()
        car.computer.power(False)
    told = ", ".join(f"{code.code} {code.status}" for code in before) or "none"
    with changing(job):
        ledger.write(job, "load", "reading", "Engine computer: codes read and cleared", by, f"before: {told}")
        ledger.judge(job, "load", [codes_call("load.codes", [(c.code, c.status) for c in after])], by)
        if after:
            do_step(job, key, by, answer="some")
    return {"before": [code.code for code in before], "after": [code.code for code in after]}
