"""A sheet in proportion: what is absent is absent because of a fact, and that fact brings it back."""

from __future__ import annotations

import itertools
from dataclasses import replace

import pytest

from ventmap.core.basics import DEVICES, HouseRules
from ventmap.core.runsheet import (
    FACTS_OF_A_JOB,
    WHEN,
    Kit,
    SheetVehicle,
    applying,
    brought_in_by,
    build,
    every_step,
    facts_of_job,
    why_absent,
)

RULES = HouseRules()
CAR = SheetVehicle(4, hybrid=False, airbag_near=False, prepared=False)
FLASHER, BODY = "handheld or phone flasher", "body-network module"
QUIET = Kit(FLASHER, hose=False, about=DEVICES[FLASHER](kind=FLASHER, changes_engine=False))
KITS = [(), (QUIET,), (Kit("", injectors="x", hose=False),)]
KITS += [(Kit(kind, hose=False),) for kind in DEVICES]


def whole(vehicle: SheetVehicle, kits: tuple[Kit, ...]) -> list[str]:
    """Every step that a sheet could have, with nothing left out."""
    return [step.key for step in every_step(vehicle, kits, RULES)]


@pytest.mark.parametrize("kits", KITS, ids=lambda kits: kits[0].device if kits else "no kit")
def test_every_absent_step_lacks_each_of_its_facts_and_any_of_them_brings_it_in(kits):
    for complaint, more, goal in itertools.product((False, True), (False, True), ("street", "track")):
        vehicle = replace(CAR, complaint=complaint, more_power=more)
        facts = facts_of_job(vehicle, kits, goal)
        here = {step.key: step for step in build(vehicle, kits, goal, RULES).steps}
        for key in whole(vehicle, kits):
            by = brought_in_by(key)
            assert set(by) <= set(FACTS_OF_A_JOB), key
            assert (key in here) == (not by or bool(set(by) & facts)), (key, facts)
            if key in here and by:
                assert here[key].because in {FACTS_OF_A_JOB[name] for name in by if name in facts}


def test_each_fact_of_each_line_is_enough_by_itself():
    for head, facts in WHEN:
        keys = {key for kits in KITS for key in whole(CAR, kits) if key.startswith(head)}
        assert keys or head in ("plan.pump", "fit.filter"), head
        for fact in facts:
            steps = [step for step in build(CAR, (), "street", RULES).steps if step.key.startswith(head)]
            assert len(applying(steps, frozenset({fact}))) == len(steps), (head, fact)
            assert applying(steps, frozenset()) == []


def test_nothing_opened_and_an_engine_as_before_is_twelve_steps():
    sheet = build(CAR, (QUIET,), "street", RULES)
    assert len(sheet.steps) <= 12
    assert not sheet.of("make-safe")
    assert not [key for step in sheet.steps if (key := step.key).startswith(("log.", "prove.", "correct."))]
    facts = facts_of_job(CAR, (QUIET,), "street")
    assert why_absent(facts, "make-safe").endswith("no work lies at the engine, no fuel is opened.")
    assert "the engine is run as before" in why_absent(facts, "log")


@pytest.mark.parametrize(
    ("change", "goal"),
    [({"complaint": True}, "street"), ({"more_power": True}, "street"), ({}, "tow"), ({}, "peak")],
)
def test_a_complaint_more_power_or_long_load_bring_the_health_checks_in(change, goal):
    sheet = build(replace(CAR, **change), (QUIET,), goal, RULES)
    keys = {step.key for step in sheet.steps}
    assert {"intake.leaks", "intake.fluids", "intake.plugs", "log.review", "prove.runs"} <= keys


@pytest.mark.parametrize("known", ["no record", "not answered", "guessed"])
def test_what_nobody_knows_of_a_flasher_counts_as_if_it_changed_the_engine(known):
    record = DEVICES[FLASHER]
    about = {
        "no record": None,
        "not answered": record(kind=FLASHER),
        "guessed": record(kind=FLASHER, changes_engine=False, told={"changes_engine": {"source": "guessed"}}),
    }[known]
    sheet = build(CAR, (Kit(FLASHER, hose=False, about=about),), "street", RULES)
    assert {"intake.leaks", "log.review"} <= {step.key for step in sheet.steps}


def test_a_box_between_body_and_engine_cools_nothing_and_takes_its_battery_off():
    keys = {step.key for step in build(CAR, (Kit(BODY, hose=False),), "street", RULES).steps}
    assert "make-safe.battery" in keys
    assert not {"make-safe.cool", "make-safe.coolant", "intake.plugs", "plan.injectors"} & keys
