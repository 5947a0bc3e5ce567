"""Base maps, versions, the call board, loads."""

from __future__ import annotations

import asyncio
import json
from collections.abc import AsyncIterator
from datetime import datetime
from typing import Any, Literal

from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from ninja import File, Router, Schema
from ninja.files import UploadedFile

from ventmap.core.basics import BadInput, Verdict, parse

from ..jobs.early import NO_INJECTORS
from ..jobs.rows import injectors_of, job_by, vehicle_of
from ..schemas import CallOut, Done, call_out
from ..shop.access import worker
from ..shop.acts import asks, waits
from . import after_write, board, choosing, figures, loaded, loading, services, shelving
from .models import Load
from .parts import main_part, petrol_flow

router = Router(tags=["maps"])


class Candidate(Schema):
    key: str
    name: str
    points: int
    possible: bool
    conflicts: list[str]
    differences: list[str]
    reasons: list[str]
    asks_octane: bool
    other_set: bool
    """It would serve, were the whole set taken."""
    """It would serve, were its octane stated."""


class VersionOut(Schema):
    id: int
    version: str
    round: int
    note: str
    crc32: str
    sha256: str
    made_at: datetime
    by: str
    loaded: bool


class DeadTimeIn(Schema):
    voltages: list[float]
    pressures_kpa: list[float]
    ms: list[list[float]]


class Figures(Schema):
    flow: float
    rated_kpa: float
    pressure_kpa: float
    dead_time: DeadTimeIn


class SheetFigures(Schema):
    flow: float
    rated_kpa: float
    pressure_kpa: float
    dead_time: DeadTimeIn | None
    """None where the injector's sheet has none: then it is typed from the maker's."""


class FiguresIn(Schema):
    flow: str
    rated: str
    pressure: str
    dead_time: DeadTimeIn
    anyway: bool = False


class FiguresOut(Schema):
    version: VersionOut | None
    calls: list[CallOut]


class BaseMapOut(Schema):
    candidates: list[Candidate]
    versions: list[VersionOut]
    sheet: SheetFigures
    fluid: str
    """What the sheet's flow was measured with; `sheet` has it as petrol."""
    referenced: bool
    current: Figures | None


class ChangeOut(Schema):
    item: str
    old: float | None
    new: float | None
    unit: str
    x: float | None
    y: float | None
    row: int | None
    column: int | None


class ChooseIn(Schema):
    key: str


class LoadOut(Schema):
    id: int
    state: Literal["writing", "verified", "interrupted", "stopped"]
    phase: str
    done: int
    written: int
    total: int
    sentence: str
    what: str
    of_firmware: bool
    slot: int
    started_at: datetime


class WayOut(Schema):
    key: str
    title: str
    text: str


class BoardOut(Schema):
    inside: str
    ways: list[WayOut]
    """After a write that was cut, first tried first."""
    answers: dict[str, Any]
    words: dict[str, list[str]]
    """Yes and no of the rows that are answered so, on this kind of vehicle."""
    calls: list[CallOut]
    verdict: Verdict
    laptop: dict[str, str]
    """Answers of the row on the laptop's power, in words."""
    firmware_first: bool
    """The map wants a newer firmware than the computer has."""
    version: VersionOut
    load: LoadOut | None
    saved: str
    off_s: float
    lights: list[str]
    codes: list[str]
    cycled: bool
    slots: list[str]
    """What each slot holds, by this job's writes."""
    slot: int


class BoardIn(Schema):
    answers: dict[str, bool | int | str | None]


class IgnitionIn(Schema):
    on: bool


@router.get("/jobs/{number}/base-map", response=BaseMapOut)
def base_map(request: HttpRequest, number: str) -> Any:
    job = job_by(number)
    found = choosing.judged(job, main_part(job))
    versions = list(job.maps.filter(part=main_part(job).key))
    vehicle, injectors = vehicle_of(job), injectors_of(job)
    if injectors is None:
        raise BadInput(NO_INJECTORS, "injectors")
    sheet = {
        "flow": round(petrol_flow(job) or 0.0, 1),
        "rated_kpa": injectors.rated_kpa,
        "pressure_kpa": vehicle.fuel_pressure_kpa,
        "dead_time": injectors.dead_time.model_dump() if injectors.dead_time else None,
    }
    current = None
    if versions and services.calibration_of(versions[-1]).form == "full":
        calibration = services.calibration_of(versions[-1])
        dead = calibration.dead_time
        current = {
            "flow": calibration.scalars["injector_flow"],
            "rated_kpa": calibration.scalars["injector_rated_kpa"],
            "pressure_kpa": calibration.scalars["fuel_pressure_kpa"],
            "dead_time": {
                "voltages": dead.voltages.tolist(),
                "pressures_kpa": dead.pressures_kpa.tolist(),
                "ms": dead.ms.tolist(),
            },
        }
    return {
        "candidates": found,
        "versions": [loaded.version_out(v) for v in versions],
        "sheet": sheet,
        "current": current,
        "fluid": injectors.test_fluid,
        "referenced": vehicle.referenced_regulator,
    }


