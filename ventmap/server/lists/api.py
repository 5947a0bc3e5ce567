"""Lists: what a shop has in files, brought with a dry run and given out again."""

from __future__ import annotations

import json
from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema

from ventmap.core.basics import QUANTITIES, BadInput, Verdict
from ventmap.core.lists import LISTS, Mapped, Outcome, list_by, write_csv, write_workbook

from ..shop.access import worker
from ..shop.acts import waits
from . import services
from .models import OwnedVehicle

router = Router(tags=["lists"])
SAMPLES = 3


class ListFieldOut(Schema):
    name: str
    label: str
    needed: bool
    units: list[str]


class ListKindOut(Schema):
    key: str
    title: str
    fields: list[ListFieldOut]


class ListColumnOut(Schema):
    heading: str
    field: str
    unit: str
    samples: list[str]


class ListReadOut(Schema):
    """Columns of a file: to which field each goes, and whether that was said before."""

    rows: int
    remembered: bool
    columns: list[ListColumnOut]


class ListChangeOut(Schema):
    line: int
    outcome: Outcome
    verdict: Verdict
    name: str
    told: str


class ListDryOut(Schema):
    made: int
    changed: int
    same: int
    refused: int
    lines: list[ListChangeOut]


class OwnedOut(Schema):
    id: int
    registration: str
    vin: str
    model: str
    owner: str
    odometer_km: float | None = None
    shelf_key: str


def _units(quantity: str) -> list[str]:
    return list(QUANTITIES[quantity][1]) if quantity in QUANTITIES else []


@router.get("/lists", response=list[ListKindOut])
def lists(request: HttpRequest) -> Any:
    return [
        {
            "key": kind.key,
            "title": kind.title,
            "fields": [
                {"name": f.name, "label": f.label, "needed": f.needed, "units": _units(f.quantity)}
                for f in kind.fields
            ],
        }
        for kind in LISTS
    ]


@router.get("/owned-vehicles", response=list[OwnedOut])
def owned(request: HttpRequest) -> Any:
    """Customers' vehicles, for opening a job on one."""
    return OwnedVehicle.objects.all()


@router.put("/lists/{key}/columns", response=ListReadOut)
@waits("reads a file")
def columns(request: HttpRequest, key: str, name: str = "list") -> Any:
    """A file sent as it is: its columns, and where each goes."""
    worker(request)
    sheet, mapped, remembered = services.columns_of(key, request.body, name)
    return {
        "rows": sum(any(row) for row in sheet.rows),
        "remembered": remembered,
        "columns": [
            {
                "heading": heading,
                "field": mapped[heading].field,
                "unit": mapped[heading].unit,
                "samples": [row[at] for row in sheet.rows if row[at]][:SAMPLES],
            }
            for at, heading in enumerate(sheet.headings)
        ],
    }


def _mapped(text: str) -> dict[str, Mapped]:
    """Columns as the query gives them: heading → [field, unit].

    Raises
    ------
    BadInput
        Where it is no such thing.
    """
    try:
        given = json.loads(text)
        return {str(heading): Mapped(str(field), str(unit)) for heading, (field, unit) in given.items()}
    except (ValueError, TypeError, AttributeError) as error:
        raise BadInput("Say for each column to which field it goes, and its unit.", "columns") from error


def _dry_out(changes: list[Any]) -> dict[str, Any]:
    return {
        **{word: sum(change.outcome is word for change in changes) for word in Outcome},
        "lines": [
            {
                "line": c.line,
                "outcome": c.outcome,
                "verdict": c.outcome.verdict,
                "name": c.name,
                "told": c.told,
            }
            for c in changes
            if c.outcome is not Outcome.same
        ],
    }


@router.put("/lists/{key}/dry-run", response=ListDryOut)
@waits("reads a file")
def dry(request: HttpRequest, key: str, columns: str, name: str = "list") -> Any:
    """What a file would make, change and be refused; nothing of it is kept."""
    worker(request)
    return _dry_out(services.tried(key, request.body, name, _mapped(columns)))


@router.put("/lists/{key}/rows", response=ListDryOut)
@waits("reads a file")
def bring(request: HttpRequest, key: str, columns: str, name: str = "list") -> Any:
    """Keep what the dry run said; what is refused stays out."""
    worker(request)
    return _dry_out(services.bring(key, request.body, name, _mapped(columns)))


@router.get("/lists/{key}/file")
def take(request: HttpRequest, key: str, form: str = "csv") -> HttpResponse:
    """A list as it stands, as CSV or workbook, with the headings that bring it in again."""
    kind = list_by(key)
    headings, rows = services.out(key)
    if form == "xlsx":
        data, mime = (
            write_workbook(headings, rows),
            "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
        )
    elif form == "csv":
        data, mime = write_csv(headings, rows), "text/csv; charset=utf-8"
    else:
        raise BadInput("A list is taken as csv or xlsx.", "form")
    answer = HttpResponse(data, content_type=mime)
    answer["Content-Disposition"] = f'attachment; filename="{kind.key}.{form}"'
    return answer
