"""Live logs: a thread that asks the vehicle, watched in true time or unwatched as fast as it goes."""

from __future__ import annotations

import logging
import threading
from collections.abc import Callable, Sequence
from contextlib import ExitStack
from dataclasses import dataclass
from typing import Any

from django.contrib.auth.models import User
from django.db import connection

from ventmap.core.basics import BadInput, VentMapError, standard_pressure
from ventmap.core.corrections import CorrectionRules
from ventmap.core.findings import FULL, Limit, ReviewContext, wanted
from ventmap.core.logs import CHANNELS, OnPulls, Probe
from ventmap.core.runsheet import Act
from ventmap.core.vehicle import gearing_of
from ventmap.link.logger import CHANNEL, capture, plan_for
from ventmap.link.tester import Tester

from .. import bench
from ..doors import need_room
from ..jobs import gate, workshop
from ..jobs.assemble import linked, rules, runs_here
from ..jobs.models import Job
from ..jobs.rows import vehicle_of
from ..jobs.under_way import begun, ended
from ..maps.boxes import runs_beside, told
from ..maps.loaded import loaded_map
from ..maps.state import state_of
from .capture import Capture, Row
from .captured import finish
from .listening import Ear, Filled, unwatched
from .listening import beside as listen_beside
from .next_drives import fuel_table
from .reviews import context_of
from .spool import Spool

log = logging.getLogger(__name__)
LONGEST_S = 1800.0
_captures: dict[int, Capture] = {}


def running(job: Job) -> Capture | None:
    return _captures.get(job.pk)


@dataclass(frozen=True)
class Wish:
    """How a log is captured.

    Parameters
    ----------
    question : str
        What it shall answer (`core.findings.QUESTIONS`): which channels are asked for.
    limits : tuple of Limit
        Of whoever drives, beside the rules.
    lift : bool
        Whether the foot comes off at a stop, and the drive ends there.
    channels : tuple of str
        Those of the question that are logged; empty for all of them.
    on_pulls : bool
        Whether only what is driven around full pedal is kept.
    """

    watched: bool = True
    baseline: bool = False
    question: str = FULL
    channels: tuple[str, ...] = ()
    limits: tuple[Limit, ...] = ()
    lift: bool = True
    on_pulls: bool = False


def start(job: Job, by: User, wish: Wish) -> Capture:
    """Drive the fuel route and log it: on the map that is loaded, or stock, before anything is touched."""
    baseline, watched = wish.baseline, wish.watched
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
    ear = Ear(context_of(job, stock=baseline), wish.limits, wish.lift)
    channels, body = asked_for(wish, ear.context, bench.asked_of(car)), vehicle_of(job)
    filled = None if baseline else _fills(job)
    need_room()
    with ExitStack() as begun_so_far:
        begun_so_far.enter_context(workshop.line_taken(job.pk, "a log"))
        record = begun(job, "capture", "baseline" if baseline else "log", by)
        # Whatever was refused before never ran, and does not look as if it did; from here the thread lets go.
        holding = begun_so_far.pop_all()
    found = _captures[job.pk] = Capture(
        job.pk,
        watched,
        baseline=baseline,
        length_s=sum(leg.seconds for leg in legs),
        ran=told(boxes),
        on_pulls=OnPulls() if wish.on_pulls else None,
    )
    found.was = state_of(job, stock=baseline).plain()
    about = {
        "baseline": baseline,
        "version": version.pk if version else None,
        "ran": found.ran,
        "was": found.was,
    }
    as_it_comes = Spool(record.pk, about)

    def drive() -> None:
        driving = _told(car.drive(legs, found.off.is_set), found)
        if watched:
            with workshop.on_bus(car, driving) as (tester, node):
                _ask(tester, found, channels, node.ended.is_set, as_it_comes, lambda row: None)
        else:
            line = bench.DirectLine(car, driving)
            _ask(Tester(line), found, channels, lambda: line.ended, as_it_comes, unwatched(found, ear))
        car.computer.power(False)

    def run() -> None:
        cut = to_its_end(drive)
        try:
            finish(found, job, version, by, settled=lambda: ended(record), cut=cut)
            ended(record)
            as_it_comes.end()
        except Exception:
            # It lies on the disk, under its record: the next start keeps it.
            log.exception("a capture was not kept")
            found.sentence = (
                "What was captured could not be kept now. It is kept when the server starts again."
            )
            found.state = "failed"
            as_it_comes.cut(f"{cut or 'It was captured whole.'} It could not be kept then.")
            as_it_comes.close()
        finally:
            holding.close()
            connection.close()

    threading.Thread(target=run, name=f"capture-{job.pk}", daemon=True).start()
    listen_beside(found, ear, body.kind, gearing_of(body), filled)
    return found


