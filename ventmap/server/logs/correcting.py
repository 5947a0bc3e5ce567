"""From a log to the next map: what is proposed, how far the mixture holds, and the round that is made."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
from django.contrib.auth.models import User

from ventmap.core.basics import BadInput, Call, Evidence, NotEnough, Verdict, how_many, standard_pressure
from ventmap.core.corrections import (
    CorrectionRules,
    Proposal,
    apply,
    prediction_call,
    propose,
    rounds_in_words,
    worse_call,
)
from ventmap.core.logs import Probe

from ..jobs import ledger
from ..jobs.acting import changes_job
from ..jobs.assemble import rules
from ..jobs.early import FOREIGN_LOG, NO_LOG
from ..jobs.living import noted
from ..jobs.models import Job
from ..jobs.rows import vehicle_of
from ..jobs.steps import finish, reopen
from ..maps.judged import settle
from ..maps.models import MapVersion
from ..maps.parts import main_part
from ..maps.services import calibration_of, keep
from ..schemas import call_out
from . import living, store
from .models import LogFile


def correction_rules(job: Job, row: LogFile, take_scalars: bool) -> CorrectionRules:
    """How far this round may go: what was logged on a drum may go further in boost, the base map bounds
    all.
    """
    base = job.maps.filter(part="").first()
    return CorrectionRules(
        rules(job),
        standard_pressure(job.altitude_m),
        on_drum=row.on_drum,
        take_scalars=take_scalars,
        base=calibration_of(base).tables["ve"].values if base else None,
        probe=Probe.of(vehicle_of(job)),
    )


def last_log(job: Job, log_id: int | None) -> tuple[LogFile, MapVersion]:
    """A log to correct from, and the map that ran in it."""
    row = store.log_by(log_id) if log_id else job.logs.filter(baseline=False).first()
    if row is None or row.job_id != job.pk:
        raise BadInput(NO_LOG, "log")
    if row.map is None:
        raise BadInput(FOREIGN_LOG, "log")
    version = row.map
    return row, version


def proposal_for(job: Job, log_id: int | None, take_scalars: bool) -> tuple[LogFile, MapVersion, Proposal]:
    row, version = last_log(job, log_id)
    proposal = propose(store.load(row), calibration_of(version), correction_rules(job, row, take_scalars))
    return row, version, proposal


def proposal_out(job: Job, log_id: int | None, take_scalars: bool) -> dict[str, Any]:
    row, version, proposal = proposal_for(job, log_id, take_scalars)
    table = calibration_of(version).tables["ve"]
    later = job.maps.filter(pk__gt=version.pk, part="").exists()
    split = proposal.split
    return {
        "log": row.name,
        "log_id": row.pk,
        "version": version.version,
        "stale": later,
        "x": table.x.tolist(),
        "y": table.y.tolist(),
        "old": proposal.old.tolist(),
        "new": proposal.new.tolist(),
        "error": [[None if np.isnan(v) else round(100 * v, 2) for v in line] for line in proposal.error],
        "samples": np.round(proposal.samples, 1).tolist(),
        "spread": [[None if np.isnan(v) else round(100 * v, 2) for v in line] for line in proposal.spread],
        "margin": np.round(100 * proposal.margin, 1).tolist(),
        "ticks": proposal.ticks.tolist(),
        "measured": proposal.measured.tolist(),
        "filled": proposal.filled.tolist(),
        "changed": proposal.changed.tolist(),
        "within": round(100 * proposal.within, 1),
        "next_within": round(100 * proposal.next_within, 1),
        "rounds_forced": rounds_in_words(proposal.rounds),
        "used": proposal.used,
        "delay_s": round(proposal.delay_s, 2),
        "scalars": [
            {
                "name": s.name,
                "old": s.old,
                "new": s.new,
                "unit": s.unit,
                "low": round(s.interval[0], 3),
                "high": round(s.interval[1], 3),
            }
            for s in proposal.scalars
        ],
        "why_no_scalars": proposal.why_no_scalars,
        "explained": round(100 * split.explained, 0) if split else None,
        "split": (
            {
                "flow_percent": round(100 * split.flow_error, 2),
                "flow_low": round(100 * split.flow_error_interval[0], 2),
                "flow_high": round(100 * split.flow_error_interval[1], 2),
                "dead_ms": round(split.dead_time_error_ms, 3),
                "dead_low": round(split.dead_time_error_interval_ms[0], 3),
                "dead_high": round(split.dead_time_error_interval_ms[1], 3),
            }
            if split
            else None
        ),
        "calls": [call_out(call) for call in proposal.calls],
        "rounds": rounds(job),
        "limits": {
            name: rules(job)[f"correct.{name}"] for name in ("within", "done", "explains", "spread", "step")
        },
    }


def rounds(job: Job) -> list[dict[str, Any]]:
    """Share within the limit, by round, as it was judged then."""
    found = []
    for entry in job.ledger.filter(rule="correct.within").order_by("id"):
        found.append(
            {
                "title": entry.title,
                "share": entry.evidence[0]["value"],
                "limit": entry.evidence[0]["limit"],
                "text": entry.text,
                "version": entry.evidence[-1]["value"],
            }
        )
    return found


def judge_mixture(job: Job, log_id: int | None, by: User) -> dict[str, Any]:
    """Enter how far the mixture holds its target in this log; done when it holds."""
    row, version, proposal = proposal_for(job, log_id, True)
    return _enter_mixture(job, version, proposal, _otherwise(job, row, version), by)


def _otherwise(job: Job, row: LogFile, version: MapVersion) -> Call | None:
    """What the log of the map before foretold, where it came otherwise."""
    parent, earlier = version.parent, living.foretelling(job, row)
    if parent is None or earlier is None:
        return None
    old, new = calibration_of(parent), calibration_of(version)
    try:
        return prediction_call(
            store.load(earlier), old, store.load(row), new, correction_rules(job, row, take_scalars=True)
        )
    except NotEnough:
        # A log without steady samples foretold nothing.
        return None


@changes_job
def _enter_mixture(
    job: Job, version: MapVersion, proposal: Proposal, otherwise: Call | None, by: User
) -> dict[str, Any]:
    found = [*proposal.calls, *([otherwise] if otherwise else [])]
    calls = [replace(c, because=(*c.because, Evidence("map", version.version))) for c in found]
    earlier = rounds(job)
    if earlier and earlier[-1]["version"] != version.version:
        last = earlier[-1]
        worse = worse_call(100 * proposal.within, float(last["share"]), last["version"])
        calls += [worse] if worse else []
    ledger.found_now(job, "correct", "correct.", calls, by)
    noted(job, "mixture")
    if calls[0].verdict is Verdict.go:
        finish(job, "correct.done", by)
    else:
        reopen(job, "correct.done")
    return {"calls": [call_out(c) for c in calls]}


def next_round(
    job: Job, log_id: int, take_scalars: bool, cells: list[tuple[int, int]] | None, by: User
) -> MapVersion:
    """The next map from a log: scalars if taken, all changed cells or only the chosen ones."""
    found = proposal_for(job, log_id, take_scalars)
    return _make_round(job, *found, cells, by)


@changes_job
def _make_round(
    job: Job,
    row: LogFile,
    version: MapVersion,
    proposal: Proposal,
    cells: list[tuple[int, int]] | None,
    by: User,
) -> MapVersion:
    if job.maps.filter(pk__gt=version.pk, part="").exists():
        raise BadInput(f"A newer map than {version.version} was made already. Load it and log again.", "log")
    calibration = calibration_of(version)
    mask = None
    if cells is not None:
        mask = np.zeros(proposal.old.shape, bool)
        high, wide = proposal.old.shape
        for i, j in cells:
            if not (0 <= i < high and 0 <= j < wide):
                raise BadInput("A chosen cell lies outside the table.", "cells")
            mask[i, j] = True
    changed = apply(calibration, proposal, cells=mask, author=by.username)
    if changed.same_figures(calibration):
        raise BadInput("Nothing would change: choose cells with evidence.", "cells")
    count = int((proposal.changed if mask is None else proposal.changed & mask).sum())
    what = f"{how_many(len(proposal.scalars), 'scalar')}, {how_many(count, 'cell')}"
    made = keep(job, changed, by, version, f"from {row.name}: {what}")
    settle(job, main_part(job), by)
    ledger.write(
        job,
        "correct",
        "map",
        f"Map {made.version} made from {row.name}",
        by,
        made.note,
        (
            *(Evidence(s.name.replace("_", " "), s.new, s.old, unit=s.unit) for s in proposal.scalars),
            Evidence("cells changed", count),
        ),
    )
    return made
