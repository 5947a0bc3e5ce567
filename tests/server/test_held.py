"""What holds is judged by what is, asked until it is right, and handed over with its answer."""

from __future__ import annotations

from tests.conftest import Api
from tests.server.test_gate import stop
from tests.shopwork import J, answer_all, by_hand, do, intake, log, overrule, standing, steps, to_map, write
from ventmap.core.basics import STAGES
from ventmap.server.jobs.models import Job, LedgerEntry, StepDone
from ventmap.server.jobs.rows import devices


class TestHeld:
    """What holds leaves its step open; it too is judged by what is, and what was said of it stays with it."""

    def test_a_hold_is_a_stop_once_what_was_read_opens_fuel(self, lead):
        job = "jobs/0005"
        lead.put(f"{job}/kit", {"devices": []})
        lead.post(f"{job}/steps/make-safe.coolant/done", {"reading": "70 °C"})
        assert standing(lead, job)["step.make-safe.coolant"]["verdict"] == "hold"
        lead.put(f"{job}/kit", {"devices": ["kelmar-ethanol"], "pump": "kelmar-255"})
        assert any(step["key"] == "make-safe.relieved" for step in lead.get(job)["steps"])
        held = standing(lead, job)["step.make-safe.coolant"]
        assert (held["verdict"], held["evidence"][0]["value"]) == ("stop", 70.0)
        lead.post(f"ledger/{held['id']}/overrule", {"reason": "It cooled down meanwhile."})
        assert lead.status == 403

    def test_what_held_and_is_right_by_today_is_done_as_it_was_read(self, lead):
        rest_at = "intake.battery"
        lead.post(f"{J}/steps/{rest_at}/done", {"reading": "12.3 V"})
        assert not steps(lead, J)[rest_at]["done"]
        lead.put("house-rules/intake.battery", {"value": "12.2", "reason": "Old fleet."})
        lead.post(f"{J}/house-rules")
        assert steps(lead, J)[rest_at]["done"]
        assert StepDone.objects.get(job__number="0001", key=rest_at).reading == 12.3

    def test_an_overrule_stays_while_the_same_is_found(self, lead):
        to_map(lead)
        write(lead)
        log(lead)
        entry = LedgerEntry.objects.filter(
            job__number="0001", stage="log", standing=True, verdict="hold"
        ).first()
        assert entry is not None
        overrule(lead, J, entry.rule, "Known, and to be cured by the map.")
        intake(lead, J, complaint="Something else as well")
        lead.put("house-rules/battery.running", {"value": "12.9", "reason": "By this shop's meter."})
        lead.post(f"{J}/house-rules")
        assert standing(lead, J)[entry.rule]["overruled_by"]

    def test_a_call_says_what_it_rests_on_and_what_had_changed(self, lead):
        """Every call that stands, whatever judged it; and one that is made again, since when."""
        to_map(lead)
        calls = [e for e in lead.get(J)["ledger"] if e["standing"]]
        assert {e["rule"] for e in calls if not e["rests"] and not e["rule"].startswith("step.")} == set()
        was = next(e for e in calls if e["rule"] == "plan.injector")
        assert any(line.startswith("fuel: ") for line in was["rests"])
        assert was["changed"] == ""
        intake(lead, J, ethanol=0.83, ron=98.0, power_goal_kw=250.0)
        now = standing(lead, J)["plan.injector"]
        assert "83 % ethanol" in now["changed"]
        assert any("83 % ethanol" in line for line in now["rests"])
        intake(lead, J, altitude_m=10.0)
        again = [line for e in lead.get(J)["ledger"] if e["standing"] for line in e["rests"]]
        assert {line for line in again if line.startswith("altitude: ")} == {"altitude: 10 m"}

    def test_another_goal_makes_no_engine_better(self, lead):
        """Every step of Intake that a fact brings in: what was found there is asked until it is right."""
        intake(lead, J, complaint="It smokes", power_goal_kw=190.0, goal="track")
        brought = [
            s for s in lead.get(J)["steps"] if s["stage"] == "intake" and s["because"] and s["answers"]
        ]
        for step in brought:
            lead.post(f"{J}/steps/{step['key']}/done", {"answer": step["answers"][-1]["key"]})
        low = {"kpa": ["1200", "1190", "300", "1200"]}
        lead.put(f"{J}/steps/intake.compression/grid", {"data": low})
        found = {rule for rule, call in standing(lead, J).items() if call["verdict"] in ("hold", "stop")}
        intake(lead, J, complaint="", power_goal_kw=None, goal="street")
        lead.put(f"{J}/kit", {"devices": ["tarn-body"]})
        for step in brought:
            if f"step.{step['key']}" in found:
                asked = steps(lead, J)[step["key"]]
                assert (asked["done"], asked["because"]) == (False, "something was found at it")
        assert "step.intake.compression" in standing(lead, J)
        assert "intake.compression" in steps(lead, J)

    def test_a_step_set_aside_leaves_none_of_its_faults_standing(self, lead):
        to_map(lead)
        job = Job.objects.get(number="0001")
        entry = stop("fit", "step.fit.ground_drop#2", protects="")
        LedgerEntry.objects.filter(pk=entry.pk).update(verdict="hold")
        lead.post(f"{J}/steps/fit.ground_drop/set-aside", {"because": "No ground was touched here."})
        assert lead.status == 200
        assert not job.ledger.filter(standing=True, rule__startswith="step.fit.ground_drop").exists()

    def test_a_grid_of_plugs_that_are_gone_is_asked_again_and_holds_nobody_up(self, lead):
        job = "jobs/0003"
        answer_all(lead, job)
        by_hand(lead, job, "intake", "plan", "baseline", "make-safe", "fit")
        assert steps(lead, job)["fit.common"]["done"]
        item = Job.objects.get(number="0003").vehicle
        body = {**item.body, "cylinders": 2}
        lead.put("shelf-items", {"kind": item.kind, "key": item.key, "name": item.name, "body": body})
        assert lead.status == 200
        assert not steps(lead, job)["fit.common"]["done"]
        lead.post(f"{job}/notes", {"stage": "fit", "text": "Two cylinders, as its plate says."})
        assert lead.status == 200
        # What is shown of it is no fault either: the old entries, and what is wrong with them.
        lead.get(f"{job}/steps/fit.common/grid")
        assert lead.status == 200


