"""Output tests and base timing over the link: what is driven, and what is then seen at the vehicle."""

from __future__ import annotations

from typing import Any, Literal

from django.contrib.auth.models import User
from django.http import HttpRequest
from ninja import Router, Schema

from ventmap.core.basics import BadInput, Evidence, parse
from ventmap.core.electrics import Output, locked
from ventmap.core.runsheet import Act, OutputsAsked, TimingAsked
from ventmap.link.live_settings import drive_output, figure, give_back, lock_spark, set_figure

from .. import bench
from ..jobs import gate, ledger, workshop
from ..jobs.acting import changing
from ..jobs.assemble import step_by
from ..jobs.fit_api import GridOut
from ..jobs.grids import enter_grid, grid_out
from ..jobs.models import Job
from ..jobs.rows import job_by
from ..shop.access import worker
from ..shop.acts import waits
from .loaded import loaded_map

router = Router(tags=["first start"])
OUTPUTS, TIMING = "first-start.outputs", "first-start.base_timing"
#: How long each kind is driven [s].
DRIVEN_S = {"fan": 5.0, "coil": 5.0, "injector": 5.0, "pump": 2.0}
#: What each kind does when it is driven.
DOES = {"fan": "runs", "coil": "ticks", "injector": "clicks", "pump": "hums"}


class TriedOut(Schema):
    """The grid after a test, and what was seen at the pretend vehicle: the person's eyes and ears there."""

    grid: GridOut
    seen: str


class SpeedIn(Schema):
    speed: Literal["idle", "high"]


class OffsetIn(Schema):
    offset: str


@router.post("/jobs/{number}/outputs/{key}/run", response=TriedOut)
@waits("drives an output over the link")
def post_output(request: HttpRequest, number: str, key: str) -> Any:
    return try_output(job_by(number), key, worker(request))


@router.post("/jobs/{number}/timing/read", response=TriedOut)
@waits("runs the engine")
def post_light(request: HttpRequest, number: str, body: SpeedIn) -> Any:
    return read_light(job_by(number), body.speed, worker(request))


@router.post("/jobs/{number}/timing/offset", response=TriedOut)
@waits("writes over the link")
def post_offset(request: HttpRequest, number: str, body: OffsetIn) -> Any:
    return set_offset(job_by(number), body.offset, worker(request))


def try_output(job: Job, key: str, by: User) -> dict[str, Any]:
    """Drive one output for its time, once what makes it safe is confirmed; the current is kept with its row.

    Raises
    ------
    BadInput
        Naming what has to be so first.
    """
    gate.ask(job, Act.power_on)
    loaded_map(job)
    asked = step_by(job, OUTPUTS).about
    assert isinstance(asked, OutputsAsked)
    output = next((one for one in asked.outputs if one.key == key), None)
    if output is None:
        raise BadInput(f"This engine has no output “{key}”.", "key")
    grid = grid_out(job, OUTPUTS)
    lock = locked(output, grid["data"].get("interlocks", ()))
    if lock is not None:
        raise BadInput(f"First confirm: {lock.says}. {lock.why}", "interlocks")
    with workshop.direct(job, "kit", warm=False) as (tester, car):
        if output.kind == "brake":
            amps, seen = None, _pressed(tester, car)
        else:
            amps = drive_output(tester, key, DRIVEN_S[output.kind])
            moved = car.hears()
            give_back(tester, key)
            seen = _told(output, asked, moved, still=car.hears())
    rows = {row["key"]: row for row in grid["data"].get("rows", [])}
    # What was answered before was said of an earlier test.
    rows[key] = {"key": key, "seen": "", "amps": amps, "confirmed": grid["data"].get("interlocks", [])}
    data = {**grid["data"], "rows": list(rows.values())}
    return {"grid": enter_grid(job, OUTPUTS, data, grid["revision"], by), "seen": seen}


def _pressed(tester: Any, car: bench.PretendVehicle) -> str:
    car.engine.brake = True
    on = tester.read_live(["brake"])["brake"]
    car.engine.brake = False
    off = tester.read_live(["brake"])["brake"]
    return f"At the pretend vehicle: pressed reads {'on' if on else 'off'}, let go {'on' if off else 'off'}."


def _told(output: Output, asked: OutputsAsked, moved: list[str], still: list[str]) -> str:
    if not moved:
        return "At the pretend vehicle: nothing is heard, nothing moves."
    labels = {one.key: (one.label, DOES.get(one.kind, "moves")) for one in asked.outputs}
    words = " and ".join(" ".join(labels[key]) for key in moved)
    on = ", and goes on after its time" if still else ", then it is still"
    return f"At the pretend vehicle: {words}{on}."


def read_light(job: Job, speed: str, by: User) -> dict[str, Any]:
    """Lock spark, run, and read the light; its reading goes where the grid wants it next."""
    gate.ask(job, Act.start)
    loaded_map(job)
    asked = step_by(job, TIMING).about
    assert isinstance(asked, TimingAsked)
    grid = grid_out(job, TIMING)
    with workshop.direct(job, "kit", warm=True) as (tester, car):
        lock_spark(tester, asked.locked_deg)
        legs = [*bench.start_route()[:1], bench.Leg("idle", 6.0)]
        if speed == "high":
            legs.append(bench.Leg("hold", 6.0, rpm=asked.rpm, pedal=12.0))
        read = car.light(legs)
        if car.engine.rpm < 300:
            raise BadInput("It does not run: start it and judge its idle first.", "speed")
        offset = figure(tester, "trigger_offset")
        lock_spark(tester, None)
    data = dict(grid["data"])
    if speed == "high":
        data["high"] = f"{read:g}"
    elif data.get("new"):
        data["again"] = f"{read:g}"
    else:
        data |= {"read": f"{read:g}", "old": f"{offset:g}", "again": None, "high": None}
    at = f"{asked.rpm:g} rpm" if speed == "high" else "idle"
    seen = (
        f"Under the light at {at}: {read:g}° before top dead centre, spark locked at {asked.locked_deg:g}°."
    )
    return {"grid": enter_grid(job, TIMING, data, grid["revision"], by), "seen": seen}


def set_offset(job: Job, typed: str, by: User) -> dict[str, Any]:
    """Enter a new trigger offset and read it back; what the light read after the old one stands no more."""
    gate.ask(job, Act.power_on)
    loaded_map(job)
    grid = grid_out(job, TIMING)
    if not grid["data"].get("read"):
        raise BadInput("Read the light at idle first: the new offset follows from it.", "offset")
    value = parse(typed, "spark", "°")
    if not -180.0 <= value <= 180.0:
        raise BadInput("A trigger offset lies within 180° either way.", "offset")
    with workshop.direct(job, "kit", warm=True) as (tester, _):
        now = set_figure(tester, "trigger_offset", value)
    data = {**grid["data"], "new": f"{now:g}", "again": None, "high": None}
    told = f"The computer reads back {now:g}°."
    with changing(job):
        ledger.write(
            job,
            "first-start",
            "reading",
            "Trigger offset set and read back",
            by,
            evidence=(Evidence("trigger offset", round(now, 1), unit="°"),),
        )
        return {"grid": enter_grid(job, TIMING, data, grid["revision"], by), "seen": told}
