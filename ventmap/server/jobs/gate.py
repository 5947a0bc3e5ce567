"""The gate: every act on a vehicle, by link or by hand, asks here whether a stop stands in its way."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from django.utils import timezone

from ventmap.core.basics import BadInput, Call, Verdict
from ventmap.core.runsheet import FUEL_GATE, PRIMES, WAY_OUT, Act, Standing, Step, act_of, may

from . import ledger
from .assemble import run_sheet
from .models import Job, LedgerEntry
from .rows import standing_calls, steps_done

#: Whoever knows what is on the vehicle now says of a stop whether it judged that: False, or None for no word.
ON_IT_NOW: list[Callable[[Job, LedgerEntry], bool | None]] = []


class Barred(BadInput):
    """A stop stands in the way of an act."""


def standing(job: Job) -> list[Standing]:
    """The stops that stand and that nobody overruled."""
    stops = [
        entry
        for entry in standing_calls(job)
        if entry.verdict == Verdict.stop.value and entry.overruled_by_id is None
    ]
    return [
        Standing(
            entry.stage,
            ledger.as_call(entry),
            now=all(known(job, entry) is not False for known in ON_IT_NOW),
        )
        for entry in sorted(stops, key=lambda stop: stop.pk)
    ]


def in_the_way(job: Job, act: Act, own: str = "") -> list[Call]:
    return may(act, standing(job), run_sheet(job).steps, *_ended(job, own))


def _ended(job: Job, own: str = "") -> tuple[set[str], str, set[str]]:
    """Keys of what is done, a rule that stands in no way, and keys of what was set aside."""
    rows = {row.key: row.set_aside for row in steps_done(job)}
    aside = {key for key, why in rows.items() if why}
    return set(rows) - aside, own, aside


def ask(job: Job, act: Act, own: str = "") -> None:
    """Refuse an act that a stop stands in the way of.

    Raises
    ------
    Barred
        Naming every stop, and of the first what is to be done.
    """
    calls = in_the_way(job, act, own)
    if calls:
        raise Barred(sentence(act, calls), "gate")
    if act in PRIMES:
        job.powered_at = timezone.now()
        Job.objects.filter(pk=job.pk).update(powered_at=job.powered_at)


def sentence(act: Act, calls: list[Call]) -> str:
    """Why not, in words: the first stop with its way out, and the names of the others."""
    first, *others = calls
    rest = f" Also: {'; '.join(call.title for call in others[:3])}." if others else ""
    if len(others) > 3:
        rest = f"{rest[:-1]} and {len(others) - 3} more."
    return f"Do not {act.value}: “{first.title}” is a stop. {first.do_next}{rest}".strip()


def ask_step(job: Job, step: Step) -> None:
    """The same for a step that is worked by hand; its own stop is what it answers anew."""
    act = act_of(step)
    if act is Act.open_fuel:
        _relieved_now(job)
    if act is not None:
        ask(job, act, own=f"step.{step.key}")


def _relieved_now(job: Job) -> None:
    """What opens fuel was read, not set aside, and read since there was power last."""
    titles = {step.key: step.title for step in run_sheet(job).steps}
    read = dict(job.steps_done.filter(set_aside="", key__in=FUEL_GATE).values_list("key", "at"))
    powered = Job.objects.values_list("powered_at", flat=True).get(pk=job.pk)
    for key in FUEL_GATE:
        if key not in titles:
            continue
        if key not in read:
            raise Barred(f"First: {titles[key]}. A reading opens fuel, nothing in its place.", "step")
        if powered is not None and powered > read[key]:
            raise Barred(
                f"First: {titles[key]}, again: there was power since it was read, and a pump primes then.",
                "step",
            )


#: Slat → the act that its screen is for.
SCREENS: dict[str, Act] = {
    "load": Act.write,
    "first-start": Act.start,
    "log": Act.log,
    "prove": Act.run,
    "hand-over": Act.hand_over,
}


def barred(job: Job) -> dict[str, dict[str, Any]]:
    """Slat → why its act is stopped, and the slat where the first stop is put right."""
    found = {}
    stops = standing(job)
    ended = _ended(job)
    for stage, act in SCREENS.items():
        calls = may(act, stops, run_sheet(job).steps, *ended)
        if calls:
            every = [{"title": call.title, "stage": _put_right_at(call, stops, stage)} for call in calls]
            found[stage] = {
                "sentence": sentence(act, calls[:1]),
                "stage": every[0]["stage"],
                "every": every if len(every) > 1 else [],
            }
    return found


def _put_right_at(call: Call, stops: list[Standing], here: str) -> str:
    own = WAY_OUT.get(call.rule, here)
    return next((stop.stage for stop in stops if stop.call is call), own)
