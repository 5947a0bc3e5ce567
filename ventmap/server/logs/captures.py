"""Live logs: a thread that asks the vehicle, watched in true time or unwatched as fast as it goes."""

from __future__ import annotations

import logging
import threading
from collections.abc import Callable
from contextlib import ExitStack
from dataclasses import dataclass, field
from typing import Any

from django.contrib.auth.models import User
from django.db import connection

from ventmap.core.basics import BadInput, VentMapError
from ventmap.core.findings import ReviewContext
from ventmap.core.logs import SHORTEST_LOG_S, Note
from ventmap.core.runsheet import Act
from ventmap.link.logger import capture, plan_for, to_log
from ventmap.link.tester import Tester

from .. import bench
from ..doors import need_room
from ..jobs import gate, ledger, workshop
from ..jobs.acting import changing
from ..jobs.assemble import linked
from ..jobs.models import Job, UnderWay
from ..jobs.rows import vehicle_of
from ..jobs.under_way import begun, ended
from ..maps.boxes import runs_beside, told
from ..maps.loaded import loaded_map
from ..maps.models import MapVersion
from . import store
from .next_drives import driven_so_far
from .reading import columns_of
from .reviews import context_of
from .spool import Spool, forget, left_by

log = logging.getLogger(__name__)
LONGEST_S = 1800.0
#: So often what was driven is ticked off while it is driven [s].
LOOKED_AGAIN_S = 1.0


@dataclass
class Capture:
    """One running capture."""

    job_id: int
    watched: bool
    baseline: bool
    length_s: float
    rows: list[tuple[float, dict[str, float]]] = field(default_factory=list)
    state: str = "running"
    sentence: str = ""
    log_id: int | None = None
    doing: str = ""
    drives: list[dict[str, Any]] = field(default_factory=list)
    ran: str = ""
    stopping: threading.Event = field(default_factory=threading.Event)

    def event(self) -> dict[str, Any]:
        """State, progress, and the newest value of every channel."""
        latest: dict[str, float] = {}
        for _, row in self.rows[-4:]:
            latest |= row
        at = self.rows[-1][0] if self.rows else 0.0
        return {
            "state": self.state,
            "at_s": round(at, 2),
            "length_s": round(self.length_s, 1),
            "rows": len(self.rows),
            "doing": self.doing,
            "drives": self.drives,
            "rate_hz": round(len(self.rows) / at, 1) if at > 1 else 0.0,
            "values": {k: round(v, 3) for k, v in latest.items()},
            "sentence": self.sentence,
            "log_id": self.log_id,
        }


_captures: dict[int, Capture] = {}


def running(job: Job) -> Capture | None:
    return _captures.get(job.pk)


def start(job: Job, by: User, watched: bool, baseline: bool = False) -> Capture:
    """Drive the fuel route and log it: on the map that is loaded, or stock, before anything is touched."""
    gate.ask(job, Act.as_it_came if baseline else Act.log)
    workshop.need_engine(job)
    # Before the kit, or with boxes beside it, the stock computer runs the engine.
    beside = not baseline and not linked(job)
    boxes = runs_beside(job) if beside else []
    version = None if baseline or beside else loaded_map(job)
    now = _captures.get(job.pk)
    if now and now.state == "running":
        raise BadInput("A log is being captured on this vehicle. Stop it first.", "capture")
    if beside:
        car = workshop.beside(job, [calibration for _, _, calibration in boxes], warm=True)
    else:
        car = workshop.vehicle(job, "stock" if baseline else "kit", warm=True)
    legs = bench.fuel_route_of(car.truth)
    context, kind = context_of(job, stock=baseline), vehicle_of(job).kind
    need_room()
    with ExitStack() as begun_so_far:
        begun_so_far.enter_context(workshop.line_taken(job.pk, "a log"))
        record = begun(job, "capture", "baseline" if baseline else "log", by)
        # Whatever was refused before never ran, and does not look as if it did; from here the thread lets go.
        holding = begun_so_far.pop_all()
    found = _captures[job.pk] = Capture(
        job.pk, watched, baseline=baseline, length_s=sum(leg.seconds for leg in legs), ran=told(boxes)
    )

    about = {"baseline": baseline, "version": version.pk if version else None, "ran": found.ran}
    as_it_comes = Spool(record.pk, about)

    def run() -> None:
        try:
            driving = _told(car.drive(legs), found)
            if watched:
                with workshop.on_bus(car, driving) as (tester, node):
                    _ask(tester, found, node.ended.is_set, car, as_it_comes)
            else:
                line = bench.DirectLine(car, driving)
                _ask(Tester(line), found, lambda: line.ended, car, as_it_comes)
            car.computer.power(False)
            finish(found, job, version, by, settled=lambda: ended(record))
        except VentMapError as error:
            found.sentence, found.state = error.sentence, "failed"
        except Exception:
            log.exception("capture failed")
            found.sentence, found.state = "The capture failed in the server. Start it again.", "failed"
        finally:
            ended(record)
            as_it_comes.end()
            holding.close()
            connection.close()

    threading.Thread(target=run, name=f"capture-{job.pk}", daemon=True).start()
    ticking = (found, context, kind)
    threading.Thread(target=_tick_off, args=ticking, name=f"drives-{job.pk}", daemon=True).start()
    return found


