"""Every computer that is written from here, on its own engine: written, started, logged, corrected."""

from __future__ import annotations

import pytest

from tests.conftest import by_night
from tests.shopwork import DEAD, answer_all, by_hand, intake, log, write

JOBS = {"0006": "a sled's board", "0010": "a standalone on a turbo", "0011": "a plug-in on the smaller four"}
CALLS = {
    "sensor.key_on_pressure",
    "sensor.cold_soak",
    "pedal.range",
    "pedal.tracks",
    "start.idle",
    "start.charging",
    "start.codes",
    "start.mixture",
}
TRACKS_OF_A_THROTTLE_BODY = {"pedal.range#2", "pedal.tracks#2"}


@pytest.mark.parametrize("number", ["0006", by_night("0010"), by_night("0011")], ids=[*JOBS.values()])
def test_from_its_map_to_a_running_engine_and_a_first_correction(lead, number):
    job = f"jobs/{number}"
    plate = lead.get(job)["plate"]
    assert plate["linked"]
    assert plate["bench_engine"]
    intake(lead, job)
    answer_all(lead, job)
    by_hand(lead, job, "intake", "plan", "make-safe", "fit")
    sheet = lead.get(f"{job}/base-map")["sheet"]
    made = lead.put(
        f"{job}/figures",
        {
            "flow": str(sheet["flow"]),
            "rated": f"{sheet['rated_kpa']} kPa",
            "pressure": f"{sheet['pressure_kpa']} kPa",
            "dead_time": DEAD,
        },
    )
    assert lead.status == 200, made
    write(lead, job)
    calls = []
    for act in ("key-on", "pedal", "start"):
        told = lead.post(f"{job}/{act}")
        assert lead.status == 200, told
        calls += told["calls"]
        by_hand(lead, job, "first-start", before="first-start.start")
    # The map is not this engine's truth: it runs, what is off is told, and no engine is at risk.
    assert {call["verdict"] for call in calls} <= {"go", "hold"}, calls
    expected = CALLS if number == "0006" else CALLS | TRACKS_OF_A_THROTTLE_BODY
    assert {call["rule"] for call in calls} == expected
    assert next(call for call in calls if call["rule"] == "start.idle")["verdict"] == "go"
    first = log(lead, job)
    assert "stop" not in {finding["verdict"] for finding in first["findings"]}, first["findings"]
    proposal = lead.get(f"{job}/proposal?log_id={first['id']}")
    assert proposal["within"] < 97
    if number != "0010":
        return
    lead.post(f"{job}/mixture?log_id={first['id']}")
    assert lead.post(f"{job}/rounds", {"log_id": first["id"]})["version"] == "r1"
    write(lead, job)
    lead.post(f"{job}/start")
    second = log(lead, job)
    assert lead.get(f"{job}/proposal?log_id={second['id']}")["within"] > proposal["within"] + 5
