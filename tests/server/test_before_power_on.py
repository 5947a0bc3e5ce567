"""Intake to Fit over the API: every sample job, gates, kit changes, baseline, rules, shelf."""

from __future__ import annotations

import json
import time
from urllib.parse import urlencode

import pytest
from django.contrib.auth.models import User

from tests.bench_logs import bench_log
from tests.conftest import Api
from tests.shopwork import by_hand, do, intake, overrule, send, standing, steps, until
from ventmap.core.basics import DeviceKind
from ventmap.server.jobs.models import Job, LedgerEntry
from ventmap.server.jobs.workshop import line_taken
from ventmap.server.logs import captures
from ventmap.server.logs.captures import Capture

OSTREL, DIESEL = "jobs/0003", "jobs/0004"


def run_of(n: int) -> bytes:
    """A run of the drum; no two are alike to the last figure."""
    rows = "\n".join(f"{rpm},{40 + rpm * 0.03 + 0.01 * n:.2f}" for rpm in range(1500, 4001, 100))
    return f"rpm,wheel kW\n{rows}\n".encode()


def brought(**changes: str) -> str:
    """Address of a run file of the diesel, with the conditions it was made in."""
    made = {
        "when": "before",
        "drum": "Lower Bay drum",
        "gear": "4",
        "intake": "20 °C",
        "barometer": "85.2 kPa",
        "tyres": "230 kPa",
        "fuel": "diesel",
    }
    return f"{DIESEL}/run-files?{urlencode({**made, **changes})}"


@pytest.mark.parametrize("number", ["0001", "0002", "0003", "0004", "0005", "0006"])
def test_every_sample_job_is_worked_from_intake_to_the_end_of_fit(lead, number):
    job = f"jobs/{number}"
    plate = lead.get(job)["plate"]
    intake(lead, job)
    assert standing(lead, job)["intake.vin"]["verdict"] == "go"
    lead.put(f"{job}/vehicle", {"vehicle": plate["vehicle_key"]})
    if plate["petrol"]:
        best = next(c for c in lead.get(f"{job}/plan")["choices"] if c["call"]["verdict"] != "stop")
        lead.put(f"{job}/plan", {"injectors": best["key"]})
    for item in lead.get(f"{job}/sums"):
        told = lead.put(f"{job}/sums/{item['key']}", {"typed": item["typed"]})
        if item["key"] == "ethanol-content":
            assert told["field"] == "hz", "nobody read the sensor yet: no frequency is made up"
            continue
        assert told.get("sums") is not None, item
    by_hand(lead, job, "intake", "plan", "make-safe", "fit")
    slats = {slat["key"]: slat["state"] for slat in lead.get(job)["slats"]}
    assert slats["make-safe"] == slats["fit"] == "open", [
        s["key"] for s in steps(lead, job).values() if s["stage"] == "fit" and not s["done"]
    ]
    assert slats["intake"] == "open"
    read = lead.post(f"{job}/baseline")
    assert read["identity"]["VIN"] == plate["vin"]
    parts = lead.get(f"{job}/parts")
    assert parts["minutes"] > 60
    assert parts["lines"]
    for screen in (
        "base-map",
        "load-board",
        "proposal",
        "comparison",
        "report",
        "runs",
        "plan",
        "house-rules",
        "diagnosis",
    ):
        told = lead.get(f"{job}/{screen}")
        assert lead.status == 200 or told["sentence"].endswith("."), (screen, told)
        assert lead.status in (200, 422), "what this vehicle's bench cannot do is said in words"
    kinds = {d["kind"] for d in lead.get(f"{job}/kit")["devices"]}
    assert kinds == set(DeviceKind)


def other_injectors(lead, job=OSTREL):
    """A device that can be told of other injectors, and such a set."""
    lead.put(f"{job}/kit", {"devices": ["ardle-open-96"]})
    lead.put(f"{job}/plan", {"injectors": "kelmar-550"})
    assert lead.status == 200


