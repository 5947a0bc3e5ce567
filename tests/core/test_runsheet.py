"""The computed run sheet, variants, symptoms, device fit, parts: from vehicle, kit, goal and house rules."""

from __future__ import annotations

import json
import re
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import ROOT
from tests.core.records import bodies, fit, kit
from ventmap.core.basics import AREAS, RULES, STAGE_KEYS, BadInput, DeviceKind, HouseRules, Verdict
from ventmap.core.runsheet import Change, SheetVehicle, Stocked, build, parts_plan, revise
from ventmap.core.vehicle import (
    BOOK,
    FitResult,
    complaints_of,
    diagnose,
    next_question,
    remaining,
)

CAR = SheetVehicle(4)
PLAIN = HouseRules()


def keys(sheet, stage=None):
    return [step.key for step in sheet.steps if stage in (None, step.stage)]


class TestRunSheet:
    @pytest.mark.parametrize("kind", DeviceKind)
    def test_every_kind_of_device_has_a_sheet_of_its_own(self, kind):
        boxes = {body["kind"]: body for body in bodies("devices").values()}
        sheet = build(CAR, [kit(kind, about=boxes[kind])], "street", PLAIN)
        assert len(set(keys(sheet))) == len(sheet.steps), "a key stands once"
        order = [STAGE_KEYS.index(step.stage) for step in sheet.steps]
        assert order == sorted(order), "practitioners' order"
        other = build(CAR, [kit("no such kind")], "street", PLAIN)
        assert set(keys(sheet, "fit")) - set(keys(other, "fit")), "this kind asks for something"
        for step in sheet.steps:
            known = step.evidence == "auto" or (step.do and step.know and step.wrong)
            assert known, f"{step.key} says what to do, how you know, what goes wrong"
            assert set(step.needs) <= set(keys(sheet)) | {
                "make-safe.coolant",
                "make-safe.relieved",
                "fit.grounds",
            }

    def test_fuel_is_opened_only_behind_its_gate_and_after_its_caution(self):
        sheet = build(CAR, [kit("plug-in ECU", injectors="new")], "street", PLAIN)
        blow = next(step for step in sheet.steps if step.key == "fit.blow")
        assert {"make-safe.coolant", "make-safe.relieved"} <= set(blow.needs)
        assert blow.caution
        without = build(CAR, [kit("plug-in ECU")], "street", PLAIN)
        assert "make-safe.relieved" not in keys(without)
        assert "fit.blow" not in keys(without)

    @pytest.mark.parametrize(
        ("school", "there", "gone"),
        [
            ("run dry", "make-safe.fuse", "make-safe.valve"),
            ("service valve", "make-safe.valve", "make-safe.fuse"),
            ("crack the union", "make-safe.relieved", "make-safe.fuse"),
        ],
    )
    def test_three_schools_of_fuel_pressure(self, school, there, gone):
        sheet = build(
            CAR,
            [kit("plug-in ECU", injectors="new")],
            "street",
            HouseRules({"safe.fuel_school": school, "safe.power_school": "modules asleep"}),
        )
        found = keys(sheet, "make-safe")
        assert there in found
        assert gone not in found
        if school == "crack the union":
            # battery off is mandatory here, whatever the other school says, and comes first
            assert found.index("make-safe.battery") < found.index("make-safe.relieved")
            assert "make-safe.asleep" not in found
        else:
            assert "make-safe.asleep" in found

    def test_direct_injection_waits_for_the_maker_and_no_sheet_widens_what_may_be_left(self):
        vehicle = SheetVehicle(4, "direct", feed_kpa=450.0, fuel_wait_s=900.0)
        sheet = build(
            vehicle,
            [
                kit(
                    "plug-in ECU",
                    injectors="new",
                    injector_about={"codes": [{"name": "flow", "scale": 1, "step": 1}]},
                )
            ],
            "street",
            PLAIN,
        )
        wait = next(step for step in sheet.steps if step.key == "make-safe.maker_wait")
        rail = next(step for step in sheet.steps if step.key == "make-safe.relieved")
        assert wait.seconds == 900
        assert rail.reading.high == PLAIN["safe.rail_left"], (
            "what is left of the feed sprays: no sheet widens it"
        )
        assert rail.reading.protects == "people"
        assert {"fit.decoupling", "fit.sizing", "fit.codes", "fit.codes_written"} <= set(keys(sheet, "fit"))

    def test_diesel_two_batteries_hybrid_airbag_and_hull(self):
        pickup = build(
            SheetVehicle(6, "diesel", two_batteries=True, airbag_near=True),
            [kit("injector driver module", injectors="new")],
            "tow",
            PLAIN,
        )
        titles = {step.key: step for step in pickup.steps}
        assert "both batteries" in titles["make-safe.battery"].title
        assert "licensed practice" in titles["make-safe.airbag"].caution
        assert "cuts skin" in titles["make-safe.relieved"].caution
        assert "intake.plugs" not in titles
        assert "intake.cooling" in titles
        hybrid = build(SheetVehicle(4, "both", hybrid=True), [], "street", PLAIN)
        assert keys(hybrid, "make-safe")[0] == "make-safe.hybrid"
        assert "licensed" in hybrid.of("make-safe")[0].title
        assert (
            keys(build(SheetVehicle(3, kind="watercraft"), [], "street", PLAIN), "make-safe")[0]
            == "make-safe.bilge"
        )

    def test_more_power_asks_for_compression_from_the_house_rule_on(self):
        assert "intake.compression" in keys(build(replace(CAR, power_rise=0.21), [], "street", PLAIN))
        assert "intake.compression" not in keys(build(replace(CAR, power_rise=0.19), [], "street", PLAIN))
        assert "intake.compression" in keys(
            build(replace(CAR, power_rise=0.11), [], "street", HouseRules({"intake.power_rise": 10.0}))
        )

    def test_two_kits_on_one_vehicle(self):
        boxes = bodies("devices")
        sheet = build(
            CAR,
            [
                kit("sensor piggyback", about=boxes["kelmar-shift"]),
                kit("injector piggyback", about=boxes["kelmar-ethanol"]),
            ],
            "street",
            PLAIN,
        )
        found = keys(sheet, "fit")
        assert {"fit.tap_1", "fit.common", "fit.feed_line"} <= set(found)
        assert found.count("fit.grounds") == 1
        tap = next(step for step in sheet.steps if step.key == "fit.tap_1")
        assert "Look-alike" in tap.beware
        assert tap.evidence == "photo"

    @pytest.mark.parametrize(
        ("kind", "more"),
        [
            (kind, more)
            for kind in ["", *DeviceKind]
            for more in ({}, {"injectors": "new"}, {"pump": "new"}, {"about": {"ethanol_sensor": True}})
            if kind or more  # without a device there are fuel parts at least
        ],
        ids=str,
    )
    def test_what_is_powered_down_is_powered_up_and_looked_at(self, kind, more):
        box = kit(kind, **more)
        found = keys(build(CAR, [box], "street", PLAIN))
        assert ("make-safe.battery" in found) == ("fit.power" in found) == (not box.port_only)
        assert box.port_only == ("flasher" in kind and not more), (
            "a write through the port needs the battery; what opens fuel does not leave it on"
        )

    def test_a_power_level_is_held_against_the_octane_in_the_tank(self):
        box = kit("sensor piggyback", about={"levels": [[1, 95.0], [2, 98.0], [3, 100.0]]})

        def words(ron):
            sheet = build(replace(CAR, ron=ron), [box], "street", PLAIN)
            return [
                answer.verdict
                for answer in next(step for step in sheet.steps if step.key == "fit.level").answers
            ]

        assert (words(94.9), words(95.0), words(98.0), words(102.0)) == (
            ["hold"] * 3,
            ["go", "hold", "hold"],
            ["go", "go", "hold"],
            ["go"] * 3,
        )

    @pytest.mark.parametrize("kind", ["motorcycle", "watercraft", "sled", "side-by-side"])
    @pytest.mark.parametrize("school", ["battery off", "modules asleep"])
    def test_no_bonnet_and_no_doors_where_there_are_none(self, kind, school):
        house = HouseRules({"safe.power_school": school})
        for about in (
            kit("plug-in ECU"),
            kit("inline fuel and ignition controller"),
            kit("sensor piggyback"),
        ):
            for step in build(SheetVehicle(2, kind=kind), [about], "street", house).steps:
                said = " ".join((step.title, step.do, step.know, step.wrong, step.caution)).lower()
                assert not re.search(r"\b(car|cars|bonnet|doors?|glove box)\b", said), step.key
                wheels = kind in ("motorcycle", "side-by-side")
                assert wheels or not re.search(r"\b(tyres?|road|straps)\b", said), step.key

    def test_limits_are_told_as_the_house_has_them(self):
        house = HouseRules({"fit.ground": 0.03, "fit.ground_cranking": 0.15, "fit.wrench_low": 25.0})
        box = kit("plug-in ECU", about={"torque": [{"name": "bracket", "nm": 9.0}]})
        told = {step.key: step for step in build(CAR, [box], "street", house).steps}
        assert "0.03 V" in told["fit.ground_drop"].know
        assert "0.15 V" in told["first-start.ground_cranking"].know
        assert "25–100 %" in told["fit.torque"].wrong

    def test_a_change_of_kit_keeps_what_is_done_and_shows_the_difference(self):
        boxes = bodies("devices")
        old = build(CAR, [kit("sensor piggyback", about=boxes["kelmar-shift"])], "street", PLAIN)
        done = ("intake.leaks", "fit.tap_1", "fit.grounds")
        sheet, told = revise(
            old,
            Change(CAR, (kit("injector piggyback", about=boxes["kelmar-ethanol"]),), "street", PLAIN, done),
        )
        assert "fit.common" in told["added"]
        assert "fit.bypass" in told["dropped"]
        assert told["kept"] == ("fit.tap_1",)
        assert "fit.torque" in told["changed"], "a step that is done is not rewritten"
        assert "fit.grounds" not in told["changed"], "a step that is done is not rewritten"
        kept = next(step for step in sheet.steps if step.key == "fit.tap_1")
        assert "before the change" in kept.title

    def test_house_rules_are_checked_and_all_have_an_area_and_a_reason(self):
        assert {key.split(".")[0] for key in RULES} <= set(AREAS)
        for rule in RULES.values():
            assert rule.reason
            assert rule.text
            assert not rule.choices or rule.default in rule.choices
            assert rule.read(str(rule.default)) == rule.default
        with pytest.raises(BadInput, match="Choose one of"):
            RULES["safe.fuel_school"].read("by luck")
        for typed in ("much", "-3", "nan"):
            with pytest.raises(BadInput):
                RULES["safe.coolant"].read(typed)


