"""What is not known: asked at a step that exists, read or refused in words, and never passed as go."""

from __future__ import annotations

import itertools

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.records import sized
from ventmap.core.basics import DEVICES, BadInput, HouseRules, Injector, Pump, Vehicle, read_device
from ventmap.core.fuel import PETROL, read_dead_time
from ventmap.core.grids import judge_grid
from ventmap.core.needs import (
    QUESTIONS,
    Thing,
    Worked,
    asks_at,
    guesses_under,
    kept,
    learned,
    may_replace,
    open_asks,
    question_of,
    read_answer,
    usual_minutes,
)
from ventmap.core.runsheet import Kit, SheetVehicle, ShelfInjector, build, in_usual_time
from ventmap.core.vehicle import goal_fits, match_kit

BARE = {"model": "m", "kind": "car", "cylinders": 4, "stroke": 4, "injection": "port", "induction": "turbo"}
RECORDS = {"vehicle": (Vehicle,), "device": tuple(DEVICES.values()), "injector": (Injector,), "pump": (Pump,)}
SCHOOLS = {"safe.power_school": "modules asleep"}


def all_steps() -> set[str]:
    """Keys of the steps that any kind of kit on any kind of vehicle may ask, by either school."""
    keys: set[str] = set()
    for injection, kind, school in itertools.product(("port", "direct", "diesel"), DEVICES, ({}, SCHOOLS)):
        about = read_device({"kind": kind})
        kits = [Kit(kind, injectors="new", injector_about=None, pump="p", about=about)]
        for prepared in (True, False):
            sheet = build(SheetVehicle(4, injection, prepared=prepared), kits, "street", HouseRules(school))
            keys |= {step.key for step in sheet.steps}
    return keys


def test_every_question_is_of_a_field_that_is_there_and_asked_at_a_step_that_is_there():
    steps = all_steps()
    for question in QUESTIONS:
        fields = set().union(*(record.model_fields for record in RECORDS[question.of]))
        assert question.field in fields, question.field
        assert any(question.at(step) for step in steps), (question.field, question.steps)


@pytest.mark.parametrize("kind", DEVICES)
def test_a_bare_record_is_asked_and_a_full_one_is_not(kind):
    things = [
        Thing("vehicle", "v", "v", Vehicle.model_validate(BARE)),
        Thing("device", "d", "d", read_device({"kind": kind})),
    ]
    fields = {ask.question.field for ask in open_asks(things)}
    assert {"hybrid", "two_batteries", "fuel_pressure_kpa"} <= fields
    must = [ask.question.field for ask in asks_at("make-safe.cool", open_asks(things))]
    reached = DEVICES[kind].retunes and not DEVICES[kind].rewrites_stock
    assert must == ["hybrid", "airbag_near", *(["access"] if reached else [])]


@pytest.mark.parametrize("injection", ["port", "direct", "both", "diesel"])
@pytest.mark.parametrize("kind", ["car", "motorcycle", "watercraft"])
def test_what_a_step_holds_for_can_be_answered_there(injection, kind):
    """A hold that nobody can answer is clicked away: each limit that may be None has its question."""
    record = Vehicle.model_validate({**BARE, "kind": kind, "injection": injection})
    fields = {ask.question.field for ask in open_asks([Thing("vehicle", "v", "v", record)])}
    assert {"compression_kpa", "power_kw", "two_batteries", "idle_rpm", "rail_bolt_nm"} <= fields
    assert ({"feed_kpa", "fuel_wait_s"} <= fields) == (injection != "port")
    sheet = build(SheetVehicle(4, injection, kind=kind), [], "street", HouseRules({}))
    step = next(step for step in sheet.steps if step.key == "intake.compression")
    assert ("coil" in step.caution) == (injection != "diesel")


SHEET = (
    "V;250;300\n8;1.9;2.0\n12;1.0;1.1\n14;0.8;0.85",
    ([8, 12, 14], [250, 300], [[1.9, 2.0], [1.0, 1.1], [0.8, 0.85]]),
)