class TestGates:
    def test_fuel_is_not_opened_before_the_readings(self, lead):
        other_injectors(lead)
        told = lead.post(f"{OSTREL}/steps/fit.blow/done", {})
        assert lead.status == 422
        assert "First: Read the coolant temperature" in told["sentence"]
        assert steps(lead, OSTREL)["fit.blow"]["waits_for"] == "Read the coolant temperature"

    def test_rail_pressure_above_the_limit_is_a_stop_nobody_overrules(self, lead):
        other_injectors(lead)
        lead.post(f"{OSTREL}/steps/make-safe.relieved/done", {"reading": "2.1 bar"})
        entry = standing(lead, OSTREL)["step.make-safe.relieved"]
        assert entry["verdict"] == "stop"
        assert entry["protects"] == "people"
        assert not entry["may_be_overruled"]
        lead.post(f"ledger/{entry['id']}/overrule", {"reason": "it is only petrol"})
        assert lead.status == 403
        lead.post(f"{OSTREL}/steps/make-safe.relieved/done", {"reading": "4 kPa"})
        assert standing(lead, OSTREL)["step.make-safe.relieved"]["verdict"] == "go"

    def test_an_answer_that_holds_keeps_the_step_open_until_the_lead_overrules(self, shop):
        installer, lead = Api("installer"), Api("lead")
        installer.post(f"{OSTREL}/steps/intake.leaks/done", {"answer": "weeps"})
        entry = standing(installer, OSTREL)["step.intake.leaks"]
        assert entry["verdict"] == "hold"
        assert not steps(installer, OSTREL)["intake.leaks"]["done"]
        told = installer.post(f"ledger/{entry['id']}/overrule", {"reason": "a dry film of oil"})
        assert installer.status == 403
        assert "Only the lead" in told["sentence"]
        lead.post(f"ledger/{entry['id']}/overrule", {"reason": "a dry film of oil"})
        assert steps(lead, OSTREL)["intake.leaks"]["done"]
        fuel = lead.post(f"{OSTREL}/steps/intake.leaks/done", {"answer": "nonsense"})
        assert "Choose what you see" in fuel["sentence"]


def test_a_power_level_is_set_again_when_the_octane_in_the_tank_changes(lead):
    level = {"answer": "level_2"}
    intake(lead, OSTREL)
    refused = lead.post(f"{OSTREL}/steps/fit.level/done", level)
    assert lead.status == 422, "no button answers without power"
    assert "battery" in refused["sentence"].lower(), "no button answers without power"
    by_hand(lead, OSTREL, "intake", "plan", "make-safe", "fit", before="fit.level")
    lead.post(f"{OSTREL}/steps/fit.level/done", level)
    assert steps(lead, OSTREL)["fit.level"]["done"]
    assert standing(lead, OSTREL)["step.fit.level"]["verdict"] == "go"
    intake(lead, OSTREL, owner="Marit Solheg-Bray")
    assert steps(lead, OSTREL)["fit.level"]["done"]
    intake(lead, OSTREL, ron="91")
    assert not steps(lead, OSTREL)["fit.level"]["done"]
    assert "step.fit.level" not in standing(lead, OSTREL)
    lead.post(f"{OSTREL}/steps/fit.level/done", level)
    hold = standing(lead, OSTREL)["step.fit.level"]
    assert hold["verdict"] == "hold"
    assert "91 is in the tank" in hold["text"]
    assert not steps(lead, OSTREL)["fit.level"]["done"]


