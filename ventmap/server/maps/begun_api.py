"""Routes over a map that is begun from nothing."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema

from ventmap.core.basics import BadInput
from ventmap.core.forms import AxesTyped, rows_of_text

from ..jobs.rows import job_by
from ..shop.access import worker
from ..shop.acts import asks
from . import begun, loaded
from .api import VersionOut
from .borrowed_api import BlankColumn, BorrowedKind

router = Router(tags=["begun maps"])
#: Longest text of a list, or of a table, that is read [letters].
MOST_TEXT = 200_000


class BlankList(Schema):
    name: str
    text: str
    columns: list[BlankColumn]
    rows: list[dict[str, str]]
    """As they begin: none, or those of the device that was taken over."""


class BlankTable(BorrowedKind):
    y_typed: bool
    """Its rows are typed; else they follow from a list, or there is one."""
    whole: bool
    """It is pasted whole: nobody can guess it."""
    needed: bool
    x: str
    y: str


class BlankScalar(Schema):
    name: str
    text: str
    unit: str
    low: float
    high: float


class AlikeOut(Schema):
    key: str
    name: str


class BlankOut(Schema):
    form: str
    title: str
    holds: str
    lists: list[BlankList]
    tables: list[BlankTable]
    scalars: list[BlankScalar]
    alike: list[AlikeOut]
    """Maps of this form that stand on the shelf: their list and axes may be taken over, their wishes not."""


class ListText(Schema):
    list: str
    text: str


class RowsOut(Schema):
    rows: list[dict[str, str]]


class AxesIn(Schema):
    x: str = ""
    y: str = ""
    whole: str = ""


class BegunIn(Schema):
    lists: dict[str, list[dict[str, str]]] = {}
    tables: dict[str, AxesIn] = {}
    scalars: dict[str, str] = {}


@router.get("/jobs/{number}/map-parts/{part}/blank", response=BlankOut)
def blank(request: HttpRequest, number: str, part: str, like: str = "") -> Any:
    """What a map of this device holds, to be filled in; `like` names a map whose list is taken over."""
    return begun.blank_out(begun.open_part(job_by(number), part), like)


@router.post("/jobs/{number}/map-parts/{part}/blank/read", response=RowsOut)
@asks
def read_rows(request: HttpRequest, number: str, part: str, body: ListText) -> Any:
    """What a pasted list is read as; nothing is kept."""
    worker(request)
    found = begun.open_part(job_by(number), part)
    if len(body.text) > MOST_TEXT:
        raise BadInput("This is more text than any list of the trade has.", "text")
    return {"rows": rows_of_text(begun.list_of(found, body.list), body.text)}


@router.post("/jobs/{number}/map-parts/{part}/begun", response=VersionOut)
def begin(request: HttpRequest, number: str, part: str, body: BegunIn) -> Any:
    """Begin this device's map with what was typed."""
    job, by = job_by(number), worker(request)
    found = begun.open_part(job, part)
    tables = {name: AxesTyped(**axes.dict()) for name, axes in body.tables.items()}
    return loaded.version_out(begun.begin_map(job, found, body.lists, tables, body.scalars, by))