@pytest.mark.parametrize(
    "text",
    [
        SHEET[0],
        SHEET[0].replace(";", "\t").replace(".", ","),
        "kPa 8 12 14\n250 1.9 1.0 0.8\n300 2.0 1.1 0.85",
        "14\t12\t8\n3 bar\t0.85\t1.1\t2.0\n2.5 bar\t0.8\t1.0\t1.9",
        "V;2,5;3\n8 V;1900 µs;2000\n12 V;1000;1100\n14 V;800;850",
    ],
)
def test_a_sheet_of_dead_times_reads_alike_in_any_orientation_unit_or_mark(text):
    figures, slips = read_dead_time(text, 300.0)
    assert (figures["voltages"], figures["pressures_kpa"], figures["ms"]) == SHEET[1]
    assert not slips


@pytest.mark.parametrize(
    "text", ["8 2.0\n12 1.1\n14 0.85", "8;12;14\n2.0;1.1;0.85", "V\tms\n8\t2,0\n12\t1,1\n14\t0,85"]
)
def test_two_rows_or_columns_are_at_the_rated_pressure(text):
    figures, slips = read_dead_time(text, 300.0)
    assert figures == {"voltages": [8, 12, 14], "pressures_kpa": [300.0], "ms": [[2.0], [1.1], [0.85]]}
    assert not slips


def test_a_slip_of_typing_is_named_and_a_sound_cell_is_not_accused():
    _, slips = read_dead_time(SHEET[0].replace("1.1", "0.11"), 300.0)
    assert slips
    assert "12 V, 300 kPa" in str(slips[0].because)


@settings(max_examples=600)
@given(st.text("0123456789.,;\t\nVkPabar -", max_size=60))
def test_any_paste_is_a_table_or_a_sentence(text):
    try:
        figures, _ = read_dead_time(text, 300.0)
    except BadInput as error:
        assert error.field == "dead_time"
        assert error.sentence.endswith(".")
    else:
        assert figures["voltages"] == sorted(figures["voltages"])


def test_answers_are_read_in_their_form_or_refused_by_name():
    by = {(q.of, q.field): q for q in QUESTIONS}
    read = lambda field, given, of="device": read_answer(by[of, field], given)  # noqa: E731
    assert read("compression_kpa", ["9 bar", "1500"], "vehicle") == [900.0, 1500.0]
    assert read("banks", "2", "vehicle") == 2
    assert read("hybrid", "no", "vehicle") is False
    assert read("twin_plugs", [{"one": "A", "other": "B"}, {"one": " ", "other": ""}]) == [["A", "B"]]
    assert read("torque", [{"name": "bolt", "nm": "10", "count": "2"}]) == [
        {"name": "bolt", "nm": 10.0, "count": 2, "critical": True}
    ]
    for field, bad, of in [
        ("compression_kpa", ["1500", "900"], "vehicle"),
        ("hybrid", "perhaps", "vehicle"),
        ("rail_bolt_nm", "tight", "vehicle"),
        ("twin_plugs", [{"one": "A", "other": ""}], "device"),
        ("grounds", "battery", "device"),
    ]:
        with pytest.raises(BadInput) as told:
            read(field, bad, of)
        assert told.value.field == field


