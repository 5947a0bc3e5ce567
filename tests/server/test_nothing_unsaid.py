"""Nothing stands in a record that nobody did, read or chose; and nothing is a dead end for want of a drum."""

from __future__ import annotations

import pytest

from tests.conftest import Api
from tests.server.test_unknown import BOAT, opened
from tests.shopwork import answer_all, by_hand, intake, standing, steps
from ventmap.core.basics import Evidence
from ventmap.core.runsheet import WITH_MEANS, Act, may
from ventmap.server.jobs.assemble import run_sheet
from ventmap.server.jobs.models import Job, StepDone


@pytest.fixture
def lead(shop) -> Api:
    return Api()


def test_what_is_usual_for_a_vehicle_is_offered_and_chosen_by_nobody(lead):
    number = lead.post("jobs", {"vehicle": "ostrel-merrin-16t", "owner": "Bo Ferrow"})["number"]
    job = lead.get(f"jobs/{number}")
    assert job["plate"]["device"] == "no kit yet"
    assert {entry["stage"] for entry in job["ledger"]} == {"intake"}
    offered = lead.get(f"jobs/{number}/kit")["devices"]
    assert (offered[0]["usual"], offered[0]["key"], offered[0]["chosen"]) == (True, "kelmar-shift", False)
    assert [device["key"] for device in offered if device["usual"]] == ["kelmar-shift"]


@pytest.mark.parametrize("number", ["0003", "0009"])
def test_words_stand_for_no_screen_that_nobody_read(lead, number):
    job = f"jobs/{number}"
    if lead.get(job)["plate"]["petrol"]:
        intake(lead, job)
    answer_all(lead, job)
    by_hand(lead, job, "load", before="load.read_back")
    typed = {"words": "All as its maker's sheet has it."}
    told = lead.post(f"{job}/steps/load.read_back/done", typed)
    assert lead.status == 422
    assert "screens" in told["sentence"]
    assert not steps(lead, job)["load.read_back"]["done"]


def test_a_wait_that_alone_protects_is_waited_for_and_bars_power_until_then(lead):
    job = opened(lead, BOAT, "swapped computer")
    answer_all(lead, job)
    number = job.split("/")[1]
    assert steps(lead, job)["make-safe.bilge"]["firm"]
    told = lead.post(f"{job}/steps/make-safe.bilge/done", {"anyway": True})
    assert lead.status == 422
    assert "lights from a relay" in told["sentence"]
    sheet = run_sheet(Job.objects.get(number=number)).steps
    for act in (Act.power_on, Act.write, Act.start, Act.log, Act.run):
        call = next(call for call in may(act, (), sheet, ()) if call.rule == "gate.not_waited")
        assert (call.protects, call.because[0]) == ("people", Evidence("to wait", 5.0, unit="min"))
        assert may(act, (), sheet, ("make-safe.bilge",)) == []


def test_without_logger_and_drum_a_job_is_handed_over_and_says_so(lead):
    job = "jobs/0001"
    for key in WITH_MEANS:
        assert steps(lead, job)[key]["aside"], key
        lead.post(f"{job}/steps/{key}/set-aside", {"because": "no drum and no logger here"})
        assert lead.status == 200, key
        assert StepDone.objects.get(job__number="0001", key=key).set_aside


def test_what_was_set_aside_and_is_done_after_all_is_done(lead):
    job = "jobs/0001"
    lead.post(f"{job}/steps/baseline.codes/set-aside", {"because": "no tester at hand"})
    lead.put(f"{job}/baseline", {"computer": "a", "calibration": "b", "none_shown": True})
    row = StepDone.objects.get(job__number="0001", key="baseline.codes")
    assert row.set_aside == ""
    assert standing(lead, job)["baseline.codes"]["verdict"] == "go"


def test_a_computer_of_another_engine_is_read_from_no_engine_of_this_bench(lead):
    """The pretend vehicle has its own: what it answers is nothing that this one said."""
    number = lead.post("jobs", {"vehicle": "corvane-estate-18", "registration": "SRP 777"})["number"]
    plate = lead.get(f"jobs/{number}")["plate"]
    assert plate["bench_engine"]
    lead.put(f"jobs/{number}/kit", {"devices": ["ardle-transplant"], "pump": ""})
    job = lead.get(f"jobs/{number}")
    assert not job["plate"]["bench_engine"]
    assert not job["plate"]["runs_here"]
    assert {step["live"] for step in job["steps"]} == {""}