class TestKit:
    def test_a_change_under_way_keeps_what_is_done(self, lead):
        do(lead, OSTREL, steps(lead, OSTREL)["fit.tap_1"])
        do(lead, OSTREL, steps(lead, OSTREL)["fit.grounds"])
        told = lead.post(f"{OSTREL}/kit/difference", {"devices": ["kelmar-ethanol"], "pump": "kelmar-255"})
        assert "Stow the bypass plug with the vehicle" in told["dropped"]
        assert told["kept"] == [
            "Find the pressure sensor before the throttle",
            "Write down what goes onto Kelmar ethanol kit",
        ]
        assert len(lead.get(OSTREL)["steps"]) == len(steps(lead, OSTREL)), "asking changes nothing"
        assert "fit.bypass" in steps(lead, OSTREL), "asking changes nothing"
        lead.put(f"{OSTREL}/kit", {"devices": ["kelmar-ethanol"], "pump": "kelmar-255"})
        after = lead.get(OSTREL)
        assert [row["title"] for row in after["kept"]] == ["Find the pressure sensor before the throttle"]
        assert after["kept"][0]["by"] == "Mara Tallis"
        assert "fit.bypass" not in steps(lead, OSTREL)
        # The grounds that were measured are another device's: they are measured again.
        assert not steps(lead, OSTREL)["fit.grounds"]["done"]
        told = next(e for e in lead.get(OSTREL)["ledger"] if e["title"].startswith("Open again: "))
        assert "device Kelmar" in told["text"]
        # What was set on the shifter is no record of the kit that has its place now.
        assert "valley blend" in steps(lead, OSTREL)["base-map.settings"]["words"]
        entry = next(e for e in after["ledger"] if e["kind"] == "kit")
        assert entry["title"] == "Kit: Kelmar ethanol kit"
        assert "Stow the bypass plug" in entry["text"]

    def test_a_device_with_no_known_fit_stops_and_says_why(self, lead):
        lead.put(f"{OSTREL}/kit", {"devices": ["fenwright-s2"]})
        entry = standing(lead, OSTREL)["plan.fit"]
        assert entry["verdict"] == "stop"
        assert "does not fit" in entry["title"]
        assert "this is OM16" in entry["text"]
        assert not steps(lead, OSTREL)["plan.fit"]["done"]
        assert "once" in lead.put(f"{OSTREL}/kit", {"devices": ["kelmar-shift", "kelmar-shift"]})["sentence"]
        assert "no device" in lead.put(f"{OSTREL}/kit", {"devices": ["box"]})["sentence"]

    @pytest.mark.parametrize(
        ("pair", "word"),
        [
            (["fenwright-p4", "ardle-swap"], "take the place of the stock computer"),
            (["brandrel-phone", "harrowgate-flash"], "the second wipes out the first"),
            (["kelmar-ethanol", "brandrel-line"], "sit on the injectors' wires"),
            (["ardle-open-96", "kelmar-shift"], "bends what the stock computer sees"),
        ],
    )
    def test_devices_that_exclude_each_other_are_refused_in_one_kit(self, lead, pair, word):
        was = lead.get(OSTREL)["plate"]["kit"]
        told = lead.put(f"{OSTREL}/kit", {"devices": pair})
        assert lead.status == 422
        assert word in told["sentence"]
        assert told["field"] == "devices"
        assert lead.get(OSTREL)["plate"]["kit"] == was

    def test_a_pump_below_need_at_boost_holds(self, lead):
        lead.put(f"{OSTREL}/kit", {"devices": ["kelmar-ethanol"], "pump": "brandrel-small"})
        item = next(s for s in lead.get(f"{OSTREL}/sums") if s["key"] == "fuel-pump")
        assert item["typed"]["boost"] == "90"
        assert item["typed"]["curve"][0]["kpa"] == "200"
        told = lead.put(f"{OSTREL}/sums/fuel-pump", {"typed": item["typed"]})
        assert (
            "curve ends at 400 kPa" in told["sentence"]
            and told["field"] == "kpa"
            or told["calls"][0]["verdict"] == "hold"
        )
        low = lead.put(f"{OSTREL}/sums/fuel-pump", {"typed": {**item["typed"], "rail": "300", "flow": "550"}})
        assert low["calls"][0]["verdict"] == "hold"
        assert not steps(lead, OSTREL)["plan.pump"]["done"]
        lead.put(f"{OSTREL}/kit", {"devices": ["kelmar-ethanol"], "pump": "kelmar-340e"})
        fresh = {
            **item["typed"],
            "flow": "550",
            "curve": [{"kpa": "300", "lph": "320"}, {"kpa": "700", "lph": "160"}],
        }
        invented = lead.put(f"{OSTREL}/sums/fuel-pump", {"typed": fresh})["calls"]
        assert [(call["verdict"], call["title"]) for call in invented][1] == (
            "hold",
            "Not the figures of this job",
        )
        assert not steps(lead, OSTREL)["plan.pump"]["done"], "a curve that is none of this pump's"
        curve = [
            {"kpa": f"{kpa:g}", "lph": f"{lph:g}"}
            for item in lead.get("shelf-items?kind=pump")
            if item["key"] == "kelmar-340e"
            for kpa, lph in item["body"]["curve"]
        ]
        own = lead.put(f"{OSTREL}/sums/fuel-pump", {"typed": {**fresh, "flow": "370", "curve": curve}})
        assert [call["verdict"] for call in own["calls"]] == ["go"]
        assert steps(lead, OSTREL)["plan.pump"]["done"]

    def test_another_variant_is_judged_again(self, lead):
        found = lead.post("models/Ostrel Merrin/variants", {"answers": {}})
        assert found["question"]["options"] == ["steel", "plastic"]
        assert found["settled"] == ""
        assert (
            lead.post("models/Ostrel Merrin/variants", {"answers": {"charge pipe": "plastic"}})["settled"]
            == "ostrel-merrin-16t-late"
        )
        assert (
            "No variant"
            in lead.post("models/Ostrel Merrin/variants", {"answers": {"charge pipe": "wood"}})["sentence"]
        )
        lead.put(
            f"{OSTREL}/vehicle", {"vehicle": "ostrel-merrin-16t-late", "answers": {"charge pipe": "plastic"}}
        )
        assert standing(lead, OSTREL)["plan.fit"]["verdict"] == "stop"
        assert "make-safe.hybrid" in steps(lead, OSTREL)