class TestNothingUnknownIsGo:
    """Each of these was a usual figure once, or could be taken for one."""

    def test_compression_without_the_makers_limits(self):
        about = {"cylinders": 2, "low": None, "high": None, "spread": 0.15, "leak_most": 0.2}
        found = judge_grid("compression", about, {"kpa": ["1200", "1190"]})
        assert found.verdict == "hold"
        assert "not known" in str(found.calls[0].because)

    @pytest.mark.parametrize("goal,stock", [(None, 40.0), (35.0, None)])
    def test_a_learners_goal(self, goal, stock):
        assert goal_fits("learner", goal, stock).verdict == "hold"

    def test_a_device_whose_list_nobody_has_read(self):
        vehicle = Vehicle.model_validate({**BARE, "engine": "E"})
        assert match_kit(vehicle, read_device({"kind": "plug-in ECU"})).call.verdict == "hold"
        told = read_device(
            {"kind": "plug-in ECU", "fits": [{"engine": "F"}], "told": {"fits": {"source": "guessed"}}}
        )
        assert match_kit(vehicle, told).call.verdict == "hold"
        assert match_kit(vehicle, told.model_copy(update={"not_for": ("E",)})).call.verdict == "stop"

    def test_injectors_of_unknown_resistance(self):
        plan = sized(
            power_kw=90.0,
            boosted=False,
            cylinders=4,
            fuel=PETROL,
            fuel_pressure_kpa=300.0,
            altitude_m=0.0,
            injectors=(ShelfInjector("a", "a", flow=300.0, rated_kpa=300.0, ohms=None),),
            rules=HouseRules({}),
        )
        assert plan.choices[0].call.verdict == "hold"

    def test_what_limits_a_reading_is_no_limit_that_passes(self):
        kits = [Kit("injector piggyback", injectors="new", about=read_device({"kind": "injector piggyback"}))]
        steps = {s.key: s for s in build(SheetVehicle(4, "direct"), kits, "street", HouseRules({})).steps}
        assert steps["fit.rail"].reading.high == 0.0
        assert steps["make-safe.relieved"].reading.high < 100.0
        assert "every battery" in steps["make-safe.battery"].title
        assert "intake.compression" in steps, "asked where nobody knows by how much power rises"

    def test_a_guess_stands_beside_what_rests_on_it(self):
        vehicle = Vehicle.model_validate(
            {
                **BARE,
                "fuel_pressure_kpa": 300.0,
                "told": {"fuel_pressure_kpa": {"source": "guessed", "by": "Ann"}},
            }
        )
        things = [Thing("vehicle", "v", "v", vehicle)]
        marks = guesses_under("plan.injectors", things)
        assert marks
        assert marks[0].value == "300 kPa, by Ann"
        assert not guesses_under("intake.vin", things)


class TestKeeping:
    """What a job learned: offered where the record lacks it or guesses it, never over a better source."""

    def things(self, **vehicle) -> list[Thing]:
        return [
            Thing("vehicle", "v", "v", Vehicle.model_validate({**BARE, **vehicle})),
            Thing("device", "d", "d", read_device({"kind": "sensor piggyback"})),
            Thing("injector", "i", "i", Injector(flow=300.0, rated_kpa=300.0)),
        ]

    def offered(self, worked: Worked, **vehicle) -> dict[str, object]:
        return {item.field: item.value for item in learned(self.things(**vehicle), worked)}

    def test_a_reading_fills_what_is_not_known_or_guessed(self):
        worked = Worked({"fit.ohms": 12.2, "first-start.idle": 870.0}, slept_s=412.0)
        assert self.offered(worked) == {"ohms": 12.2, "idle_rpm": 870.0, "sleep_s": 412}
        guessed = {"idle_rpm": 900.0, "told": {"idle_rpm": {"source": "guessed"}}}
        assert self.offered(worked, **guessed)["idle_rpm"] == 870.0
        sheet = {"idle_rpm": 900.0, "told": {"idle_rpm": {"source": "maker's sheet"}}}
        assert "idle_rpm" not in self.offered(worked, **sheet)

    def test_seats_and_identity_go_where_they_belong(self):
        worked = Worked({}, seats_mm={"vehicle": 61.0, "injector": 63.6}, identity={"computer": "KT-9"})
        items = learned(self.things(), worked)
        bodies = {item.of + "." + item.field: kept({}, item) for item in items}
        assert bodies["vehicle.seat_to_rail_mm"] == {"injector_seat": {"seat_to_rail_mm": 61.0}}
        assert bodies["injector.seat_to_rail_mm"] == {"seat_to_rail_mm": 63.6}
        assert bodies["vehicle.stock_computer"] == {"stock_computer": "KT-9"}

    def test_times_add_up_and_the_sheet_follows_their_middle(self):
        taps = {"fit.plugs": 22.0, "fit.level": 0.1, "fit.tidy": 900.0}
        (times,) = learned(self.things(), Worked({}, minutes=taps))
        assert times.of == "device", "a tap and a night are no times"
        assert times.value == {"fit.plugs": 22.0}, "a tap and a night are no times"
        body: dict = {"kind": "sensor piggyback", "minutes": {"fit.plugs": [10.0, 12.0]}}
        for _ in range(20):
            body = kept(body, times)
        assert len(body["minutes"]["fit.plugs"]) == 12, "old ones are left behind"
        usual = usual_minutes([read_device({**body, "minutes": {"fit.plugs": [10.0, 30.0, 22.0]}})])
        assert usual == {"fit.plugs": 22.0}
        sheet = build(SheetVehicle(4), [Kit("sensor piggyback")], "street", HouseRules({}))
        timed = {s.key: s.minutes for s in in_usual_time(sheet, usual).steps}
        plain = {s.key: s.minutes for s in sheet.steps}
        assert timed["fit.plugs"] == 22.0
        assert timed["fit.tidy"] == plain["fit.tidy"]


