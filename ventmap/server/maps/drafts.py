"""A map's sheet: edits entered, undone, redone, merged between two people, kept as a version."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import replace
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction

from ventmap.core.basics import BadInput, how_many, one_figure, parse
from ventmap.core.forms import (
    Calibration,
    Edit,
    Lineage,
    ListKind,
    Region,
    applied,
    edited,
    out_of_range,
    placeable,
    read_cells,
    table_cells,
    typed_row,
)

from ..jobs import ledger
from ..jobs.acting import changes_job
from ..jobs.models import Job
from ..shop.access import full_name
from .judged import another_map, settle
from .models import DraftEdit, MapDraft, MapVersion
from .parts import MapPart, part_by
from .services import calibration_of, keep, newest, next_number
from .signals import measured

#: Of a reason.
LONGEST_WHY = 200


def part_of(job: Job, key: str) -> MapPart:
    """The part by the word in an address; ``main`` is the computer that is written from here."""
    return part_by(job, "" if key == "main" else key)


def draft_of(job: Job, part: MapPart) -> MapDraft:
    """The draft of a device's map, on its newest version: what was edited on an older one goes on top."""
    base = newest(job, part.key)
    draft, _ = MapDraft.objects.get_or_create(job=job, part=part.key, defaults={"base": base})
    if draft.base_id != base.pk:
        draft.base = base
        _without_homeless(draft)
        draft.revision += 1
        draft.save()
    return draft


def _without_homeless(draft: MapDraft) -> None:
    """Edits for which the new base has no place fall, and the ledger says so; the others go on top of it."""
    state, stays = calibration_of(draft.base), 0
    homeless = []
    for edit in draft.edits.order_by("number").select_related("by"):
        counts, made = edit.number <= draft.at, Edit(edit.target, edit.cells)
        if counts and placeable(state, made):
            state, stays = applied(state, [made]), stays + 1
            DraftEdit.objects.filter(pk=edit.pk).update(number=stays)
            continue
        if counts:
            homeless.append(edit)
        edit.delete()
    draft.at = stays
    if homeless:
        told = ", ".join(sorted({state.title_of(edit.target) for edit in homeless}))
        ledger.write(
            draft.job,
            "base-map",
            "note",
            f"{how_many(len(homeless), 'edit')} had no place in {draft.base.version}",
            homeless[-1].by,
            f"What was edited and not kept falls: {told}.",
        )


def edits_of(draft: MapDraft) -> list[DraftEdit]:
    """Those that count now."""
    return list(draft.edits.filter(number__lte=draft.at).select_related("by"))


#: Newest states of drafts, by their stamp.
_STATES: OrderedDict[str, Calibration] = OrderedDict()
MOST_STATES = 64


def as_it_is(draft: MapDraft) -> Calibration:
    """The map with the edits that count; made once for a state."""
    kept = _STATES.get(draft.stamp) if draft.stamp else None
    if kept is None:
        edits = [Edit(e.target, e.cells) for e in edits_of(draft)]
        kept = _remember(draft.stamp, applied(calibration_of(draft.base), edits))
    return kept


def _remember(stamp: str, state: Calibration) -> Calibration:
    if stamp:
        _STATES[stamp] = state
    while len(_STATES) > MOST_STATES:
        _STATES.popitem(last=False)
    return state


@changes_job
def edit(job: Job, part: MapPart, body: dict[str, Any], by: User) -> str:
    """One edit of the sheet; what somebody else changed since it was looked at stays theirs, and is told.

    Returns
    -------
    str
        What is told of the other person; empty where nobody was there.
    """
    draft = draft_of(job, part)
    now = as_it_is(draft)
    mask = _measured(job, part, now, body)
    cells = _cells(now, body, mask)
    spared = "" if mask is None or not mask.any() else SPARED
    if not cells:
        return spared
    cells, said = _merged(draft, str(body["target"]), cells, int(body["revision"]), by)
    if not cells:
        return said
    target = str(body["target"])
    after = applied(now, [Edit(target, cells)])
    wrong = [one for one in out_of_range(after) if one not in out_of_range(now)]
    if wrong:
        raise BadInput(f"{wrong[0].sentence[:1].upper()}{wrong[0].sentence[1:]}", wrong[0].item)
    put(draft, target, str(body["operation"]), cells, str(body.get("why") or ""), by)
    stamp = draft.stamp
    transaction.on_commit(lambda: _remember(stamp, after) and None)
    return said or spared


