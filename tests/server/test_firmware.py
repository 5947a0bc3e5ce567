"""Firmware as a write of its own, and a map into one of the slots: judged, cut, mended, proven."""

from __future__ import annotations

import pytest

from tests.shopwork import BOARD, J, intake, standing, steps, to_map, until, write
from ventmap.core.forms import pack_firmware
from ventmap.server.jobs.models import Job
from ventmap.server.shelf.models import ShelfItem

FILE = "fenwright/p4-3.0.fw"


@pytest.fixture
def ready(lead):
    """The estate with its map chosen, its computer saved and every call of the board answered."""
    lead.at("board answered", lambda: answered(lead))
    return lead


def answered(lead) -> None:
    to_map(lead)
    lead.post(f"{J}/saved-images")
    lead.put(f"{J}/load-board", {"answers": BOARD})


def ended(api) -> dict:
    return until(lambda: api.get(f"{J}/load-board"), lambda b: b["load"]["state"] != "writing")


def fetch(api) -> dict:
    """The supplier's firmware; one call in seven finds nobody there, and is made again."""
    return until(lambda: api.post(f"{J}/firmware", {"file": FILE}), lambda got: "call" in got, seconds=20)


def put(api, data: bytes):
    answer = api.client.put(f"/api/{J}/firmware", data, content_type="application/octet-stream")
    return answer.status_code, answer.json()


class TestFirmware:
    def test_fetched_judged_written_and_the_map_after_it(self, ready):
        offered = ready.get(f"{J}/firmware")
        assert offered["answered"] == "2.1"
        assert [one["file"] for one in offered["offers"]] == [FILE]
        found = fetch(ready)
        assert found["call"]["verdict"] == "go"
        assert found["writable"]
        ready.post(f"{J}/loads?firmware=true")
        board = ended(ready)
        assert board["load"]["state"] == "verified"
        assert board["load"]["what"] == "firmware 3.0"
        assert "No map is in it" in board["inside"]
        assert not steps(ready, J)["load.write"]["done"]
        assert ready.get(f"{J}/firmware")["answered"] == "3.0"
        assert "Load one first" in ready.post(f"{J}/key-on")["sentence"]
        # What asked for it before fits now.
        assert write(ready)
        assert steps(ready, J)["load.write"]["done"]
        assert "firmware 3.0" in " ".join(
            line["text"] or "" for line in ready.get(f"{J}/ledger") if "identity read back" in line["title"]
        )

    def test_another_computer_s_a_damaged_and_an_older_one(self, ready):
        status, told = put(ready, pack_firmware("FW-S2", "3.0", b"x" * 900))
        assert status == 422
        assert "another computer's" in told["sentence"]
        sound = pack_firmware("FW-P4", "3.0", b"x" * 900)
        assert "damaged" in put(ready, sound[:-1] + b"y")[1]["sentence"]
        assert put(ready, b"no firmware")[0] == 422
        assert put(ready, b"")[0] == 422
        assert ready.get(f"{J}/firmware")["version"] == ""
        status, told = put(ready, pack_firmware("FW-P4", "1.9", b"x" * 900))
        assert status == 200
        assert told["call"]["verdict"] == "hold"
        assert not told["writable"]
        assert "Older than what is in" in ready.post(f"{J}/loads?firmware=true")["sentence"]

    def test_what_keeps_the_computer_alive_is_asked_all_the_same(self, ready):
        fetch(ready)
        ready.put(f"{J}/load-board", {"answers": {"laptop": "low"}})
        told = ready.post(f"{J}/loads?firmware=true")
        assert ready.status == 422
        assert "laptop" in told["sentence"].lower()

    def test_cut_it_runs_nothing_and_is_mended_before_any_map(self, ready, settings):
        settings.FAULTS = "interrupt_write_at=0.5"
        fetch(ready)
        ready.post(f"{J}/loads?firmware=true")
        board = ended(ready)
        assert board["load"]["state"] == "interrupted"
        assert standing(ready, J)["load.interrupted"]
        assert [way["key"] for way in board["ways"]][:2] == ["resume", "restart"]
        assert "firmware was cut" in ready.post(f"{J}/loads")["sentence"]
        ready.post(f"{J}/loads?resume=true")
        board = ended(ready)
        assert board["load"]["state"] == "verified", board["load"]
        assert board["load"]["what"] == "firmware 3.0", board["load"]
        assert "load.interrupted" not in standing(ready, J)


