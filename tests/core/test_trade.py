"""The trade as the sample shop holds it: what each kind of device asks for, and a shelf with enough on it to
exercise every rule.
"""

from __future__ import annotations

import json
import re
from itertools import product

import pytest

from tests.conftest import ROOT
from tests.core.records import bodies, fit, kit
from tests.core.test_needs import BARE
from ventmap.core.basics import DEVICES, STAGES, AccessItem, DeviceKind, HouseRules, Vehicle, Verdict, slat
from ventmap.core.grids import judge_grid
from ventmap.core.runsheet import (
    BY_KIND,
    BY_KIND_AT_START,
    CAUTIONS,
    LAW,
    Beside,
    SheetVehicle,
    Undone,
    build,
    in_the_tank,
    law,
    way_back,
    what_to_feed,
)
from ventmap.core.vehicle import (
    BOOK,
    TRAITS,
    check_vin,
    complaints_of,
    diagnose,
    next_question,
    remaining,
    traits_of,
)


def of_kind(kind: str) -> dict:
    return next(body for body in bodies("devices").values() if body["kind"] == kind)


#: Kind → steps that it alone, or it among few, asks for; and words that must stand in them.
ASKS: dict[str, dict[str, str]] = {
    "plug-in ECU": {
        "fit.plugs": "stock computer goes on the shelf",
        "fit.hose": "sees the whole plenum",
        "fit.grounds": "destroy the computer",
    },
    "board in the stock case": {
        "fit.open_case": "Boards die of a spark",
        "fit.case_hole": "chip",
        "fit.close_case": "no screw is left over",
        "fit.case_torque": "before the lid is sealed",
        "fit.seal_case": "bead",
        "fit.map_first": "hold injectors or coils on",
        "fit.hose": "no kink",
    },
    "standalone on an adapted harness": {
        "fit.wont": "will not control",
        "fit.pin_plan": "keep, pull, move, join or insulate",
        "fit.move_pins": "cover every pulled end",
    },
    "sensor piggyback": {
        "fit.tap_1": "Look-alike",
        "fit.plugs": "Goes on both ways",
        "fit.bypass": "vehicle is stock again",
        "fit.level": "octane",
        "fit.warm_delay": "passive",
    },
    "injector piggyback": {
        "fit.common": "shared feed",
        "fit.feed_lead": "never closes",
        "fit.feed_line": "arrow with the flow",
        "fit.probe": "bare metal",
    },
    "inline fuel and ignition controller": {
        "fit.selector": "learner position is the lowest",
        "fit.shift_rod": "1 diameter in steel, 1.5 in aluminium",
    },
    "handheld or phone flasher": {"fit.port": "costs a computer", "fit.filter": "map was made for"},
    "laptop flasher with a remote tuner": {
        "fit.port": "costs a computer",
        "fit.wideband": "away from a leak",
    },
    "swapped computer": {"fit.plugs": "VIN and calibration identity", "fit.strap": "ground strap"},
    "factory computer on a swap harness": {
        "plan.no_way_back": "no stock computer runs it again",
        "fit.branches": "hangs shorts",
        "fit.swap_grounds": "throttle cable",
    },
    "injector driver module": {"fit.set_of_maps": "one set", "fit.plugs": "driver module"},
    "body-network module": {"fit.can": "60 Ω", "fit.numbers": "Numbers differ by engine"},
}


