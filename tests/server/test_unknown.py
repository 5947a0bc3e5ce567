"""Work comes with vehicles and devices that no shelf knows: what is asked, what is kept, what holds."""

from __future__ import annotations

import pytest

from tests.shopwork import INTAKE, answer, answer_all, by_hand, intake, standing, steps, to_map
from ventmap.core.basics import DeviceKind

CAR = {
    "name": "Wrenfield Saloon 1.8",
    "kind": "car",
    "cylinders": 4,
    "stroke": 4,
    "injection": "port",
    "induction": "none",
}
BIKE = {**CAR, "name": "Kestrel Trail 690", "kind": "motorcycle", "cylinders": 1}
DIESEL = {**CAR, "name": "Otterby Hauler 2.2", "kind": "pickup", "injection": "diesel", "induction": "turbo"}
BOAT = {**CAR, "name": "Tern Runabout 1100", "kind": "watercraft", "cylinders": 3}
DIRECT = {**CAR, "name": "Wrenfield Coupe 2.0T", "injection": "direct", "induction": "turbo"}
SLED = {**CAR, "name": "Hoar Glide 600", "kind": "sled", "cylinders": 2, "stroke": 2}
#: On which vehicle each kind of device comes.
COMES_ON = dict(
    zip(DeviceKind, (CAR, CAR, CAR, DIRECT, CAR, BIKE, BIKE, SLED, BOAT, CAR, DIESEL, CAR), strict=True)
)


def opened(api, vehicle: dict, kind: str = "", name: str = "") -> str:
    """A job on a vehicle that no shelf has seen, and its device."""
    job = f"jobs/{api.post('jobs/unknown', vehicle)['number']}"
    if kind:
        api.post(f"{job}/kit/new-device", {"kind": kind, "name": name or f"First {kind}"})
        assert api.status == 200
    return job


def asked(api, job: str) -> dict[str, list[str]]:
    """Fields that each step still asks."""
    return {key: [a["field"] for a in step["asks"]] for key, step in steps(api, job).items() if step["asks"]}


@pytest.mark.parametrize("kind", DeviceKind)
def test_a_kind_and_a_name_are_enough_and_nothing_is_asked_twice(lead, kind):
    vehicle = COMES_ON[kind]
    job = opened(lead, vehicle, kind, "Unheard-of box")
    intake(lead, job, power_goal_kw=80.0)
    held = standing(lead, job)["plan.fit"]
    assert held["verdict"] == "hold", "nobody looked whether it fits"
    if vehicle["injection"] != "diesel":
        lead.put(f"{job}/plan", {"injectors": ""})
        assert standing(lead, job)["plan.injector"]["verdict"] == "hold"
    answer_all(lead, job)
    assert not asked(lead, job), "each was answered"
    assert standing(lead, job)["plan.fit"]["verdict"] == "go"
    by_hand(lead, job, "intake", "plan", "make-safe", "fit")
    slats = {slat["key"]: slat["state"] for slat in lead.get(job)["slats"]}
    assert slats["make-safe"] == slats["fit"] == "open"

    body = next(i for i in lead.get("shelf-items?kind=vehicle") if i["name"] == vehicle["name"])
    again = lead.post("jobs", {"vehicle": body["key"], "owner": "Second"})["number"]
    device = next(i for i in lead.get("shelf-items?kind=device") if i["name"] == "Unheard-of box")
    lead.put(f"jobs/{again}/kit", {"devices": [device["key"]]})
    assert not asked(lead, f"jobs/{again}"), "a second one of the kind is asked for nothing"


def test_what_a_step_hangs_on_is_answered_before_it_and_never_guessed(lead):
    job = opened(lead, DIRECT, "injector piggyback")
    told = lead.post(f"{job}/steps/make-safe.cool/done", {"anyway": True})
    assert lead.status == 422
    assert "high voltage" in told["sentence"]
    told = answer(lead, job, "make-safe.cool", "hybrid", source="guessed")
    assert lead.status == 422
    assert "do not guess" in told["sentence"]
    answer(lead, job, "make-safe.cool", "hybrid", given="yes")
    assert "make-safe.hybrid" in steps(lead, job), "high voltage puts its step in front"
    told = lead.put(f"{job}/steps/fit.common/grid", {"data": {"readings": []}})
    assert lead.status == 422, "what opens fuel is known before Fit"
    assert "ethanol sensor" in told["sentence"], "what opens fuel is known before Fit"


