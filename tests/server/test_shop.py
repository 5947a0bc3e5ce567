"""The shop itself: who may do what, its name and money, its rules in every judgement, and a record that is
never cut short.
"""

from __future__ import annotations

import io
import re

import pytest
from django.contrib.auth.models import User
from PIL import Image

from tests.conftest import Api
from tests.server.test_contract import DOCUMENT
from tests.shopwork import by_hand, intake, picture, to_map, write
from ventmap.core.basics import RULES
from ventmap.server.jobs import ledger
from ventmap.server.jobs.assemble import rules
from ventmap.server.jobs.models import Job, StepDone, Timer

J = "jobs/0001"
#: Questions that are asked by POST because they carry a body; a viewer may ask them.
ASKED_BY_POST = {
    "/api/figures",
    "/api/diagnoses",
    "/api/sums/{key}/results",
    "/api/models/{model}/variants",
    "/api/jobs/{number}/kit/difference",
}
#: A viewer's own affair.
OWN = {"/api/sessions", "/api/sessions/current", "/api/phrases"}
LEADS_ALONE = [
    "/api/house",
    "/api/house-rules/{key}",
    "/api/people",
    "/api/people/{username}",
    "/api/jobs/{number}/house-rules",
]


def operations(*methods: str) -> list[tuple[str, str]]:
    return [
        (method, path) for path, found in DOCUMENT["paths"].items() for method in found if method in methods
    ]


THERE = {
    "number": "0001",
    "key": "intake.leaks",
    "username": "viewer",
    "kind": "pump",
    "model": "Corvane Estate",
}


def filled(path: str) -> str:
    """An address with things in it that are there."""
    return re.sub(r"{(\w+)}", lambda name: THERE.get(name[1], "1"), path).removeprefix("/api/")


class TestRights:
    def test_nothing_is_shown_or_done_without_signing_in(self, shop):
        stranger = Api("nobody")
        for method, path in operations("get", "post", "put", "delete"):
            if path not in ("/api/sessions", "/api/sessions/current", "/api/openapi.json", "/api/shops"):
                stranger.call(method, filled(path), {} if method != "get" else None)
                assert stranger.status in (401, 403), f"{method} {path}"

    def test_a_viewer_changes_nothing_whatever_is_sent(self, lead):
        viewer = Api("viewer")
        before = lead.get(J), lead.get("house-rules"), lead.get("people"), lead.get("shelf-items?kind=pump")
        for method, path in operations("post", "put", "delete"):
            if path not in ASKED_BY_POST | OWN:
                viewer.call(method, filled(path), {})
                assert viewer.status in (403, 404, 405, 422), f"{method} {path}: {viewer.status}"
        now = lead.get(J), lead.get("house-rules"), lead.get("people"), lead.get("shelf-items?kind=pump")
        assert [now[0]["ledger"], *now[1:2], now[3]] == [before[0]["ledger"], *before[1:2], before[3]]
        assert [p["role"] for p in now[2]] == [p["role"] for p in before[2]]
        assert now[0]["plate"] == before[0]["plate"]

    @pytest.mark.parametrize("path", LEADS_ALONE)
    def test_the_house_is_the_leads_alone(self, shop, path):
        installer = Api("installer")
        bodies = {
            "/api/house": {"name": "X", "altitude": "0"},
            "/api/house-rules/{key}": {"value": "3", "reason": "because"},
            "/api/people/{username}": {"role": "lead"},
            "/api/people": {
                "username": "eve",
                "first": "",
                "last": "",
                "role": "lead",
                "phrase": "four words are easy",
            },
            "/api/jobs/{number}/house-rules": None,
        }
        method = "put" if "put" in DOCUMENT["paths"][path] else "post"
        told = installer.call(method, filled(path).replace("intake.leaks", "duty.hold"), bodies[path])
        assert installer.status == 403
        assert "lead" in told["sentence"]


