"""What people keep of their own at logs, and what they take out."""

from __future__ import annotations

import io

import polars as pl
import pytest

from tests.conftest import Api
from tests.server.test_log_looks import drop
from ventmap.core.logs import read_log
from ventmap.server.logs.models import LogFile, OwnChannel

BOOST = {"name": "Boost", "formula": "map - baro", "unit": "bar"}


@pytest.fixture
def log(lead) -> dict:
    lead.post("jobs", {"vehicle": "corvane-estate-20", "registration": "OWN 1", "owner": "Dag"})
    number = max(job["number"] for job in lead.get("jobs"))
    return drop(lead, "estate-round-1.csv", job=number)


def test_an_own_channel_is_tried_kept_shown_everywhere_and_taken_away(lead, log):
    installer, viewer = Api("installer"), Api("viewer")
    tried = lead.post(f"logs/{log['id']}/tried", BOOST)
    assert tried["samples"] == log["rows"]
    assert tried["most"] < 0.3
    assert "place 8" in lead.post(f"logs/{log['id']}/tried", BOOST | {"formula": "baro - boots"})["sentence"]
    viewer.post("own-channels", BOOST)
    assert viewer.status == 403
    made = installer.post("own-channels", BOOST)
    assert "already" in lead.post("own-channels", BOOST)["sentence"]
    assert "name one" in lead.post("own-channels", BOOST | {"name": "Five", "formula": "2 + 3"})["sentence"]
    key = f"own.{made['id']}"
    shown = next(one for one in lead.get(f"logs/{log['id']}")["columns"] if one["name"] == key)
    assert (shown["label"], shown["unit"], shown["column"]) == ("Boost", "bar", "map - baro")
    lane = lead.get(f"logs/{log['id']}/lanes?channels=map,{key}&start=0&stop=30&points=500")["lanes"]
    assert [one["name"] for one in lane] == ["map", key]
    told = {
        one["name"]: one
        for one in lead.get(f"logs/{log['id']}/between?start=5&stop=9&channels=map,baro,{key}")
    }
    by_hand = (told["map"]["mean"] - told["baro"]["mean"]) / 100
    assert told[key]["mean"] == pytest.approx(by_hand, abs=1e-3)
    seen = lead.get(f"logs/{log['id']}/cloud?x=rpm&y={key}&start=0&stop=60")
    assert len(seen["y"]) > 100
    other = lead.post("own-channels", BOOST | {"name": "Of the lead"})
    installer.call("delete", f"own-channels/{other['id']}")
    assert installer.status == 403
    lead.call("delete", f"own-channels/{made['id']}")
    assert lead.status == 200
    assert key not in {one["name"] for one in lead.get(f"logs/{log['id']}")["columns"]}
    assert OwnChannel.objects.count() == 1


def test_a_word_stands_at_its_moment_until_it_is_taken_away(lead, log):
    viewer = Api("viewer")
    lead.put(f"logs/{log['id']}/marks", {"at_s": 12.34, "word": " pump sings "})
    lead.put(f"logs/{log['id']}/marks", {"at_s": 3.0, "word": "gate"})
    assert [one["word"] for one in lead.get(f"logs/{log['id']}")["marks"]] == ["gate", "pump sings"]
    assert "within its log" in lead.put(f"logs/{log['id']}/marks", {"at_s": 1e6, "word": "x"})["sentence"]
    viewer.put(f"logs/{log['id']}/marks", {"at_s": 3.0, "word": ""})
    assert viewer.status == 403
    assert lead.put(f"logs/{log['id']}/marks", {"at_s": 3.0, "word": ""}) == [
        {"at_s": 12.34, "word": "pump sings"}
    ]


