"""Every vehicle of the sample shop gives a stock log and stock runs before anything is touched."""

from __future__ import annotations

import pytest

from tests.shopwork import until

JOBS = {
    "0003": "turbo",
    "0004": "diesel",
    "0005": "motorcycle",
    "0006": "sled",
    "0007": "watercraft",
    "0008": "dunes",
}


@pytest.mark.parametrize("number", JOBS, ids=JOBS.values())
def test_a_stock_log_and_stock_runs(lead, number):
    job = f"jobs/{number}"
    assert lead.get(job)["plate"]["bench_engine"]
    lead.post(f"{job}/captures", {"watched": False, "baseline": True})
    done = until(lambda: lead.get(f"{job}/captures/current"), lambda now: now["state"] != "running")
    assert done["state"] == "done", done
    log = lead.get(f"logs/{done['log_id']}")
    found = {finding["kind"]: finding["verdict"] for finding in log["findings"]}
    assert "stop" not in found.values(), found
    # The motorcycle's hole is its stock computer's; the turbo's tank holds 62 % ethanol: its trims say so.
    assert set(found) == {"0005": {"lean_hole"}, "0003": {"trim_offset"}}.get(number, set()), found
    for _ in range(2):
        run = lead.post(f"{job}/runs", {"when": "before"})
        assert "sentence" not in run, run