def test_a_piggyback_on_the_bench_car_is_logged_and_proven_from_files(lead):
    """Nothing is written to it from here, and that is no dead end."""
    job = "jobs/0001"
    lead.put(f"{job}/kit", {"devices": ["kelmar-shift"]})
    plate = lead.get(job)["plate"]
    assert plate["bench_engine"]
    assert not plate["linked"]
    # It is made for another engine: nothing is driven with it until somebody says why it will do.
    assert "does not fit" in lead.post(f"{job}/captures", {"watched": False})["sentence"]
    overrule(lead, job, "plan.fit", "its maker wrote that it serves this engine")
    assert "Bring a log file" in lead.post(f"{job}/captures", {"watched": False})["sentence"]
    assert "Bring a log file" in lead.post(f"{job}/runs", {"when": "after"})["sentence"]
    for when in ("before", "after"):
        for n in range(3):
            runs = send(lead, brought(when=when).replace(DIESEL, job), run_of(n + 3 * (when == "after")))
            assert lead.status == 200, runs
    again = send(lead, brought(when="after").replace(DIESEL, job), run_of(0))
    assert "one file twice is one run" in again["sentence"]
    assert steps(lead, job)["prove.runs"]["done"]
    told = lead.post(f"{job}/comparison")
    assert "prove.loaded" not in {call["rule"] for call in told["calls"]}


