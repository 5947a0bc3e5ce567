"""Boxes beside the stock computer run at the bench as they were set: logged, run on the drum, judged."""

from __future__ import annotations

import pytest

from tests.shopwork import answer_all, by_hand, do, intake, log, steps, until

MERRIN, TRIPLE, DIESEL = "jobs/0003", "jobs/0005", "jobs/0004"


def stock_log(lead, job: str) -> dict:
    lead.post(f"{job}/captures", {"watched": False, "baseline": True})
    done = until(lambda: lead.get(f"{job}/captures/current"), lambda now: now["state"] != "running")
    return lead.get(f"logs/{done['log_id']}")


def fitted(lead, job: str) -> None:
    """Everything done by hand up to what goes in, and that too."""
    intake(lead, job)
    answer_all(lead, job)
    by_hand(lead, job, "intake", "plan", "make-safe", "fit", "base-map")


@pytest.mark.parametrize("job", [MERRIN, TRIPLE, DIESEL], ids=["two piggybacks", "inline", "driver"])
def test_it_runs_only_once_it_is_read_back(lead, job):
    assert lead.get(job)["plate"]["runs_here"] and not lead.get(job)["plate"]["linked"]
    fitted(lead, job)
    for path, body in ((f"{job}/captures", {"watched": False}), (f"{job}/runs", {"when": "after"})):
        told = lead.post(path, body)
        assert lead.status == 422 and "read" in told["sentence"], told
    for key, step in steps(lead, job).items():
        if key.startswith("load.") and not step["done"]:
            do(lead, job, step)
    read = log(lead, job)
    assert read["map"] in ("", None) and "stop" not in {f["verdict"] for f in read["findings"]}, read[
        "findings"
    ]
    assert any("captured with" in line["title"] for line in lead.get(f"{job}/ledger"))
    run = lead.post(f"{job}/runs", {"when": "after"})
    assert lead.status == 200, run


def offset(read: dict) -> float:
    """The largest trim that a log was held for [%]; what is not told is within its limit."""
    told = [finding for finding in read["findings"] if finding["kind"] == "trim_offset"]
    return max((abs(line["value"]) for finding in told for line in finding["evidence"]), default=8.0)


def test_the_ethanol_box_takes_the_trims_off_a_tank_of_blend(lead):
    bare = offset(stock_log(lead, MERRIN))
    fitted(lead, MERRIN)
    by_hand(lead, MERRIN, "load")
    # It lengthens the injector's dead time with the rest of the pulse, so that idle stays a little rich.
    assert bare > 20 and offset(log(lead, MERRIN)) < 12


def test_flashers_and_entries_are_still_logged_elsewhere(lead):
    plate = lead.get("jobs/0007")["plate"]
    assert plate["bench_engine"] and not plate["runs_here"]
    assert "Bring a log file" in lead.post("jobs/0007/captures", {"watched": False})["sentence"]