def test_a_guess_is_marked_on_every_call_that_rests_on_it_and_gives_way(lead):
    job = opened(lead, CAR, "plug-in ECU")
    intake(lead, job, power_goal_kw=140.0)
    grid = {"kpa": ["1200", "1190", "1210", "1200"]}
    lead.put(f"{job}/steps/intake.compression/grid", {"data": grid})
    assert standing(lead, job)["step.intake.compression"]["verdict"] == "hold", "limits are not known"
    answer(lead, job, "intake.compression", "compression_kpa", source="guessed")
    call = standing(lead, job)["step.intake.compression"]
    marks = [e for e in call["evidence"] if e["label"].startswith("guessed: Compression")]
    assert call["verdict"] == "go"
    assert marks
    assert "900" in marks[0]["value"]
    answer(lead, job, "intake.compression", "compression_kpa", given=["950", "1400"], source="measured here")
    call = standing(lead, job)["step.intake.compression"]
    assert not [e for e in call["evidence"] if e["label"].startswith("guessed: Compression")]
    told = answer(lead, job, "intake.compression", "compression_kpa", source="guessed")
    assert lead.status == 422
    assert "does not take its place" in told["sentence"]
    told = answer(lead, job, "intake.compression", "compression_kpa", source="maker's sheet")
    assert lead.status == 422
    assert "differs" in told["sentence"]
    answer(lead, job, "intake.compression", "compression_kpa", source="maker's sheet", anyway=True)
    known = steps(lead, job)["intake.compression"]["known"]
    assert [(k["value"], k["source"]) for k in known if k["field"] == "compression_kpa"] == [
        ("900–1500 kPa", "maker's sheet")
    ]


def test_the_maker_may_not_name_this_engine(lead):
    job = opened(lead, CAR, "plug-in ECU")
    answer(lead, job, "plan.fit", "fits", given="no")
    call = standing(lead, job)["plan.fit"]
    assert call["verdict"] == "stop"
    assert "does not name" in call["text"]


def test_a_sheet_of_injectors_is_pasted_with_its_checks(lead):
    job = opened(lead, CAR, "plug-in ECU")
    intake(lead, job, power_goal_kw=110.0)
    answer(lead, job, "plan.injectors", "fuel_pressure_kpa")
    sheet = {
        "name": "Blue 440",
        "flow": "440",
        "rated": "3 bar",
        "fluid": "n-heptane",
        "source": "maker's sheet",
        "dead_time": "V;3 bar;4 bar\n8;2,05;2,20\n12;0,92;0,99\n14;0,17;0,75",
    }
    lead.post(f"{job}/kit/new-injectors", sheet)
    assert lead.status == 200
    slips = standing(lead, job)["injector.dead_time_entry"]
    assert slips["verdict"] == "hold"
    assert "14 V" in str(slips)
    choice = next(c for c in lead.get(f"{job}/plan")["choices"] if c["name"] == "Blue 440")
    assert choice["call"]["verdict"] == "hold"
    assert "resistance" in choice["call"]["do_next"]
    told = lead.post(f"{job}/kit/new-injectors", {**sheet, "name": "Blue 441", "dead_time": "8 V; fast"})
    assert lead.status == 422
    assert told["field"] == "dead_time"
    assert not [i for i in lead.get("shelf-items?kind=injector") if i["name"] == "Blue 441"]


def test_a_name_that_is_there_already_is_chosen_there(lead):
    opened(lead, BOAT)
    told = lead.post("jobs/unknown", {**BOAT, "name": "tern  runabout 1100"})
    assert lead.status == 422
    assert told["field"] == "name"
    assert "choose it there" in told["sentence"]


def test_nothing_is_known_of_the_tank_before_intake_says_so(lead):
    job = opened(lead, DIRECT, "sensor piggyback")
    answer_all(lead, job)
    assert lead.get(job)["plate"]["ron"] is None
    by_hand(lead, job, "make-safe", "fit", before="fit.level")
    lead.post(f"{job}/steps/fit.level/done", {"answer": "level_1"})
    level = standing(lead, job)["step.fit.level"]
    assert level["verdict"] == "hold"
    assert "nobody has said" in level["text"]
    plate = lead.get(job)["plate"]
    refused = lead.put(f"{job}/intake", {**{name: plate[name] for name in INTAKE}, "ron": ""})
    assert lead.status == 422
    assert refused["field"] == "ron"


