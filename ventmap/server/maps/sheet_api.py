"""Every device's map: found, edited as a sheet, signed for, taken out and brought in."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import File, Router, Schema
from ninja.files import UploadedFile

from ventmap.core.basics import BadInput
from ventmap.core.forms import stated_octane, table_csv, to_hex, to_workbook

from ..jobs.rows import job_by
from ..schemas import CallOut
from ..shop.access import worker
from ..shop.acts import waits
from . import choosing, drafts, loaded, sheet, story
from .api import Candidate, VersionOut
from .drafts import part_of
from .parts import parts, versions_of
from .services import calibration_of, version_by

router = Router(tags=["map sheets"])
Value = float | bool | str | None


class MapPartOut(Schema):
    part: str
    device: str
    kind: str
    written: bool
    begins: bool
    """It may be begun from nothing here."""
    form: str
    title: str
    holds: str
    enters: str
    proof: str
    map: str
    version: str
    edits: int


class PartMaps(Schema):
    candidates: list[Candidate]
    versions: list[VersionOut]


class MapTakeIn(Schema):
    key: str
    ron: str | None = None
    """Octane by its maker, as it was typed, where the file does not state it."""


class MapTable(Schema):
    name: str
    title: str
    unit: str
    decimals: int
    x: list[float]
    y: list[float]
    x_text: str
    x_unit: str
    y_text: str
    y_unit: str
    values: list[list[float]]
    changed: list[list[bool]] | None
    depth: list[list[float]]


class MapScalar(Schema):
    name: str
    text: str
    unit: str
    value: float | None
    kept: float | None
    low: float
    high: float
    quantity: str
    needed: bool


class MapColumn(Schema):
    name: str
    text: str
    form: str
    unit: str
    low: float
    high: float
    needed: bool
    choices: list[str]


class MapList(Schema):
    name: str
    text: str
    key: str
    columns: list[MapColumn]
    rows: list[dict[str, Value]]
    kept: list[dict[str, Value]]


class VersionName(Schema):
    id: int
    version: str
    note: str


class SheetOut(Schema):
    part: str
    device: str
    name: str
    form: str
    title: str
    version: str
    revision: int
    edits: int
    told: str
    tables: list[MapTable]
    scalars: list[MapScalar]
    lists: list[MapList]
    typed: bool
    """Rows of its lists are typed here: the device is not written from here."""
    calls: list[CallOut]
    effects: list[str]
    undo: str | None
    redo: str | None
    changed: int
    closed_course: dict[str, str]
    unsigned: dict[str, str]
    versions: list[VersionName]


class SheetEditIn(Schema):
    revision: int
    target: str
    operation: str = "set"
    top: int = 0
    left: int = 0
    bottom: int = 0
    right: int = 0
    amount: str | None = None
    text: str | None = None
    name: str | None = None
    key: str | None = None
    value: Value = None
    row: dict[str, str] = {}
    """A row that is added to a list, by column as it was typed."""
    why: str = ""
    over_measured: bool = False
    """Smooth across cells that a log carries."""


class SheetKeepIn(Schema):
    note: str


class CellStoryOut(Schema):
    value: float | None
    why: str
    who: str
    at: datetime
    version: str
    round: int


class MapDifference(Schema):
    what: str
    unit: str
    cells: list[list[float]] | None


class HeightLineOut(Schema):
    value: float
    points: list[list[float]]


class HeightsOut(Schema):
    lines: list[HeightLineOut]


class LineageNode(Schema):
    id: int
    version: str
    round: int
    note: str
    by: str
    at: datetime
    parent: int | None
    row: int
    column: int
    loads: list[str]
    logs: list[str]
    runs: int


@router.get("/jobs/{number}/map-parts", response=list[MapPartOut])
def map_parts(request: HttpRequest, number: str) -> Any:
    """Each device of the kit that runs a map, its form and how far it is."""
    job = job_by(number)
    return sheet.parts_out(job, parts(job))


@router.get("/jobs/{number}/map-parts/{part}", response=PartMaps)
def part_maps(request: HttpRequest, number: str, part: str) -> Any:
    """Maps of the shelf, judged for a device, and the versions of its own."""
    job = job_by(number)
    found = part_of(job, part)
    return {
        "candidates": choosing.judged(job, found),
        "versions": [loaded.version_out(v) for v in versions_of(job, found.key)],
    }


def octane(typed: str | None) -> float | None:
    return None if typed is None else stated_octane(typed)


@router.post("/jobs/{number}/map-parts/{part}/maps", response=VersionOut)
def take_map(request: HttpRequest, number: str, part: str, body: MapTakeIn) -> Any:
    job = job_by(number)
    key = part_of(job, part).key
    return loaded.version_out(choosing.choose_map(job, body.key, worker(request), key, octane(body.ron)))


class SetTakeIn(Schema):
    key: str


@router.post("/jobs/{number}/map-sets", response=list[VersionOut])
def take_set(request: HttpRequest, number: str, body: SetTakeIn) -> Any:
    """Take every member of a map's set, each for the device that runs it; all of them, or none."""
    made = choosing.choose_set(job_by(number), body.key, worker(request))
    return [loaded.version_out(version) for version in made]


