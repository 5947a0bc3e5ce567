"""Looks into logs by their routes: who may, what is refused in words, and a job's pulls with their sides."""

from __future__ import annotations

import pytest

from tests.conftest import ROOT, Api
from tests.shopwork import send

LOGS = ROOT / "demo" / "day" / "logs"


def drop(api, name: str, **more) -> dict:
    asked = "".join(f"&{key}={value}" for key, value in more.items())
    return send(api, f"logs?name={name}{asked}", (LOGS / name).read_bytes())


def test_the_pulls_of_a_job_come_with_their_sides_and_what_they_began_with(lead):
    lead.post("jobs", {"vehicle": "corvane-estate-20", "registration": "OVR 1", "owner": "Dag"})
    number = max(job["number"] for job in lead.get("jobs"))
    stock = drop(lead, "estate-stock.csv", job=number, baseline="true")
    log = drop(lead, "estate-round-1.csv", job=number)
    told = lead.get(f"logs/{log['id']}/stretches")
    assert {(one["log"], one["side"]) for one in told} == {
        ("estate-stock.csv", "before"),
        ("estate-round-1.csv", "after"),
    }
    assert all(one["at_start"]["coolant"] > 70 for one in told)
    parts = ",".join(f"{one['log_id']}:{one['from_s']}:{one['to_s']}:{one['side']}" for one in told)
    laid = lead.get(f"laid-over?stretches={parts}&channels=map,lambda")
    assert [one["name"] for one in laid] == ["map", "lambda"]
    assert len(laid[0]["lines"]) == len(told)
    assert abs(laid[0]["mean"]) < 2  # an unblown engine, both at this barometer
    assert {one["log_id"] for one in told} == {stock["id"], log["id"]}


def test_a_log_says_what_it_lacks_and_nothing_is_to_be_driven_while_a_stop_stands(lead):
    lead.post("jobs", {"vehicle": "corvane-estate-20", "registration": "OVR 2", "owner": "Dag"})
    number = max(job["number"] for job in lead.get("jobs"))
    stock = drop(lead, "estate-stock.csv", job=number, baseline="true")
    told = lead.get(f"logs/{stock['id']}/next-drive")
    lacking = {one["key"] for one in told["drives"] if not one["enough"]}
    assert lacking == {"pull"}, told["drives"]
    assert (told["stopped"], told["sweeps"]) == ("", [])
    assert "road alone" in told["caution"]
    lean = drop(lead, "estate-round-0.csv", job=number)
    told = lead.get(f"logs/{lean['id']}/next-drive")
    assert "is a stop" in told["stopped"]
    assert told["drives"] == told["channels"] == told["sweeps"] == []
    look = drop(lead, "valley-level.csv")
    assert lead.get(f"logs/{look['id']}/next-drive")["stopped"].startswith("Drive nothing yet:")


def test_a_vehicles_trend_runs_over_its_jobs_and_over_no_others(lead):
    for registration in ("TRD 1", "TRD 1", "TRD 2"):
        lead.post("jobs", {"vehicle": "corvane-estate-20", "registration": registration, "owner": "Dag"})
    first, second, other = sorted(job["number"] for job in lead.get("jobs"))[-3:]
    drop(lead, "estate-stock.csv", job=first, baseline="true")
    drop(lead, "estate-round-1.csv", job=second)
    drop(lead, "estate-round-0.csv", job=other)
    told = lead.get(f"jobs/{first}/trend")
    assert [(one["job"], one["log"]) for one in told["logs"]] == [
        (first, "estate-stock.csv"),
        (second, "estate-round-1.csv"),
    ]
    assert told["vehicle"] == "TRD 1"
    assert (
        {one["key"] for one in told["figures"]} >= set(told["logs"][1]["figures"]) > {"idle_trim", "battery"}
    )
    assert all(12 < one["figures"]["battery"] < 15.5 for one in told["logs"])


def test_a_look_of_somebody_else_is_laid_over_nothing(lead):
    installer = Api("installer")
    mine = drop(lead, "look-charging.csv")
    for path in (
        f"laid-over?stretches={mine['id']}:1:9:before&channels=rpm",
        f"logs/{mine['id']}/between?start=0&stop=5&channels=rpm",
        f"logs/{mine['id']}/stretches",
        f"logs/{mine['id']}/cloud?x=rpm&y=battery&start=0&stop=9",
        f"logs/{mine['id']}/driven?x=rpm&y=battery&start=0&stop=9",
    ):
        installer.get(path)
        assert installer.status == 404, path
        lead.get(path)
        assert lead.status == 200, path


@pytest.mark.parametrize(
    ("path", "field"),
    [
        ("laid-over?stretches={id}:9:1:before&channels=rpm", "stretches"),
        ("laid-over?stretches={id}:90000:90001:after&channels=rpm", "stretches"),
        ("logs/{id}/between?start=90000&stop=90001&channels=rpm", "from"),
        ("logs/{id}/cloud?x=rpm&y=egt_1&start=0&stop=9", "channels"),
        ("logs/{id}/driven?x=rpm&y=battery&start=9&stop=9", "channels"),
    ],
)
def test_what_cannot_be_looked_at_is_a_sentence_that_names_its_field(lead, path, field):
    mine = drop(lead, "look-charging.csv")
    told = lead.get(path.format(id=mine["id"]))
    assert lead.status == 422
    assert told["field"] == field
