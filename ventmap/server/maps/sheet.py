"""A map's sheet as screens show it: tables, figures, lists, checks and what a change does."""

from __future__ import annotations

from typing import Any

import numpy as np

from ventmap.core.forms import (
    OWN_LIST,
    Calibration,
    Form,
    count_changes,
    effects,
    height_lines,
    moved,
)

from ..jobs.models import Job
from ..schemas import call_out
from ..shop.access import full_name
from .drafts import as_it_is, draft_of
from .judged import calls_of, closed_course, unsigned
from .models import MapDraft, MapVersion
from .parts import MapPart, begins, versions_of
from .services import calibration_of, version_by


def sheet_out(job: Job, part: MapPart, told: str = "") -> dict[str, Any]:
    """The whole sheet of a device's map as it is being edited."""
    draft = draft_of(job, part)
    kept, now = calibration_of(draft.base), as_it_is(draft)
    form = now.kind
    undo = draft.edits.filter(number=draft.at).select_related("by").first()
    redo = draft.edits.filter(number=draft.at + 1).select_related("by").first()
    return {
        "part": part.key or "main",
        "device": part.item.name,
        "name": now.name,
        "form": form.key,
        "title": form.title,
        "version": draft.base.version,
        "revision": draft.revision,
        "edits": draft.at,
        "told": told,
        "tables": [_table(now, kept, name) for name in _ordered(form, now)],
        "scalars": _scalars(form, now, kept),
        "lists": _lists(form, now, kept, typed=not part.written),
        "typed": not part.written,
        "calls": [call_out(call) for call in calls_of(job, part, now)],
        "effects": [effect.sentence for effect in effects(kept, now)],
        "undo": f"{undo.operation}, {full_name(undo.by)}" if undo else None,
        "redo": f"{redo.operation}, {full_name(redo.by)}" if redo else None,
        "changed": count_changes(kept, now),
        "closed_course": closed_course(now),
        "unsigned": unsigned(job, part, now),
        "versions": [{"id": v.pk, "version": v.version, "note": v.note} for v in versions_of(job, part.key)],
    }


def _ordered(form: Form, now: Calibration) -> list[str]:
    """Tables in the order in which the form tells them, then by their row of a list."""
    places = {name: place for place, name in enumerate(form.tables)}
    return sorted(now.tables, key=lambda name: (places.get(name.partition(".")[0], 99), name))


def _table(now: Calibration, kept: Calibration, name: str) -> dict[str, Any]:
    table, kind, was = now.tables[name], now.table_kind(name), kept.tables.get(name)
    same = was is not None and was.values.shape == table.values.shape
    values = table.values
    low, high = float(values.min()), float(values.max())
    return {
        "name": name,
        "title": now.title_of(name),
        "unit": kind.unit if kind else "",
        "decimals": kind.decimals if kind else 3,
        "x": table.x.tolist(),
        "y": table.y.tolist(),
        "x_text": kind.columns.text if kind else "",
        "x_unit": kind.columns.unit if kind else "",
        "y_text": kind.rows.text if kind and kind.rows else "",
        "y_unit": kind.rows.unit if kind and kind.rows else "",
        "values": values.tolist(),
        "changed": (values != was.values).tolist() if same and was is not None else None,
        # How deep the ink is, 0 to 1.
        "depth": np.round((values - low) / (high - low if high > low else 1.0), 3).tolist(),
    }


def _scalars(form: Form, now: Calibration, kept: Calibration) -> list[dict[str, Any]]:
    return [
        {
            "name": name,
            "text": kind.text,
            "unit": kind.unit,
            "value": now.scalars.get(name),
            "kept": kept.scalars.get(name),
            "low": kind.low,
            "high": kind.high,
            "quantity": kind.quantity,
            "needed": kind.needed,
        }
        for name, kind in form.scalars.items()
    ]


def _lists(form: Form, now: Calibration, kept: Calibration, *, typed: bool) -> list[dict[str, Any]]:
    """The lists that there are; where rows are typed here, those too that have none yet."""
    return [
        {
            "name": name,
            "text": kind.text,
            "key": kind.key,
            "columns": [{"name": key, **vars(column)} for key, column in kind.columns.items()],
            "rows": [dict(row) for row in now.lists.get(name, ())],
            "kept": [dict(row) for row in kept.lists.get(name, ())],
        }
        for name, kind in form.lists.items()
        if name not in ("shapes", OWN_LIST) and (typed or now.lists.get(name) or kind.needed)
    ]


def difference_out(job: Job, part: MapPart, table: str, version_id: int) -> dict[str, Any]:
    """A table against any other version, cell by cell: what it moves, and by how much."""
    draft = draft_of(job, part)
    now, other = as_it_is(draft), calibration_of(version_by(job, version_id))
    mine, theirs = now.tables.get(table), other.tables.get(table)
    if mine is None or theirs is None or mine.values.shape != theirs.values.shape:
        return {"what": "", "unit": "", "cells": None}
    what, unit, by = moved(table, theirs.values, mine.values)
    return {"what": what, "unit": unit, "cells": np.round(by, 3).tolist()}


def heights_out(job: Job, part: MapPart, table: str) -> dict[str, Any]:
    """A table's surface by its height lines."""
    found = as_it_is(draft_of(job, part)).tables.get(table)
    lines = height_lines(found) if found is not None else []
    return {"lines": [{"value": line.value, "points": [list(p) for p in line.points]} for line in lines]}


def parts_out(job: Job, found: list[MapPart]) -> list[dict[str, Any]]:
    """Each device that runs a map, and how far its map is."""
    out = []
    for part in found:
        versions = versions_of(job, part.key)
        last = calibration_of(versions[-1]) if versions else None
        out.append(
            {
                "part": part.key or "main",
                "device": part.item.name,
                "kind": part.device.kind,
                "written": part.written,
                "begins": begins(job, part),
                "form": last.form if last else part.form.key,
                "title": part.form.title,
                "holds": part.form.holds,
                "enters": part.form.enters,
                "proof": part.form.proof,
                "map": last.name if last else "",
                "version": versions[-1].version if versions else "",
                "edits": MapDraft.objects.filter(job=job, part=part.key).values_list("at", flat=True).first()
                or 0,
            }
        )
    return out


def lineage_out(job: Job, part: MapPart) -> list[dict[str, Any]]:
    """Every version with its parent, and the loads, logs and runs that hang on it; its place in the tree."""
    versions = MapVersion.objects.filter(job=job, part=part.key).select_related("by")
    column: dict[int, int] = {}
    used = 0
    children: dict[int, int] = {}
    found = []
    for row, version in enumerate(versions):
        parent = version.parent_id
        if parent is None or parent not in column or children.get(parent):
            column[version.pk] = used
            used += 1
        else:
            column[version.pk] = column[parent]
        if parent is not None:
            children[parent] = children.get(parent, 0) + 1
        found.append(
            {
                "id": version.pk,
                "version": version.version,
                "round": version.round,
                "note": version.note,
                "by": full_name(version.by),
                "at": version.made_at,
                "parent": parent,
                "row": row,
                "column": column[version.pk],
                "loads": [f"{load.state} {load.started_at:%d %b %H:%M}" for load in version.loads.all()],
                "logs": [log.name for log in version.logs.all()],  # type: ignore[attr-defined]
                "runs": version.runs.count(),  # type: ignore[attr-defined]
            }
        )
    return found
