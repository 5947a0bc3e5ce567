"""What is still to be driven for a log, or while one is captured."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from ventmap.core.basics import VentMapError, Verdict, standard_pressure
from ventmap.core.corrections import FUEL, TRIMS, driven_so, rows_under_load, sweeps
from ventmap.core.findings import DRIVE_CAUTION, Drive, Review, ReviewContext, drives, log_also
from ventmap.core.forms import Calibration
from ventmap.core.logs import find_windows
from ventmap.core.runsheet import Act
from ventmap.core.vehicle import Gearing, gearing_of
from ventmap.link.logger import to_log

from ..jobs import gate
from ..jobs.assemble import rules
from ..jobs.models import Job
from ..jobs.rows import vehicle_of
from ..maps.drafts import as_it_is, draft_of
from ..maps.parts import MapPart, newest_of, parts
from . import reviews
from .map_api import proposal_of
from .models import LogFile


def driven_so_far(
    rows: Sequence[tuple[float, dict[str, float]]],
    context: ReviewContext,
    vehicle: str,
    gearing: Gearing | None,
) -> list[dict[str, Any]]:
    """What of a drive there is in the rows that were captured so far; it asks the database nothing."""
    windows = find_windows(to_log(rows, "so far"), belt=context.belt)
    return [_drive_out(one) for one in drives(windows, context, vehicle, gearing)]


def of_log(row: LogFile) -> dict[str, Any]:
    """What a log lacks: windows, channels, and cells of the table that it would correct."""
    review = reviews.review_of(row)
    stopped = _stopped(row, review)
    if stopped:
        return {"stopped": stopped, "caution": "", "drives": [], "channels": [], "table": "", "sweeps": []}
    vehicle = vehicle_of(row.job) if row.job else None
    kind, gearing = (vehicle.kind, gearing_of(vehicle)) if vehicle else ("", None)
    table, wanted = _cells(row, row.job) if row.job and not row.baseline else ("", [])
    return {
        "stopped": "",
        "caution": DRIVE_CAUTION,
        "drives": [_drive_out(one) for one in drives(review.windows, reviews.of_log(row), kind, gearing)],
        "channels": [
            {"label": label, "waits": list(kinds)} for label, kinds in log_also(review.not_checkable)
        ],
        "table": table,
        "sweeps": wanted,
    }


def _stopped(row: LogFile, review: Review) -> str:
    """What stands in the way of any drive: a stop of its job, or one that this log itself shows."""
    if row.job is not None:
        act = Act.as_it_came if row.baseline else Act.log
        calls = gate.in_the_way(row.job, act)
        if calls:
            return gate.sentence(act, calls)
    found = next((one for one in review.findings if one.verdict is Verdict.stop), None)
    return f"Drive nothing yet: “{found.title}” is a stop. {found.next}" if found and not row.job else ""


def _drive_out(one: Drive) -> dict[str, Any]:
    return {**vars(one), "have": round(one.have, 1), "enough": one.enough}


def fuel_table(job: Job) -> tuple[Calibration, str, str] | None:
    """The first table of fuel of the newest map, its name and its title; None where there is none."""
    for part in parts(job):
        if newest_of(job, part.key) is None:
            continue
        now = as_it_is(draft_of(job, part))
        for name in now.tables:
            if name.partition(".")[0] in (*FUEL, *TRIMS):
                kind = now.table_kind(name)
                return now, name, kind.text if kind else name
    return None


def _cells(row: LogFile, job: Job) -> tuple[str, list[dict[str, str]]]:
    """Title of the first table of fuel that this log says something of, and its sweeps."""
    for part in parts(job):
        if newest_of(job, part.key) is None:
            continue
        now = as_it_is(draft_of(job, part))
        for name in now.tables:
            if name.partition(".")[0] in (*FUEL, *TRIMS) and (found := _sweeps(row, job, part, now, name)):
                kind = now.table_kind(name)
                return (kind.text if kind else name), found
    return "", []


def _sweeps(row: LogFile, job: Job, part: MapPart, now: Calibration, name: str) -> list[dict[str, str]]:
    try:
        proposal = proposal_of(job, part, now, name, row, None)
    except VentMapError:
        return []
    table, kind = now.tables[name], now.table_kind(name)
    axis = kind.rows if kind and kind.rows else None
    unit = axis.unit if axis else ""
    load = f"{unit} {axis.text}" if axis and unit == "%" else unit
    loaded = rows_under_load(table.y, unit == "kPa", standard_pressure(job.altitude_m))
    heavy = dict(zip(table.y.tolist(), loaded.tolist(), strict=True))
    gearing, most = gearing_of(vehicle_of(job)), rules(job)["drive.road_kmh"]
    told = [driven_so(one, load, heavy[one.load], gearing, most) for one in sweeps(table, proposal.ticks)]
    return [{"do": do, "where": where} for do, where in told]
