"""Grids of a job: what was entered, its judgement into the ledger, and the step that it carries."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User
from django.utils import timezone

from ventmap.core.basics import BadInput, Conflict, Tool, VentMapError, Verdict, merge
from ventmap.core.electrics import pin_plan_csv, read_pin_plan
from ventmap.core.grids import GridResult, judge_grid, pin_rows, settle
from ventmap.core.loading import asked_title, asked_words
from ventmap.core.runsheet import (
    Asked,
    BoardAsked,
    BoardRow,
    GroundsAsked,
    RefitAsked,
    SealsAsked,
    SetAsked,
    Step,
    TorqueAsked,
    WrenchAtHand,
)

from ..schemas import call_out
from ..shelf.models import ShelfItem
from ..shelf.services import record_of
from ..shop.access import full_name
from ..shop.looking import until_written
from . import ledger
from .acting import changes_job
from .assemble import rules, step_by
from .intake import Overtaken
from .judging import rule_of
from .live import live_of
from .models import GridEntry, Job
from .rows import steps_done, vehicle_of
from .steps import finish, ready, reopen


def _step(job: Job, key: str) -> Step:
    step = step_by(job, key)
    if step.evidence != "grid":
        raise BadInput("This step has no grid.", "step")
    return step


@until_written
def _wall() -> tuple[WrenchAtHand, ...]:
    """The torque wrenches of this shop."""
    tools = [(item.name, record_of(item, Tool)) for item in ShelfItem.objects.filter(kind="tool")]
    return tuple(
        WrenchAtHand(name=name, high_nm=tool.torque_high_nm) for name, tool in tools if tool.torque_high_nm
    )


def about(job: Job, step: Step) -> Asked:
    """What the grid needs to know: from the run sheet, the house rules and the tool wall."""
    house, asked = rules(job), step.about
    if isinstance(asked, TorqueAsked | RefitAsked):
        return asked.model_copy(update={"wrenches": _wall(), "wrench_low": house["fit.wrench_low"] / 100})
    if isinstance(asked, GroundsAsked):
        limits = {"static_v": house["fit.ground"], "cranking_v": house["fit.ground_cranking"]}
        return asked.model_copy(update=limits)
    if isinstance(asked, SetAsked):
        spread = {"good": house["plan.spread_good"] / 100, "usable": house["plan.spread_usable"] / 100}
        return asked.model_copy(update=spread)
    if isinstance(asked, BoardAsked):
        kind = vehicle_of(job).kind
        rows = tuple(
            BoardRow(key=key, title=asked_title(key, kind), answers=asked_words(key, kind))
            for key in asked.keys
        )
        reads = ("identity",) if live_of(job, step) == "identity" else ()
        return asked.model_copy(update={"rows": rows, "reads": reads, "vehicle": kind})
    assert asked is not None, "a grid is told what it needs"
    return asked


def grid_out(job: Job, key: str) -> dict[str, Any]:
    """A grid as it stands; judged from what is stored, so that a reload shows the same."""
    step = _step(job, key)
    row = job.grids.select_related("by").filter(step=key).first()
    known = about(job, step)
    data, unfit = row.data if row else {}, ""
    result = GridResult((), complete=False)
    try:
        result = _judged(step, known, data) if row else result
    except VentMapError as error:
        # It was entered when other things were asked: it stays in the grid's history, and is asked anew.
        data, unfit = {}, f"What was entered before does not fit any more. {error.sentence}"
    return {
        "name": step.grid,
        "about": known.model_dump(),
        "data": data,
        "unfit": unfit,
        "revision": row.revision if row else 0,
        "by": full_name(row.by) if row else "",
        "at": row.at if row else None,
        "view": result.view,
        "calls": [call_out(call) for call in result.calls],
        "verdict": result.verdict.value,
        "complete": result.complete,
    }


def result_words(job: Job, key: str) -> list[str]:
    """What an earlier grid found, in words, for the step that works by it."""
    if all(done.key != key for done in steps_done(job)):
        return []
    step, row = step_by(job, key), job.grids.filter(step=key).first()
    if row is None:
        return []
    side = _judged(step, about(job, step), row.data).view.get("side", {})
    return [f"plug {plug}: pin {pin}" for plug, pin in side.items()]


def _judged(step: Step, known: Asked, data: dict[str, Any]) -> GridResult:
    if step.grid == "seal_timers":
        data = {"seals": [_elapsed(row) for row in data.get("seals", [])]}
    return judge_grid(step.grid, known, data)


def _elapsed(row: dict[str, Any]) -> dict[str, Any]:
    seated, sized = row.get("seated_at"), row.get("sized_at")
    return {"cylinder": row["cylinder"], "seconds": seated - sized if seated and sized else None}


@changes_job
def enter_grid(
    job: Job, key: str, data: dict[str, Any], revision: int, by: User, *, by_link: bool = False
) -> dict[str, Any]:
    """Store what was entered and judge it. Incomplete is kept and stays open; faults hold or stop; all well
    does the step. What a link read of a board is entered `by_link` alone.

    What two people enter side by side is merged. Bad data is refused as a whole: nothing is half-written.

    Raises
    ------
    Overtaken
        If somebody else filled the same field since the sender read it; nothing is overwritten.
    """
    step = _step(job, key)
    ready(job, step)
    if step.grid == "seal_timers":
        raise BadInput("A seal is timed by its buttons, not typed.", "seals")
    if step.grid == "board" and not by_link:
        before = job.grids.filter(step=key).first()
        data = {**data, "read": before.data.get("read", {}) if before else {}}
    row, fresh = GridEntry.objects.get_or_create(job=job, step=key, defaults={"data": data, "by": by})
    if not fresh:
        if row.revision != revision:
            data = _merged(row, data, revision)
        row.data, row.by, row.revision = data, by, row.revision + 1
    result = _judged(step, about(job, step), data)
    if not fresh:
        row.save()
    _settle(job, step, result, by)
    return grid_out(job, key)


def _merged(row: GridEntry, data: dict[str, Any], seen: int) -> dict[str, Any]:
    """Both people's entries; where both filled one field, theirs stays and it is said."""
    base = row.history.filter(revision=seen).first()  # type: ignore[attr-defined]
    try:
        return dict(merge(base.data if base else {}, row.data, data))
    except Conflict as conflict:
        raise Overtaken(
            f"{full_name(row.by)} filled the same field meanwhile: {conflict.sentence} Theirs is kept.",
            conflict.field,
        ) from conflict