@pytest.mark.parametrize("kind", DeviceKind)
def test_what_each_kind_of_device_asks_for(kind):
    vehicle = SheetVehicle(
        4, "diesel" if "injector driver" in kind else "port", kind="motorcycle" if "inline" in kind else "car"
    )
    sheet = build(vehicle, [kit(kind, about=of_kind(kind))], "street", HouseRules())
    steps = {step.key: step for step in (*sheet.of("plan"), *sheet.of("fit"))}
    for key, words in ASKS[kind].items():
        step = steps[key]
        said = " ".join((step.title, step.do, step.know, step.wrong, step.caution, step.beware))
        assert words.lower() in said.lower(), f"{key}: {said}"
    port_only = "flasher" in kind
    assert ("fit.grounds" in steps) != port_only
    assert ("fit.routing" in steps) != port_only
    assert way_back(Undone(fitted=(("It", kind),)))[0] == f"It: {BY_KIND[kind]}"
    # Where there is none, the owner says yes before the first plug.
    assert ("plan.no_way_back" in steps) == DEVICES[kind].no_way_back
    if DEVICES[kind].no_way_back:
        assert "plan.no_way_back" in steps["fit.plugs"].needs


#: Branch of a swap harness → whether a swap may be without it, and whether an open one can hurt.
BRANCHES = {
    "engine": (False, True),
    "throttle": (False, True),
    "sensors": (False, False),
    "supply": (False, True),
    "port": (False, False),
    "oxygen": (True, False),
    "gearbox": (True, True),
    "body": (True, True),
    "fans": (True, False),
}


@pytest.mark.parametrize("branch", BRANCHES)
def test_a_branch_that_no_engine_runs_without_is_never_passed_as_missing(branch):
    kind = "factory computer on a swap harness"
    sheet = build(SheetVehicle(4), [kit(kind, about=of_kind(kind))], "street", HouseRules())
    about = next(step for step in sheet.steps if step.key == "fit.branches").about
    assert {row.key for row in about.rows} == set(BRANCHES)
    may_lack, harms = BRANCHES[branch]
    asked = next(row for row in about.rows if row.key == branch)
    assert ("none" in asked.answers) == may_lack
    told = judge_grid("checks", about, {"answers": {branch: "open"}}).calls[0]
    assert told.verdict is (Verdict.stop if harms else Verdict.hold)


#: Things on the way, one for each that can be opened, and a cover.
EVERYTHING = (
    AccessItem(name="engine cover", care="brittle"),
    *(AccessItem(name=f"a {what} line", opens=what, nm=9.0) for what in CAUTIONS),
)


def test_the_sample_shelf_exercises_every_step_there_is():
    """Every step that the source can write is written for some vehicle, kit, goal and school of the sample
    shop.
    """
    written = set()
    for path in (ROOT / "ventmap" / "core" / "runsheet").glob("*.py"):
        written |= set(re.findall(r'Step\(\s*f?"([a-z-]+\.[\w{}+ ]+)"', path.read_text()))
    written = {re.sub(r"\{.*\}", "1", key.replace("{tail}", "")) for key in written}
    # What each kind asks for at its first start stands in a table.
    written.remove("first-start.1")
    written |= {f"first-start.{row[1]}" for rows in BY_KIND_AT_START.values() for row in rows}
    schools = list(
        product(("run dry", "service valve", "crack the union"), ("battery off", "modules asleep"))
    )
    seen = set()
    for number, (vehicle, device) in enumerate(
        product(bodies("vehicles").values(), bodies("devices").values())
    ):
        fuel, power = schools[number % len(schools)]
        house = HouseRules({"safe.fuel_school": fuel, "safe.power_school": power})
        for injector in (
            None,
            next(
                (
                    body
                    for body in bodies("injectors").values()
                    if body.get("family") == vehicle.get("injector_family")
                ),
                None,
            ),
        ):
            box = kit(
                device["kind"],
                injectors="new" if injector else None,
                hose=bool(device.get("hose")),
                about=device,
                injector_about=injector or {},
                injector_work=("collars on the necks",) if injector else (),
                pump="p" if injector else None,
            )
            about = SheetVehicle(
                int(vehicle["cylinders"]),
                vehicle["injection"],
                kind=vehicle["kind"],
                two_batteries=bool(vehicle.get("two_batteries")),
                hybrid=bool(vehicle.get("hybrid")),
                airbag_near=bool(vehicle.get("airbag_near")),
                idle_rpm=vehicle.get("idle_rpm"),
                power_rise=0.3 * (number % 2),
                prepared=bool(number % 3),
                automatic=vehicle.get("gearbox_kind") == "automatic",
                variants=True,
                access=EVERYTHING if number % 2 else None,
                complaints=("It smokes",) if number % 2 else (),
                besides=(Beside("relay"),) if number % 2 else (),
            )
            seen |= {step.key for step in build(about, [box], ("street", "track")[number % 2], house).steps}
    assert written - seen == set()