def test_rows_and_limits_are_a_persons_own_for_one_kind_of_vehicle(lead):
    installer = Api("installer")
    mine = {
        "rows": [{"name": "mine", "lanes": [["rpm"], ["map", "map_target"]]}],
        "limits": [{"channel": "coolant", "above": True, "text": "221 °F", "lifts": False}],
    }
    assert lead.put("kept-looks/corvane-estate-20", mine) == mine
    assert lead.get("kept-looks/corvane-estate-20") == mine
    nothing = {"rows": [], "limits": []}
    assert lead.get("kept-looks/ostrel-merrin-16t") == nothing
    assert installer.get("kept-looks/corvane-estate-20") == nothing
    twice = {"rows": mine["rows"] * 2, "limits": []}
    assert "one name" in lead.put("kept-looks/corvane-estate-20", twice)["sentence"]
    wrong = {"rows": [], "limits": [{"channel": "coolant", "text": "12 V"}]}
    lead.put("kept-looks/corvane-estate-20", wrong)
    assert lead.status == 422
    assert lead.get("kept-looks/corvane-estate-20") == mine


def test_rows_a_selection_and_a_picture_are_taken_out_as_they_are(lead, log):
    page = lead.get(f"logs/{log['id']}/rows?channels=rpm,lambda&start=10&stop=30&first=200")
    assert page["columns"] == ["rpm", "lambda"]
    assert (page["first"], len(page["time_s"])) == (200, min(200, page["total"] - 200))
    base = f"/api/logs/{log['id']}"
    table = lead.client.get(f"{base}/selection?channels=rpm,lambda&start=10&stop=30").content
    frame = pl.read_csv(io.BytesIO(table))
    assert len(frame) == page["total"]
    assert frame["Time (s)"][200] == pytest.approx(page["time_s"][0], abs=1e-3)
    back = read_log(table, "selection.csv")
    assert set(back.channels) == {"rpm", "lambda"}
    lead.put(f"logs/{log['id']}/marks", {"at_s": 12.0, "word": "pump $sings\\frac{"})
    drawn = lead.client.get(f"{base}/picture?channels=rpm,lambda%2Blambda_target&start=10&stop=30&form=svg")
    assert drawn["Content-Type"] == "image/svg+xml"
    assert drawn.content.startswith(b"<?xml")
    assert lead.client.get(f"{base}/picture?channels=rpm&start=10&stop=30&form=png").content[1:4] == b"PNG"
    for odd in ("own.abc", "own.", f"own.{10**30}", "own.1x"):
        lead.get(f"logs/{log['id']}/rows?channels={odd}&start=10&stop=30")
        assert lead.status == 422
    lead.get(f"logs/{log['id']}/rows?channels=boots&start=10&stop=30")
    assert lead.status == 422
    lead.get(f"logs/{log['id']}/rows?channels=rpm&start=1e6&stop=2e6")
    assert lead.status == 422


def test_an_answered_check_moves_the_causes_and_is_written_down_and_taken_back(lead, log):
    viewer = Api("viewer")
    lean = drop(lead, "estate-round-0.csv", job=log["job"])
    story = next(one for one in lean["stories"] if one["check"])
    check = story["check"]
    asked = {"check": check["key"], "answer": check["answers"][0]}
    viewer.put(f"logs/{lean['id']}/answers", asked)
    assert viewer.status == 403
    told = lead.put(f"logs/{lean['id']}/answers", asked)
    assert told["answered"] == [{"check": check["key"], "ask": check["ask"], "answer": check["answers"][0]}]
    now = next(one for one in told["stories"] if one["lead"] == story["lead"])
    assert any(one["before"] is not None for one in now["candidates"])
    assert [one["weight"] for one in now["candidates"]] != [one["weight"] for one in story["candidates"]]
    ledger = str(lead.get(f"jobs/{log['job']}")["ledger"])
    assert f"Checked after {lean['name']}" in ledger
    assert check["ask"] in ledger
    lead.put(f"logs/{lean['id']}/answers", asked | {"answer": "perhaps"})
    assert lead.status == 422
    LogFile.objects.filter(pk=lean["id"]).update(
        answers=[["a check of before", "yes"], [check["key"], "perhaps"]]
    )
    older = lead.get(f"logs/{lean['id']}")
    assert (older["answered"], older["stories"]) == ([], lean["stories"])
    back = lead.put(f"logs/{lean['id']}/answers", asked | {"answer": ""})
    assert back["stories"] == lean["stories"]
