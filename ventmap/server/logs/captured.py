"""What was captured, kept as a log: whole, or up to where something cut it."""

from __future__ import annotations

from collections.abc import Callable

from django.contrib.auth.models import User

from ventmap.core.logs import SHORTEST_LOG_S, Note
from ventmap.link.logger import to_log

from ..jobs import ledger
from ..jobs.acting import changing
from ..jobs.models import Job, UnderWay
from ..maps.models import MapVersion
from . import store
from .capture import PAUSED, Capture
from .reading import columns_of
from .reviews import context_of
from .spool import forget, left_by


def finish(
    found: Capture,
    job: Job,
    version: MapVersion | None,
    by: User,
    settled: Callable[[], None] = lambda: None,
    cut: str = "",
) -> None:
    """Keep what was logged and judge it; what is shorter than `SHORTEST_LOG_S` is told as not kept.

    A log that something `cut` says what, and where.
    """
    began = found.rows[0][0] if found.rows else 0.0
    # A log begins at nought, also one that waited for its first pull.
    rows = [(at - began, values) for at, values in found.rows] if began > 1.0 else found.rows
    if not rows or rows[-1][0] - rows[0][0] < SHORTEST_LOG_S:
        found.sentence, found.state = f"{cut} {_nothing(found)}".strip(), "failed"
        return
    number = job.logs.filter(source="captured", baseline=found.baseline).count() + 1
    name = f"stock log {number}" if found.baseline else f"log {number}"
    name += f", cut at {rows[-1][0]:.1f} s" if cut else ""
    context = context_of(job, stock=found.baseline)
    from .services import judge_log

    where = f"on map {version.version}" if version else f"with {found.ran}" if found.ran else "stock"
    stage, title = "baseline" if found.baseline else "log", f"{name.capitalize()} captured {where}"
    captured = to_log(rows, name)
    if cut:
        captured.notes.append(Note("understood", f"{cut} It ends at {rows[-1][0]:.1f} s."))
    if found.deaf:
        captured.notes.append(
            Note("ignored", "Alarms did not sound for a while: only the review below judges it.")
        )
    if any(mark["word"] == PAUSED for mark in found.marks):
        captured.notes.append(
            Note("ignored", "It was paused: nothing was kept there but what sounded, and what led to it.")
        )
    if found.on_pulls is not None:
        captured.notes.append(Note("understood", "Only what was driven around full pedal was kept."))
    path, info = store.write_capture(captured, context)
    with changing(job):
        columns = columns_of(captured)
        kept = store.keep(
            info, columns, path, name, by, job, version, "captured", found.baseline, found.was or None
        )
        if found.marks:
            kept.marks = [one | {"at_s": _moved(one["at_s"], began)} for one in found.marks]
            kept.save(update_fields=["marks"])
        told = f"{kept.rows} rows, {kept.rate_hz:.1f} per second, {kept.duration_s:.0f} s"
        if found.lifted:
            told += f". {'Off the load' if found.off.is_set() else 'A stop sounded'}: {found.lifted}."
        ledger.write(job, stage, "log", title, by, f"{cut} {told}".strip())
        judge_log(job, kept, by)
        settled()
    found.log_id, found.state, found.sentence = kept.pk, "done", f"{cut} What came is kept." if cut else ""


def _moved(at_s: float, began: float) -> float:
    return round(max(0.0, at_s - began), 2) if began > 1.0 else at_s


def _nothing(found: Capture) -> str:
    if found.on_pulls is not None:
        return "Nobody drove at full pedal: nothing was kept."
    return "Stopped before two seconds were logged: nothing was kept."


def rescue(record: UnderWay) -> str:
    """What a stopped server had of a capture, kept as a log that ends there; in words, or nothing."""
    left = left_by(record.pk)
    if left is None or record.job is None:
        return ""
    about, rows, marks = left
    found = Capture(record.job.pk, watched=False, baseline=about["baseline"], length_s=0.0, rows=list(rows))
    found.ran, found.marks, found.was = about["ran"], list(marks), about.get("was", {})
    version = MapVersion.objects.filter(pk=about["version"]).first() if about["version"] else None
    finish(found, record.job, version, record.by, cut=about["cut"] or "The server was stopped.")
    forget(record.pk)
    if found.log_id is None:
        return ""
    kept = f"the first {rows[-1][0]:.1f} s are kept, to the cut"
    why = about["cut"] or "The server was stopped while a log was captured:"
    return f"{why} {kept[0].upper() if about['cut'] else kept[0]}{kept[1:]}."