def test_what_was_read_is_kept_for_the_next_one_with_who_and_from_where(lead):
    job = opened(lead, BIKE, "inline fuel and ignition controller")
    answer_all(lead, job)
    lead.put(f"{job}/baseline", {"computer": "KT-9", "calibration": "K1", "none_shown": True})
    by_hand(lead, job, "intake", "plan", "make-safe", "fit", "load", "first-start")
    offered = {item["title"]: item for item in lead.get(f"{job}/learned")}
    assert {"stock computer", "stock calibration"} <= set(offered)
    assert "warm idle" not in offered, "the sheet said it already, and a reading does not take its place"
    left = lead.post(f"{job}/learned", {"keep": [offered["stock computer"]["id"]]})
    assert lead.status == 200
    assert "stock computer" not in {item["title"] for item in left}
    item = next(i for i in lead.get("shelf-items?kind=vehicle") if i["name"] == BIKE["name"])
    assert item["body"]["stock_computer"] == "KT-9"
    assert item["proved"] == 0
    assert item["body"]["told"]["stock_computer"]["source"] == "measured here"
    changes = lead.get(f"shelf-items/vehicle/{item['key']}/changes")
    assert changes[0]["who"]
    assert changes[0]["fields"] == ["stock_computer"]
    lead.post(f"{job}/learned", {"keep": [offered["stock computer"]["id"]]})
    assert lead.status == 422, "it is on offer once"


def test_this_one_differs_by_a_tell_tale_and_is_told_apart_next_time(lead):
    job = opened(lead, CAR)
    differs = {"name": "Wrenfield Saloon 1.8 late", "tell_tale": "oil cap", "here": "red", "there": "red"}
    told = lead.post(f"{job}/variant", {**differs, "here": ""})
    assert lead.status == 422
    assert "without a tell-tale" in told["sentence"]
    told = lead.post(f"{job}/variant", differs)
    assert lead.status == 422
    assert "same on both" in told["sentence"]
    plate = lead.post(f"{job}/variant", {**differs, "there": "black"})["plate"]
    assert plate["vehicle"] == differs["name"]
    again = f"jobs/{lead.post('jobs', {'vehicle': plate['vehicle_key'], 'owner': 'x'})['number']}"
    asked_now = lead.get(f"{again}/variants")["question"]
    assert asked_now["tell_tale"] == "oil cap"
    assert set(asked_now["options"]) == {"red", "black"}


def test_a_map_is_kept_for_the_next_one_without_the_number_of_this_one(lead):
    to_map(lead)
    version = lead.get("jobs/0001/base-map")["versions"][-1]
    assert lead.post(f"jobs/0001/maps/{version['id']}/shelved", {"name": "Estate on 330s"})["sentence"]
    assert lead.post(f"jobs/0001/maps/{version['id']}/shelved", {"name": "Estate on 330s"})["field"] == "name"
    shelved = next(i for i in lead.get("shelf-items?kind=map") if i["name"] == "Estate on 330s")
    assert shelved["body"]["identity"]["vin"] == ""
    assert shelved["body"]["scalars"]["injector_flow"]


def test_a_figure_edited_on_the_shelf_loses_the_source_of_the_one_before(lead):
    job = opened(lead, CAR)
    answer(lead, job, "plan.injectors", "fuel_pressure_kpa", source="guessed")
    item = next(i for i in lead.get("shelf-items?kind=vehicle") if i["name"] == CAR["name"])
    edited = {**item["body"], "fuel_pressure_kpa": 350.0}
    kept = lead.put("shelf-items", {k: item[k] for k in ("kind", "key", "name")} | {"body": edited})
    assert "fuel_pressure_kpa" not in kept["body"]["told"]
    assert "kind" in kept["body"]["told"]