def _fills(job: Job) -> Filled | None:
    """The table of fuel that this drive fills, where the job has a map with one."""
    found = fuel_table(job)
    if found is None:
        return None
    calibration, name, title = found
    probe = Probe.of(vehicle_of(job))
    how = CorrectionRules(rules(job), standard_pressure(job.altitude_m), on_drum=False, probe=probe)
    return Filled(calibration, name, title, how)


def to_its_end(drive: Callable[[], None]) -> str:
    """Drive and log; gives what cut it, in words, or nothing: what came before is kept whatever that was."""
    try:
        drive()
    except VentMapError as error:
        return error.sentence
    except Exception:
        log.exception("capture failed")
        return "The capture was cut by a fault in the server."
    return ""


def asked_for(wish: Wish, context: ReviewContext, there: Sequence[str]) -> list[str]:
    """What is asked of a vehicle that gives these channels; a full check asks for all of them, and a limit
    for its own channel.

    Raises
    ------
    BadInput
        Where nothing is left to log, or a limit could never sound.
    """
    shown = [CHANNEL.get(name, name) for name in there]
    mute = next((one for one in wish.limits if one.channel not in shown), None)
    if mute is not None:
        label = CHANNELS[mute.channel].label.lower()
        raise BadInput(f"This vehicle gives no {label}: take that limit away, it could not sound.", "limits")
    if wish.question == FULL and not wish.channels:
        return list(there)
    names = [one.name for one in wanted(wish.question, context, shown) if one.there]
    kept = [name for name in names if not wish.channels or name in wish.channels]
    if not kept:
        raise BadInput("Keep at least one channel to log.", "channels")
    return as_asked(list(dict.fromkeys([*kept, *(one.channel for one in wish.limits)])), there)


def as_asked(names: Sequence[str], there: Sequence[str]) -> list[str]:
    """Channels by the names that this vehicle answers to."""
    answers = {CHANNEL.get(name, name): name for name in there}
    return [answers[name] for name in names]


def gives(job: Job, baseline: bool) -> list[str] | None:
    """Channels that a vehicle at this bench can be asked for, as a log shows them; None where none is run."""
    if not (
        vehicle_of(job).bench_engine and bench.has_engine(job.vehicle.key) if baseline else runs_here(job)
    ):
        return None
    beside = not baseline and not linked(job)
    if not baseline and (job.device is None or job.injectors is None):
        return None
    setup = workshop.setup_of(job, "stock" if baseline or beside else "kit")
    setup.beside = beside
    return bench.channels_of(bench.truth_of(setup, "stock" if baseline or beside else "kit"))


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


def _ask(
    tester: Tester,
    found: Capture,
    channels: Sequence[str],
    ended: Callable[[], bool],
    as_it_comes: Spool,
    each: Callable[[Row], None],
) -> None:
    marks = 0
    for row in capture(tester, plan_for(channels)):
        for kept in found.take(row):
            as_it_comes.add(kept)
        each(row)
        for mark in found.marks[marks:]:
            as_it_comes.mark(mark)
            marks += 1
        if ended() or found.stopping.is_set() or row[0] > LONGEST_S:
            return


def mark(job: Job, word: str) -> dict[str, Any]:
    """A word at this moment of the capture that runs."""
    return _running(job).mark(word)


def pause(job: Job, paused: bool) -> None:
    """Stop keeping rows, or go on."""
    _running(job).pause(paused)


def _running(job: Job) -> Capture:
    found = _captures.get(job.pk)
    if found is None or found.state != "running":
        raise BadInput("No log is being captured on this vehicle.", "capture")
    return found


def stop(job: Job) -> None:
    """Stop; what was logged so far is kept."""
    if job.pk in _captures:
        _captures[job.pk].stopping.set()
