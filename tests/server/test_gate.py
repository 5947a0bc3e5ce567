"""One gate and living verdicts: a stop bars what it endangers; what stood falls with its facts."""

from __future__ import annotations

import itertools
import random
from collections import Counter
from contextlib import suppress

import pytest
from django.contrib.auth.models import User
from django.utils import timezone

from tests.conftest import by_night
from tests.server.quiet import QUIET
from tests.server.test_acts import operations
from tests.shopwork import (
    J,
    by_hand,
    do,
    intake,
    log,
    overrule,
    send,
    standing,
    steps,
    to_map,
    write,
)
from ventmap.core.basics import STAGES, Call, Evidence, Verdict
from ventmap.core.runsheet import (
    BARS,
    FACTS,
    OF_ONE_DEVICE,
    RESTS,
    Act,
    Standing,
    bars,
    differs,
    facts_of,
    may,
    rests,
)
from ventmap.server.jobs.assemble import run_sheet
from ventmap.server.jobs.living import basis_of, facts
from ventmap.server.jobs.models import Job, LedgerEntry

#: Operations that touch a vehicle, its computer, the owner or the proof: the act that each asks the gate for.
ACTING: dict[str, tuple[Act, str, object]] = {
    "POST /jobs/{number}/baseline": (Act.as_it_came, f"{J}/baseline", None),
    "PUT /jobs/{number}/load-board": (Act.power_on, f"{J}/load-board", {"answers": {"measure": True}}),
    "POST /jobs/{number}/saved-images": (Act.power_on, f"{J}/saved-images", None),
    "POST /jobs/{number}/loads": (Act.write, f"{J}/loads", None),
    "PUT /jobs/{number}/firmware": (Act.power_on, f"{J}/firmware", None),
    "POST /jobs/{number}/firmware": (Act.power_on, f"{J}/firmware", {"file": "a"}),
    "POST /jobs/{number}/ignition": (Act.power_on, f"{J}/ignition", {"on": True}),
    "POST /jobs/{number}/codes/clear": (Act.power_on, f"{J}/codes/clear", None),
    "POST /jobs/{number}/key-on": (Act.power_on, f"{J}/key-on", None),
    "POST /jobs/{number}/pedal": (Act.power_on, f"{J}/pedal", None),
    "POST /jobs/{number}/start": (Act.start, f"{J}/start", None),
    "POST /jobs/{number}/global-trim": (Act.power_on, f"{J}/global-trim", {"steps": 1}),
    "POST /jobs/{number}/dry-runs": (Act.power_on, f"{J}/dry-runs", None),
    "POST /jobs/{number}/cold-starts": (Act.start, f"{J}/cold-starts", None),
    "POST /jobs/{number}/outputs/{key}/run": (Act.power_on, f"{J}/outputs/fan/run", None),
    "POST /jobs/{number}/timing/read": (Act.start, f"{J}/timing/read", {"speed": "idle"}),
    "POST /jobs/{number}/timing/offset": (Act.power_on, f"{J}/timing/offset", {"offset": "12"}),
    "POST /jobs/{number}/captures": (Act.log, f"{J}/captures", {"watched": False}),
    "POST /jobs/{number}/runs": (Act.run, f"{J}/runs", {"when": "after"}),
    "POST /jobs/{number}/comparison": (Act.claim, f"{J}/comparison", None),
}
#: Asked by the step itself, in tests of their own below: hand over, open fuel, set the device, start by hand.
BY_STEP = {
    "POST /jobs/{number}/steps/{key}/done",
    "PUT /jobs/{number}/steps/{key}/grid",
    "POST /jobs/{number}/steps/{key}/seals/{cylinder}",
    "PUT /jobs/{number}/steps/{key}/pin-plan",
    "POST /jobs/{number}/entering/{part}",
    "POST /jobs/{number}/steps/{key}/identity",
    "POST /jobs/{number}/steps/{key}/codes",
}


def test_every_operation_that_touches_a_vehicle_is_known_to_ask():
    names = {name for name, _ in operations()}
    assert names == set(ACTING) | BY_STEP | QUIET, "a new operation: does it touch the vehicle?"


