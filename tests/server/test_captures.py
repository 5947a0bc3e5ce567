"""Captures: planned by a question, ended by an alarm, kept whatever cut them."""

from __future__ import annotations

import json

import numpy as np
import pytest
from django.contrib.auth.models import User

from tests.core.drives import drive
from tests.core.test_alarms import SUDDEN
from tests.shopwork import J, to_map, until, write
from ventmap.core.basics import VentMapError
from ventmap.core.findings import QUESTIONS, ReviewContext, review
from ventmap.core.logs import OnPulls
from ventmap.link.logger import to_log
from ventmap.server.jobs import under_way
from ventmap.server.jobs.models import Job, LedgerEntry
from ventmap.server.logs import captures, store
from ventmap.server.logs.capture import Capture
from ventmap.server.logs.captured import finish
from ventmap.server.logs.listening import Ear, unwatched
from ventmap.server.logs.models import LogFile
from ventmap.server.logs.spool import Spool, place
from ventmap.server.maps.state import state_of


def captured(api, **wish) -> dict:
    told = api.post(f"{J}/captures", {"watched": False, **wish})
    assert api.status == 200, told
    return until(lambda: api.get(f"{J}/captures/current"), lambda now: now["state"] != "running")


class TestTheEnd:
    @pytest.mark.parametrize("lift", [True, False])
    def test_a_stop_takes_the_foot_off_and_the_log_ends_there_and_says_so(self, lead, settings, lift):
        to_map(lead)
        write(lead)
        settings.FAULTS = "weak_pump=0.55"
        ended = captured(lead, lift=lift)
        assert ended["state"] == "done"
        short = lead.get(f"logs/{ended['log_id']}")
        assert ended["lifted"].startswith(("Fuel pressure", "Lean under load"))
        assert {one["verdict"] for one in short["findings"]} >= {"stop"}
        assert (short["duration_s"] < ended["length_s"] - 40) is lift
        if not lift:
            return
        at = next(one["at_s"] for one in short["marks"] if one["word"] == ended["lifted"][:80])
        # The foot is off at once, and the engine has come to rest within a few seconds.
        assert at < short["duration_s"] < at + 14
        said = LedgerEntry.objects.filter(job__number="0001", kind="log").first()
        assert f"Off the load: {ended['lifted']}" in said.text + said.title

    def test_a_limit_of_ones_own_ends_it_too(self, lead):
        to_map(lead)
        write(lead)
        ended = captured(lead, limits=[{"channel": "rpm", "above": True, "text": "2 500 rpm", "lifts": True}])
        assert "Engine speed: above your limit" in ended["lifted"]
        top = next(c for c in lead.get(f"logs/{ended['log_id']}")["columns"] if c["name"] == "rpm")
        assert 2_500 < top["high"] < 3_400
        lead.post(f"{J}/captures", {"limits": [{"channel": "boots", "text": "3"}]})
        assert lead.status == 422

    def test_only_pulls_are_kept_where_that_was_asked(self, lead):
        log = lead.get(f"logs/{captured(lead, baseline=True, on_pulls=True)['log_id']}")
        kinds = [one["kind"] for one in log["windows"]]
        assert kinds.count("pull") >= 2
        assert "idle" not in kinds
        assert log["duration_s"] < 0.3 * 294.0
        assert any("around full pedal" in one["text"] for one in log["notes"])