def test_the_starter_shelf_is_no_maker_s_and_goes_in_and_out_with_one_tap(lead):
    before = {(i["kind"], i["key"]) for i in lead.get("shelf-items")}
    lead.put("starter-shelf")
    items = lead.get("shelf-items")
    fresh = [i for i in items if i["key"].startswith("starter-")]
    layouts = [i["body"] for i in fresh if i["kind"] == "layout"]
    assert len(layouts) >= 20
    assert {i["body"]["kind"] for i in fresh if i["kind"] == "device"} == set(DeviceKind)
    for body in layouts:
        turns = 720 if body["stroke"] == 4 else 360
        assert body["firing_deg"] == pytest.approx(turns / body["cylinders"], abs=0.01)
    assert all(i["body"].get("source") for i in fresh if i["kind"] != "device"), "each names its source"

    plain = next(i for i in fresh if i["body"].get("kind") == "plug-in ECU")
    job = opened(lead, CAR)
    lead.put(f"{job}/kit", {"devices": [plain["key"]]})
    answer(lead, job, "plan.parts", "hose")
    after = {i["name"]: i["body"] for i in lead.get("shelf-items?kind=device")}
    assert "hose" not in after[plain["name"]], "the plain one stays plain"
    assert after[f"{plain['name']}, as on {CAR['name']}"]["hose"] is True
    assert "as on" in lead.get(job)["plate"]["device"]

    lead.call("delete", "starter-shelf")
    left = {(i["kind"], i["key"]) for i in lead.get("shelf-items")} - before
    assert {kind for kind, _ in left} == {"vehicle", "device"}, "what the job grew stays"
    assert len(left) == 2, "what the job grew stays"


DEAD = {"voltages": [8, 12, 14], "pressures_kpa": [300], "ms": [[2.0], [1.1], [0.8]]}
#: What is asked of a computer over the link, or of a map that is written from here.
OVER_THE_LINK = (
    ("get", "load-board", None),
    ("put", "load-board", {"answers": {"measure": True}}),
    ("get", "firmware", None),
    ("get", "global-trim", None),
    ("post", "global-trim", {"steps": 1}),
    ("post", "codes/clear", None),
    ("post", "saved-images", None),
    ("post", "dry-runs", None),
    ("post", "ignition", {"on": False}),
    ("post", "loads", None),
    ("post", "key-on", None),
    ("post", "pedal", None),
    ("post", "start", None),
    ("post", "baseline", None),
    ("post", "captures", {"watched": False}),
    ("post", "runs", {"when": "after"}),
    ("post", "cold-starts", None),
    ("post", "outputs/fan/run", None),
    ("post", "timing/read", {"speed": "idle"}),
    ("post", "timing/offset", {"offset": "12"}),
    ("put", "figures", {"flow": "330", "rated": "3 bar", "pressure": "3 bar", "dead_time": DEAD}),
    ("get", "base-map", None),
    ("get", "proposal", None),
    ("get", "comparison", None),
    ("post", "mixture", None),
    ("post", "tuner/look", None),
)


@pytest.mark.parametrize("kind", ["", *DeviceKind])
def test_no_link_is_a_sentence_whatever_stands_there(lead, kind):
    """Where nothing here answers as the vehicle or its device, each screen says so."""
    job = opened(lead, COMES_ON[kind] if kind else CAR, kind)
    lead.client.raise_request_exception = False
    faults = {}
    for method, path, body in OVER_THE_LINK:
        told = lead.call(method, f"{job}/{path}", body)
        if lead.status >= 500 or (lead.status >= 400 and not told.get("sentence")):
            faults[f"{method} {path}"] = lead.status, told
    assert faults == {}


@pytest.mark.parametrize(
    "kind", ["plug-in ECU", "board in the stock case", "standalone on an adapted harness"]
)
def test_a_computer_that_is_not_ours_goes_by_hand_on_a_vehicle_that_is(lead, kind):
    """The sample's car runs at the bench with the sample's computer, and with no other."""
    assert "load.write" in steps(lead, "jobs/0001")
    lead.put("jobs/0001/kit", {"devices": [], "pump": ""})
    lead.post("jobs/0001/kit/new-device", {"kind": kind, "name": "Somebody's box"})
    assert lead.status == 200
    asked_now = steps(lead, "jobs/0001")
    assert {"base-map.settings", "load.read_back", "first-start.running"} <= set(asked_now)
    assert not {"load.write", "base-map.choose", "first-start.start"} & set(asked_now)
    told = lead.get("jobs/0001/map-parts")
    assert lead.status == 200
    assert told
    # Taken back, it runs at the bench again.
    lead.put("jobs/0001/kit", {"devices": ["fenwright-p4"], "pump": ""})
    assert "load.write" in steps(lead, "jobs/0001")