def stop(stage: str, rule: str, protects: str = "people") -> LedgerEntry:
    return LedgerEntry.objects.create(
        job=Job.objects.get(number="0001"),
        stage=stage,
        kind="call",
        by=User.objects.get(username="lead"),
        title=f"A stop of {stage}",
        text="Put it right.",
        rule=rule,
        verdict="stop",
        protects=protects,
        standing=True,
        at=timezone.now(),
    )


def test_every_acting_route_is_refused_by_every_stop_that_bars_its_act(lead):
    """Each route × each kind of stop, of whatever stage it is."""
    lead.client.raise_request_exception = False
    passed = []
    for bar in BARS:
        entry = stop(bar.stage, f"{bar.rule or 'any.'}rule")
        call = Call(entry.rule, Verdict.stop, (), "Put it right.", "a test", title=entry.title)
        barred = bars(Standing(bar.stage, call))
        for name, (act, path, body) in ACTING.items():
            if act not in barred:
                continue
            method = name.split()[0].lower()
            told = lead.call(method, path, body)
            if lead.status != 422 or told.get("field") != "gate" or entry.title not in told["sentence"]:
                passed.append((bar.stage, bar.rule, name, lead.status, told))
        entry.delete()
    assert passed == []


def test_a_slat_that_is_stopped_says_so_and_leads_to_where_it_is_put_right(lead):
    stop("fit", "wiring.both_sides", "computer")
    slats = {slat["key"]: slat["barred"] for slat in lead.get(J)["slats"]}
    assert slats["load"]["stage"] == slats["first-start"]["stage"] == slats["hand-over"]["stage"] == "fit"
    assert "A stop of fit" in slats["log"]["sentence"]
    assert slats["intake"] is None


def test_a_slat_that_several_things_stop_names_each_with_where_it_is_put_right(lead):
    stop("fit", "wiring.both_sides", "computer")
    stop("base-map", "map.spark", "engine")
    slats = {slat["key"]: slat["barred"] for slat in lead.get(J)["slats"]}
    told = [(one["title"], one["stage"]) for one in slats["first-start"]["every"]]
    assert sorted(told) == [("A stop of base-map", "base-map"), ("A stop of fit", "fit")]


@pytest.mark.parametrize("stage", [stage.key for stage in STAGES])
def test_a_stop_of_any_stage_bars_the_acts_that_endanger_what_it_protects(stage):
    """No rule that is new falls through: each stage has a line for whatever comes."""
    assert any(bar.stage == stage and bar.rule == "" for bar in BARS)
    evidence = (Evidence("read", 1, 0),)
    found = Call(
        "new.rule", Verdict.stop, evidence, "Put it right.", "a test", title="New", protects="people"
    )
    standing_now = [Standing(stage, found)]
    for act in Act:
        expected = act in bars(standing_now[0])
        assert bool(may(act, standing_now)) == expected
        hold = Call("new.rule", Verdict.hold, evidence, "Look.", "a test", title="New")
        assert may(act, [Standing(stage, hold)]) == []
    if stage in ("intake", "plan", "fit", "first-start", "log", "base-map"):
        assert Act.hand_over in bars(standing_now[0])


def opens_fuel() -> str:
    sheet = run_sheet(Job.objects.get(number="0001"))
    return next(step.key for step in sheet.steps if "make-safe.relieved" in step.needs)


