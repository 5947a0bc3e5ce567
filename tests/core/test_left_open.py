"""Hands go on from where they were: what was opened for one kit is shut, whatever the kit is now."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

import pytest

from tests.core.records import bodies, kit
from ventmap.core.basics import AccessItem, DeviceKind, HouseRules
from ventmap.core.grids import judge_grid
from ventmap.core.runsheet import (
    ACCESS,
    BESIDE_KINDS,
    EARLIER,
    FUEL_GATE,
    LOOKS,
    Act,
    Begun,
    Beside,
    Kit,
    SheetVehicle,
    Step,
    alters,
    build,
    may,
    mistaken,
    off,
    opens_fuel_at,
    remembered,
)

PLAIN = HouseRules({})
POWERED = (Act.power_on, Act.write, Act.enter, Act.start, Act.log, Act.run)
ITEMS = (
    AccessItem(name="engine cover", care="brittle"),
    AccessItem(name="tank", opens="fuel", nm=9.0),
    AccessItem(name="turbo feed", opens="oil", nm=20.0),
    AccessItem(name="thermostat housing", opens="coolant", nm=9.0),
)
BOXES = {body["kind"]: body for body in bodies("devices").values()}
KITS: dict[str, list[Kit]] = {"none": []} | {
    kind.value: [kit(kind.value, about=BOXES[kind.value], injectors="new", pump="new")] for kind in DeviceKind
}
#: What a kit may become: nothing, a tool at the port, a box behind the dash, one that opens no fuel.
LATER = {"none": []} | {
    f"bare {kind.value}": [kit(kind.value, about=BOXES[kind.value])] for kind in DeviceKind
}
CAR = SheetVehicle(4, access=ITEMS, look_alike_parts=("line of cylinder 4",))


def sheet(vehicle: SheetVehicle, kits: list[Kit]) -> dict[str, Step]:
    return {step.key: step for step in build(vehicle, kits, "street", PLAIN).steps}


def barred(act: Act, steps: dict[str, Step], done: Iterable[str]) -> set[str]:
    return {call.rule for call in may(act, [], list(steps.values()), done)}


def ways() -> Iterable[SheetVehicle]:
    besides = tuple(Beside(kind, "part") for kind in BESIDE_KINDS)
    for injection in ("port", "direct", "diesel"):
        yield replace(CAR, injection=injection, besides=besides)


def test_every_step_of_fit_is_known_to_alter_the_vehicle_or_to_look_at_it():
    seen = {
        key: step
        for vehicle in ways()
        for kits in KITS.values()
        for key, step in sheet(vehicle, kits).items()
        if step.stage == "fit"
    }
    assert {key for key, step in seen.items() if not alters(step)} <= LOOKS
    # What only rare kits ask, and the step that nothing asks for by itself.
    assert LOOKS - set(seen) <= {EARLIER, "fit.adapters", "fit.codes", "fit.codes_written", "fit.tap_2"}
    opening = {key for key, step in seen.items() if opens_fuel_at(step) and key not in (ACCESS, "fit.refit")}
    assert opening
    assert all(alters(seen[key]) for key in opening)


@pytest.mark.parametrize("first", DeviceKind)
@pytest.mark.parametrize("later", LATER)
def test_work_that_was_begun_bars_power_until_it_is_shut_whatever_the_kit_is_now(first, later):
    before = sheet(CAR, KITS[first.value])
    assert any(map(alters, before.values()))
    for step in filter(alters, before.values()):
        begun = remembered((), list(before.values()), {step.key}, ())
        assert step.key in {one.key for one in begun}
        now = sheet(replace(CAR, begun=begun), LATER[later])
        if step.key in now:
            continue
        assert set(now[EARLIER].about.rows[0].answers) == {"back", "stays", "open"}
        every = set(now) - {EARLIER}
        for act in POWERED:
            assert barred(act, now, every) == {"gate.begun_before"}, (step.key, act)
            assert barred(act, now, set(now)) == set()
        # With fuel among it the engine is looked at for leaks, and what opens fuel is read first.
        if opens_fuel_at(step):
            assert {"first-start.leaks", *FUEL_GATE} <= set(now)


@pytest.mark.parametrize("later", LATER)
def test_fuel_is_open_from_its_relief_on_whoever_takes_the_part_out_of_the_kit(later):
    before = sheet(CAR, KITS["plug-in ECU"])
    begun = remembered((), list(before.values()), set(FUEL_GATE), ())
    now = sheet(replace(CAR, begun=begun), LATER[later])
    for done in (set(FUEL_GATE), set()):  # nobody takes an open line back by taking its relief back
        for act in POWERED:
            assert barred(act, now, done) & {"gate.fuel_open", "gate.begun_before"}, act


def test_a_rail_that_was_lifted_is_open_until_it_is_torqued():
    steps = sheet(replace(CAR, access=()), KITS["plug-in ECU"])
    for key, step in steps.items():
        if opens_fuel_at(step) or step.shuts:
            assert barred(Act.power_on, steps, set(steps) - {key}) == {"gate.fuel_open"}, key
    assert {"fit.rail", "fit.seals", "fit.blow", "fit.pump"} <= {
        key for key, step in steps.items() if opens_fuel_at(step) or step.shuts
    }
    assert may(Act.power_on, [], list(steps.values()), set(steps)) == []
    # A rail on clips has no bolts; but what opens fuel is done, or is no part of the kit.
    for key, step in steps.items():
        if opens_fuel_at(step) or step.shuts:
            calls = may(Act.power_on, [], list(steps.values()), set(steps) - {key}, aside=[key])
            assert bool(calls) == opens_fuel_at(step), key


@pytest.mark.parametrize("later", LATER)
def test_what_is_off_is_asked_back_whatever_the_list_or_the_kit_is_now(later):
    before = sheet(CAR, KITS["plug-in ECU"])
    rows = [{"name": item.name, "off": item.name != "engine cover"} for item in ITEMS]
    gone = tuple(off((), before[ACCESS], rows))
    assert {item.name for item in gone} == {"tank", "turbo feed", "thermostat housing"}
    now = sheet(replace(CAR, access=(), off=gone), LATER[later])
    assert {item.name for item in now["fit.refit"].about.items} == {item.name for item in gone}
    assert {"fit.oil_level", "fit.coolant_level"} <= set(now)
    for key in ("fit.refit", "fit.oil_level", "fit.coolant_level"):
        # The way in itself may be open again: another variant was chosen since.
        left = set(now) - {key, ACCESS}
        for act in (Act.start, Act.log, Act.run):
            assert "gate.not_back" in barred(act, now, left), (key, act)
    assert barred(Act.start, now, set(now)) == set()
    # What was ticked by mistake is off no longer once its tick is taken away.
    assert off(gone, now[ACCESS], [{"name": item.name, "off": False} for item in ITEMS]) == []


def test_a_relief_taken_back_before_anything_was_touched_opened_nothing():
    fuel = (Begun("fit.pump", "Fit the pump", fuel=True), Begun("fit.plugs", "Swap the computer"))
    assert [one.key for one in mistaken(fuel, ["make-safe.coolant"], [])] == ["fit.plugs"]
    assert mistaken(fuel, ["fit.set"], []) == fuel
    assert mistaken(fuel, [], ["fit.access"]) == fuel


def test_what_is_open_among_it_is_a_stop_that_no_word_lifts():
    begun = (Begun("fit.pump", "Fit the pump", fuel=True), Begun("fit.grounds#9", "A ground", found="Loose."))
    step = sheet(replace(CAR, begun=begun), [])[EARLIER]
    about = step.about
    for answer, verdict in {"back": "go", "stays": "go", "open": "stop"}.items():
        result = judge_grid("checks", about, {"answers": {"fit.pump": answer, "fit.grounds#9": "back"}})
        assert result.verdict.value == verdict
        assert result.complete
        assert all(call.protects == "people" for call in result.calls if call.verdict.value == "stop")
    assert not judge_grid("checks", about, {"answers": {"fit.pump": "back"}}).complete
    assert not step.aside
