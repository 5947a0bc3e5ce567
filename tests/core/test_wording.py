"""Every judgement says its numbers with units, what to do next and where its rule comes from; whatever the
kit, what is done stays done.
"""

from __future__ import annotations

import re

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core import test_findings as faults
from tests.core.drives import drive
from tests.core.records import bodies, fit, kit, sized
from ventmap.core import basics, drum
from ventmap.core.basics import (
    RULES,
    STAGE_KEYS,
    STAGES,
    Call,
    DeviceKind,
    Evidence,
    HouseRules,
    baseline_call,
    codes_call,
    judge_reading,
)
from ventmap.core.electrics import can_termination, ground_call, key_on_calls, pedal_calls
from ventmap.core.findings import ReviewContext, review
from ventmap.core.fuel import PETROL
from ventmap.core.loading import LoadBoard, interrupted_call, load_calls, running_calls
from ventmap.core.runsheet import (
    Change,
    Kit,
    SheetVehicle,
    ShelfInjector,
    build,
    revise,
)
from ventmap.core.sums import SUMS

#: Pure numbers: counts, ratios and ranks that the trade gives no unit.
COUNTS = re.compile(
    r"cylinders?|injectors|codes|points|samples|swings|pulls?|dips|misfires|requirements|runs|entered|pieces|n,"
    r" |places|stored|hottest|seen in|cells"
    r"|AFR|stretches|ratio|lambda|factor|checks|check digit|character|year|wanted|of"
    r" \d|pins?|shims|turns|stands|score|functions|demands|placed|repeats|steps",
    re.I,
)


def made() -> list[Call]:
    """Calls of every kind, good and bad ones."""
    house, shelf_injectors = (
        HouseRules(),
        (
            ShelfInjector("a", "A", flow=330.0, rated_kpa=300.0, ohms=12.0),
            ShelfInjector("b", "B", flow=190.0, rated_kpa=300.0, ohms=2.0),
        ),
    )
    plan = sized(
        power_kw=128.0,
        boosted=False,
        cylinders=4,
        fuel=PETROL,
        fuel_pressure_kpa=300.0,
        altitude_m=1450.0,
        injectors=shelf_injectors,
        rules=house,
    )
    calls = [*plan.calls, *(choice.call for choice in plan.choices)]
    for battery in (12.8, 12.2, 11.8, None):
        calls += load_calls(LoadBoard(battery_v=battery), house)
    calls += [
        interrupted_call(1000, 65536),
        codes_call("x", []),
        codes_call("x", [("P0300", "stored")]),
        baseline_call([]),
        baseline_call(["Log it stock"]),
    ]
    calls += running_calls(
        idle_rpm=1200, idle_target=850, battery_v=12.0, mixture=1.2, trim_percent=9.0, codes=2
    )
    calls += running_calls(
        idle_rpm=0, idle_target=850, battery_v=12.0, mixture=1.0, trim_percent=0.0, codes=0, started=False
    )
    for manifold in (85.0, 88.0, 95.0):
        calls += key_on_calls(
            manifold_kpa=manifold, altitude_m=1450.0, coolant_c=18.0, intake_c=27.0, ambient_c=18.0
        )
    calls += [
        *pedal_calls(0.6, 4.2, 0.3, 2.1),
        *pedal_calls(0.1, 1.0),
        can_termination(60.0),
        can_termination(120.0),
        can_termination(40.0),
    ]
    calls += [ground_call("block", 0.09, False), ground_call("block", 0.1, True)]
    calls += [
        judge_reading("r", "Read it", "coolant", value, "°C", -30.0, 40.0, "Wait.", "people")
        for value in (20.0, 60.0)
    ]
    some_vehicles = list(bodies("vehicles").values())[:3]
    calls += [
        fit(vehicle, device, key).call
        for vehicle in some_vehicles
        for key, device in bodies("devices").items()
    ]
    for kind in SUMS.values():
        calls += kind.run({}).calls
    for standard in drum.STANDARDS:
        calls += [
            drum.correction_factor(standard, basics.standard_pressure(height), 25.0, 0.4).call
            for height in (0, 1450)
        ]
    return calls


@pytest.mark.parametrize("call", made(), ids=lambda call: f"{call.rule} {call.verdict.value}"[:60])
def test_a_call_says_its_numbers_what_to_do_and_why(call):
    assert call.title, call
    assert call.source, call
    assert call.do_next.strip().endswith((".", "?")), call
    assert call.rule and call.because or call.verdict == "go"
    for item in call.because:
        assert with_unit(item), f"{item.label}: {item.value} has no unit"


def with_unit(item: Evidence) -> bool:
    return isinstance(item.value, str) or bool(item.unit) or bool(COUNTS.search(item.label))


