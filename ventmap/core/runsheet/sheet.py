"""The run sheet: the ordered steps of this job, computed from vehicle, kit, goal and house rules."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

from ..basics import STAGE_KEYS, HouseRules
from .access import ACCESS
from .after import after
from .applies import applying, facts_of_job
from .before import baseline, intake, plan
from .begun import alters
from .fit import fit
from .make_safe import make_safe
from .model import Answer, Change, Kit, RunSheet, SheetVehicle, Step


def build(vehicle: SheetVehicle, kits: Sequence[Kit], goal: str, house_rules: HouseRules) -> RunSheet:
    """The steps of a job, in the order in which practitioners work.

    Parameters
    ----------
    vehicle : SheetVehicle
    kits : sequence of Kit
        Devices in the order in which they are fitted; empty before one is chosen.
    goal : str
        ``street``, ``track``, ``tow``, ``economy``, ``learner`` or ``peak``: a goal that asks for long full
        load wants
        the cooling looked at.
    house_rules : HouseRules
        Decide between schools, and give the limits of readings.
    """
    steps = applying(_possible(vehicle, kits, goal, house_rules), facts_of_job(vehicle, kits, goal))
    asked = {step.key for step in steps}
    if gone := tuple(one for one in vehicle.begun if one.key not in asked):
        vehicle = replace(vehicle, earlier=gone)
        steps = applying(_possible(vehicle, kits, goal, house_rules), facts_of_job(vehicle, kits, goal))
        asked = {step.key for step in steps}
    if any(key not in asked for key in vehicle.found):
        steps = _with_found(steps, vehicle, kits, house_rules)
    return RunSheet(tuple(_begun(steps, vehicle)))


def _begun(steps: Sequence[Step], vehicle: SheetVehicle) -> list[Step]:
    """With a mark on what was begun: on the way in where something is off, on what opens fuel and what shuts
    it where that was.
    """
    keys = {one.key for one in vehicle.begun}
    fuel = any(one.fuel for one in vehicle.begun)

    def is_so(step: Step) -> bool:
        if step.key == ACCESS:
            return bool(vehicle.off)
        return (fuel and bool(step.shuts)) or (alters(step) and step.key in keys)

    return [replace(step, begun=True) if is_so(step) else step for step in steps]


def _possible(vehicle: SheetVehicle, kits: Sequence[Kit], goal: str, house_rules: HouseRules) -> list[Step]:
    steps = every_step(vehicle, kits, house_rules)
    if goal in ("track", "tow"):
        place = next(k for k, step in enumerate(steps) if step.key == "intake.battery")
        steps.insert(place, _cooling(goal, vehicle.air_cooled))
    return steps


def _with_found(
    steps: list[Step], vehicle: SheetVehicle, kits: Sequence[Kit], house_rules: HouseRules
) -> list[Step]:
    """With the steps at which something was found that is not put right: another goal makes an engine no
    better, and what was found there is asked until it is right.
    """
    most = replace(vehicle, complaint=True, more_power=True, power_rise=1.0)
    asked = {step.key for step in steps}
    order: list[str] = [*STAGE_KEYS]
    found = list(steps)
    for step in _possible(most, kits, "track", house_rules):
        if step.key in vehicle.found and step.key not in asked:
            place = sum(order.index(other.stage) <= order.index(step.stage) for other in found)
            found.insert(place, replace(step, because="something was found at it"))
    return found


def every_step(vehicle: SheetVehicle, kits: Sequence[Kit], house_rules: HouseRules) -> list[Step]:
    """All that vehicle and kit could be asked, before the facts of the job leave out what they do not
    bring in.
    """
    return [
        *intake(vehicle, house_rules),
        *plan(vehicle, kits),
        *baseline(vehicle, kits),
        *make_safe(vehicle, kits, house_rules),
        *fit(vehicle, kits, house_rules),
        *after(vehicle, kits, house_rules),
    ]


def _cooling(goal: str, air_cooled: bool) -> Step:
    return Step(
        "intake.cooling",
        "intake",
        title=f"Look at the cooling: the goal is {goal}",
        do="Fins, shrouds, fan or ram air, oil cooler."
        if air_cooled
        else "Radiator fins, fan, thermostat, hoses, oil cooler.",
        know="Clean, tight, nothing shuts the wind out."
        if air_cooled
        else "Clean, tight, the fan runs on both speeds.",
        wrong="Long full load finds the weakest part of cooling.",
        evidence="answer",
        answers=(
            Answer("sound", "Sound"),
            Answer(
                "weak",
                "Something is weak",
                verdict="hold",
                advice="Repair it first: long full load finds it.",
            ),
        ),
        minutes=8,
    )


def in_usual_time(sheet: RunSheet, minutes: Mapping[str, float]) -> RunSheet:
    """The sheet with the time that its steps really took before [min], where that is known."""
    if not any(step.key in minutes for step in sheet.steps):
        return sheet
    return RunSheet(
        tuple(
            replace(step, minutes=minutes[step.key]) if step.key in minutes else step for step in sheet.steps
        )
    )


def revise(run_sheet: RunSheet, change: Change) -> tuple[RunSheet, Mapping[str, tuple[str, ...]]]:
    """The sheet after a change, keeping what is done; and what was ``"added"``, ``"dropped"``, ``"changed"``
    and ``"kept"``.
    """
    fresh = build(change.vehicle, change.kits, change.goal, change.house_rules)
    old, new = {s.key: s for s in run_sheet.steps}, {s.key: s for s in fresh.steps}
    done = set(change.done)
    kept = [key for key in old if key in done and key not in new]
    steps = list(fresh.steps)
    for key in kept:
        # What was done stays on the record even where the new kit would not ask for it.
        stage = STAGE_KEYS.index(old[key].stage)
        place = max((k for k, step in enumerate(steps) if STAGE_KEYS.index(step.stage) <= stage), default=-1)
        steps.insert(place + 1, replace(old[key], title=f"{old[key].title} (done before the change)"))
    difference = {
        "added": tuple(k for k in new if k not in old),
        "dropped": tuple(k for k in old if k not in new and k not in done),
        "changed": tuple(k for k in new if k in old and new[k] != old[k] and k not in done),
        "kept": tuple(kept),
    }
    return RunSheet(tuple(steps)), difference