@router.post("/jobs/{number}/map-parts/{part}/files", response=VersionOut)
@waits("reads a file")
def bring_map(
    request: HttpRequest, number: str, part: str, file: File[UploadedFile], ron: str | None = None
) -> Any:
    """A map from a file: JSON, a workbook, or Intel HEX."""
    job = job_by(number)
    key = part_of(job, part).key
    return loaded.version_out(choosing.upload_map(job, file.read(), worker(request), key, octane(ron)))


@router.get("/jobs/{number}/sheets/{part}", response=SheetOut)
def map_sheet(request: HttpRequest, number: str, part: str) -> Any:
    job = job_by(number)
    return sheet.sheet_out(job, part_of(job, part))


@router.post("/jobs/{number}/sheets/{part}/edits", response=SheetOut)
def edit_sheet(request: HttpRequest, number: str, part: str, body: SheetEditIn) -> Any:
    """One edit: a range of cells, a figure, or a place of a list."""
    job, by = job_by(number), worker(request)
    found = part_of(job, part)
    told = drafts.edit(job, found, body.dict(), by)
    return sheet.sheet_out(job, found, told)


@router.post("/jobs/{number}/sheets/{part}/undo", response=SheetOut)
def undo_sheet(request: HttpRequest, number: str, part: str) -> Any:
    job, by = job_by(number), worker(request)
    found = part_of(job, part)
    return sheet.sheet_out(job, found, drafts.step(job, found, by, back=True))


@router.post("/jobs/{number}/sheets/{part}/redo", response=SheetOut)
def redo_sheet(request: HttpRequest, number: str, part: str) -> Any:
    job, by = job_by(number), worker(request)
    found = part_of(job, part)
    return sheet.sheet_out(job, found, drafts.step(job, found, by, back=False))


@router.post("/jobs/{number}/sheets/{part}/kept", response=VersionOut)
def keep_sheet(request: HttpRequest, number: str, part: str, body: SheetKeepIn) -> Any:
    """Keep the sheet as the next version, with its reason."""
    job, by = job_by(number), worker(request)
    return loaded.version_out(drafts.keep_draft(job, part_of(job, part), body.note, by))


@router.get("/jobs/{number}/sheets/{part}/story", response=list[CellStoryOut])
def cell_story(
    request: HttpRequest, number: str, part: str, target: str, row: int = 0, column: int = 0, name: str = ""
) -> Any:
    """A cell's or a figure's story: value, why, who, round by round."""
    job = job_by(number)
    where = [name] if target == "scalars" else [max(0, row), max(0, column)]
    return story.history(job, part_of(job, part), target, where)


@router.get("/jobs/{number}/sheets/{part}/difference", response=MapDifference)
def table_difference(request: HttpRequest, number: str, part: str, table: str, version: int) -> Any:
    job = job_by(number)
    return sheet.difference_out(job, part_of(job, part), table, version)


@router.get("/jobs/{number}/sheets/{part}/heights", response=HeightsOut)
def table_heights(request: HttpRequest, number: str, part: str, table: str) -> Any:
    job = job_by(number)
    return sheet.heights_out(job, part_of(job, part), table)


@router.get("/jobs/{number}/sheets/{part}/lineage", response=list[LineageNode])
def map_lineage(request: HttpRequest, number: str, part: str) -> Any:
    """Every version with its parent, and the loads, logs and runs that hang on it."""
    job = job_by(number)
    return sheet.lineage_out(job, part_of(job, part))


def _file(data: bytes | str, name: str, kind: str) -> HttpResponse:
    response = HttpResponse(data, content_type=kind)
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


@router.get("/jobs/{number}/maps/{version_id}/table")
def table_file(request: HttpRequest, number: str, version_id: int, name: str) -> HttpResponse:
    """One table as CSV."""
    version = version_by(job_by(number), version_id)
    calibration = calibration_of(version)
    if name not in calibration.tables:
        raise BadInput(f"This map has no table “{name}”.", "name")
    return _file(table_csv(calibration, name), f"{number}-{version.version}-{name}.csv", "text/csv")


@router.get("/jobs/{number}/maps/{version_id}/workbook")
def map_workbook(request: HttpRequest, number: str, version_id: int) -> HttpResponse:
    """The whole map as a workbook."""
    version = version_by(job_by(number), version_id)
    kind = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
    return _file(to_workbook(calibration_of(version)), f"{number}-{version.version}.xlsx", kind)


@router.get("/jobs/{number}/maps/{version_id}/hex")
def map_hex(request: HttpRequest, number: str, version_id: int) -> HttpResponse:
    """The image as Intel HEX."""
    version = version_by(job_by(number), version_id)
    return _file(to_hex(calibration_of(version)), f"{number}-{version.version}.hex", "text/plain")