@pytest.mark.parametrize("kind", faults.FAULTS)
def test_a_finding_says_its_numbers_and_how_to_tell_causes_apart(kind):
    log, mask = drive()
    faults.FAULTS[kind](log, mask)
    finding = next(
        f for f in review(log, ReviewContext(induction="turbo", idle_target=850.0)).findings if f.kind == kind
    )
    assert all(with_unit(item) for item in finding.evidence), finding.evidence
    assert len(finding.causes) >= 2
    assert finding.check
    assert finding.next.endswith(".")
    assert finding.title


@pytest.mark.parametrize("key", SUMS)
def test_a_sum_is_traced_from_inputs_to_result(key):
    result = SUMS[key].run({})
    for line in result.sums:
        assert line.formula
        assert line.source
        assert line.inputs
        assert all(with_unit(item) for item in (*line.inputs, line.result)), line
    assert result.sums or result.tables, "it computes something"


@pytest.mark.parametrize("kind", DeviceKind)
def test_the_words_of_every_step_are_plain_and_whole(kind):
    boxes = [body for body in bodies("devices").values() if body["kind"] == kind]
    vehicle = SheetVehicle(
        4,
        "both",
        hybrid=True,
        airbag_near=True,
        two_batteries=True,
        power_rise=0.3,
        variants=True,
        kind="watercraft",
    )
    sheet = build(
        vehicle, [kit(kind, injectors="new", about=body, pump="p") for body in boxes], "track", HouseRules()
    )
    for step in sheet.steps:
        for text in (step.do, step.know, step.wrong, step.caution, step.beware):
            assert (
                not text
                or (text[0].isupper() or not text[0].isalpha())
                and text.rstrip().endswith((".", "?", ")"))
            ), f"{step.key}: {text}"
        assert not step.title.endswith(".")
        assert len(step.title) < 75
        assert not re.search(
            r"\b(just|simply|awesome|basically|stuff|gonna)\b|!",
            " ".join((step.title, step.do, step.wrong, step.caution)),
        ), step.key
        if step.reading:
            assert step.reading.unit
            assert step.reading.label
        for answer in step.answers:
            assert answer.verdict == "go" or answer.advice.endswith("."), "a hold says what to do"


def test_rules_and_stages_say_why():
    for rule in RULES.values():
        assert rule.text, rule.key
        assert rule.reason, rule.key
        assert not rule.reason.endswith("."), rule.key
    assert [stage.key for stage in STAGES] == list(STAGE_KEYS)
    assert all(stage.purpose for stage in STAGES)
    assert len(STAGES) == 12


def kits(names: list[str]) -> tuple[Kit, ...]:
    return tuple(kit(bodies("devices")[name]["kind"], about=bodies("devices")[name]) for name in names)


some = st.lists(st.sampled_from(sorted(bodies("devices"))), max_size=3, unique=True)


@settings(max_examples=60)
@given(some, some, st.data())
def test_a_change_of_kit_never_loses_or_doubles_a_step(before, after, data):
    vehicle = SheetVehicle(4)
    old = build(vehicle, kits(before), "street", HouseRules())
    done = tuple(data.draw(st.lists(st.sampled_from([step.key for step in old.steps]), unique=True)))
    sheet, told = revise(old, Change(vehicle, kits(after), "street", HouseRules(), done))
    keys = [step.key for step in sheet.steps]
    assert len(set(keys)) == len(keys), "what is done stays on record"
    assert set(done) <= set(keys), "what is done stays on record"
    places = [STAGE_KEYS.index(step.stage) for step in sheet.steps]
    assert places == sorted(places)
    fresh = {step.key for step in build(vehicle, kits(after), "street", HouseRules()).steps}
    assert set(keys) == fresh | set(told["kept"])
    assert not set(told["dropped"]) & set(keys)
    assert set(told["added"]) == fresh - {step.key for step in old.steps}
    assert not set(told["changed"]) & set(done)
    again, nothing = revise(
        build(vehicle, kits(after), "street", HouseRules()),
        Change(vehicle, kits(after), "street", HouseRules(), ()),
    )
    assert not any(nothing.values())
    assert len(again.steps) == len(fresh)


def test_no_figure_of_a_call_has_the_digits_that_only_its_sum_made():
    """57.300000000000004 is 57.3: held for every call that rules make here, value and limit alike."""
    figures = [
        figure
        for call in made()
        for line in call.because
        for figure in (line.value, line.limit)
        if isinstance(figure, float) and figure == figure
    ]
    assert len(figures) > 50
    assert [figure for figure in figures if len(f"{abs(figure):.12g}".replace(".", "").lstrip("0")) > 7] == []
