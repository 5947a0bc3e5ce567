"""The cold starts of the days after the first: due a day each, judged by their own short log."""

from __future__ import annotations

from datetime import timedelta

import pytest
from django.utils import timezone

from tests.conftest import Api
from tests.shopwork import J, by_hand, standing, to_map, write
from ventmap.server.jobs.models import Job, StepDone
from ventmap.server.logs.models import ColdStart

HEAD = "Time (s),Engine Speed (rpm),Coolant Temp (C),Lambda 1\n"


def short_log(
    crank_s: float = 1.0, coolant: float = 12.0, idle: float = 1100.0, mixture: float = 0.9
) -> bytes:
    """Key on for two seconds, cranking, and half a minute of idle."""
    rows = []
    for tenth in range(350):
        at = tenth / 10
        rpm = 0 if at < 2 else 230 if at < 2 + crank_s else idle
        rows.append(f"{at:.1f},{rpm:.0f},{coolant},{mixture}")
    return (HEAD + "\n".join(rows) + "\n").encode()


@pytest.fixture
def ran(lead):
    """The estate, started yesterday."""
    lead.at("started", lambda: started(lead))
    return lead


def started(lead) -> None:
    to_map(lead)
    write(lead)
    for act in ("key-on", "pedal"):
        lead.post(f"{J}/{act}")
    by_hand(lead, J, "first-start", before="first-start.start")
    lead.post(f"{J}/start")


def days_ago(days: int) -> None:
    StepDone.objects.filter(key="first-start.start").update(at=timezone.now() - timedelta(days=days))


def bring(api: Api, data: bytes, name: str = "cold.csv"):
    answer = api.client.put(
        f"/api/{J}/cold-starts?name={name}", data, content_type="application/octet-stream"
    )
    return answer.status_code, answer.json()


def test_before_a_night_there_is_no_cold_start(ran):
    assert bring(ran, short_log())[1]["sentence"].startswith("It first ran today")
    assert [one["state"] for one in ran.get(f"{J}/cold-starts")["starts"]] == ["later"] * 3
    assert ran.get("follow-ups") == []


def test_one_a_day_each_judged_and_told(ran):
    days_ago(1)
    assert [(one["job"], one["number"]) for one in ran.get("follow-ups")] == [("0001", 1)]
    found = ran.post(f"{J}/cold-starts")["starts"][0]
    assert ran.status == 200, found
    assert found["state"] == "done", found
    assert found["verdict"] == "go", found
    assert {call["rule"] for call in found["calls"]} >= {"cold.cold", "cold.crank", "cold.alive", "cold.idle"}
    assert ran.get("follow-ups") == []
    assert ran.get(f"{J}/cold-starts")["next"] == 2
    # The same morning again takes the place of the first.
    status, told = bring(ran, short_log(crank_s=6.0))
    assert status == 200
    assert told["starts"][0]["verdict"] == "hold"
    assert told["next"] == 2
    assert "starter" not in standing(ran, J)["cold.crank"]["text"]
    assert "Too long" in standing(ran, J)["cold.crank"]["text"]
    # A day later the next is due, and being sound it takes the hold away.
    ColdStart.objects.update(day=timezone.localdate() - timedelta(days=1))
    days_ago(2)
    status, told = bring(ran, short_log())
    assert [one["verdict"] for one in told["starts"]] == ["hold", "go", ""]
    assert "cold.crank" not in standing(ran, J)
    kept = ColdStart.objects.get(job=Job.objects.get(number="0001"), number=2)
    assert kept.file.read_bytes() == short_log()
    back = ran.client.get(f"/api/{J}/cold-starts/2/file")
    assert b"".join(back.streaming_content) == short_log()


@pytest.mark.parametrize(
    ("log", "rule"),
    [
        (short_log(coolant=78.0), "cold.cold"),
        (short_log(crank_s=4.0), "cold.crank"),
        (short_log(idle=2400.0), "cold.idle"),
        (short_log(mixture=1.2), "cold.mixture"),
        (short_log(mixture=0.62), "cold.mixture"),
    ],
)
def test_what_is_wrong_holds(ran, log, rule):
    days_ago(1)
    status, told = bring(ran, log)
    held = [call["rule"] for call in told["starts"][0]["calls"] if call["verdict"] == "hold"]
    assert status == 200
    assert held == [rule]


def test_a_file_that_is_none_is_told_and_nothing_is_kept(ran):
    days_ago(1)
    assert bring(ran, b"")[0] == 422
    assert bring(ran, HEAD.encode() + b"0,0,12,0.9\n1,0,12,0.9\n2,0,12,0.9\n")[0] == 422
    status, told = bring(ran, b"Time (s),Coolant Temp (C)\n" + b"".join(b"%d,20\n" % n for n in range(40)))
    assert status == 422
    assert "engine speed" in told["sentence"]
    assert ColdStart.objects.count() == 0