class TestNoWordLifts:
    """A stop that protects is lifted by a good reading alone."""

    def hot(self, lead) -> dict:
        do(lead, J, steps(lead, J)["make-safe.fuse"])
        lead.post(f"{J}/steps/make-safe.coolant/done", {"reading": "95 °C"})
        return standing(lead, J)["step.make-safe.coolant"]

    def test_hot_coolant_before_fuel_is_opened(self, lead):
        lead.put(f"{J}/plan", {"injectors": "fenwright-330"})
        entry = self.hot(lead)
        assert (entry["verdict"], entry["protects"]) == ("stop", "people")
        for path, body in (
            (f"ledger/{entry['id']}/overrule", {"reason": "it is only warm"}),
            (f"{J}/steps/make-safe.coolant/undo", None),
            (f"{J}/steps/make-safe.coolant/set-aside", {"because": "no need today"}),
        ):
            lead.post(path, body)
            assert lead.status in (403, 422), path
            assert standing(lead, J)["step.make-safe.coolant"]["verdict"] == "stop"
        lead.post(f"{J}/steps/make-safe.coolant/done", {"reading": "31 °C"})
        assert standing(lead, J)["step.make-safe.coolant"]["verdict"] == "go"

    def test_what_opens_fuel_is_read_and_never_set_aside(self, lead):
        lead.put(f"{J}/plan", {"injectors": "fenwright-330"})
        for key in ("make-safe.coolant", "make-safe.relieved"):
            lead.post(f"{J}/steps/{key}/set-aside", {"because": "it was done yesterday"})
            assert lead.status == 422, key

    def test_coolant_is_read_after_the_engine_ran(self, lead):
        """The fuse is pulled and the engine runs until it dies: what was read before says nothing."""
        lead.put(f"{J}/plan", {"injectors": "fenwright-330"})
        by_hand(lead, J, "make-safe")
        assert steps(lead, J)["make-safe.coolant"]["done"]
        lead.post(f"{J}/steps/make-safe.fuse/undo")
        do(lead, J, steps(lead, J)["make-safe.fuse"])
        assert not steps(lead, J)["make-safe.coolant"]["done"]

    def test_fuel_is_not_opened_on_a_reading_from_before_there_was_power(self, lead):
        to_map(lead)
        opens = next(
            s.key for s in run_sheet(Job.objects.get(number="0001")).steps if "make-safe.relieved" in s.needs
        )
        lead.post(f"{J}/saved-images")
        assert lead.status == 200
        lead.post(f"{J}/steps/{opens}/undo")
        told = lead.post(f"{J}/steps/{opens}/done", {})
        assert lead.status == 422
        assert "there was power since it was read" in told["sentence"]
        for key in ("make-safe.coolant", "make-safe.relieved"):
            do(lead, J, steps(lead, J)[key])
        do(lead, J, steps(lead, J)[opens])
        assert steps(lead, J)[opens]["done"]

    def test_there_is_no_power_while_fuel_is_open(self, lead):
        to_map(lead)
        opens = next(
            s.key for s in run_sheet(Job.objects.get(number="0001")).steps if "make-safe.relieved" in s.needs
        )
        lead.post(f"{J}/steps/{opens}/undo")
        told = lead.post(f"{J}/saved-images")
        assert lead.status == 422
        assert "fuel system is open" in told["sentence"]


class TestHandedOver:
    def test_nothing_is_handed_over_while_a_stop_stands(self, lead):
        stop("log", "log.lean_under_load", "engine")
        told = lead.post(f"{J}/steps/hand-over.told/done", {})
        assert lead.status == 422
        assert "A stop of log" in told["sentence"]


class TestFalls:
    """A *go* falls when what it stood on changes."""

    def test_injectors_for_the_goal_and_the_tank(self, lead):
        lead.put(f"{J}/plan", {"injectors": "fenwright-330"})
        before = standing(lead, J)["plan.injector"]
        assert before["verdict"] == "go"
        intake(lead, J, ethanol=0.83, power_goal_kw=190.0)
        after = standing(lead, J)["plan.injector"]
        assert after["verdict"] != "go"
        assert after["id"] != before["id"]

    def test_flow_and_dead_time_with_another_set(self, lead):
        to_map(lead)
        assert steps(lead, J)["base-map.flow"]["done"]
        other = next(
            c["key"]
            for c in lead.get(f"{J}/plan")["choices"]
            if not c["chosen"] and c["call"]["verdict"] != "stop"
        )
        lead.put(f"{J}/plan", {"injectors": other})
        assert lead.status == 200
        for key in ("base-map.flow", "base-map.dead_time"):
            assert not steps(lead, J)[key]["done"]

    def test_mixture_and_review_when_the_log_is_gone(self, lead):
        to_map(lead)
        write(lead)
        lead.post(f"{J}/start")
        row = log(lead)
        lead.post(f"{J}/mixture")
        assert any(rule.startswith("correct.") for rule in standing(lead, J))
        lead.call("delete", f"logs/{row['id']}")
        left = standing(lead, J)
        assert not [rule for rule in left if rule.startswith(("correct.", "log."))]
        assert not steps(lead, J)["log.review"]["done"]

    def test_a_claim_when_a_run_it_rests_on_is_left_out(self, lead):
        to_map(lead)
        for _ in range(3):
            lead.post(f"{J}/runs", {"when": "before"})
        write(lead)
        lead.post(f"{J}/start")
        for _ in range(3):
            lead.post(f"{J}/runs", {"when": "after"})
        assert lead.status == 200
        lead.post(f"{J}/comparison")
        assert "dyno.gain" in standing(lead, J)
        run = lead.get(f"{J}/runs")["runs"][-1]["id"]
        lead.put(f"{J}/runs/{run}", {"counts": False})
        assert "dyno.gain" not in standing(lead, J)
        assert not steps(lead, J)["prove.claim"]["done"]


