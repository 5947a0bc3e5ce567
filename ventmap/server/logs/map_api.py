"""What a log says beside a map's sheet: evidence of its cells, samples behind a slice, cells from a log."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.contrib.auth.models import User
from django.dispatch import receiver
from django.http import HttpRequest
from ninja import Router, Schema

from ventmap.core.basics import BadInput, VentMapError, how_many, one_figure, standard_pressure
from ventmap.core.corrections import CorrectionRules, TableProposal, propose_table, samples_beside
from ventmap.core.forms import Calibration, table_cells
from ventmap.core.logs import Probe

from ..jobs.acting import changing
from ..jobs.assemble import rules
from ..jobs.early import NO_LOG
from ..jobs.models import Job
from ..jobs.rows import job_by, vehicle_of
from ..maps.drafts import as_it_is, draft_of, part_of, put
from ..maps.parts import MapPart, map_job
from ..maps.sheet import sheet_out
from ..maps.sheet_api import SheetOut
from ..maps.signals import measured
from ..shop.access import worker
from ..shop.acts import waits
from . import store
from .models import LogFile

router = Router(tags=["logs"])


class LogName(Schema):
    id: int
    name: str
    on_drum: bool


class EvidenceTicks(Schema):
    log: str
    ticks: list[list[int]] | None
    samples: list[list[float]] | None
    sentence: str
    """Why there is none; empty where there is."""


class SlicePoints(Schema):
    log: str
    points: list[list[float]]
    sentence: str


class FromLogIn(Schema):
    table: str
    log_id: int | None = None
    target: str = ""
    """Mixture that was wanted, where the log holds none."""


def _logs(job: Job) -> list[LogFile]:
    return list(job.logs.filter(baseline=False))  # type: ignore[attr-defined]


def _log(job: Job, log_id: int | None) -> LogFile:
    found = [row for row in _logs(job) if log_id is None or row.pk == log_id]
    if not found:
        raise BadInput(NO_LOG, "log")
    return found[0]


def _rules(job: Job, row: LogFile) -> CorrectionRules:
    return CorrectionRules(
        rules(job), standard_pressure(job.altitude_m), on_drum=row.on_drum, probe=Probe.of(vehicle_of(job))
    )


def proposal_of(
    job: Job, part: MapPart, now: Calibration, table: str, row: LogFile, target: float | None
) -> TableProposal:
    return propose_table(
        store.load(row),
        now,
        table,
        _rules(job, row),
        target_lambda=target,
        bounds=map_job(job, part).trim_bounds,
    )


@router.get("/jobs/{number}/sheets/{part}/logs", response=list[LogName])
def sheet_logs(request: HttpRequest, number: str, part: str) -> Any:
    """Logs that a sheet may be held against, newest first."""
    job = job_by(number)
    part_of(job, part)
    return [{"id": row.pk, "name": row.name, "on_drum": row.on_drum} for row in _logs(job)]


@router.get("/jobs/{number}/sheets/{part}/evidence", response=EvidenceTicks)
def sheet_evidence(request: HttpRequest, number: str, part: str, table: str) -> Any:
    """How much the newest log says of each cell of a table, 0 to 4."""
    job = job_by(number)
    found = part_of(job, part)
    try:
        row = _log(job, None)
        proposal = proposal_of(job, found, as_it_is(draft_of(job, found)), table, row, None)
    except VentMapError as error:
        return {"log": "", "ticks": None, "samples": None, "sentence": error.sentence}
    return {
        "log": row.name,
        "ticks": proposal.ticks.tolist(),
        "samples": proposal.samples.round(1).tolist(),
        "sentence": "",
    }


@receiver(measured)
def measured_cells(
    sender: Any, job: Job, part: MapPart, calibration: Calibration, table: str, **_: Any
) -> Any:
    """Cells for which the newest log has enough samples; None where nothing can be said."""
    try:
        row = _log(job, None)
        proposal = proposal_of(job, part, calibration, table, row, None)
    except VentMapError:
        return None
    return proposal.samples >= rules(job)["correct.samples"]


@router.get("/jobs/{number}/sheets/{part}/slice", response=SlicePoints)
def slice_points(request: HttpRequest, number: str, part: str, table: str, at: float, along: str) -> Any:
    """What the newest log says beside a slice through a table."""
    job = job_by(number)
    found = part_of(job, part)
    now = as_it_is(draft_of(job, found))
    if table not in now.tables or along not in ("row", "column"):
        raise BadInput("Choose a table, and a row or a column of it.", "table")
    try:
        row = _log(job, None)
        points = samples_beside(store.load(row), now, table, _rules(job, row), at, along)
    except VentMapError as error:
        return {"log": "", "points": [], "sentence": error.sentence}
    step = max(1, len(points) // MOST_POINTS)
    return {"log": row.name, "points": [list(p) for p in points[::step]], "sentence": ""}


#: Points of a slice that are drawn.
MOST_POINTS = 600


@router.post("/jobs/{number}/sheets/{part}/from-log", response=SheetOut)
@waits("looks through a whole log")
def from_log(request: HttpRequest, number: str, part: str, body: FromLogIn) -> Any:
    """Cells from a log, put into the sheet as one edit that can be undone."""
    job, by = job_by(number), worker(request)
    found = part_of(job, part)
    with changing(job):
        told = _from_log(job, found, body, by)
    return sheet_out(job, found, told)


def _from_log(job: Job, found: MapPart, body: FromLogIn, by: User) -> str:
    row = _log(job, body.log_id)
    target = None
    if body.target.strip():
        target = one_figure(body.target)
        if target is None or not 0.6 <= target <= 1.3:
            raise BadInput("The mixture that was wanted is a lambda between 0.6 and 1.3.", "target")
    draft = draft_of(job, found)
    now = as_it_is(draft)
    if body.table not in now.tables:
        raise BadInput("This map has no such table.", "table")
    proposal = proposal_of(job, found, now, body.table, row, target)
    old = now.tables[body.table]
    values = np.where(proposal.changed, proposal.new, old.values)
    cells = table_cells(old, old.with_values(values))
    share = f"{100 * proposal.within:.0f} % of what was driven holds its target within the house rule"
    if not cells:
        return f"{row.name}: no cell changes; {share}."
    put(draft, body.table, "from the log", cells, f"from {row.name}", by)
    return f"{row.name}: {how_many(len(cells), 'cell')} changed; {share}."