def test_an_owner_is_told_once_each_complaint_was_driven_again(lead):
    intake(lead, J, complaint="Smokes when cold; flat at 2 500 rpm")
    told = lead.post(f"{J}/steps/hand-over.told/done", {})
    assert "What became of each complaint" in told["sentence"]
    grid = f"{J}/steps/hand-over.complaint/grid"
    lead.put(grid, {"data": {"answers": {"1": "gone", "2": "same"}}})
    held = standing(lead, J)["step.hand-over.complaint"]
    assert (held["verdict"], held["evidence"][0]["label"]) == ("hold", "flat at 2 500 rpm")
    assert not steps(lead, J)["hand-over.complaint"]["done"]
    lead.put(grid, {"data": {"answers": {"1": "gone", "2": "better"}}, "revision": 1})
    assert steps(lead, J)["hand-over.complaint"]["done"]
    # Another complaint was never driven: it is asked.
    intake(lead, J, complaint="Smokes when cold; flat at 2 500 rpm; whistles")
    assert not steps(lead, J)["hand-over.complaint"]["done"]


def test_a_job_that_was_handed_over_is_asked_nothing_that_a_newer_sheet_asks(lead):
    job = "jobs/0007"
    answer_all(lead, job)
    by_hand(lead, job, *(stage.key for stage in STAGES), before="hand-over.told")
    for key in ("log.review", "prove.runs", "prove.claim", "baseline.log", "baseline.runs", "correct.done"):
        lead.post(f"{job}/steps/{key}/set-aside", {"because": "No logger and no drum here."})
    do(lead, job, steps(lead, job)["hand-over.told"])
    before = set(steps(lead, job))
    StepDone.objects.filter(job__number="0007", key="hand-over.complaint").delete()
    assert set(steps(lead, job)) == before, "it was asked then, and is asked still"
    Job.objects.filter(number="0007").update(asked_then=sorted(before - {"hand-over.complaint"}))
    assert set(steps(lead, job)) == before - {"hand-over.complaint"}
    Job.objects.filter(number="0007").update(complaint="")
    lead.post(f"{job}/steps/hand-over.told/undo")
    assert set(steps(lead, job)) == before - {"hand-over.complaint"}


