"""Tables of another program, and signed statements."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema

from ..jobs.rows import job_by
from ..schemas import Done
from ..shop.access import worker
from ..shop.acts import asks
from . import borrowed, sheet, statements
from .drafts import part_of
from .sheet_api import SheetOut

router = Router(tags=["map sheets"])


class BlankColumn(Schema):
    key: str
    text: str
    form: str
    unit: str
    choices: list[str]
    needed: bool


class BorrowedKind(Schema):
    name: str
    asks: list[BlankColumn]
    """What is said of it by whoever brings it: nobody else knows."""
    text: str
    unit: str
    x_text: str
    x_unit: str
    y_text: str
    y_unit: str


class PastedIn(Schema):
    text: str
    kind: str
    turned: bool | None = None
    factors: dict[str, str] = {}
    name: str = ""
    about: dict[str, str] = {}
    """Of a table that no form knows: what it holds, unit, axes, bounds, as they were typed."""


class PastedOut(Schema):
    turned: bool
    x: list[float]
    y: list[float]
    values: list[list[float]]
    decimal: str
    between: str
    digits: int


class TableTextOut(Schema):
    text: str


class TypeLine(Schema):
    where: str
    old: str
    new: str


@router.get("/borrowed-tables", response=list[BorrowedKind])
def borrowed_kinds(request: HttpRequest) -> Any:
    """What a table of another program may be."""
    return borrowed.kinds_out()


@router.post("/jobs/{number}/borrowed/{part}/read", response=PastedOut)
@asks
def read_pasted(request: HttpRequest, number: str, part: str, body: PastedIn) -> Any:
    """What a pasted text is read as; nothing is kept."""
    worker(request)
    part_of(job_by(number), part)
    return borrowed.read(body.text, body.kind, body.turned, body.factors, {**body.about, "name": body.name})


@router.post("/jobs/{number}/borrowed/{part}", response=SheetOut)
def bring_pasted(request: HttpRequest, number: str, part: str, body: PastedIn) -> Any:
    """Take a pasted table into this device's map."""
    job, by = job_by(number), worker(request)
    found = part_of(job, part)
    borrowed.bring(job, found, body.dict(), by)
    return sheet.sheet_out(job, found)


@router.get("/jobs/{number}/borrowed/{part}/text", response=TableTextOut)
def borrowed_text(request: HttpRequest, number: str, part: str, table: str) -> Any:
    """The table as it is now, in the shape it came in."""
    job = job_by(number)
    return borrowed.text_out(job, part_of(job, part), table)


@router.get("/jobs/{number}/borrowed/{part}/card", response=list[TypeLine])
def borrowed_card(request: HttpRequest, number: str, part: str, table: str) -> Any:
    """Cell by cell what to type where copying is impossible."""
    job = job_by(number)
    return borrowed.card_out(job, part_of(job, part), table)


class StatementIn(Schema):
    setting: str
    name: str
    drawn: str = ""


class StatementOut(Schema):
    setting: str
    what: str
    name: str
    drawn: str
    at: datetime
    by: str


class StatementsOut(Schema):
    text: str
    signed: list[StatementOut]


@router.get("/jobs/{number}/statements", response=StatementsOut)
def job_statements(request: HttpRequest, number: str) -> Any:
    return {"text": statements.statement_text(), "signed": statements.statements_out(job_by(number))}


@router.post("/jobs/{number}/statements/{part}", response=Done)
def sign_statement(request: HttpRequest, number: str, part: str, body: StatementIn) -> Any:
    job, by = job_by(number), worker(request)
    made = statements.sign(job, part_of(job, part), body.setting, body.name, body.drawn, by)
    return {"sentence": f"Signed by {made.name}."}
