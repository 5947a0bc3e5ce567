"""Logs of a job: brought, kept, judged and shown."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace
from pathlib import Path
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction

from ventmap.core.basics import LogError, LogSource, Verdict, read_record, stock_log_call
from ventmap.core.findings import (
    Review,
    channels_of,
    could_show,
    log_calls,
    of_another_state,
    rests_on,
    said_scales,
    with_scales,
)
from ventmap.core.logs import CHANNELS
from ventmap.core.runsheet import VehicleState

from ..jobs import ledger
from ..jobs.acting import changing
from ..jobs.living import noted
from ..jobs.models import Job
from ..jobs.steps import finish, reopen
from ..maps.loaded import in_computer
from ..maps.state import state_of
from ..shelf.models import ShelfItem
from ..shelf.services import record_of
from ..shop import kept_files
from ..shop.access import LEAD, role
from . import own, reviews, store
from .models import LogFile
from .naming import known_sources
from .reading import Naming
from .stories import told as stories_of


def bring(
    path: Path,
    name: str,
    by: User,
    job: Job | None = None,
    *,
    baseline: bool = False,
    on_drum: bool = False,
    tell: Callable[[str], None] = lambda phase: None,
    stopped: Callable[[], bool] = lambda: False,
    apart: bool = True,
    settled: Callable[[], None] = lambda: None,
) -> LogFile:
    """Read and keep a log that lies in the log folder; with a job it is entered there and judged. `settled`
    is called in the very transaction that keeps it.

    Raises
    ------
    LogError
        If it cannot be read, or was stopped; the caller removes the file.
    """
    version = in_computer(job).version if job is not None and not baseline else None
    kept_files.settle_on_disk(path)
    about = reviews.context_of(job, stock=baseline)
    with (
        store.read(path, name, about, tell, stopped, Naming(sources=known_sources()), apart) as (
            told,
            columns,
        ),
        changing(job) if job is not None else transaction.atomic(),
    ):
        if job is not None:
            _new_to(job, told.sha256)
        row = store.keep(told, columns, path, name, by, job, version, "dropped", baseline)
        if on_drum:
            row.on_drum = True
            row.save(update_fields=["on_drum"])
        if job is not None:
            title, size = f"Log dropped: {name}", f"{row.rows} rows, SHA-256 {row.sha256[:16]}"
            ledger.write(job, "baseline" if baseline else "log", "log", title, by, size)
            judge_log(job, row, by)
        settled()
    return row


def _not_shown_again(job: Job, review: Review, unanswered: Mapping[str, str]) -> set[str]:
    """Rules of stops that an earlier log found and that this one could not have shown, or shows only by a
    scale that nobody answers for: they stand on.
    """
    stops = job.ledger.filter(
        stage="log", standing=True, verdict="stop", overruled_by=None, rule__startswith="log."
    ).values_list("rule", flat=True)
    kinds = {rule: rule.removeprefix("log.") for rule in stops}
    return {
        rule for rule, kind in kinds.items() if not could_show(review, kind) or rests_on(kind, unanswered)
    }


def _new_to(job: Job, sha256: str) -> None:
    """A file that was met before is what it was then: no log of a newer map, no second drive.

    Raises
    ------
    LogError
    """
    met = job.logs.filter(sha256=sha256).select_related("map").first()
    if met is None:
        return
    where = "stock, before the kit" if met.baseline else f"on map {met.map.version}" if met.map else "before"
    raise LogError(
        f"This file is in this job already: {met.name}, {where}. It says nothing new; drive and log again.",
        "file",
    )


def of_now(job: Job, row: LogFile) -> list[str]:
    """What of the vehicle is another now than when a log was driven, where a kit is worked by hand; of one
    that is written from here its map in the computer says so.
    """
    was = VehicleState.of(row.state)
    if was is None or row.map_id is not None:
        return []
    return list(was.differs(state_of(job)))


def judge_log(job: Job, row: LogFile, by: User) -> None:
    """Findings of a log into the ledger; the log before no longer stands."""
    if row.baseline:
        judge_stock_log(job, row, by)
        return
    review = reviews.review_of(row)
    calls = log_calls(review, row.name, reviews.of_log(row))
    source = source_of(row)
    scales = said_scales(source)
    calls = with_scales(calls, scales, source.scales_by, row.name)
    other = of_now(job, row)
    if other:
        calls = [call for call in calls if call.rule != "log.clean"]
        calls.append(of_another_state(row.name, other))
    with changing(job):
        kept = _not_shown_again(job, review, {} if source.scales_by else scales)
        ledger.found_now(job, "log", "log.", calls, by, but=kept)
        if not kept and not other and all(call.verdict is not Verdict.stop for call in calls):
            finish(job, "log.review", by)
        else:
            reopen(job, "log.review")
        noted(job, "log")


def judge_stock_log(job: Job, row: LogFile, by: User) -> None:
    """A stock log holds idle, cruise and a pull; what it shows was there before."""
    review = reviews.reviewed(row)
    seen = {window["kind"] for window in review["windows"]}
    call = stock_log_call(seen, [(f["title"], Verdict(f["verdict"])) for f in review["findings"]])
    source = source_of(row)
    calls = [
        replace(one, rule=f"baseline.{one.rule.split('.', 1)[1]}")
        for one in with_scales([call], said_scales(source), source.scales_by, row.name)
    ]
    with changing(job):
        for rule in {"baseline.log", "baseline.scales"} - {one.rule for one in calls}:
            ledger.withdraw_one(job, "baseline", rule)
        ledger.judge(job, "baseline", calls, by)
        if all(one.verdict is Verdict.go for one in calls):
            finish(job, "baseline.log", by)


def _read_out(read: dict[str, Any]) -> dict[str, Any]:
    known = CHANNELS.get(read["channel"])
    return {
        **read,
        "label": known.label if known else "",
        "best": [name for name, _ in read["best"]],
    }


def _said(row: LogFile) -> dict[str, Any]:
    """What was said of this log, else what its known source says: a change adds to it and loses nothing."""
    if row.told:
        return {**row.told, **row.told.get("source", {})}
    return source_of(row).model_dump(include={"columns", "afr_scale"}) if row.known else {}


def source_of(row: LogFile) -> LogSource:
    """What was said of this log's columns, or of those of the source that it comes from."""
    if row.told.get("source"):
        return read_record(LogSource, row.told["source"], "source")
    item = ShelfItem.objects.filter(kind="source", key=row.known).first() if row.known else None
    return record_of(item, LogSource) if item else LogSource()