def put(draft: MapDraft, target: str, operation: str, cells: list[list[Any]], why: str, by: User) -> None:
    """Enter an edit; what was undone before it is gone."""
    draft.edits.filter(number__gt=draft.at).delete()
    draft.at += 1
    draft.revision += 1
    draft.save()
    DraftEdit.objects.create(
        draft=draft,
        number=draft.at,
        revision=draft.revision,
        target=target,
        operation=operation,
        cells=cells,
        why=why[:LONGEST_WHY],
        by=by,
    )


#: Told where smoothing left cells alone.
SPARED = "Cells that the log carries stay as they are; tick “measured too” to smooth across them."


def _measured(job: Job, part: MapPart, now: Calibration, body: dict[str, Any]) -> Any:
    """Cells that are not smoothed across, unless it is meant."""
    if body.get("operation") != "smooth" or body.get("over_measured"):
        return None
    asked = {"job": job, "part": part, "calibration": now, "table": str(body["target"])}
    return next((mask for _, mask in measured.send(MapDraft, **asked) if mask is not None), None)


def _cells(now: Calibration, body: dict[str, Any], mask: Any = None) -> list[list[Any]]:
    """What the edit does, place by place; `mask` marks cells that smoothing spares."""
    target = str(body["target"])
    if target == "scalars":
        return _scalar(now, str(body.get("name") or ""), body.get("amount"))
    if target.startswith("list:"):
        return _listed(now, target.removeprefix("list:"), body)
    table, kind = now.tables.get(target), now.table_kind(target)
    if table is None or kind is None:
        raise BadInput(f"This map has no table “{target}”.", "target")
    operation, text = str(body["operation"]), body.get("amount")
    amount = None
    if text is not None and str(text).strip():
        amount = one_figure(str(text))
        if amount is None:
            raise BadInput(f"“{str(text)[:30]}” is no figure. Type a number, such as 84.5.", "amount")
    block = read_cells(str(body.get("text") or "")) if operation == "paste" else None
    region = Region(*(int(body.get(side) or 0) for side in ("top", "left", "bottom", "right")))
    made = edited(table, region, operation, kind, amount=amount, block=block, measured=mask)
    return table_cells(table, made)


def _scalar(now: Calibration, name: str, text: Any) -> list[list[Any]]:
    kind = now.kind.scalars.get(name)
    if kind is None:
        raise BadInput(f"A {now.kind.title} has no figure “{name}”.", "name")
    typed = str(text or "").strip()
    if not typed:
        if kind.needed:
            raise BadInput(f"{kind.text}: every {now.kind.title} has it. Type a figure.", name)
        return [[name, now.scalars.get(name), None]] if name in now.scalars else []
    value = parse(typed, kind.quantity) if kind.quantity else one_figure(typed)
    if value is None:
        raise BadInput(f"{kind.text}: “{typed[:30]}” is no figure.", name)
    return [[name, now.scalars.get(name), value]] if now.scalars.get(name) != value else []


def _rows_of(now: Calibration, name: str, kind: ListKind, body: dict[str, Any]) -> list[list[Any]]:
    """A row more, or one less, of a list that somebody types."""
    have = {str(row.get(kind.key)): dict(row) for row in now.lists.get(name, ())}
    if body["operation"] == "take off":
        key = str(body.get("key") or "")
        if key not in have:
            raise BadInput(f"{kind.text}: there is no row “{key}”.", "key")
        return [[key, "", have[key], None]]
    row = dict(typed_row(name, kind, body.get("row") or {}))
    key = str(row.get(kind.key))
    if key in have:
        raise BadInput(f"{kind.text}: {key} stands there already.", "row")
    return [[key, "", None, row]]


