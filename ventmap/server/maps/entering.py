"""Devices that are set by hand, screen by screen: what was seen is judged; all right, the step is done."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User
from django.db.models import QuerySet
from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Schema

from ventmap.core.basics import BadInput
from ventmap.core.loading import Cut, Entering, Screen, Shown, enter, screens_of, told_of, ways_on
from ventmap.core.runsheet import BY_KIND

from ..jobs import ledger
from ..jobs.acting import changes_job
from ..jobs.assemble import run_sheet
from ..jobs.models import GridEntry, Job, LedgerEntry
from ..jobs.rows import job_by
from ..jobs.steps import finish, ready, reopen
from ..schemas import CallOut, call_out
from ..shop.access import full_name, worker
from .api import WayOut
from .models import MapVersion
from .parts import MapPart, part_by, parts, versions_of
from .services import calibration_of

router = Router(tags=["load"])
STAGE, RULE = "load", "load.entry"
READ_BACK = "load.read_back"


class ScreenOut(Schema):
    key: str
    setting: str
    press: str
    shows: str
    before: str
    again: bool
    unit: str
    wait_s: float
    state: str
    shown: str
    by: str


class EnteringOut(Schema):
    part: str
    step: str
    """The step that is done when all is right."""
    device: str
    map: str
    screens: list[ScreenOut]
    next: str
    """Key of the screen to go on with; empty where all are right."""
    calls: list[CallOut]
    complete: bool
    way_back: str
    ways: list[WayOut]
    """Should a write by its own tool be cut; empty where nothing is written by a cable."""
    words: bool
    """Words may stand for what is still open: the lead answers for what a screen showed."""
    first: str
    """Step that has to be done before anything is set; empty where none is."""


class SeenIn(Schema):
    key: str
    shown: str


def step_of(part: MapPart) -> str:
    """The step that is done by a device's screens."""
    return f"{READ_BACK}{part.tail}"


def _row(job: Job, part: MapPart, version: MapVersion) -> GridEntry | None:
    """What was seen of this version; of another one nothing counts."""
    # Kept before rows were kept by device: by its place in the kit.
    rows = job.grids.filter(step__in=(_kept_as(part), f"entering{part.tail}"))
    return next((row for row in rows if row.data.get("sha256") == version.sha256), None)


def _kept_as(part: MapPart) -> str:
    """By the device, whichever place in the kit it has: one that was before it may leave."""
    return f"entering.{part.item.key}"[:60]


def _screens(job: Job, part: MapPart) -> tuple[MapVersion | None, list[Screen]]:
    versions = versions_of(job, part.key)
    if part.written or not versions:
        return None, []
    calibration = calibration_of(versions[-1])
    return versions[-1], screens_of(
        calibration,
        off_s=part.device.off_s or 0.0,
        vin=job.vin,
        shows_on=part.device.shows_on or "",
        set_by=part.device.set_by,
    )


def _judged(part: MapPart, screens: list[Screen], said: list[dict[str, str]]) -> Entering:
    return enter(f"{RULE}{part.tail}", screens, [Shown(one["key"], one["shown"]) for one in said])


def entering_out(job: Job, part: MapPart) -> dict[str, Any]:
    version, screens = _screens(job, part)
    row = _row(job, part, version) if version else None
    said = row.data["said"] if row else []
    found = _judged(part, screens, said)
    newest = {one["key"]: one for one in said}
    return {
        "part": part.key,
        "step": step_of(part),
        "device": part.item.name,
        "map": version.version if version else "",
        "screens": [
            {
                **vars(screen),
                "state": state,
                "shown": newest.get(screen.key, {}).get("shown", "") if state != "open" else "",
                "by": newest.get(screen.key, {}).get("by", "") if state != "open" else "",
            }
            for screen, state in zip(screens, found.states, strict=True)
        ],
        "next": found.next.key if found.next else "",
        "calls": [call_out(call) for call in found.calls],
        "complete": bool(screens) and found.complete,
        "ways": [
            vars(way)
            for way in ways_on(
                part.device.kind,
                Cut("write", 0, 0),
                saved=job.steps_done.filter(key=f"load.stock_kept{part.tail}", answer="kept").exists(),
                linked=False,
            )
        ],
        "way_back": BY_KIND.get(part.device.kind, ""),
        "words": _answered_for(job, part),
        "first": _first(job, part) if screens else "",
    }


def _first(job: Job, part: MapPart) -> str:
    """What the step waits for, in words."""
    step = next((step for step in run_sheet(job).steps if step.key == step_of(part)), None)
    if step is None:
        return ""
    try:
        ready(job, step)
    except BadInput as error:
        return error.sentence
    return ""