class TestBaseline:
    def test_codes_by_hand_and_runs_from_another_drum(self, lead):
        told = lead.put(
            f"{DIESEL}/baseline",
            {
                "computer": "TW-D4",
                "calibration": "TP30-0091",
                "codes": [{"code": "p0401", "status": "stored"}],
            },
        )
        assert told["codes"] == [{"code": "P0401", "status": "stored"}]
        assert standing(lead, DIESEL)["baseline.codes"]["verdict"] == "hold"
        assert (
            "no trouble code"
            in lead.put(
                f"{DIESEL}/baseline", {"computer": "a", "calibration": "b", "codes": [{"code": "smoke"}]}
            )["sentence"]
        )
        typed = {"computer": "a", "calibration": "b"}
        told = lead.put(f"{DIESEL}/baseline", typed)
        found = standing(lead, DIESEL)["baseline.codes"]
        assert (found["verdict"], found["title"], told["codes_read"]) == (
            "hold",
            "Trouble codes were not read",
            False,
        )
        lead.put(f"{DIESEL}/baseline", typed | {"none_shown": True, "codes": [{"code": "P0401"}]})
        assert lead.status == 422
        assert lead.put(f"{DIESEL}/baseline", typed | {"none_shown": True})["codes_read"]
        assert standing(lead, DIESEL)["baseline.codes"]["verdict"] == "go"
        table = run_of(0)
        for n in range(3):
            runs = send(lead, brought(name=f"run{n}.csv"), run_of(n))
        assert len(runs["runs"]) == 3
        assert runs["runs"][0]["peak_kw"] == pytest.approx(160.0)
        assert steps(lead, DIESEL)["baseline.runs"]["done"]
        assert "at least 8 rows" in send(lead, brought(), b"rpm,wheel kW\n1,2\n")["sentence"]
        for field, text, word in (
            ("gear", "", "Enter the gear"),
            ("intake", "", "Enter the intake air"),
            ("intake", "warm", "is not a number"),
            ("drum", " ", "Name the drum"),
            ("tyres", "3 stone", "does not measure pressure"),
            ("barometer", "12 kPa", "between 45 and 110"),
        ):
            told = send(lead, brought(**{field: text}), table)
            assert lead.status == 422, (field, told)
            assert word in told["sentence"], (field, told)
            assert told["field"] == field, (field, told)
        assert len(lead.get(f"{DIESEL}/runs")["runs"]) == 3, (
            "nothing is kept of a run whose conditions are wrong"
        )

    def test_stock_runs_of_more_than_the_engine_has_are_no_before(self, lead):
        def run(n: int) -> bytes:
            rows = "\n".join(f"{rpm},{rpm * 0.06 + 0.1 * n:.1f}" for rpm in range(1500, 4001, 100))
            return f"rpm,wheel kW\n{rows}\n".encode()

        send(lead, brought(name="one.csv"), run(0))
        hold = standing(lead, DIESEL)["baseline.runs"]
        assert hold["verdict"] == "hold"
        assert hold["title"] == "More at the wheels than this engine has"
        assert not steps(lead, DIESEL)["baseline.runs"]["done"]
        why = {"reason": "It has another turbo; the owner says so."}
        lead.post(f"ledger/{hold['id']}/overrule", why)
        assert not steps(lead, DIESEL)["baseline.runs"]["done"], "no word makes three runs of one"
        for n in (1, 2):
            send(lead, brought(name=f"{n}.csv"), run(n))
        hold = standing(lead, DIESEL)["baseline.runs"]
        if not hold["overruled_by"]:
            lead.post(f"ledger/{hold['id']}/overrule", why)
        assert steps(lead, DIESEL)["baseline.runs"]["done"]

    def test_runs_are_held_against_each_other_only_where_they_were_made_alike(self, lead):
        for n in range(3):
            send(lead, brought(intake=f"{68 + n} °F"), run_of(n))
        alike = standing(lead, DIESEL)["baseline.alike"]
        assert alike["verdict"] == "go"
        assert {e["label"]: e["value"] for e in alike["evidence"]}["intake air apart"] == pytest.approx(1.1)
        for n in range(3):
            made = {"when": "after", "intake": "33", "gear": "5", "tyres": "2.5 bar"}
            runs = send(lead, brought(**made), run_of(n + 3))
        assert runs["runs"][0]["taken"] == ["humidity"]
        assert runs["runs"][0]["intake_c"] == pytest.approx(20.0)
        assert runs["runs"][3]["tyre_kpa"] == 250
        lead.post(f"{DIESEL}/comparison")
        hold = standing(lead, DIESEL)["dyno.alike"]
        assert hold["verdict"] == "hold"
        assert "gear and intake air and tyre pressure" in hold["text"]
        report = lead.get(f"{DIESEL}/report")
        assert not report["gain"]["claimed"]
        assert {c["verdict"] for c in report["gain"]["calls"] if c["rule"] == "dyno.alike"} == {"hold"}
        assert "diesel" in report["feed"][0]
        assert "RON" not in str(report["feed"])
        # A standard without a formula for diesels is none here; of the others each run is in its own air.
        told = lead.put(f"{DIESEL}/standard", {"standard": "DIN 70020"})
        assert lead.status == 422
        assert "Choose SAE J1349, ISO 1585" in told["sentence"]
        assert lead.get(f"{DIESEL}/runs")["standards"] == ["none", "SAE J1349", "ISO 1585"]
        before = lead.get(f"{DIESEL}/runs")["runs"]
        lead.put(f"{DIESEL}/standard", {"standard": "ISO 1585"})
        after = lead.get(f"{DIESEL}/runs")["runs"]
        by = {now["when"]: now["peak_kw"] / was["peak_kw"] for was, now in zip(before, after, strict=True)}
        assert 1.0 < by["before"] < by["after"] < 1.1, "the warmer air is corrected by more"
        assert "engine factor of this diesel" in str(standing(lead, DIESEL)["dyno.correction"])

    def test_a_capture_that_finds_the_line_in_use_leaves_nothing_behind(self, lead):
        job = Job.objects.get(number="0001")
        with line_taken(job.pk, "a read"):
            assert (
                "in use: a read"
                in lead.post("jobs/0001/captures", {"watched": False, "baseline": True})["sentence"]
            )
            assert lead.status == 409
        lead.post("jobs/0001/captures", {"watched": False, "baseline": True})
        done = until(lambda: lead.get("jobs/0001/captures/current"), lambda c: c["state"] != "running")
        assert done["state"] == "done", done

    @pytest.mark.parametrize("rows, seconds, kept", [(12, 5.0, True), (60, 1.5, False), (0, 0.0, False)])
    def test_a_log_is_kept_by_its_seconds_however_slow_the_bus(self, lead, rows, seconds, kept):
        job, by = Job.objects.get(number="0001"), User.objects.get(username="lead")
        found = Capture(job.pk, watched=True, baseline=True, length_s=60.0)
        found.rows = [(seconds * (i + 1) / rows, {"rpm": 900.0 + i, "map": 40.0}) for i in range(rows)]
        captures.finish(found, job, None, by)
        assert (found.state, found.log_id is not None) == (("done", True) if kept else ("failed", False))

    def test_a_stock_log_shows_idle_cruise_and_a_pull(self, lead):
        log = bench_log("bench-a.csv")
        intake(lead, "jobs/0001", ethanol="22 %")
        send(lead, "logs?name=stock.csv&job=0001&baseline=true", bench_log("bench-f.csv"))
        assert standing(lead, "jobs/0001")["baseline.log"]["verdict"] == "go"
        assert steps(lead, "jobs/0001")["baseline.log"]["done"]
        assert [row["name"] for row in lead.get("logs?job=0001&baseline=true")] == ["stock.csv"]
        assert lead.get("logs?job=0001") == []
        send(lead, "logs?name=petrol.csv&job=0004&baseline=true", log)
        held = standing(lead, DIESEL)["baseline.log"]
        assert held["verdict"] == "stop", "what is right for petrol is smoke on a diesel: no clean before"
        assert not steps(lead, DIESEL)["baseline.log"]["done"], (
            "what is right for petrol is smoke on a diesel: no clean before"
        )