def test_a_dry_run_writes_nothing_and_every_write_is_told_by_vehicle(ready):
    before = ready.get(f"{J}/load-board")["slots"]
    told = ready.post(f"{J}/dry-runs")
    assert "Nothing was written" in told["sentence"]
    assert 0.1 < told["seconds"] < 120.0
    assert ready.get(f"{J}/load-board")["slots"] == before
    assert ready.get(f"{J}/load-history") == []
    ready.post(f"{J}/loads")
    ended(ready)
    line = ready.get(f"{J}/load-history")[0]
    assert (line["job"], line["state"], line["slot"]) == ("0001", "verified", 1)
    # Another job of the same vehicle knows it, by its VIN.
    vin = ready.get(J)["plate"]["vin"]
    other = ready.post("jobs", {"vehicle": "corvane-estate-20", "registration": "X 1", "owner": "Bo Ferrow"})
    Job.objects.filter(number=other["number"]).update(vin=vin)
    assert [one["job"] for one in ready.get(f"jobs/{other['number']}/load-history")] == ["0001"]


class TestSlots:
    def test_a_slot_that_its_maker_keeps_is_not_written(self, ready):
        item = ShelfItem.objects.get(key="fenwright-p4")
        ready.put(
            "shelf-items",
            {"kind": "device", "key": item.key, "name": item.name, "body": {**item.body, "fixed_slots": [1]}},
        )
        assert ready.status == 200
        board = ready.get(f"{J}/load-board")
        assert board["slots"] == ["its maker's, not written", "empty"]
        assert board["slot"] == 2
        told = ready.put(f"{J}/load-board", {"answers": {"slot": 1}})
        assert ready.status == 422
        assert "its maker's" in told["sentence"]

    def test_a_map_goes_into_the_slot_that_was_chosen_and_the_other_is_left(self, ready):
        board = ready.get(f"{J}/load-board")
        assert board["slots"] == ["as delivered", "empty"]
        assert board["slot"] == 1
        assert "2 slots" in ready.put(f"{J}/load-board", {"answers": {"slot": 3}})["sentence"]
        ready.put(f"{J}/load-board", {"answers": {"slot": 2}})
        write(ready)
        board = ready.get(f"{J}/load-board")
        version = board["version"]["version"]
        assert board["slots"] == ["as delivered", f"map {version}"]
        assert board["load"]["slot"] == 2
        assert any("slot 2" in line["title"] for line in ready.get(f"{J}/ledger"))
        ready.put(f"{J}/load-board", {"answers": {**BOARD, "slot": 1}})
        ready.post(f"{J}/loads")
        assert ended(ready)["load"]["state"] == "verified"
        assert ready.get(f"{J}/load-board")["slots"] == [f"map {version}", f"map {version}"]
        # It runs what was written last.
        assert ready.post(f"{J}/key-on")["calls"]
        assert ready.status == 200


def test_a_battery_that_falls_in_a_write_is_named_and_stops_what_is_tried_next(ready, settings):
    settings.FAULTS = "falling_battery=1.6"
    ready.post(f"{J}/loads")
    board = ended(ready)
    assert board["load"]["state"] == "interrupted"
    assert "battery fell to 11." in board["load"]["sentence"]
    assert standing(ready, J)["load.battery"]["verdict"] == "stop"
    assert "Charge first" in ready.post(f"{J}/loads?resume=true")["sentence"]
    assert ready.status == 422


def test_a_vin_that_is_put_right_asks_for_the_computers_identity_again(ready):
    def identity() -> str:
        calls = ready.get(f"{J}/load-board")["calls"]
        return next(call["verdict"] for call in calls if call["rule"] == "load.identity")

    assert identity() == "go"
    intake(ready, J, vin="CVE2TWA04FS098261")
    assert identity() == "stop", "read against another VIN, it is no longer read"