class TestHouse:
    def test_name_altitude_and_money_are_the_shops_own(self, lead):
        told = lead.put(
            "house",
            {
                "name": "Kettle Works",
                "town": "Low Kettle",
                "altitude": "1200",
                "unit": "ft",
                "currency": "marks",
            },
        )
        assert "Kept" in told["sentence"]
        session = lead.get("sessions/current")
        assert (session["house"], session["currency"]) == ("Kettle Works", "marks")
        assert session["altitude_m"] == pytest.approx(365.8, abs=0.1)
        number = lead.post(
            "jobs", {"vehicle": "quillon-triple-660", "registration": "A 1", "owner": "Una Bray"}
        )["number"]
        assert lead.get(f"jobs/{number}")["plate"]["altitude_m"] == pytest.approx(365.8, abs=0.1)
        assert lead.get(J)["plate"]["altitude_m"] == 1450, "an open job keeps its altitude"

    @pytest.mark.parametrize(
        ("body", "field"),
        [
            ({"name": " ", "altitude": "10"}, "name"),
            ({"name": "A", "altitude": "high"}, "altitude"),
            ({"name": "A", "altitude": "90000"}, "altitude"),
            ({"name": "A", "altitude": "10", "currency": "12"}, "currency"),
        ],
    )
    def test_what_a_shop_cannot_be_is_refused_by_name(self, lead, body, field):
        told = lead.put("house", body)
        assert lead.status == 422
        assert told["field"] == field
        assert told["sentence"].endswith(".")
        assert lead.get("sessions/current")["house"] == "Highpass Works"


class TestIntakeFigures:
    def test_any_unit_and_the_tablets_own(self, lead):
        plate = intake(
            lead,
            J,
            power_goal_kw="180 hp",
            altitude_m="4757 ft",
            ron="93 AKI",
            ethanol="10",
            odometer_km="40000 mi",
        )["plate"]
        assert plate["power_goal_kw"] == pytest.approx(134.2, abs=0.1)
        assert plate["altitude_m"] == pytest.approx(1450, abs=0.5)
        assert plate["ron"] == 97.5
        assert plate["ethanol"] == pytest.approx(0.10)
        assert plate["odometer_km"] == 64374
        bare = intake(lead, J, power_goal_kw="180", units={"power_goal_kw": "hp"}, odometer_km="")["plate"]
        assert bare["power_goal_kw"] == pytest.approx(134.2, abs=0.1)
        assert bare["odometer_km"] is None

    @pytest.mark.parametrize(
        ("name", "typed", "says"),
        [
            ("power_goal_kw", "a lot", "not a number"),
            ("power_goal_kw", "30 psi", "does not measure power"),
            ("ron", "12", "70"),
            ("ethanol", "140 %", "1"),
            ("altitude_m", "9000 m", "5500"),
            ("odometer_km", "-3 km", "0"),
        ],
    )
    def test_nonsense_names_the_field_and_nothing_is_half_written(self, lead, name, typed, says):
        before = lead.get(J)["plate"]
        told = intake(lead, J, **{name: typed, "owner": "Somebody Else"})
        assert lead.status == 422
        assert told["field"] == name
        assert says in told["sentence"]
        assert lead.get(J)["plate"] == before