class TestVariants:
    cars = {
        key: body["tell_tales"]
        for key, body in bodies("vehicles").items()
        if body["model"] == "Corvane Estate"
    }

    def test_only_what_splits_is_asked_and_the_best_first(self):
        question = next_question(self.cars, {})
        assert question
        assert question.tell_tale != "fuel rail colour"
        assert len(question.options) == 2
        after = next_question(self.cars, {"injector plug": "2 pins, grey"})
        assert after, "the plug tells nothing more: both left have 94 pins"
        assert after.tell_tale == "oil cap", "the plug tells nothing more: both left have 94 pins"
        assert remaining(self.cars, {"injector plug": "2 pins, grey", "oil cap": "yellow"}) == [
            "corvane-estate-18"
        ]
        assert next_question(self.cars, {"injector plug": "2 pins, grey", "oil cap": "yellow"}) is None

    def test_what_cannot_be_seen_rules_nothing_out(self):
        assert len(remaining(self.cars, {"injector plug": ""})) == 3
        assert next_question(self.cars, {"injector plug": ""}).tell_tale != "injector plug"

    @given(st.integers(2, 9), st.data())
    def test_answering_truly_always_ends_at_the_truth(self, count, data):
        tales = ("ports", "pins", "colour", "date")
        cars = {
            str(n): {tale: data.draw(st.sampled_from("abc")) for tale in tales if data.draw(st.booleans())}
            for n in range(count)
        }
        truth = data.draw(st.sampled_from(sorted(cars)))
        answers: dict[str, str] = {}
        while question := next_question(cars, answers):
            assert question.expected_left <= len(remaining(cars, answers))
            answers[question.tell_tale] = cars[truth].get(question.tell_tale, "")
        assert truth in remaining(cars, answers)
        assert len(answers) <= len(tales)