class TestSampleShop:
    def test_enough_of_everything(self):
        vehicles = bodies("vehicles").values()
        assert {"car", "van", "pickup", "motorcycle", "watercraft", "sled", "side-by-side"} <= {
            v["kind"] for v in vehicles
        }
        assert len(vehicles) >= 8
        assert {d["kind"] for d in bodies("devices").values()} == set(DeviceKind)
        assert len(bodies("injectors")) >= 12
        assert len(bodies("pumps")) >= 4

    def test_vins_are_made_up_with_a_valid_check_digit(self):
        jobs = json.loads((ROOT / "demo" / "shop.json").read_text())["jobs"]
        for job in jobs:
            years = bodies("vehicles")[job["vehicle"]].get("years")
            assert check_vin(job["details"]["vin"], tuple(years) if years else None).verdict == "go", job[
                "details"
            ]["vin"]
        assert len({job["details"]["vin"] for job in jobs}) == len(jobs)

    def test_what_is_named_is_there(self):
        vehicles, devices, injectors = bodies("vehicles"), bodies("devices"), bodies("injectors")
        for key, body in vehicles.items():
            assert not body.get("usual_device") or body["usual_device"] in devices, key
            assert not body.get("stock_injectors") or body["stock_injectors"] in injectors, key
        for job in json.loads((ROOT / "demo" / "shop.json").read_text())["jobs"]:
            assert job["vehicle"] in vehicles
            assert set(job.get("devices", ())) <= set(devices)
            for device in job.get("devices", ()):
                assert fit(vehicles[job["vehicle"]], devices[device]).result != "does not fit"

    def test_every_variant_of_every_model_can_be_told_apart_in_few_questions(self):
        models: dict[str, dict[str, dict[str, str]]] = {}
        for key, body in bodies("vehicles").items():
            models.setdefault(body["model"], {})[key] = body.get("tell_tales", {})
        assert max(len(variants) for variants in models.values()) >= 3
        for variants in models.values():
            for true, tales in variants.items():
                answers: dict[str, str] = {}
                while (question := next_question(variants, answers)) is not None:
                    answers[question.tell_tale] = tales.get(question.tell_tale, "")
                    assert len(answers) < len(variants), (
                        "never more questions than there are others to rule out"
                    )
                assert remaining(variants, answers) == [true]

    def test_every_device_fits_something_and_not_everything(self):
        for key, device in bodies("devices").items():
            results = {fit(vehicle, device).result for vehicle in bodies("vehicles").values()}
            assert results - {"does not fit"}, key
            assert "does not fit" in results, key
        found = {
            fit(v, d).result for v, d in product(bodies("vehicles").values(), bodies("devices").values())
        }
        assert found == {"fits", "fits with work", "does not fit"}