@changes_job
def see(job: Job, part: MapPart, key: str, shown: str, by: User) -> dict[str, Any]:
    """Somebody saw this on a screen. All right to its end, the step is done with what is in.

    Raises
    ------
    BadInput
        Where a step before it is open, there is nothing to set, or this is not the screen to go on with.
    """
    version, screens = _screens(job, part)
    if version is None or not screens:
        raise BadInput(f"{part.item.name} has no map yet: choose it in Base map.", "map")
    if waits := _first(job, part):
        raise BadInput(waits, "step")
    row = _row(job, part, version)
    said = list(row.data["said"]) if row else []
    found = _judged(part, screens, said)
    at = next((number for number, screen in enumerate(screens) if screen.key == key), None)
    last = len(screens) if found.next is None else screens.index(found.next)
    if at is None or at > last:
        title = found.next.press if found.next else "all is in"
        raise BadInput(f"This screen is not reached yet. Now: {title}.", "key")
    text = shown.strip()
    if screens[at].shows and not text:
        raise BadInput("Type what is shown, or tap that it shows what it must.", "shown")
    now = timezone.now().isoformat()
    said.append({"key": key, "shown": text[:60], "by": full_name(by), "at": now})
    GridEntry.objects.update_or_create(
        job=job,
        step=_kept_as(part),
        defaults={"data": {"sha256": version.sha256, "said": said}, "by": by},
    )
    _settle(job, part, screens, said, by)
    return entering_out(job, part)


def _settle(job: Job, part: MapPart, screens: list[Screen], said: list[dict[str, str]], by: User) -> None:
    now = _judged(part, screens, said)
    rules = {call.rule for call in now.calls}
    for entry in job.ledger.filter(standing=True, rule__startswith=f"{RULE}{part.tail}#"):
        if entry.rule not in rules:
            ledger.withdraw_one(job, STAGE, entry.rule)
    ledger.judge(job, STAGE, list(now.calls), by, {"device": part.item.key})
    if not now.complete:
        reopen(job, step_of(part))
        return
    words = told_of(screens, [Shown(one["key"], one["shown"]) for one in said])
    if finish(job, step_of(part), by, words=words):
        ledger.write(job, STAGE, "reading", f"Set and read back: {part.item.name}"[:160], by, words)


def entered_again(job: Job, by: User) -> None:
    """Another kit: what was seen on a device's screens says nothing of the one in its place, and goes with
    the device wherever it is in the kit now.
    """
    there = {part.tail: part for part in parts(job)}
    for entry in ledger.standing_in(job, STAGE):
        rule, _, _ = entry.rule.partition("#")
        if not rule.startswith(RULE):
            continue
        part = there.get(rule.removeprefix(RULE))
        if part is None or part.item.key != entry.given.get("device", part.item.key):
            ledger.withdraw_one(job, STAGE, entry.rule)
    for part in there.values():
        version, screens = _screens(job, part)
        row = _row(job, part, version) if version else None
        if row is not None:
            _settle(job, part, screens, row.data["said"], by)


def _wrong(job: Job, part: MapPart) -> QuerySet[LedgerEntry]:
    wrong = job.ledger.filter(rule__startswith=f"{RULE}{part.tail}#", standing=True)
    return wrong.exclude(verdict="go")


def _answered_for(job: Job, part: MapPart) -> bool:
    """Whether the lead answered for all that screens showed otherwise."""
    wrong = _wrong(job, part)
    return wrong.exists() and not wrong.filter(overruled_by=None).exists()


def forget(job: Job, key: str) -> None:
    """Screens that were seen before a device is set anew are read again; what was seen stays in history."""
    part = next((part for part in parts(job) if step_of(part) == key), None)
    if part is not None:
        job.grids.filter(step__in=(_kept_as(part), f"entering{part.tail}")).delete()


def unread(job: Job, key: str) -> str:
    """Words pass over no screen that nobody looked at, nor over one that shows something else."""
    part = next((part for part in parts(job) if step_of(part) == key), None)
    told = entering_out(job, part) if part is not None else None
    if told is None or not told["screens"] or told["complete"]:
        return ""
    assert part is not None
    if told["words"]:
        return ""  # what comes after a screen that shows something else is not reached
    if first := _wrong(job, part).filter(overruled_by=None).first():
        return f"{first.title}. {first.text}"
    left = sum(screen["state"] != "right" for screen in told["screens"])
    return (
        f"{left} of {len(told['screens'])} screens of {told['device']} are not read yet: read them one by"
        " one; words stand for none of them."
    )


@router.get("/jobs/{number}/entering", response=list[EnteringOut])
def entering(request: HttpRequest, number: str) -> Any:
    """The devices of a job that are set by hand: their screens, and what was seen on each."""
    job = job_by(number)
    told = [entering_out(job, part) for part in parts(job)]
    return [one for one in told if one["screens"]]


@router.post("/jobs/{number}/entering/{part}", response=EnteringOut)
def post_seen(request: HttpRequest, number: str, part: str, body: SeenIn) -> Any:
    job, by = job_by(number), worker(request)
    return see(job, part_by(job, part), body.key, body.shown, by)