class TestLogs:
    """What a log found is lifted by one that could have shown it."""

    HEAD = (
        b"Time (s),Engine speed (rpm),MAP (kPa),Lambda 1,Target Lambda,Accel Position (%),"
        b"Knock Retard (deg)\n"
    )

    def drive(self, pull: bool, knock: float, n: int) -> bytes:
        rows = [self.HEAD]
        for at in range(600):
            pulling = pull and 200 <= at < 300
            rpm = 1800 + 40 * (at - 200) if pulling else 900
            load = (83, 0.88, 100) if pulling else (40, 1.0, 0)
            retard = knock if pulling and at > 260 else 0
            row = f"{at / 20:.2f},{rpm + n},{load[0]},{load[1]},{load[1]},{load[2]},{retard}\n"
            rows.append(row.encode())
        return b"".join(rows)

    def test_an_idle_log_lifts_no_knock_and_a_pull_does(self, lead):
        send(lead, "logs?name=knock.csv&job=0001", self.drive(pull=True, knock=7.0, n=0))
        assert standing(lead, J)["log.knock"]["verdict"] == "stop"
        send(lead, "logs?name=idle.csv&job=0001", self.drive(pull=False, knock=0.0, n=1))
        assert lead.status == 200
        assert standing(lead, J)["log.knock"]["verdict"] == "stop"
        assert not steps(lead, J)["log.review"]["done"]
        told = lead.post(f"{J}/runs", {"when": "after"})
        assert told["field"] == "gate"
        send(lead, "logs?name=sound.csv&job=0001", self.drive(pull=True, knock=0.0, n=2))
        assert "log.knock" not in standing(lead, J)

    def test_a_file_that_was_met_is_no_second_log(self, lead):
        data = self.drive(pull=True, knock=0.0, n=3)
        send(lead, "logs?name=a.csv&job=0001", data)
        told = send(lead, "logs?name=b.csv&job=0001", data)
        assert lead.status == 422
        assert "in this job already" in told["sentence"]


class TestOverrules:
    def test_it_is_given_for_what_was_found_and_falls_with_it_alone(self, lead):
        vin = lead.get(J)["plate"]["vin"]
        wrong = vin[:15]  # a number of the vehicle's own
        intake(lead, J, vin=wrong)
        rule = "intake.vin"
        assert standing(lead, J)[rule]["verdict"] == "hold"
        overrule(lead, J, rule, "the plate on the car says so")
        intake(lead, J, odometer_km=88_100)
        assert standing(lead, J)[rule]["overruled_reason"], "an odometer typed anew raises nothing"
        intake(lead, J, vin=f"{wrong[:-1]}Z")
        assert not standing(lead, J)[rule]["overruled_reason"]


@pytest.mark.parametrize("number", ["0001", "0005"])
def test_leaks_are_looked_for_while_it_runs(lead, number):
    """On a kit that is written from here as on one that is worked by hand: where nothing runs nothing
    weeps.
    """
    told = lead.post(f"jobs/{number}/steps/first-start.leaks/done", {})
    assert lead.status == 422, told
    assert told["sentence"].startswith("First:"), told