class TestSymptomBook:
    @pytest.mark.parametrize("complaint", BOOK)
    def test_every_cause_is_found_by_its_signs_and_has_a_check(self, complaint):
        book = BOOK[complaint]
        confirmed = {name for test in book.tests for name in test.confirms}
        for cause in book.causes:
            signs = {sign: cause.shows[sign] > 0.5 for sign in book.signs if sign in cause.shows}
            found = diagnose(complaint, signs)
            assert cause.name in [ranked.cause for ranked in found.causes[:2]], (
                "its own signs lead to it; a check tells it from its twin"
            )
            assert cause.name in confirmed
            assert cause.cure.endswith(".")
        assert all(set(cause.shows) <= set(book.signs) for cause in book.causes)
        assert all(set(test.confirms) <= {cause.name for cause in book.causes} for test in book.tests)

    @pytest.mark.parametrize(
        ("changes", "only_its", "never"),
        [
            ({"stroke": 2, "kind": "sled"}, {"bogs_two_stroke", "revs_no_push"}, {"flooded_rotary"}),
            ({"stroke": 4, "rotary": True}, {"flooded_rotary"}, {"bogs_two_stroke", "rattles_diesel"}),
            ({"injection": "diesel", "stroke": 4}, {"rattles_diesel"}, {"rev_hang", "low_idle"}),
            ({"kind": "quad", "gearbox_kind": "belt", "stroke": 4}, {"revs_no_push"}, {"cavitates"}),
            ({"kind": "watercraft", "stroke": 4}, {"cavitates", "hot_start"}, {"revs_no_push"}),
        ],
    )
    def test_each_kind_of_engine_and_drive_has_its_own(self, changes, only_its, never):
        vehicle = Vehicle.model_validate({**BARE, **changes})
        known = set(complaints_of(traits_of(vehicle)))
        assert only_its <= known
        assert not never & known
        assert {entry.only for entry in BOOK.values()} <= {"", *TRAITS}

    def test_no_check_sends_hands_where_fuel_is_under_pressure_or_a_coil_fires(self):
        said = [
            text
            for entry in BOOK.values()
            for text in (*(test.text for test in entry.tests), *(cause.cure for cause in entry.causes))
        ]
        harm = re.compile(
            r"(rail|injector|fuel|feed)[^.;]*under pressure|over paper|pull[^.;]*\b(coil|lead)\b", re.I
        )
        assert not [text for text in said if harm.search(text)]
        opened = complaints_of({"diesel"})
        assert "hot_start" not in opened

    def test_as_the_trade_tells_it(self):
        def top(complaint, **signs):
            return diagnose(complaint, signs).causes[0].cause

        assert top("misfire_one", wet_after_standing=True, high_rpm_boost=False) == "leaking injector"
        assert top("misfire_one", wet_after_standing=False, high_rpm_boost=True) in (
            "weak spark",
            "clogged injector",
        )
        assert "seal" in top("high_idle", after_injectors=True)


@pytest.mark.parametrize("stage", STAGES, ids=lambda stage: stage.key)
@pytest.mark.parametrize(
    ("done", "of", "state"), [(0, 3, "shut"), (1, 3, "ajar"), (3, 3, "open"), (0, 0, "open")]
)
def test_a_slat_is_as_far_open_as_its_stage(stage, done, of, state):
    assert slat(stage, done, of, ()).state == state


class TestHandingOver:
    def test_a_diesel_is_fed_diesel_and_a_petrol_engine_what_its_map_was_made_for(self):
        assert in_the_tank("diesel", 95.0, 0.1) == "diesel"
        assert "RON" not in " ".join(what_to_feed("diesel", 95.0, 0.0))
        octane, ethanol = what_to_feed("port", 98.0, 0.62)
        assert octane.startswith("98 RON or better")
        assert "set with 62 %" in ethanol
        assert "not proven" in ethanol
        assert "up to" not in ethanol, "nobody proved another content"
        assert "not proven here" in what_to_feed("direct", 100.0, 0.95, 98.0, follows=True)[1]

    def test_what_the_law_may_ask_about_is_told_from_the_record(self):
        assert law([]) == [*LAW, "Nothing of that kind is on record in this job."]
        assert law(["filter"], (6500.0, 6500.0)) == law([])
        told = law(["catalyst", "filter", "exhaust"], (6500.0, 6900.0))
        assert "exhaust and catalyst" in told[2]
        assert told[3] == "The rev limit is 6900 rpm; the maker's is 6500 rpm."
        assert len(told) == 4