@router.post("/jobs/{number}/maps", response=VersionOut)
def choose_map(request: HttpRequest, number: str, body: ChooseIn) -> Any:
    return loaded.version_out(choosing.choose_map(job_by(number), body.key, worker(request)))


class ShelvedIn(Schema):
    name: str


@router.post("/jobs/{number}/maps/{version_id}/shelved", response=Done)
def shelve_map(request: HttpRequest, number: str, version_id: int, body: ShelvedIn) -> Any:
    """Keep a version as a map of the shelf, for the next vehicle of the kind."""
    item = shelving.shelve(job_by(number), version_id, body.name, worker(request))
    return {"sentence": f"{item.name} stands on the shelf of maps now."}


@router.post("/jobs/{number}/maps/files", response=VersionOut)
@waits("reads a file")
def upload_map(request: HttpRequest, number: str, file: File[UploadedFile]) -> Any:
    return loaded.version_out(choosing.upload_map(job_by(number), file.read(), worker(request)))


@router.put("/jobs/{number}/figures", response=FiguresOut)
def set_figures(request: HttpRequest, number: str, body: FiguresIn) -> Any:
    version, calls = figures.set_parameters(
        job_by(number),
        parse(body.flow, "injector_flow"),
        parse(body.rated, "pressure"),
        parse(body.pressure, "pressure"),
        body.dead_time.dict(),
        body.anyway,
        worker(request),
    )
    return {
        "version": loaded.version_out(version) if version else None,
        "calls": [call_out(call) for call in calls],
    }


@router.get("/jobs/{number}/maps/{version_id}/file")
def map_file(request: HttpRequest, number: str, version_id: int) -> HttpResponse:
    version = services.version_by(job_by(number), version_id)
    response = HttpResponse(version.document, content_type="application/json")
    response["Content-Disposition"] = f'attachment; filename="{number}-{version.version}.json"'
    return response


@router.get("/jobs/{number}/maps/{version_id}/changes", response=list[ChangeOut])
def map_changes(request: HttpRequest, number: str, version_id: int, since: int) -> Any:
    job = job_by(number)
    return services.changes(services.version_by(job, version_id), services.version_by(job, since))


@router.get("/jobs/{number}/load-board", response=BoardOut)
def call_board(request: HttpRequest, number: str) -> Any:
    return board.board_out(job_by(number))


@router.put("/jobs/{number}/load-board", response=BoardOut)
@waits("reads over the link")
def answer_board(request: HttpRequest, number: str, body: BoardIn) -> Any:
    return board.answer(job_by(number), dict(body.answers), worker(request))


@router.post("/jobs/{number}/saved-images", response=BoardOut)
@waits("reads over the link")
def save_image(request: HttpRequest, number: str) -> Any:
    return loading.save_image(job_by(number), worker(request))


@router.post("/jobs/{number}/loads", response=LoadOut)
@waits("writes in the background")
def start_load(
    request: HttpRequest, number: str, back: bool = False, resume: bool = False, firmware: bool = False
) -> Any:
    """Write the newest map; with `back`, what was saved before it; with `resume`, where the last was cut;
    with `firmware`, the firmware file at hand.
    """
    by = worker(request)
    return loaded.load_out(loading.start(job_by(number), by, back=back, resume=resume, firmware=firmware))


@router.post("/loads/{load_id}/stop", response=Done)
@asks
def stop_load(request: HttpRequest, load_id: int) -> Any:
    worker(request)
    loading.stop(load_id)
    return {"sentence": ""}


@router.get("/loads/{load_id}/events")
async def load_events(request: HttpRequest, load_id: int) -> StreamingHttpResponse:
    """Progress of a write, as server-sent events, until it ends."""

    async def events() -> AsyncIterator[str]:
        while True:
            row = await Load.objects.filter(pk=load_id).afirst()
            if row is None:
                return
            told = {name: getattr(row, name) for name in ("state", "phase", "done", "total", "sentence")}
            yield f"data: {json.dumps(told)}\n\n"
            if row.state != "writing":
                return
            await asyncio.sleep(0.2)

    return StreamingHttpResponse(events(), content_type="text/event-stream")


@router.post("/jobs/{number}/ignition", response=BoardOut)
@waits("reads over the link")
def ignition(request: HttpRequest, number: str, body: IgnitionIn) -> Any:
    return after_write.ignition(job_by(number), body.on, worker(request))


@router.post("/jobs/{number}/codes/clear", response=BoardOut)
@waits("reads over the link")
def clear_codes(request: HttpRequest, number: str) -> Any:
    return after_write.clear_codes(job_by(number), worker(request))
