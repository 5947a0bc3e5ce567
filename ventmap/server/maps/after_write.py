"""After a write: the ignition and the codes."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User
from django.utils import timezone

from ventmap.core.basics import BadInput, codes_call
from ventmap.core.loading import interrupted_call
from ventmap.core.runsheet import Act
from ventmap.link.live_settings import figure

from ..jobs import gate, ledger, workshop
from ..jobs.acting import changing
from ..jobs.models import Job
from ..jobs.rows import off_time
from ..jobs.steps import finish
from .board import board_out, merge
from .loaded import end, last_load
from .services import calibration_of


def ignition(job: Job, on: bool, by: User) -> dict[str, Any]:
    """The ignition was switched; on again after the device's off time restarts the computer from its new
    map.
    """
    if on:
        gate.ask(job, Act.power_on)
    load = last_load(job)
    if load is None or load.state != "verified":
        raise BadInput("First write and verify a map.", "load")
    if not on:
        with changing(job):
            merge(job, {"off_at": timezone.now().timestamp()})
            ledger.write(job, "load", "tick", "Ignition off", by)
        return board_out(job)
    off_at, wait = job.board.get("off_at"), off_time(job)
    if off_at is None:
        raise BadInput("Switch the ignition off first.", "ignition")
    rested = timezone.now().timestamp() - off_at
    if rested < wait - 0.3:
        raise BadInput(
            f"Wait {wait - rested:.0f} s more: the computer stores its memory while off.", "ignition"
        )
    with workshop.direct(job, "kit", warm=False) as (tester, car):
        car.computer.power(False)
        car.computer.power(True)
        identity = tester.identity()
        slot = round(figure(tester, "slot"))
    expected = calibration_of(load.map).image_sha256[:16] if load.map else None
    with changing(job):
        if expected and identity["map_sha256"] != expected:
            end(
                load,
                "interrupted",
                "After the restart the computer does not run the map that was written. Write it again.",
            )
            ledger.judge(job, "load", [interrupted_call(0, load.total)], by)
            return board_out(job)
        merge(job, {"off_at": None})
        ledger.write(
            job,
            "load",
            "reading",
            "Ignition on, identity read back",
            by,
            f"computer {identity['computer']}, map SHA-256 {identity['map_sha256'] or 'none'}, firmware"
            f" {identity['firmware']}, running slot {slot}",
        )
        finish(job, "load.cycle", by)
    return board_out(job)


def clear_codes(job: Job, by: User) -> dict[str, Any]:
    """Read, record, clear, read again."""
    gate.ask(job, Act.power_on)
    with workshop.direct(job, "kit", warm=False) as (tester, _):
        before = tester.codes()
        tester.clear_codes()
        after = tester.codes()
    with changing(job):
        words = ", ".join(f"{c.code} {c.status}" for c in before) or "none"
        ledger.write(job, "load", "reading", "Codes read and cleared", by, f"before: {words}")
        ledger.judge(job, "load", [codes_call("load.codes", [(c.code, c.status) for c in after])], by)
        if not after:
            finish(job, "load.codes", by)
    return board_out(job)