def _settle(job: Job, step: Step, result: GridResult, by: User) -> None:
    if not result.complete and result.verdict is not Verdict.stop:
        # Half a grid is no judgement yet: it is kept, and the step stays open.
        ledger.withdraw_step(job, step.stage, step.key)
        reopen(job, step.key)
        ledger.touch(job)
        return
    rule = rule_of(step.key)
    ledger.found_now(job, step.stage, rule, settle(result, step.title, rule), by)
    if result.complete and result.verdict is Verdict.go:
        finish(job, step.key, by)
    else:
        reopen(job, step.key)


def judge_again(job: Job, step: Step, by: User) -> bool:
    """Judge a grid by what was entered, against what it is told now; false where nothing was entered, or
    where what was entered is of something else: plugs that there are not any more.
    """
    row = job.grids.filter(step=step.key).first()
    if row is None:
        return False
    try:
        result = _judged(step, about(job, step), row.data)
    except VentMapError:
        return False
    _settle(job, step, result, by)
    return True


@changes_job
def seal(job: Job, key: str, cylinder: int, act: str, by: User) -> dict[str, Any]:
    """The timer of one injector's seal: ``sized`` starts it at the last die, ``seated`` stops it. Sizing
    again starts anew.
    """
    step = _step(job, key)
    seals_asked = step.about
    if not isinstance(seals_asked, SealsAsked) or not 1 <= cylinder <= seals_asked.cylinders:
        raise BadInput("There is no such seal.", "cylinder")
    ready(job, step)
    row, _ = GridEntry.objects.get_or_create(job=job, step=key, defaults={"data": {"seals": []}, "by": by})
    seals = {int(s["cylinder"]): s for s in row.data.get("seals", [])}
    now = timezone.now().timestamp()
    mine = seals.get(cylinder)
    if act == "sized":
        again = mine is not None
        seals[cylinder] = {"cylinder": cylinder, "sized_at": now, "seated_at": None}
        ledger.write(
            job,
            step.stage,
            "timer",
            f"Seal {cylinder} sized{' again' if again else ''}: seat it within {seals_asked.seconds:g} s",
            by,
        )
    elif act == "seated":
        if mine is None or mine.get("seated_at"):
            raise BadInput(f"Seal {cylinder} is not running. Size it first.", "cylinder")
        mine["seated_at"] = now
    else:
        raise BadInput("A seal is sized or seated.", "act")
    row.data = {"seals": [seals[n] for n in sorted(seals)]}
    row.by, row.revision = by, row.revision + 1
    row.save()
    _settle(job, step, _judged(step, about(job, step), row.data), by)
    return grid_out(job, key)


def pin_csv(job: Job, key: str) -> str:
    """The pin plan of a step as CSV."""
    _step(job, key)
    row = job.grids.filter(step=key).first()
    return pin_plan_csv(pin_rows(row.data) if row else [])


def pins_from_csv(job: Job, key: str, text: str, by: User) -> dict[str, Any]:
    """A pin plan from CSV in place of the one that is there; that one stays in the grid's history."""
    plan = read_pin_plan(text)
    row = job.grids.filter(step=key).first()
    return enter_grid(job, key, {"rows": [vars(pin) for pin in plan]}, row.revision if row else 0, by)
