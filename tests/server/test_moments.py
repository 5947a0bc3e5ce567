"""Readings carry their moment: what a tablet kept stands in its own place in the order, whenever it
arrives.
"""

from __future__ import annotations

from uuid import uuid4

import pytest

from tests.conftest import Api
from tests.shopwork import J, do, standing, steps
from ventmap.server.jobs.models import Job, StepDone

HOUR = 3600.0


@pytest.fixture
def lead(shop) -> Api:
    return Api()


def sent_late(api: Api, key: str, ago: float, **given: str) -> dict:
    """What was entered so many seconds ago reaches the server."""
    answer = api.client.post(
        f"/api/{J}/steps/{key}/done",
        given,
        content_type="application/json",
        headers={"X-Entered-Ago": f"{ago}", "X-Entry": uuid4().hex},
    )
    api.status = answer.status_code
    return answer.json()


def test_no_older_reading_takes_the_place_of_a_newer_one(lead):
    """Of every step of these stages that is read or answered: good now, something else an hour ago."""
    lead.put(f"{J}/plan", {"injectors": "fenwright-330"})
    seen = []
    for key, step in steps(lead, J).items():
        if step["stage"] not in ("intake", "make-safe") or step["done"] or step["evidence"] == "auto":
            continue
        if steps(lead, J)[key]["waits_for"]:
            continue
        do(lead, J, step)
        stood = standing(lead, J).get(f"step.{key}")
        if stood is None or not (step["reading"] or step["answers"]):
            continue
        row = StepDone.objects.get(job__number="0001", key=key)
        older = {"reading": "77"} if step["reading"] else {"answer": step["answers"][-1]["key"]}
        told = sent_late(lead, key, HOUR, **older)
        if lead.status == 422:
            assert "read it again" in told["sentence"], told  # what it needs was done since
        else:
            assert lead.get(J)["ledger"][0]["title"].startswith("Arrived late: "), key
        again = StepDone.objects.get(pk=row.pk)
        assert (again.reading, again.answer, again.at) == (row.reading, row.answer, row.at)
        assert standing(lead, J)[f"step.{key}"]["id"] == stood["id"], key
        seen.append(key)
    assert len(seen) >= 4, seen


def test_a_reading_from_before_what_it_needs_is_refused(lead):
    lead.put(f"{J}/plan", {"injectors": "fenwright-330"})
    do(lead, J, steps(lead, J)["make-safe.fuse"])
    told = sent_late(lead, "make-safe.coolant", HOUR, reading="31 °C")
    assert lead.status == 422
    assert "read it again" in told["sentence"]
    assert not steps(lead, J)["make-safe.coolant"]["done"]
    do(lead, J, steps(lead, J)["make-safe.coolant"])
    assert steps(lead, J)["make-safe.coolant"]["done"]


def test_of_two_that_are_late_the_newer_stands_whichever_comes_first(lead):
    key = "intake.battery"
    for order in ((2 * HOUR, HOUR), (HOUR, 2 * HOUR)):
        lead.post(f"{J}/steps/{key}/undo")
        for ago in order:
            sent_late(lead, key, ago, reading="12.6 V" if ago == HOUR else "12.9 V")
            assert lead.status == 200
        row = StepDone.objects.get(job__number="0001", key=key)
        assert row.reading == pytest.approx(12.6)
        text = standing(lead, J)[f"step.{key}"]["text"]
        assert "sent when the server was back" in text


def test_an_undo_takes_back_nothing_that_was_done_since(lead):
    key = "intake.battery"
    lead.post(f"{J}/steps/{key}/done", {"reading": "12.6 V"})
    address = f"/api/{J}/steps/{key}/undo"
    late = {"headers": {"X-Entered-Ago": "600"}}
    told = lead.client.post(address, "{}", content_type="application/json", **late).json()
    assert "nothing is taken back" in told["sentence"]
    assert steps(lead, J)[key]["done"]


@pytest.mark.parametrize("ago", ["-30", "yesterday", "nan", "1e9"])
def test_a_clock_that_was_moved_is_not_believed(lead, ago):
    answer = lead.client.post(
        f"/api/{J}/notes",
        {"text": "belt squeals", "stage": "fit"},
        content_type="application/json",
        headers={"X-Entered-Ago": ago},
    )
    assert answer.status_code == 422
    assert "clock" in answer.json()["sentence"]


def test_what_was_on_the_vehicle_stays_with_a_reading(lead):
    lead.post(f"{J}/steps/intake.battery/done", {"reading": "12.6 V"})
    row = StepDone.objects.get(job=Job.objects.get(number="0001"), key="intake.battery")
    assert row.state["inside"] == "stock"
    assert steps(lead, J)["intake.battery"]["on"].startswith("stock")


def test_a_sheet_that_is_put_right_on_the_shelf_is_judged_by_at_once(lead):
    """Nobody touches the job: what stood on the old figure falls, under the name of who changed it."""
    lead.put(f"{J}/plan", {"injectors": "fenwright-330"})
    before = standing(lead, J)["plan.injector"]
    item = next(i for i in lead.get("shelf-items?kind=injector") if i["key"] == "fenwright-330")
    hand = Api("installer")
    hand.put("shelf-items", {**item, "body": {**item["body"], "flow": 120.0}})
    assert hand.status == 200
    after = standing(lead, J)["plan.injector"]
    assert after["id"] != before["id"]
    assert (before["verdict"], after["verdict"]) != ("go", "go")
    assert after["who"] != before["who"]
