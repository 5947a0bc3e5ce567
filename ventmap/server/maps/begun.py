"""A device's own map, begun from nothing: what it holds is typed, pasted or taken over from another
device.
"""

from __future__ import annotations

import json
from typing import Any

from django.contrib.auth.models import User

from ventmap.core.basics import BadInput, how_many, one_figure, parse
from ventmap.core.forms import (
    NEUTRAL,
    OWN_KEY,
    ROWS_OF,
    AxesTyped,
    Identity,
    ListKind,
    MapConditions,
    as_begun,
    begin,
)

from ..jobs import ledger
from ..jobs.acting import changes_job
from ..jobs.models import Job
from ..jobs.rows import NotFound, vehicle_of
from ..shelf.models import ShelfItem
from .borrowed import BORROWED, PASTED_LISTS, about_table
from .drafts import part_of
from .judged import settle
from .models import MapVersion
from .parts import MapPart, as_begun_here, begins, versions_of, written_for
from .services import keep, read_map


def open_part(job: Job, key: str) -> MapPart:
    """A device whose map may be begun here.

    Raises
    ------
    BadInput
        Where it is written from here, or has a map already.
    """
    part = part_of(job, key)
    if versions_of(job, part.key):
        raise BadInput(f"{part.item.name} has a map here already: edit its sheet.", "part")
    if not begins(job, part):
        raise BadInput("Its map is chosen, or brought as a file: it is written from here.", "part")
    return as_begun_here(part)


def blank_out(part: MapPart, copy: str) -> dict[str, Any]:
    """What a map of this device holds, to be filled in."""
    form, (lists, tables) = part.form, _taken_over(part, copy)
    alike = [
        {"key": item.key, "name": item.name}
        for item in ShelfItem.objects.filter(kind="map", body__form=form.key).order_by("name")
    ]
    return {
        "form": form.key,
        "title": form.title,
        "holds": form.holds,
        "lists": [
            {
                "name": name,
                "text": kind.text,
                "columns": [
                    {**vars(column), "key": key, "choices": list(column.choices)}
                    for key, column in kind.columns.items()
                    if key != OWN_KEY
                ],
                "rows": lists.get(name, []),
            }
            for name, kind in form.lists.items()
            if name not in PASTED_LISTS
        ],
        "tables": [
            {
                **about_table(name, kind),
                "y_typed": kind.rows is not None and name not in ROWS_OF,
                "whole": name not in NEUTRAL,
                "needed": kind.needed,
                "x": tables[name].x if name in tables else "",
                "y": tables[name].y if name in tables else "",
            }
            for name, kind in form.tables.items()
            if form.key != BORROWED.key  # pasted one by one, each said what it is
        ],
        "scalars": [{**vars(kind), "name": name} for name, kind in form.scalars.items()],
        "alike": alike,
    }


def _taken_over(part: MapPart, copy: str) -> tuple[dict[str, list[dict[str, str]]], dict[str, AxesTyped]]:
    if not copy:
        return {}, {}
    item = ShelfItem.objects.filter(kind="map", key=copy, body__form=part.form.key).first()
    if item is None:
        raise NotFound(f"The shelf has no {part.form.title} of that name.", "copy")
    return as_begun(read_map(json.dumps(item.body)))


@changes_job
def begin_map(
    job: Job,
    part: MapPart,
    lists: dict[str, list[dict[str, str]]],
    tables: dict[str, AxesTyped],
    scalars: dict[str, str],
    by: User,
) -> MapVersion:
    """Keep what was typed as the first version of a device's map, and judge it.

    Raises
    ------
    BadInput
        Naming the field; nothing is kept then.
    """
    vehicle = vehicle_of(job)
    made = begin(
        part.form,
        name=f"{part.item.name}, as on this vehicle",
        identity=Identity(vehicle.engine, written_for(part, vehicle), "", vin=job.vin),
        author=by.username,
        lists=lists,
        tables=tables,
        scalars={name: _scalar(part, name, text) for name, text in scalars.items() if text.strip()},
        conditions=MapConditions(induction=vehicle.induction, ron=job.ron, ethanol=job.ethanol),
    )
    version = keep(job, made, by, None, made.lineage.note, part.key)
    rows = sum(map(len, made.lists.values()))
    size = f"{how_many(rows, 'row')}, {how_many(len(made.tables), 'table')}"
    ledger.write(
        job,
        "base-map",
        "map",
        f"Begun from nothing: {part.item.name}"[:160],
        by,
        f"{part.form.title}, {size}, {version.version}",
    )
    settle(job, part, by)
    return version


def _scalar(part: MapPart, name: str, text: str) -> float:
    kind = part.form.scalars.get(name)
    if kind is None:
        raise BadInput(f"A {part.form.title} has no “{name[:30]}”.", f"scalars.{name}")
    try:
        value = parse(text, kind.quantity, kind.unit) if kind.quantity else one_figure(text)
    except BadInput as error:
        raise BadInput(f"{kind.text.capitalize()}: {error.sentence}", f"scalars.{name}") from error
    if value is None:
        raise BadInput(f"{kind.text.capitalize()}: “{text[:20]}” is no figure.", f"scalars.{name}")
    return value


def list_of(part: MapPart, name: str) -> ListKind:
    kind = part.form.lists.get(name)
    if kind is None:
        raise NotFound(f"A {part.form.title} has no list “{name[:30]}”.", "list")
    return kind