class TestSymptoms:
    def test_wet_after_standing_is_a_leak_and_under_boost_is_not(self):
        leak = diagnose("misfire_one", {"wet_after_standing": True, "high_rpm_boost": False})
        boost = diagnose("misfire_one", {"wet_after_standing": False, "high_rpm_boost": True})
        assert leak.causes[0].cause == "leaking injector"
        assert boost.causes[0].cause == "weak spark"
        assert {cause.cause for cause in boost.causes[:2]} == {"weak spark", "clogged injector"}

    @pytest.mark.parametrize("traits", [("petrol",), ("petrol", "boosted"), ("diesel", "boosted")])
    def test_an_engine_is_only_asked_for_what_it_can_have(self, traits):
        """A diesel has no spark, an engine without boost no whistle; each complaint keeps a telling check."""
        known = complaints_of(traits)
        said = " ".join(cause.name for entry in known.values() for cause in entry.causes)
        assert ("spark" in said) == ("petrol" in traits)
        assert ("whistle" in known) == ("boosted" in traits)
        assert len({"smoke_petrol", "smoke_diesel"} & set(known)) == 1
        for key, entry in known.items():
            found = diagnose(key, {}, traits)
            assert {cause.cause for cause in found.causes} == {cause.name for cause in entry.causes}
            assert len(entry.causes) >= 2
            assert found.check
        absent = next(key for key in BOOK if key not in known)
        with pytest.raises(BadInput):
            diagnose(absent, {}, traits)

    @pytest.mark.parametrize("complaint", BOOK)
    def test_shares_add_up_and_the_check_is_cheap_for_what_it_tells(self, complaint):
        found = diagnose(complaint, {})
        assert sum(cause.share for cause in found.causes) == pytest.approx(1.0)
        assert found.check in {test.text for test in BOOK[complaint].tests}
        assert found.ask in BOOK[complaint].signs
        causes = {cause.name for cause in BOOK[complaint].causes}
        for test in BOOK[complaint].tests:
            assert set(test.confirms) <= causes
        for cause in BOOK[complaint].causes:
            assert set(cause.shows) <= set(BOOK[complaint].signs)

    def test_every_sign_answered_leaves_none_to_ask(self):
        found = diagnose("high_idle", dict.fromkeys(BOOK["high_idle"].signs, True))
        assert found.ask == ""
        with pytest.raises(BadInput, match="Choose a complaint"):
            diagnose("squeak", {})
        with pytest.raises(BadInput, match="no sign"):
            diagnose("high_idle", {"smoke": True})