def _listed(now: Calibration, name: str, body: dict[str, Any]) -> list[list[Any]]:
    kind = now.kind.lists.get(name)
    if kind is None:
        raise BadInput(f"A {now.kind.title} has no list “{name}”.", "target")
    if body.get("operation") in ("add", "take off"):
        return _rows_of(now, name, kind, body)
    key, part, value = str(body.get("key") or ""), str(body.get("name") or ""), body.get("value")
    row = next((row for row in now.lists.get(name, ()) if str(row.get(kind.key)) == key), None)
    if row is None:
        raise BadInput(f"{kind.text}: there is no row “{key}”.", "key")
    column = kind.columns.get(part)
    if column is None or part == kind.key:
        raise BadInput(f"{kind.text}: “{part}” is no column that is edited.", "name")
    new: Any = value
    if column.form in ("number", "whole"):
        new = one_figure(str(value if value is not None else ""))
        if new is None and (column.needed or str(value or "").strip()):
            raise BadInput(f"{column.text}: “{str(value)[:30]}” is no figure.", part)
    elif column.form == "yes":
        new = bool(value)
    else:
        new = str(value or "").strip()[:200] or None
    return [[key, part, row.get(part), new]] if row.get(part) != new else []


def _merged(
    draft: MapDraft, target: str, cells: list[list[Any]], seen: int, by: User
) -> tuple[list[list[Any]], str]:
    """The cells that nobody else touched since `seen`, and what to tell."""
    others = [
        e
        for e in draft.edits.filter(revision__gt=seen, number__lte=draft.at).select_related("by")
        if e.by_id != by.pk
    ]
    if not others:
        return cells, ""
    who = full_name(others[-1].by)
    theirs = set().union(*(Edit(e.target, e.cells).places for e in others))
    free = [cell for cell in cells if not Edit(target, [cell]).places & theirs]
    kept = len(cells) - len(free)
    count = sum(len(e.cells) for e in others)
    if not kept:
        return cells, f"{who} changed {count} {'place' if count == 1 else 'places'} meanwhile; both are in."
    return free, (
        f"{who} changed {kept} of these {len(cells)} places since you looked: those stay as {who} set them."
        " Look, then change them again if you mean it."
    )


@changes_job
def step(job: Job, part: MapPart, by: User, back: bool) -> str:
    """Undo the last edit that counts, or redo the next one; whose it was is told."""
    draft = draft_of(job, part)
    number = draft.at if back else draft.at + 1
    found = draft.edits.filter(number=number).select_related("by").first()
    if found is None:
        return ""
    draft.at += -1 if back else 1
    draft.revision += 1
    draft.save()
    return "" if found.by_id == by.pk else f"This was {full_name(found.by)}'s."


@changes_job
def keep_draft(job: Job, part: MapPart, note: str, by: User) -> MapVersion:
    """Keep the sheet as the next version of the map, with its reason; its checks stand in the ledger."""
    note = " ".join(note.split())
    if len(note) < 3:
        raise BadInput("Say in a line why it was changed: it stays with the version.", "note")
    if len(note) > LONGEST_WHY:
        raise BadInput(f"Keep the reason to {LONGEST_WHY} letters.", "note")
    draft = draft_of(job, part)
    base = calibration_of(draft.base)
    after = as_it_is(draft)
    if after.same_figures(base):
        raise BadInput("Nothing differs from the version that is kept.", "note")
    lineage = Lineage(
        next_number(job, draft.base), base.sha256, round=draft.base.round, note=note, author=by.username
    )
    version = keep(job, replace(after, lineage=lineage), by, draft.base, note, part.key)
    draft.delete()
    another_map(job, part)
    ledger.write(job, "base-map", "map", f"Map {version.version} kept: {part.item.name}", by, note)
    settle(job, part, by)
    return version
