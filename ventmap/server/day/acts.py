"""What people do on a job, act by act: the name that the files use → the services behind the screen."""

from __future__ import annotations

import time
import uuid
from collections.abc import Callable
from pathlib import Path
from typing import Any

from django.contrib.auth.models import User

from ventmap.core.basics import BadInput, parse

from ..dyno import judging
from ..dyno import services as runs
from ..jobs import baseline, injector_choice, inquiry, intake, kit, ledger, steps, sums, workshop
from ..jobs.models import Job
from ..jobs.rows import injectors_of, vehicle_of
from ..logs import captures, cold_starts, correcting, store
from ..logs import services as logs
from ..logs.models import LogFile
from ..maps import after_write, board, choosing, figures, first_start, loaded, loading
from ..report.api import made, pdf
from . import by_hand, outputs
from .desk import Desk

#: A write or a capture that takes longer has failed [s].
LONGEST_S = 120.0


def _intake(desk: Desk) -> None:
    """What was asked of the owner and read off the vehicle; the rest stays as it is on the plate."""
    names = (*intake.FIGURES, "registration", "vin", "owner", "goal", "complaint", "changes")
    said: dict[str, Any] = {name: getattr(desk.job, name) for name in names}
    said |= {"revision": desk.job.revision, "units": {}, **desk.act.get("said", {})}
    desk.clock.forward(360)
    intake.save_intake(desk.job, said, desk.by)
    desk.job.refresh_from_db()
    model = inquiry.variants_out(vehicle_of(desk.job).model, {}) if vehicle_of(desk.job).model else None
    if model and len(model["candidates"]) > 1:
        inquiry.settle_vehicle(desk.job, desk.job.vehicle.key, desk.act.get("tell_tales", {}), desk.by)


def _kit(desk: Desk) -> None:
    kit.change_kit(desk.job, desk.act["devices"], desk.act.get("pump", ""), desk.by)


def _injectors(desk: Desk) -> None:
    injector_choice.choose_injectors(desk.job, desk.act["key"], desk.by)


def _codes(desk: Desk) -> None:
    """Codes and identity before anything is touched: over the link, or as another tester showed them."""
    act = desk.act
    desk.clock.forward(300)
    if "computer" not in act:
        baseline.read_baseline(desk.job, desk.by)
        return
    codes = [(code, status) for code, status in act.get("codes", [])]
    baseline.enter_baseline(
        desk.job, act["computer"], act["calibration"], desk.job.vin, codes, desk.by, none_shown=not codes
    )


def _log(desk: Desk) -> None:
    """A log of the owner's or of the shop's own logger; one that was captured here is made anew on record."""
    if desk.record and desk.act.get("captured"):
        row = _capture(desk)
        (desk.folder / "logs" / desk.act["file"]).write_bytes(store.table(row, "csv").read())
        return
    desk.clock.forward(1200)
    stock, on_drum = desk.act.get("stock", False), desk.act.get("on_drum", False)
    bring_file(desk.folder / "logs" / desk.act["file"], desk.by, desk.job, stock=stock, on_drum=on_drum)


def bring_file(
    file: Path, by: User, job: Job | None = None, *, stock: bool = False, on_drum: bool = False
) -> None:
    """A file of the sample as it is dropped; the sample's own stays where it is, and needs no guard."""
    path = store.folder() / f"{uuid.uuid4().hex}.log"
    path.write_bytes(file.read_bytes())
    logs.bring(path, file.name, by, job, baseline=stock, on_drum=on_drum, apart=False)


def _runs(desk: Desk) -> None:
    """Runs of the drum, each from its own file."""
    for name in desk.act["files"]:
        typed = {key: desk.act.get(key, "") for key in ("gear", "intake", "barometer", "humidity", "tyres")}
        typed |= {"drum": desk.act["drum"], "fuel": "", "ramp": desk.act["ramp"]}
        desk.clock.forward(420)
        text = desk.file(f"runs/{name}").decode()
        runs.bring_run(desk.job, desk.act["when"], text, name, typed, desk.by)


def _drum(desk: Desk) -> None:
    """Runs on the shop's drum."""
    for _ in range(desk.act["count"]):
        desk.clock.forward(420)
        runs.make_run(desk.job, desk.act["when"], desk.by)


def _claim(desk: Desk) -> None:
    judging.judge_gain(desk.job, desk.by)


def _map(desk: Desk) -> None:
    desk.clock.forward(480)
    choosing.choose_map(desk.job, desk.act["key"], desk.by, desk.act.get("device", ""))