class TestWhatCutsIt:
    @pytest.fixture
    def job(self, lead) -> Job:
        return Job.objects.get(number="0001")

    def a_drive(self, rows: int = 60) -> Capture:
        found = Capture(Job.objects.get(number="0001").pk, watched=False, baseline=True, length_s=60.0)
        for n in range(rows):
            found.take((n / 10, {"rpm": 900.0 + n, "map": 40.0}))
        return found

    @pytest.mark.parametrize(
        ("error", "told"),
        [
            (VentMapError("The link was lost.", "link"), "The link was lost."),
            (RuntimeError("oh"), "cut by a fault in the server"),
        ],
    )
    def test_what_came_before_a_fault_is_a_log_that_ends_there(self, job, error, told):
        found = self.a_drive()

        def drive() -> None:
            raise error

        cut = captures.to_its_end(drive)
        assert told in cut
        finish(found, job, None, User.objects.get(username="lead"), cut=cut)
        kept = LogFile.objects.get(pk=found.log_id)
        assert "cut at 5.9 s" in kept.name
        assert any(told in note["text"] for note in kept.notes)
        assert told in found.sentence

    def test_what_could_not_be_kept_is_kept_at_the_next_start_with_its_marks(self, job):
        record = under_way.begun(job, "capture", "baseline", User.objects.get(username="lead"))
        spool = Spool(record.pk, {"baseline": True, "version": None, "ran": ""})
        found = self.a_drive()
        for row in found.rows:
            spool.add(row)
        spool.mark({"at_s": 3.2, "word": "pump sings"})
        spool.cut("It was captured whole. It could not be kept then.")
        spool.close()
        told = under_way.settle()
        kept = LogFile.objects.filter(job=job, baseline=True).latest("pk")
        assert (kept.rows, kept.marks) == (60, [{"at_s": 3.2, "word": "pump sings"}])
        assert any("could not be kept then. The first 5.9 s are kept" in line for line in told)
        assert not any("server was stopped" in line for line in told)
        assert not place(record.pk).exists()

    def test_a_pause_keeps_nothing_and_marks_both_its_ends(self, job):
        found = self.a_drive(20)
        found.pause(True)
        assert found.take((2.1, {"rpm": 900.0})) == []
        found.pause(False)
        found.take((2.2, {"rpm": 901.0}))
        assert [one["word"] for one in found.marks] == ["paused", "goes on"]
        assert len(found.rows) == 21


def test_a_fault_of_the_listening_ends_no_capture_and_is_said(lead):
    job, by = Job.objects.get(number="0001"), User.objects.get(username="lead")
    found = Capture(job.pk, watched=False, baseline=True, length_s=60.0)
    each = unwatched(found, Ear(ReviewContext(), ("no limit at all",), lift=True))
    for n in range(60):
        row = (n / 10, {"rpm": 900.0 + n, "map": 40.0})
        found.take(row)
        each(row)
    assert found.event()["deaf"]
    finish(found, job, None, by)
    kept = LogFile.objects.get(pk=found.log_id)
    assert any("Alarms did not sound" in note["text"] for note in kept.notes)


@pytest.mark.parametrize("waits", ["paused", "on pulls alone"])
@pytest.mark.parametrize("fault", SUDDEN, ids=[f"{n} {one.kind}" for n, one in enumerate(SUDDEN)])
def test_no_fault_is_left_out_of_its_log_whatever_was_not_to_be_kept(fault, waits):
    """What sounded, and what led to it, is in the log: paused or not, pull or not; also after a kill."""
    driven, mask = drive(20.0, seed=5)
    fault.put(driven, mask, 2 * fault.size)
    whole = next(one for one in review(driven, fault.context).findings if one.kind == fault.kind)
    found = Capture(1, watched=False, baseline=False, length_s=0.0)
    found.paused = waits == "paused"
    found.on_pulls = None if found.paused else OnPulls()
    each, on_disk = unwatched(found, Ear(fault.context, (), lift=False)), []
    for n, at in enumerate(driven.time_s):
        row = (float(at), {name: float(values[n]) for name, values in driven.channels.items()})
        on_disk += found.take(row)
        each(row)
    assert [at for at, _ in found.rows] == sorted({at for at, _ in found.rows})
    assert {at for at, _ in on_disk} >= {at for at, _ in found.rows if at < found.rows[-1][0] - 2.0}
    kept = [
        one for one in review(to_log(found.rows, "kept"), fault.context).findings if one.kind == fault.kind
    ]
    assert kept
    assert kept[0].verdict == whole.verdict