class TestRules:
    def test_a_changed_rule_holds_for_new_jobs_and_an_open_job_keeps_its_own(self, shop):
        lead, installer = Api("lead"), Api("installer")
        assert (
            installer.put("house-rules/safe.coolant", {"value": "35", "reason": "hot summers"})["field"]
            == "person"
        )
        assert installer.status == 403
        assert "Say why" in lead.put("house-rules/safe.coolant", {"value": "35", "reason": ""})["sentence"]
        assert (
            "not a number"
            in lead.put("house-rules/safe.coolant", {"value": "cold", "reason": "hot summers"})["sentence"]
        )
        told = lead.put("house-rules/safe.coolant", {"value": "35 psi", "reason": "hot summers"})
        assert "does not measure temperature" in told["sentence"]
        assert told["field"] == "safe.coolant"
        rows = lead.put("house-rules/safe.coolant", {"value": "95", "unit": "°F", "reason": "hot summers"})
        row = next(r for r in rows if r["key"] == "safe.coolant")
        assert (row["value"], row["default"], row["changed_by"], row["changed_reason"]) == (
            35.0,
            40.0,
            "Mara Tallis",
            "hot summers",
        )
        lead.put("house-rules/safe.fuel_school", {"value": "service valve", "reason": "we have the gauge"})
        number = lead.post("jobs", {"vehicle": "ostrel-merrin-16t", "registration": "X", "owner": "Y"})[
            "number"
        ]
        other_injectors(lead, f"jobs/{number}")
        fresh = steps(lead, f"jobs/{number}")
        assert fresh["make-safe.coolant"]["reading"]["high"] == 35
        assert "make-safe.valve" in fresh
        assert steps(lead, OSTREL)["make-safe.coolant"]["reading"]["high"] == 40
        apart = lead.get(f"{OSTREL}/house-rules")
        assert {r["key"] for r in apart} == {"safe.coolant", "safe.fuel_school"}
        assert lead.post(f"{OSTREL}/house-rules") == []
        assert steps(lead, OSTREL)["make-safe.coolant"]["reading"]["high"] == 35

    def test_people_are_added_changed_and_their_doings_kept(self, shop):
        lead = Api("lead")
        assert (
            "12 characters"
            in lead.post(
                "people",
                {"username": "ida", "first": "Ida", "last": "Roe", "role": "viewer", "phrase": "short"},
            )["sentence"]
        )
        lead.post(
            "people",
            {
                "username": "ida",
                "first": "Ida",
                "last": "Roe",
                "role": "installer",
                "phrase": "four long quiet words",
            },
        )
        assert (
            "is a ida"
            in lead.post(
                "people",
                {
                    "username": "ida",
                    "first": "",
                    "last": "",
                    "role": "lead",
                    "phrase": "four long quiet words",
                },
            )["sentence"]
        )
        lead.put("people/ida", {"role": "viewer", "active": False})
        ida = next(p for p in lead.get("people") if p["username"] == "ida")
        assert (ida["role"], ida["active"]) == ("viewer", False)
        assert "yourself" in lead.put("people/lead", {"role": "viewer"})["sentence"]
        installer = Api("installer")
        installer.post(f"{OSTREL}/steps/plan.parts/done", {})
        assert lead.get("people/installer/doings")[0]["title"] == "Lay out parts and tools"
        assert (
            "not right"
            in installer.post("phrases", {"old": "guess", "new": "another long phrase"})["sentence"]
        )
        assert (
            "changed"
            in installer.post("phrases", {"old": "sorrel pass 1450", "new": "another long phrase"})[
                "sentence"
            ]
        )
        assert installer.get("jobs/0003")["plate"]["number"] == "0003", "still signed in"