class TestRecord:
    def test_a_long_job_keeps_every_line_and_shows_what_stands(self, lead):
        lead.post(f"{J}/steps/intake.leaks/done", {"answer": "weeps"})
        job, by = Job.objects.get(number="0001"), User.objects.get(username="lead")
        for n in range(130):
            ledger.write(job, "fit", "note", f"note {n}", by)
        job = lead.get(J)
        assert job["ledger"][0]["title"] == "note 129"
        assert "note 3" not in {e["title"] for e in job["ledger"]}
        hold = next(e for e in job["ledger"] if e["rule"] == "step.intake.leaks")
        assert hold["standing"], "older than what is shown, and still to be dealt with"
        assert hold["may_be_overruled"], "older than what is shown, and still to be dealt with"
        whole = lead.get(f"{J}/ledger")
        assert len(whole) == len(job["ledger"]) + job["ledger_older"]
        assert {f"note {n}" for n in range(130)} <= {e["title"] for e in whole}

    def test_a_step_read_again_keeps_the_newer_reading(self, lead):
        for reading in ("30", "34"):
            lead.post(f"{J}/steps/make-safe.coolant/done", {"reading": reading})
        step = next(s for s in lead.get(J)["steps"] if s["key"] == "make-safe.coolant")
        assert step["done"]
        assert step["value"] == 34
        readings = [
            e["evidence"][0]["value"]
            for e in lead.get(f"{J}/ledger")
            if e["rule"] == "step.make-safe.coolant"
        ]
        assert sorted(readings) == [30, 34]

    def test_a_wait_is_one_timer_and_its_step_ends_it(self, lead):
        for _ in range(3):
            lead.post(f"{J}/steps/make-safe.cool/done", {})
        assert Timer.objects.filter(job__number="0001").count() == 1
        assert [(t["job"], t["step"], t["seconds"]) for t in lead.get("timers")] == [
            ("0001", "make-safe.cool", 1200.0)
        ]
        lead.post(f"{J}/steps/make-safe.cool/done", {"anyway": True})
        assert lead.get("timers") == []
        assert lead.get(J)["timers"] == []
        assert StepDone.objects.filter(key="make-safe.cool").exists()
        lead.post(f"{J}/steps/make-safe.cool/undo")
        undone = next(s for s in lead.get(J)["steps"] if s["key"] == "make-safe.cool")
        assert not undone["done"]
        assert any(e["title"] == "Taken back: Let the engine cool" for e in lead.get(J)["ledger"])

    def test_a_picture_held_sideways_is_measured_as_it_is_looked_at(self, lead):
        out, exif = io.BytesIO(), Image.Exif()
        exif[0x0112] = 6  # turn by a quarter
        Image.open(io.BytesIO(picture(size=(640, 480)))).save(out, "JPEG", exif=exif)
        answer = lead.client.put(
            f"/api/{J}/photos?name=tall.jpg", out.getvalue(), content_type="application/octet-stream"
        ).json()
        assert (answer["width"], answer["height"]) == (480, 640)
        assert lead.get(f"photos/{answer['id']}/file") == out.getvalue()
        with Image.open(io.BytesIO(lead.get(f"photos/{answer['id']}/thumbnail"))) as small:
            assert small.height > small.width


def change(api: Api, rule: str, value: object):
    """A new value for the house, and for this job from here on."""
    api.put(f"house-rules/{rule}", {"value": str(value), "reason": "as we do it here"})
    api.post(f"{J}/house-rules")
    assert rules(Job.objects.get(number="0001"))[rule] == float(str(value))


