"""What the slat shows before there is a run after: what it is held against, and the plan."""

from __future__ import annotations

import pytest

from tests.shopwork import send
from ventmap.server.jobs.models import Job

BIKE = "jobs/0005"
RUN = "rpm,wheel power (kW)\n" + "".join(f"{rpm},{{}}\n" for rpm in range(3000, 9000, 100))
MADE = "gear=4&intake=21%20%C2%B0C&drum=bay%20drum&ramp=inertia"


@pytest.fixture
def bike(lead):
    for kw in (59.0, 60.0, 61.0):
        send(lead, f"{BIKE}/run-files?when=before&name=run.csv&{MADE}", RUN.format(*[kw] * 60).encode())
        assert lead.status == 200
    return lead


def test_the_plan_follows_every_run_and_rule(lead, bike):
    plan = lead.get(f"{BIKE}/run-plan")
    assert plan["before"] == 3
    assert plan["kw"] == pytest.approx([60.0] * len(plan["rpm"]))
    # Three runs 1 kW apart: one more lies within t(98 %, 2) times √(1 + 1/3) of their mean.
    half = 6.9646 * (4 / 3) ** 0.5
    assert plan["high_kw"][5] == pytest.approx(60.0 + half, abs=0.01)
    assert plan["low_kw"][5] == pytest.approx(60.0 - half, abs=0.01)
    assert plan["scatter_kw"] == pytest.approx(1.0, abs=0.01)
    assert plan["today"] is False, "nobody knows when a file of another drum was driven"
    asked = {one["label"]: one for one in plan["match"]}
    assert (asked["gear"]["value"], asked["drum"]["value"]) == ("4", "bay drum")
    assert (asked["intake air at its start"]["low"], asked["intake air at its start"]["high"]) == (15.0, 27.0)

    # The bike's 4th at its limiter, by its sheet: 10 600 rpm or less; a slow drum is told at once.
    assert plan["gear"]["gear"] == 4
    assert plan["gear"]["too_fast"] is False
    Job.objects.filter(number="0005").update(rules={"dyno.drum_kmh": "100"})
    assert lead.get(f"{BIKE}/run-plan")["gear"]["too_fast"] is True

    Job.objects.filter(number="0005").update(rules={})
    kmh = plan["gear"]["kmh"]
    # A larger tyre runs faster, a rating is a limit, and so does a map that lets it turn higher.
    Job.objects.filter(number="0005").update(fitted={"tyre_mm": 900.0, "tyre_kmh": 100.0})
    told = lead.get(f"{BIKE}/run-plan")["gear"]
    assert told["kmh"] > 1.2 * kmh
    assert (told["too_fast"], told["most_kmh"]) == (True, 100.0)
    Job.objects.filter(number="0005").update(fitted={})

    run = lead.get(f"{BIKE}/runs")["runs"][-1]["id"]
    lead.put(f"{BIKE}/runs/{run}", {"counts": False})
    fewer = lead.get(f"{BIKE}/run-plan")
    assert fewer["before"] == 2
    assert fewer["kw"][0] == pytest.approx(59.5)


def test_a_goal_is_expected_and_none_is_not(lead, bike):
    Job.objects.filter(number="0005").update(power_goal_kw=None)
    assert lead.get(f"{BIKE}/run-plan")["expected"] == []
    Job.objects.filter(number="0005").update(power_goal_kw=90.0)
    plan = lead.get(f"{BIKE}/run-plan")
    (goal,) = plan["expected"]
    air = lead.get(f"{BIKE}/runs")["runs"][0]["pressure_kpa"] / 101.325
    assert goal["peak_high_kw"] == pytest.approx(90.0 * 0.88 * air, abs=0.01)
    assert any(line.startswith("Expected over the band") for line in plan["advice"])


@pytest.mark.parametrize("number", [f"{job:04}" for job in range(1, 12)])
def test_every_job_of_the_day_has_a_plan_that_is_no_promise(lead, number):
    plan = lead.get(f"jobs/{number}/run-plan")
    assert lead.status == 200
    if plan["before"] < 2:
        assert plan["rows"] == []
        assert plan["low_kw"] == []
        assert not any("Expected" in line for line in plan["advice"])
    else:
        assert all(row["other_day_kw"] > row["one_day_kw"] for row in plan["rows"])