def test_a_limit_is_logged_whatever_the_question_and_refused_where_it_could_not_sound(lead):
    heat = {"channel": "coolant", "above": True, "text": "250 °F"}
    done = captured(lead, baseline=True, question="knock", channels=["rpm", "knock", "pedal"], limits=[heat])
    columns = {one["name"] for one in lead.get(f"logs/{done['log_id']}")["columns"]}
    assert columns == {"rpm", "knock", "pedal", "coolant"}
    mute = heat | {"channel": "oil_pressure", "text": "100 kPa", "above": False}
    told = lead.post(f"{J}/captures", {"watched": False, "baseline": True, "limits": [mute]})
    assert "gives no oil pressure" in told["sentence"]


def test_a_log_that_is_kept_late_is_of_what_was_on_the_vehicle_then(lead):
    job, by = Job.objects.get(number="0001"), User.objects.get(username="lead")
    then = json.loads(json.dumps(state_of(job, stock=False).plain()))
    record = under_way.begun(job, "capture", "log", by)
    spool = Spool(record.pk, {"baseline": False, "version": None, "ran": "", "was": then})
    for n in range(60):
        spool.add((n / 10, {"rpm": 900.0 + n, "map": 40.0}))
    spool.close()
    job.ethanol = 0.7
    job.save()
    assert state_of(Job.objects.get(pk=job.pk), stock=False).plain()["fuel"] != then["fuel"]
    under_way.settle()
    assert LogFile.objects.latest("pk").state == then


class TestThePlan:
    @pytest.mark.parametrize("question", list(QUESTIONS))
    def test_a_question_is_planned_for_this_vehicle(self, lead, question):
        told = lead.get(f"{J}/log-plan?question={question}&baseline=true")
        names = {one["key"] for one in told["questions"]}
        if question not in names:
            assert question == "boost"  # an unblown engine
            return
        logged = [one for one in told["channels"] if one["hz"] is not None]
        assert logged
        assert told["link"] == "here"
        assert all(one["there"] for one in logged)
        assert told["megabytes_per_minute"] > 0
        assert "road alone" in told["caution"]

    def test_fewer_channels_come_oftener_and_the_capture_asks_for_just_them(self, lead):
        asked = f"{J}/log-plan?question=knock&baseline=true&link=k_line"
        whole, few = lead.get(asked), lead.get(f"{asked}&only=rpm,knock,pedal")
        assert max(one["hz"] or 0 for one in few["channels"]) > max(
            one["hz"] or 0 for one in whole["channels"]
        )
        assert "lean under load" in few["unheard"]
        done = captured(lead, baseline=True, question="knock", channels=["rpm", "knock", "pedal"])
        columns = {one["name"] for one in lead.get(f"logs/{done['log_id']}")["columns"]}
        assert columns == {"rpm", "knock", "pedal"}
        slow = lead.get(f"{J}/log-plan?question=full&baseline=true&link=k_line")
        assert slow["calls"]
        lead.get(f"{J}/log-plan?question=knock&only=nothing")
        assert lead.status == 422

    def test_what_is_planned_is_what_comes(self, lead):
        """The rate that is said beforehand, of each channel, against the one of the log that was captured."""
        told = lead.get(f"{J}/log-plan?question=full&baseline=true")
        said = {one["name"]: one["hz"] for one in told["channels"] if one["hz"]}
        log = store.load(LogFile.objects.get(pk=captured(lead, baseline=True)["log_id"]))
        came = {name: np.isfinite(values).sum() / log.duration_s for name, values in log.channels.items()}
        assert said.keys() <= came.keys()
        assert {name: came[name] for name in said} == pytest.approx(said, rel=0.12)

    def test_a_vehicle_that_is_not_run_here_is_planned_for_its_own_logger(self, lead):
        lead.post("jobs", {"vehicle": "quillon-triple-660", "registration": "PLN 1", "owner": "Dag"})
        number = max(job["number"] for job in lead.get("jobs"))
        told = lead.get(f"jobs/{number}/log-plan?question=mixture")
        assert told["link"] == "can_batched"
        assert {"key": "here", "title": "from here"} not in told["links"]
        assert {"rpm", "lambda"} <= {one["name"] for one in told["channels"] if one["hz"]}