def _told(driving: Any, found: Capture) -> Any:
    """The driving, with what is being driven told to those who watch."""
    words = {
        "hold": "holding speed",
        "pull": "full pull",
        "lift": "overrun",
        "start": "starting",
        "idle": "idle",
        "stop": "coming to rest",
    }
    for leg in driving:
        found.doing = words[leg.kind] + (f", {leg.rpm:.0f} rpm" if leg.kind == "hold" else "")
        yield leg


def _tick_off(found: Capture, context: ReviewContext, vehicle: str) -> None:
    """What was driven, beside the capture: it holds no sample up, and a fault of it ends nothing."""
    try:
        while found.state == "running" and not found.stopping.wait(LOOKED_AGAIN_S):
            found.drives = driven_so_far(found.rows[:], context, vehicle)
    except Exception:
        log.warning("what was driven is not ticked off", exc_info=True)


def _ask(tester: Tester, found: Capture, ended: Any, car: bench.PretendVehicle, as_it_comes: Spool) -> None:
    for row in capture(tester, plan_for(bench.asked_of(car))):
        found.rows.append(row)
        as_it_comes.add(row)
        if ended() or found.stopping.is_set() or row[0] > LONGEST_S:
            return


def finish(
    found: Capture,
    job: Job,
    version: MapVersion | None,
    by: User,
    settled: Callable[[], None] = lambda: None,
    cut: bool = False,
) -> None:
    """Keep what was logged and judge it; what is shorter than `SHORTEST_LOG_S` is told as not kept.

    A log that a stopped server `cut` says where.
    """
    if not found.rows or found.rows[-1][0] < SHORTEST_LOG_S:
        found.sentence, found.state = "Stopped before two seconds were logged: nothing was kept.", "failed"
        return
    number = job.logs.filter(source="captured", baseline=found.baseline).count() + 1
    name = f"stock log {number}" if found.baseline else f"log {number}"
    name += f", cut at {found.rows[-1][0]:.1f} s" if cut else ""
    context = context_of(job, stock=found.baseline)
    from .services import judge_log

    where = f"on map {version.version}" if version else f"with {found.ran}" if found.ran else "stock"
    stage, title = "baseline" if found.baseline else "log", f"{name.capitalize()} captured {where}"
    captured = to_log(found.rows, name)
    if cut:
        captured.notes.append(
            Note("understood", f"The server was stopped at {found.rows[-1][0]:.1f} s: it ends there.")
        )
    path, info = store.write_capture(captured, context)
    with changing(job):
        columns = columns_of(captured)
        kept = store.keep(info, columns, path, name, by, job, version, "captured", found.baseline)
        told = f"{kept.rows} rows, {kept.rate_hz:.1f} per second, {kept.duration_s:.0f} s"
        ledger.write(job, stage, "log", title, by, told)
        judge_log(job, kept, by)
        settled()
    found.log_id, found.state = kept.pk, "done"


def rescue(record: UnderWay) -> str:
    """What a stopped server had of a capture, kept as a log that ends there; in words, or nothing."""
    left = left_by(record.pk)
    if left is None or record.job is None:
        return ""
    about, rows = left
    found = Capture(record.job.pk, watched=False, baseline=about["baseline"], length_s=0.0, rows=list(rows))
    found.ran = about["ran"]
    version = MapVersion.objects.filter(pk=about["version"]).first() if about["version"] else None
    finish(found, record.job, version, record.by, cut=True)
    forget(record.pk)
    if found.log_id is None:
        return ""
    kept = f"the first {rows[-1][0]:.1f} s are kept, to the cut"
    return f"The server was stopped while a log was captured: {kept}."


def stop(job: Job) -> None:
    """Stop; what was logged so far is kept."""
    if job.pk in _captures:
        _captures[job.pk].stopping.set()