class TestRulesReachTheirScreens:
    """Rules that are judged from a job's rows: the same entry is judged otherwise after the rule was
    changed.
    """

    @pytest.mark.parametrize(
        ("rule", "value", "key", "field"),
        [
            ("plan.pump_reserve", 40, "fuel-pump", "reserve"),
            ("plan.spread_good", 1, "flow-match", "good"),
            ("plan.spread_usable", 9, "flow-match", "usable"),
            ("plan.wire_drop", 1, "wire-and-fuse", "allowed"),
            ("plan.fuse", 1.5, "wire-and-fuse", "margin"),
            ("plan.duty", 80, "injector-need", "duty"),
            ("plan.bsfc_natural", 310, "injector-need", "bsfc"),
        ],
    )
    def test_in_a_jobs_sums(self, lead, rule, value, key, field):
        change(lead, rule, value)
        typed = next(item for item in lead.get(f"{J}/sums") if item["key"] == key)["typed"]
        assert float(typed[field]) == value
        other = lead.post(f"sums/{key}/results", {"typed": {**typed, field: str(RULES[rule].default)}})
        assert lead.post(f"sums/{key}/results", {"typed": typed}) != other, "and it changes the sum"

    @pytest.mark.parametrize(("rule", "value"), [("plan.bend_factor", 9), ("plan.hose_slack", 20)])
    def test_in_the_feed_line(self, lead, rule, value):
        lead.put(f"{J}/kit", {"devices": ["kelmar-ethanol"]})
        plain = next(item for item in lead.get(f"{J}/sums") if item["key"] == "feed-line")["typed"]
        change(lead, rule, value)
        changed = next(item for item in lead.get(f"{J}/sums") if item["key"] == "feed-line")["typed"]
        assert lead.post("sums/feed-line/results", {"typed": plain}) != lead.post(
            "sums/feed-line/results", {"typed": changed}
        )

    def test_labour_in_the_cost(self, lead):
        plain = lead.get(f"{J}/parts")
        change(lead, "plan.labour", 120)
        assert lead.get(f"{J}/parts")["labour_cost"] == pytest.approx(2 * plain["labour_cost"], abs=0.02)

    @pytest.mark.parametrize(
        ("rule", "value", "typed"),
        [
            ("fit.ground", 0.03, {"static": "40 mV"}),
            ("fit.ground_cranking", 0.1, {"cranking": "0.15 V"}),
        ],
    )
    def test_grounds(self, lead, rule, value, typed):
        key = "fit.ground_drop" if "static" in typed else "first-start.ground_cranking"
        by_hand(lead, J, "intake", "plan", "make-safe", "fit", before=key)

        def judged():
            grid = lead.get(f"{J}/steps/{key}/grid")
            rows = [{"name": name, **typed} for name in grid["about"]["grounds"]]
            return lead.put(f"{J}/steps/{key}/grid", {"data": {"rows": rows}, "revision": grid["revision"]})[
                "verdict"
            ]

        assert judged() == "go"
        change(lead, rule, value)
        assert judged() != "go"

    def test_the_wrench_and_the_bus(self, lead):
        lead.put(f"{J}/plan", {"injectors": "fenwright-330"})
        lead.put(f"{J}/kit", {"devices": ["fenwright-p4"]})
        about = lead.get(f"{J}/steps/fit.torque/grid")["about"]
        change(lead, "fit.wrench_low", 40)
        now = lead.get(f"{J}/steps/fit.torque/grid")
        assert (about["wrench_low"], now["about"]["wrench_low"]) == (0.2, 0.4)
        device = next(
            item["key"]
            for item in lead.get("shelf-items?kind=device")
            if item["body"]["kind"] == "body-network module"
        )
        lead.put(f"{J}/kit", {"devices": [device]})
        bus = {}
        for tolerance in (15, 5):
            change(lead, "fit.can", tolerance)
            lead.post(f"{J}/steps/fit.can/done", {"reading": "64"})
            bus[tolerance] = next(
                e for e in lead.get(J)["ledger"] if e["rule"] == "step.fit.can" and e["standing"]
            )["verdict"]
        assert bus == {15: "go", 5: "hold"}

    def test_key_on_and_pedal_on_a_loaded_job(self, lead):
        to_map(lead)
        write(lead)

        def called(act):
            return {call["rule"]: call for call in lead.post(f"{J}/{act}")["calls"]}

        plain = {**called("key-on"), **called("pedal")}
        assert {call["verdict"] for call in plain.values()} == {"go"}
        change(lead, "start.pedal_span", 4.5)
        assert called("pedal")["pedal.range"]["verdict"] != "go"
        change(lead, "key_on.hold_kpa", 0.7)
        limits = [e["limit"] for e in called("key-on")["sensor.key_on_pressure"]["because"]]
        assert 0.7 in limits
        assert 0.7 not in [e["limit"] for e in plain["sensor.key_on_pressure"]["because"]]


class TestInjectorsOfTheShelf:
    def test_one_that_does_not_go_in_is_refused_and_the_rest_say_their_work(self, lead):
        choices = {c["key"]: c for c in lead.get(f"{J}/plan")["choices"]}
        assert {"corvane-dj", "tarnwood-cr"}.isdisjoint(choices), "of another kind of injection"
        assert {r["result"] for r in choices["fenwright-330"]["fit"]} == {"fits"}
        assert any("spacers of 2.5 mm" in r["work"] for r in choices["fenwright-720"]["fit"])
        told = lead.put(f"{J}/plan", {"injectors": "quillon-175"})
        assert lead.status == 422
        assert "does not go into this engine: 35 mm from seat to rail" in told["sentence"]
        assert not Job.objects.get(number="0001").injectors
        lead.put(f"{J}/plan", {"injectors": "fenwright-720"})
        typed = {item["key"]: item["typed"] for item in lead.get(f"{J}/sums")}
        assert (typed["spacer-stack"]["old"], typed["spacer-stack"]["new"]) == ("60", "62.5")
        assert typed["injector-pressure"]["fluid"] == "n-heptane"
        assert lead.get(f"{J}/base-map")["sheet"]["flow"] == pytest.approx(
            720 * (0.684 / 0.745) ** 0.5, abs=0.1
        ), "a map is told flow on petrol"