def _source_name(key: str) -> str:
    item = ShelfItem.objects.filter(kind="source", key=key).first() if key else None
    return item.name if item else ""


def log_out(row: LogFile, by: User) -> dict[str, Any]:
    review = reviews.reviewed(row)
    columns = []
    for c in row.columns.defer("samples").exclude(name=store.TIME):
        known = store.channel(c.name)
        columns.append(
            {
                "name": c.name,
                "column": c.column,
                "label": known.label if known else c.column,
                "unit": known.unit if known else "",
                "quantity": known.quantity if known else "",
                "low": c.low,
                "high": c.high,
                "canonical": c.canonical,
            }
        )
    columns += own.told(row, {str(column["name"]) for column in columns})
    return {
        "id": row.pk,
        "name": row.name,
        "source": row.source,
        "rows": row.rows,
        "duration_s": row.duration_s,
        "rate_hz": round(row.rate_hz, 2),
        "size": row.size,
        "sha256": row.sha256,
        "at": row.at,
        "by": row.by.get_full_name() or row.by.username,
        "map": row.map.version if row.map else "",
        "job": row.job.number if row.job else "",
        "kept": row.kept,
        "may_delete": row.by_id == by.pk if row.job is None else role(by) == LEAD,
        "notes": row.notes,
        "columns": columns,
        "reads": [_read_out(read) for read in row.reads],
        "clock": row.clock,
        "known": row.known,
        "known_name": _source_name(row.known),
        "said": _said(row),
        "marks": row.marks,
        **stories_of(row),
        "vehicle": row.job.vehicle.key if row.job else "",
        **review,
        "findings": [{**found, "channels": _told_by(found["kind"], columns)} for found in review["findings"]],
    }


def _told_by(kind: str, columns: list[dict[str, Any]]) -> list[str]:
    there = {column["name"] for column in columns}
    return [name for name in channels_of(kind) if name in there]