def _figures(desk: Desk) -> None:
    """Injector figures at this vehicle's pressure; dead times as typed, else those of the injector's own
    sheet.
    """
    injectors = injectors_of(desk.job)
    sheet = injectors.dead_time.model_dump() if injectors and injectors.dead_time else None
    dead = desk.act.get("dead_time", sheet)
    if dead is None:
        raise BadInput("The injectors' sheet has no dead times to enter: type them.", "dead_time")
    flow, rated = parse(desk.act["flow"], "injector_flow"), parse(desk.act["rated"], "pressure")
    pressure = parse(desk.act["pressure"], "pressure")
    desk.clock.forward(540)
    figures.set_parameters(desk.job, flow, rated, pressure, dead, False, desk.by)


def _save(desk: Desk) -> None:
    desk.clock.forward(240)
    loading.save_image(desk.job, desk.by)


def _used(desk: Desk) -> None:
    """The computer that was delivered is a used one: somebody's map is in it."""
    workshop.deliver_used(desk.job, choosing.shelf_maps()[desk.act["key"]])


def _board(desk: Desk) -> None:
    desk.clock.forward(120)
    board.answer(desk.job, desk.act["answers"], desk.by)


def _write(desk: Desk) -> None:
    """Written, ignition cycled after the computer's own off time, codes cleared."""
    started = time.monotonic()
    load = loading.start(desk.job, desk.by, watched=False)
    while load.pk in loaded.running:
        if time.monotonic() - started > LONGEST_S:
            raise BadInput("The write did not end.", "load")
        time.sleep(0.02)
    desk.clock.forward(40)
    after_write.ignition(desk.job, False, desk.by)
    desk.clock.forward(75)
    desk.job.refresh_from_db()
    after_write.ignition(desk.job, True, desk.by)
    after_write.clear_codes(desk.job, desk.by)


def _first_start(desk: Desk) -> None:
    for act in (first_start.key_on, first_start.learn_pedal):
        desk.clock.forward(180)
        act(desk.job, desk.by)
    outputs.try_each(desk)


def _start(desk: Desk) -> None:
    desk.clock.forward(240)
    first_start.start_engine(desk.job, desk.by)


def _cold_start(desk: Desk) -> None:
    cold_starts.captured(desk.job, desk.by)


def _capture(desk: Desk) -> LogFile:
    """A log captured on the map that is in."""
    desk.clock.forward(900)
    found = captures.start(desk.job, desk.by, captures.Wish(watched=False))
    started = time.monotonic()
    while found.state == "running":
        if time.monotonic() - started > LONGEST_S:
            raise BadInput("The capture did not end.", "capture")
        time.sleep(0.02)
    if found.state != "done" or found.log_id is None:
        raise BadInput(found.sentence, "capture")
    return store.log_by(found.log_id)


def _mixture(desk: Desk) -> None:
    desk.clock.forward(120)
    correcting.judge_mixture(desk.job, None, desk.by)


def _round(desk: Desk) -> None:
    """The next map from the newest log."""
    log, _ = correcting.last_log(desk.job, None)
    desk.clock.forward(300)
    correcting.next_round(desk.job, log.pk, True, None, desk.by)


def _sum(desk: Desk) -> None:
    """A sum of the trade with what the job knows, and what is typed beside it."""
    desk.clock.forward(300)
    key = desk.act["key"]
    sums.keep(desk.job, key, {**sums.typed_for(desk.job, key), **desk.act.get("typed", {})}, desk.by)


def _aside(desk: Desk) -> None:
    steps.set_aside(desk.job, desk.act["step"], desk.act["because"], desk.by)


def _overrule(desk: Desk) -> None:
    entry = desk.job.ledger.filter(rule=desk.act["rule"], standing=True).first()
    if entry is None:
        raise BadInput(f"Nothing stands under {desk.act['rule']}.", "rule")
    ledger.overrule(entry, desk.act["reason"], desk.by)
    steps.finish_overruled(entry, desk.by)


def _note(desk: Desk) -> None:
    ledger.write(desk.job, desk.act["stage"], "note", desk.act["text"], desk.by)


def _report(desk: Desk) -> None:
    """Printed: made whole, as the owner gets it."""
    desk.clock.forward(300)
    pdf(desk.job)
    made(desk.job, desk.by)


ACTS: dict[str, Callable[[Desk], None]] = {
    "intake": _intake,
    "kit": _kit,
    "injectors": _injectors,
    "by hand": by_hand.stage,
    "begin": by_hand.begin,
    "wait": by_hand.wait,
    "near now": by_hand.near_now,
    "codes": _codes,
    "log": _log,
    "runs": _runs,
    "drum": _drum,
    "claim": _claim,
    "map": _map,
    "figures": _figures,
    "save": _save,
    "used computer": _used,
    "board": _board,
    "write": _write,
    "key on": _first_start,
    "start": _start,
    "cold start": _cold_start,
    "mixture": _mixture,
    "round": _round,
    "sum": _sum,
    "set aside": _aside,
    "overrule": _overrule,
    "note": _note,
    "report": _report,
}