def test_parts_fitted_besides_bring_their_steps_and_leave_with_them(lead):
    parts = [{"kind": "wideband", "name": ""}, {"kind": "relay", "name": "pump relay"}]
    told = lead.put(f"{J}/besides", {"parts": parts})["parts"]
    assert [(part["kind"], part["name"], part["number"]) for part in told] == [
        ("wideband", "", 1),
        ("relay", "pump relay", 2),
    ]
    titles = [step["title"] for step in lead.get(J)["steps"] if "besides" in step["key"]]
    assert titles[:2] == ["Fit Wideband probe and its controller", "Fit pump relay"]
    assert titles[2:] == [
        "Wideband probe and its controller: right at two points",
        "pump relay: right at two points",
    ]
    answers = {"power": "yes", "ground": "no", "fuse": "yes"}
    lead.put(f"{J}/steps/fit.besides_2/grid", {"data": {"answers": answers}})
    held = standing(lead, J)["step.fit.besides_2"]
    assert (held["verdict"], held["evidence"][0]["label"]) == (
        "hold",
        "Ground on bare metal, not shared with coils or pumps",
    )
    for wrong in ([{"kind": "horn"}], [{"kind": "relay"}] * 13, [{"kind": "relay", "name": "x" * 80}]):
        assert lead.put(f"{J}/besides", {"parts": wrong})["field"]
        assert lead.status == 422
    assert lead.get(f"{J}/besides")["parts"] == told
    lead.put(
        f"{J}/steps/fit.besides_2/grid", {"data": {"answers": dict.fromkeys(answers, "yes")}, "revision": 1}
    )
    assert steps(lead, J)["fit.besides_2"]["done"]
    # Another relay in the first one's place is another part: nobody has fitted it yet.
    lead.put(f"{J}/besides", {"parts": [told[0], {"kind": "relay", "name": "fan relay"}]})
    now = steps(lead, J)
    assert not now["fit.besides_3"]["done"]
    # The first one was begun: whether it is off or shut is asked, and no power before.
    asked = lead.get(f"{J}/steps/fit.earlier/grid")["about"]["rows"]
    assert [row["key"] for row in asked] == ["fit.besides_2"]
    lead.put(f"{J}/besides", {"parts": told[:1]})
    assert Api("viewer").put(f"{J}/besides", {"parts": []})["field"]


def test_what_ended_a_step_by_another_limit_is_judged_by_the_next_one_too(lead):
    """Held, right by a rule, then wrong by the next: each time by what was read once."""
    key = "intake.battery"
    lead.post(f"{J}/steps/{key}/done", {"reading": "12.3 V"})
    for limit, done in (("12.2", True), ("12.6", False), ("12.1", True)):
        lead.put("house-rules/intake.battery", {"value": limit, "reason": "Tried."})
        lead.post(f"{J}/house-rules")
        assert steps(lead, J)[key]["done"] is done, limit
        assert standing(lead, J)[f"step.{key}"]["verdict"] == ("go" if done else "hold")


def test_what_was_judged_of_a_map_falls_with_the_device_that_had_it(lead):
    """The sample's body module has its entries; another device in its place has no map yet."""
    job = "jobs/0009"

    def judged():
        return {rule for rule in standing(lead, job) if rule.startswith(("map.", "base-map.match"))}

    before = judged()
    assert "base-map.match" in before
    own = [device.key for device in devices(Job.objects.get(number="0009"))]
    lead.put(f"{job}/kit", {"devices": ["harrowgate-flash"], "pump": ""})
    assert judged() == set(), "an exact match of nothing"
    lead.put(f"{job}/kit", {"devices": own, "pump": ""})
    assert judged() == before, "it has its map again, and it is judged again"