@pytest.mark.parametrize(
    "had,now,answer",
    [
        ("guessed", "guessed", "taken"),
        ("guessed", "maker's sheet", "taken"),
        ("maker's sheet", "measured here", "taken"),
        ("maker's sheet", "guessed", "refused"),
        ("measured here", "guessed", "refused"),
        ("measured here", "maker's sheet", "asked"),
    ],
)
def test_a_worse_source_never_takes_the_place_of_a_better_one(had, now, answer):
    record = Vehicle.model_validate({**BARE, "power_kw": 90.0, "told": {"power_kw": {"source": had}}})
    thing, question = Thing("vehicle", "v", "V", record), question_of("vehicle", "power_kw")
    may_replace(question, thing, 90.0, now, anyway=False)  # the same figure contradicts nothing
    if answer == "taken":
        may_replace(question, thing, 95.0, now, anyway=False)
        return
    with pytest.raises(BadInput, match="95 kW" if answer == "asked" else "does not take its place"):
        may_replace(question, thing, 95.0, now, anyway=False)
    if answer == "asked":
        may_replace(question, thing, 95.0, now, anyway=True)


def test_what_protects_is_looked_up_and_an_unknown_source_is_refused():
    protecting = [question for question in QUESTIONS if question.protects]
    assert {question.field for question in protecting} >= {"hybrid", "grounds", "feed_kpa", "fuel_wait_s"}
    thing = Thing("vehicle", "v", "V", Vehicle.model_validate(BARE))
    for question in protecting:
        assert question.must, "what protects is never passed over"
        if question.of == "vehicle":
            with pytest.raises(BadInput, match="do not guess"):
                may_replace(question, thing, True, "guessed", anyway=True)
    with pytest.raises(BadInput, match="Say where it comes from"):
        may_replace(protecting[0], thing, True, "hearsay", anyway=False)


def test_a_call_is_marked_by_the_guesses_it_rests_on_and_by_no_other():
    guessed = {"source": "guessed", "by": "Ann"}
    vehicle = Vehicle.model_validate(
        {
            **BARE,
            "idle_rpm": 900.0,
            "boost_kpa": 60.0,
            "told": {"idle_rpm": guessed, "boost_kpa": guessed},
        }
    )
    things = [Thing("vehicle", "v", "v", vehicle)]
    marks = {
        rule: [mark.value.split(",")[0] for mark in guesses_under(rule, things)]
        for rule in (
            "log.idle_high_air",
            "step.first-start.idle",
            "sum.fuel-pump",
            "sum.feed-line",
            "log.knock",
        )
    }
    assert marks == {
        "log.idle_high_air": ["900 rpm"],
        "step.first-start.idle": ["900 rpm"],
        "sum.fuel-pump": ["60 kPa"],
        "sum.feed-line": [],
        "log.knock": [],
    }