def test_every_fact_that_a_step_rests_on_opens_it_again_when_it_differs(lead):
    """Over every step of every sheet of the sample shop, and every fact."""
    met = set()
    for job in Job.objects.all():
        known = facts(job)
        for step in run_sheet(job).steps:
            before = rests(step, known)
            assert differs(before, rests(step, known)) == ""
            for name in facts_of(step.key):
                other = {**known, name: ["another"] * 4 if name in OF_ONE_DEVICE else "another"}
                assert FACTS[name] in differs(before, rests(step, other)), (step.key, name)
                met.add(name)
            untouched = set(FACTS) - set(facts_of(step.key))
            for name in untouched:
                other = {**known, name: ["another"] * 4 if name in OF_ONE_DEVICE else "another"}
                assert differs(before, rests(step, other)) == "", (step.key, name)
    assert met == set(itertools.chain.from_iterable(names for _, names in RESTS))


def sound(job: Job) -> list[str]:
    """What is wrong with a job's record, by a slow look at all of it: nothing, after any act."""
    known, wrong = facts(job), []
    steps_now = {step.key: step for step in run_sheet(job).steps}
    calls = job.ledger.filter(standing=True, kind="call")
    pairs = list(calls.values_list("stage", "rule"))
    wrong += [f"{pair} stands twice" for pair in set(pairs) if pairs.count(pair) > 1]
    for row in job.steps_done.all():
        step = steps_now.get(row.key)
        if step is None:
            continue
        if changed := differs(row.rests, basis_of(job, step, row, known)):
            wrong.append(f"{row.key} is done, and {changed}")
        call = calls.filter(rule=f"step.{row.key}").first()
        if call is not None and call.verdict != "go" and call.overruled_by_id is None and not row.set_aside:
            wrong.append(f"{row.key} is done, and its call is {call.verdict}")
        if row.set_aside and call is not None and call.verdict == "stop" and call.protects:
            wrong.append(f"{row.key} is set aside over a stop that protects {call.protects}")
    return wrong


@pytest.mark.parametrize("seed", [1, *map(by_night, range(2, 8))])
def test_whatever_is_done_in_whatever_order_what_stands_is_true(lead, seed):
    """Random acts of a shop on three of its jobs; after each the whole record is looked at."""
    chance = random.Random(seed)
    lead.client.raise_request_exception = False
    kits = [["kelmar-shift"], ["kelmar-ethanol"], ["fenwright-s2"], []]
    injectors = ["fenwright-330", "corvane-stock-240", ""]
    met = Counter()
    for _ in range(45):
        job = f"jobs/000{chance.choice((1, 3, 5))}"
        sheet = lead.get(job)
        step = chance.choice(sheet["steps"])
        holds = [e for e in sheet["ledger"] if e.get("may_be_overruled")]
        act = chance.choice(
            ("do", "do", "do", "undo", "aside", "intake", "kit", "injectors", "overrule", "text")
        )
        if act == "do":
            with suppress(AssertionError):  # refused, which is as good an act as any
                do(lead, job, step)
        elif act == "undo":
            lead.post(f"{job}/steps/{step['key']}/undo")
        elif act == "aside":
            lead.post(f"{job}/steps/{step['key']}/set-aside", {"because": "not on this one"})
        elif act == "intake":
            changes = {"ethanol": chance.choice((0.05, 0.83)), "ron": chance.choice((91.0, 98.0))}
            intake(lead, job, power_goal_kw=chance.choice((120.0, 190.0)), **changes)
        elif act == "kit":
            lead.put(f"{job}/kit", {"devices": chance.choice(kits)})
        elif act == "injectors":
            lead.put(f"{job}/plan", {"injectors": chance.choice(injectors)})
        elif act == "overrule" and holds:
            lead.post(f"ledger/{chance.choice(holds)['id']}/overrule", {"reason": "seen and measured"})
        elif step["evidence"] == "reading":
            lead.post(
                f"{job}/steps/{step['key']}/done", {"reading": chance.choice(("95", "-1", "0.1", "60"))}
            )
        met[act, lead.status] += 1
        assert lead.status < 500, (act, job, step["key"])
        assert sound(Job.objects.get(number=job[-4:])) == [], (act, job, step["key"])
    assert sum(count for (_, status), count in met.items() if status == 200) > 15
