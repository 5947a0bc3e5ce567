"""A cell's story: its values through the versions of a map, and the edits that are not kept yet."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from ventmap.core.forms import Calibration

from ..jobs.models import Job
from ..shop.access import full_name
from .drafts import edits_of
from .models import MapDraft, MapVersion
from .parts import MapPart
from .services import calibration_of


def history(job: Job, part: MapPart, target: str, place: Sequence[Any]) -> list[dict[str, Any]]:
    """A place's story, newest first: value, why, who, round by round, and the edits not kept yet."""
    found: list[dict[str, Any]] = []
    before: Any = None
    for version in MapVersion.objects.filter(job=job, part=part.key).select_related("by"):
        value = _value(calibration_of(version), target, place)
        if value != before:
            found.append(
                {
                    "value": value,
                    "why": version.note,
                    "who": full_name(version.by),
                    "at": version.made_at,
                    "version": version.version,
                    "round": version.round,
                }
            )
        before = value
    draft = MapDraft.objects.filter(job=job, part=part.key).first()
    for one in edits_of(draft) if draft else ():
        for cell in one.cells:
            if one.target == target and list(cell[:-2]) == list(place):
                found.append(
                    {
                        "value": cell[-1],
                        "why": one.why or f"{one.operation}, not kept yet",
                        "who": full_name(one.by),
                        "at": one.at,
                        "version": "",
                        "round": draft.base.round if draft else 0,
                    }
                )
    return found[::-1]


def _value(calibration: Calibration, target: str, place: Sequence[Any]) -> float | None:
    if target == "scalars":
        return calibration.scalars.get(str(place[0]))
    table = calibration.tables.get(target)
    if table is None or place[0] >= table.values.shape[0] or place[1] >= table.values.shape[1]:
        return None
    return float(table.values[place[0], place[1]])