class TestShelf:
    def test_every_item_follows_the_published_schema_and_goes_there_and_back(self, lead):
        whole = lead.client.get("/api/shelf-files/current").content
        items = json.loads(whole)
        assert len([i for i in items if i["kind"] == "vehicle"]) >= 8
        assert len([i for i in items if i["kind"] == "injector"]) >= 12
        assert {i["body"]["kind"] for i in items if i["kind"] == "device"} == set(DeviceKind)
        assert len([i for i in items if i["kind"] == "pump"]) >= 4
        told = send(lead, "shelf-files/current", whole)
        assert told["sentence"] == f"0 added, 0 changed, {len(items)} as they were."

    def test_bad_items_are_refused_whole_by_name(self, lead):
        pump = {
            "kind": "pump",
            "key": "big",
            "name": "Big pump",
            "body": {"curve": [[300, 200], [400, 180]], "volts": 13.5, "current_a": 9},
        }
        bad = {**pump, "key": "bad", "body": {**pump["body"], "volts": "many"}}
        told = send(lead, "shelf-files/current", json.dumps([pump, bad]).encode())
        assert "pump “bad”" in told["sentence"]
        assert told["field"] == "volts"
        assert lead.get("shelf-items?kind=pump")
        assert "big" not in {i["key"] for i in lead.get("shelf-items?kind=pump")}
        assert (
            "signal is missing"
            in lead.put("shelf-items", {**pump, "kind": "sensor", "body": {"measures": "boost"}})["sentence"]
        )
        assert (
            "colour is no field"
            in lead.put("shelf-items", {**pump, "body": {**pump["body"], "colour": "red"}})["sentence"]
        )
        assert "no JSON" in send(lead, "shelf-files/current", b"{")["sentence"]
        assert lead.put("shelf-items", pump)["key"] == "big"
        assert lead.call("delete", "shelf-items/pump/big")["sentence"] == "Off the shelf."
        assert "used by 0003" in lead.call("delete", "shelf-items/pump/kelmar-255")["sentence"]


def test_a_diagnosis_is_kept_with_the_job(lead):
    found = lead.put(f"{OSTREL}/diagnosis", {"complaint": "high_idle", "signs": {"after_injectors": True}})
    assert found["causes"][0]["cause"] == "air past a lower injector seal"
    assert lead.get(f"{OSTREL}/diagnosis")["signs"] == {"after_injectors": True}
    assert lead.post("diagnoses", {"complaint": "squeak"})["field"] == "complaint"
    assert LedgerEntry.objects.filter(title="Complaint: Idle is high and steady").exists()


def test_a_killed_server_keeps_waits_and_entries(lead):
    lead.post(f"{OSTREL}/steps/make-safe.cool/done", {})
    timer = lead.get(OSTREL)["timers"][0]
    assert timer["label"] == "Let the engine cool"
    assert timer["seconds"] == 1200
    # another process with the same database sees the same wait, counted from the same moment
    assert Job.objects.get(number="0003").timers.get().started_at.timestamp() == pytest.approx(
        time.time(), abs=60
    )
