"""Steps that a person does by hand, each with the evidence that it asks for."""

from __future__ import annotations

from typing import Any

from ventmap.core.basics import BadInput
from ventmap.core.runsheet import AccessAsked, ChecksAsked, PlugsAsked, RefitAsked, Step

from ..jobs import grids, photos, steps
from ..jobs.assemble import run_sheet
from ..maps.entering import entering_out, see, step_of
from ..maps.parts import parts
from .desk import Desk

#: Grids that the sheet itself lists: everything on it is done as it should be.
LISTED = ("access", "refit", "checks", "plugs")
#: An evidence that says: left as it is, for somebody else or for tomorrow.
LEFT = "left"


def stage(desk: Desk) -> None:
    """Every open step of a slat in its order, up to one that is named, or only those that are named."""
    act = desk.act
    done = set(desk.job.steps_done.values_list("key", flat=True))
    for step in run_sheet(desk.job).of(act["stage"]):
        if step.key == act.get("before"):
            return
        named = step.key in act.get("only", [step.key])
        if step.key not in done and step.evidence != "auto" and named:
            _do(desk, step)


def _do(desk: Desk, step: Step) -> None:
    listed = step.grid in LISTED
    shown: Any = None if listed or step.evidence in ("tick", "timer") else desk.shown(step.key)
    if shown == LEFT:
        return
    desk.clock.forward(60 * step.minutes)
    if _screens(desk, step):
        return
    if step.evidence == "grid":
        _fill(desk, step, shown)
        return
    if step.evidence == "photo":
        photos.keep(desk.job, step.key, shown, desk.file(f"photos/{shown}"), desk.by)
    kind = {"reading": "typed", "answer": "answer", "words": "words"}.get(step.evidence)
    steps.do_step(desk.job, step.key, desk.by, **({kind: shown} if kind else {}))
    if step.evidence == "timer":
        desk.clock.forward(step.seconds + 20)
        steps.do_step(desk.job, step.key, desk.by)
    desk.job.refresh_from_db()


def _screens(desk: Desk, step: Step) -> bool:
    """Screen by screen, each as it must show; false where the device has none here."""
    part = next((part for part in parts(desk.job) if step_of(part) == step.key), None)
    told = entering_out(desk.job, part) if part is not None else None
    while part is not None and told is not None and told["next"]:
        shows = next(screen["shows"] for screen in told["screens"] if screen["key"] == told["next"])
        told = see(desk.job, part, told["next"], shows, desk.by)
    return told is not None and bool(told["screens"])


def _fill(desk: Desk, step: Step, shown: Any) -> None:
    """A grid: what was read, or for seals how long each took from the last die to its seat, each time."""
    if shown is None:
        shown = _as_listed(step)
    if step.grid != "seal_timers":
        row = desk.job.grids.filter(step=step.key).first()
        grids.enter_grid(desk.job, step.key, shown, row.revision if row else 0, desk.by)
        return
    tries = [(n, seconds) for n, each in enumerate(shown, start=1) for seconds in each]
    for cylinder, seconds in tries:
        grids.seal(desk.job, step.key, cylinder, "sized", desk.by)
        desk.clock.forward(seconds)
        grids.seal(desk.job, step.key, cylinder, "seated", desk.by)
        desk.clock.forward(90)


def _as_listed(step: Step) -> dict[str, Any]:
    """Everything off, or back with its figure and nothing left over; every point so, every plug tugged."""
    if isinstance(step.about, ChecksAsked):
        return {"answers": {row.key: row.good[0] for row in step.about.rows}}
    if isinstance(step.about, PlugsAsked):
        named = [(plug.name, plug.like) for plug in step.about.begin] or [("main plug of the box", "")]
        plug = {"lock": "squeeze", "second": True, "labelled": True, "state": "tugged"}
        return {"rows": [{"name": name, "like": like, **plug} for name, like in named]}
    items = step.about.items if isinstance(step.about, AccessAsked | RefitAsked) else ()
    rows: list[dict[str, Any]] = [
        {"name": item.name, "off": True, "back": True, "renewed": True}
        | ({"applied": f"{item.nm:g}", "wrench": "25"} if item.nm else {})
        for item in items
    ]
    return {"rows": rows, "left": "0"}


def wait(desk: Desk) -> None:
    """Nothing happens on this job for a while, or until the next morning."""
    if "hours" in desk.act:
        desk.clock.forward(3600 * desk.act["hours"])
    else:
        desk.clock.to_morning()


def near_now(desk: Desk) -> None:
    """What follows has only just happened."""
    desk.clock.back_to(desk.act.get("minutes", 4) / 60)


def begin(desk: Desk) -> None:
    """A wait is begun and runs on."""
    found = next((s for s in run_sheet(desk.job).steps if s.key == desk.act["step"]), None)
    if found is None or found.evidence != "timer":
        raise BadInput(f"{desk.act['step']} is no wait of this job.", "step")
    steps.do_step(desk.job, found.key, desk.by)