class TestDeviceFit:
    vehicles, devices = bodies("vehicles"), bodies("devices")

    def fit(self, vehicle, device):
        return fit(self.vehicles[vehicle], self.devices[device])

    def test_every_sample_kit_fits_its_vehicle(self):
        shop = json.loads((ROOT / "demo" / "shop.json").read_text())
        for job in shop["jobs"]:
            for device in job.get("devices", [self.vehicles[job["vehicle"]]["usual_device"]]):
                assert self.fit(job["vehicle"], device).result != FitResult.no, (job["vehicle"], device)

    def test_other_engine_connector_gearbox_and_induction_are_refused_with_the_reason(self):
        found = self.fit("corvane-estate-20-di", "fenwright-p4")
        bad = {reason.what: reason.why for reason in found.reasons if reason.result == FitResult.no}
        assert {"engine", "injection", "connector"} <= set(bad)
        assert "this is T20J" in bad["engine"]
        assert found.call.verdict is Verdict.stop
        assert found.call.may_be_overruled
        assert (
            fit(
                {**self.vehicles["corvane-estate-20"], "gearbox_kind": "automatic"},
                self.devices["fenwright-p4"],
            ).result
            == FitResult.no
        )

    def test_work_is_named(self):
        older = {**self.devices["fenwright-p4"], "firmware": "1.9"}
        found = fit(self.vehicles["corvane-estate-20"], older)
        assert found.result == FitResult.with_work
        assert "update the firmware to 2.0" in found.call.do_next
        adapted = self.fit("ostrel-merrin-16t", "ardle-open-96")
        assert adapted.result == FitResult.with_work
        assert any("pin plan" in work for work in adapted.work)
        assert "cruise control" in adapted.will_not_control

    def test_harness_against_the_route(self):
        long = {**self.vehicles["ostrel-merrin-16t"], "route_mm": 1500}
        assert any("longer harness of 1800" in work for work in fit(long, self.devices["kelmar-shift"]).work)
        assert fit({**long, "route_mm": 1900}, self.devices["kelmar-shift"]).result == FitResult.no
        assert self.fit("ostrel-merrin-16t", "kelmar-shift").result == FitResult.fits

    def test_years_across_a_change_and_a_device_made_for_nothing(self):
        span = {**self.vehicles["corvane-estate-20"], "years": [2018, 2022]}
        assert "build date" in fit(span, self.devices["fenwright-p4"]).work[0]
        nothing = fit(self.vehicles["corvane-estate-20"], {"kind": "plug-in ECU", "fits": []}, "Box")
        assert nothing.result == FitResult.unknown
        assert nothing.call.verdict == "hold"
        assert "nobody has looked" in nothing.call.do_next


def test_parts_tools_time_and_money():
    sheet = build(CAR, [kit("plug-in ECU", injectors="new", name="box")], "street", PLAIN)
    stock = {"box": Stocked(900.0, 1), "injector": Stocked(50.0, 2), "upper O-rings": Stocked(1.5, 2)}
    found = parts_plan(sheet.steps, [("box", 1), ("injector", 4)], 4, stock, ["Multimeter"], 60.0)
    lines = {line.name: line for line in found.lines}
    assert (lines["injector"].order, lines["injector"].cost) == (2, 200.0)
    assert lines["box"].order == 0
    assert (lines["upper O-rings"].count, lines["upper O-rings"].order) == (4, 2)
    assert dict(found.tools)["multimeter"] is True
    assert dict(found.tools)["air gun"] is False
    assert "rag" in found.unknown_prices
    assert found.parts_cost == pytest.approx(900 + 200 + 6)
    assert found.labour_cost == pytest.approx(found.minutes)
    assert found.wait_minutes == pytest.approx(20.0)
