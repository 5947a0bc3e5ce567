"""What a log's columns are: said by hand, read again, remembered for the next of that source, taken back."""

from __future__ import annotations

import io

import numpy as np
import polars as pl
import pytest

from tests.conftest import Api
from tests.core.drives import drive
from tests.server.traces import DBC, trace
from tests.shopwork import intake, send, standing
from ventmap.core.logs import read_log
from ventmap.server import bench, drives

ODD = {"rpm": "Welle A", "map": "P2", "pedal": "Fuss", "lambda": "Gemisch", "coolant": "T3"}


def odd_log(shift: float = 0.0, fault: bool = True) -> bytes:
    """A drive under headings that nobody knows; with a mixture that is lean under load where asked."""
    log, mask = drive(20.0, seed=3)
    if fault:
        log.channels["lambda"][mask["pull"]] *= 1.25
    columns = {"t_0": log.time_s} | {head: log.channels[name] for name, head in ODD.items()}
    columns["Gemisch"] = columns["Gemisch"] * 14.7 + shift
    return pl.DataFrame(columns).write_csv(float_precision=4).encode()


def said(**more):
    columns = [
        {"column": "Welle A", "channel": "rpm"},
        {"column": "P2", "channel": "map", "unit": "kPa"},
        {"column": "Fuss", "channel": "pedal"},
        {"column": "Gemisch", "channel": "lambda", "unit": "AFR"},
        {"column": "T3", "channel": "coolant", "unit": "°C"},
    ]
    return {"columns": columns, "induction": "turbo", "remember": "Odd logger"} | more


@pytest.fixture
def odd(lead):
    return send(lead, "logs?name=odd.csv", odd_log())


def test_a_scale_that_was_said_is_on_every_call_and_the_lead_answers_for_it(lead):
    """A fifth taken off the mixture makes a sound log of one that melts pistons."""
    job, hand = "jobs/0001", Api("installer")
    intake(lead, job)
    row = send(hand, "logs?name=odd.csv&job=0001", odd_log())
    body = said(remember="")
    body["columns"][3] |= {"unit": "", "factor": 1 / (14.7 * 1.25)}
    hand.put(f"logs/{row['id']}/columns", body)
    assert hand.status == 200
    calls = standing(lead, job)
    assert calls["log.scales"]["verdict"] == "hold"
    assert not any(call["verdict"] == "go" for rule, call in calls.items() if rule.startswith("log."))
    lead.put(f"logs/{row['id']}/columns", body)
    calls = {rule: call for rule, call in standing(lead, job).items() if rule.startswith("log.")}
    assert calls
    assert "log.scales" not in calls
    by_mixture = [call for rule, call in calls.items() if rule in ("log.clean", "log.lean_under_load")]
    for call in by_mixture:
        assert any("scale said by hand" in item["label"] for item in call["evidence"]), call
    # Without the scale, the log as it came: no such line.
    lead.put(f"logs/{row['id']}/columns", said(remember=""))
    found = standing(lead, job)["log.lean_under_load"]
    assert found["verdict"] == "stop"
    assert not any("scale said by hand" in item["label"] for item in found["evidence"])


class TestSaying:
    def test_an_unknown_log_is_named_by_hand_and_its_findings_follow(self, lead, odd):
        assert odd["findings"] == [] or all(f["kind"] != "lean_under_load" for f in odd["findings"])
        statuses = {read["column"]: read["status"] for read in odd["reads"]}
        assert set(statuses) == set(ODD.values())
        assert "understood" not in statuses.values()
        assert all(read["sketch"] and read["first"] for read in odd["reads"])
        now = lead.put(f"logs/{odd['id']}/columns", said())
        assert {read["channel"] for read in now["reads"]} == set(ODD)
        assert any(f["kind"] == "lean_under_load" and f["verdict"] == "stop" for f in now["findings"])
        assert {n["text"] for n in now["notes"] if "as you said" in n["text"]}

    def test_a_second_log_of_the_source_is_read_without_a_question(self, lead, odd):
        lead.put(f"logs/{odd['id']}/columns", said())
        again = send(lead, "logs?name=next.csv", odd_log())
        assert again["known_name"] == "Odd logger"
        assert {read["status"] for read in again["reads"]} == {"understood"}
        assert any(f["kind"] == "lean_under_load" for f in again["findings"])
        shelf = {item["name"]: item for item in lead.get("shelf-items?kind=source")}
        assert {c["column"] for c in shelf["Odd logger"]["body"]["columns"]} == set(ODD.values())
        said_before = {c["column"] for c in again["said"]["columns"]}
        assert said_before == set(ODD.values()), "a change of one column loses none of the others"
        # Taken back: off the shelf, it is asked again.
        lead.call("delete", f"shelf-items/source/{shelf['Odd logger']['key']}")
        assert send(lead, "logs?name=third.csv", odd_log())["known"] == ""

    @pytest.mark.parametrize(
        "change, field",
        [
            (
                {"columns": [{"column": "P2", "channel": "map"}, {"column": "T3", "channel": "map"}]},
                "columns",
            ),
            ({"columns": [{"column": "P2", "channel": "no such"}]}, "columns"),
            ({"columns": [{"column": "P2", "channel": "map", "unit": "furlong"}]}, "unit"),
            ({"columns": [{"column": "P2", "channel": "map", "unit": "°C"}]}, "unit"),
            ({"afr_scale": 99.0}, "afr_scale"),
            ({"columns": [{"column": "P2", "channel": "map", "factor": 0.0}]}, "factor"),
        ],
    )
    def test_what_cannot_be_is_refused_and_the_log_stays(self, lead, odd, change, field):
        told = lead.put(f"logs/{odd['id']}/columns", said(**change))
        assert lead.status == 422, told
        assert told["field"] == field, told
        assert lead.get(f"logs/{odd['id']}")["reads"] == odd["reads"]
        assert not lead.get("shelf-items?kind=source")

    def test_a_scale_of_its_own_and_a_factor_move_the_figures(self, lead, odd):
        plain = lead.put(f"logs/{odd['id']}/columns", said())
        scaled = lead.put(f"logs/{odd['id']}/columns", said(afr_scale=13.5))
        high = (
            {c["name"]: c["high"] for c in plain["columns"]},
            {c["name"]: c["high"] for c in scaled["columns"]},
        )
        assert high[1]["lambda"] == pytest.approx(high[0]["lambda"] * 14.7 / 13.5, rel=1e-4)
        columns = said()["columns"]
        columns[0] |= {"factor": 2.0, "offset": 100.0}
        doubled = lead.put(f"logs/{odd['id']}/columns", said(columns=columns))
        assert {c["name"]: c["high"] for c in doubled["columns"]}["rpm"] == pytest.approx(
            2 * high[0]["rpm"] + 100, rel=1e-4
        )

    def test_in_a_job_it_is_judged_again_and_stands_in_the_ledger(self, lead):
        intake(lead, "jobs/0003")
        row = send(lead, "logs?name=odd.csv&job=0003", odd_log())
        lead.put(f"logs/{row['id']}/columns", said(remember=""))
        rules = standing(lead, "jobs/0003")
        assert any(rule.startswith("log.") and e["verdict"] == "stop" for rule, e in rules.items()), (
            rules.keys()
        )
        assert any("Columns said: odd.csv" in e["title"] for e in lead.get("jobs/0003/ledger"))
        assert not lead.get("shelf-items?kind=source")


class TestTraces:
    @pytest.mark.parametrize("ending", [".asc", ".blf", ".trc", ".log"])
    def test_a_trace_asks_its_dbc_once(self, lead, ending):
        asked = send(lead, f"logs?name=bus{ending}", trace(ending))
        assert lead.status == 422
        assert asked["field"] == "dbc"
        assert "Choose the DBC file" in asked["sentence"]
        lead.put("shelf-items", {"kind": "source", "key": "dbc-bus", "name": "Bus", "body": {"dbc": DBC}})
        assert lead.status == 200
        read = send(lead, f"logs?name=bus{ending}", trace(ending))
        assert {r["channel"] for r in read["reads"]} == {"rpm", "map", "coolant"}
        assert read["duration_s"] == pytest.approx(3.98, abs=0.01)


@pytest.mark.parametrize("form", ["csv", "parquet", "mdf", "workbook"])
def test_what_is_taken_out_is_read_back_equal(lead, form):
    log, _ = drive(20.0, seed=1)
    slow = np.where(np.arange(len(log)) % 20 == 0, log.channels["coolant"], np.nan)
    table = {"Time (s)": log.time_s, "RPM": log.channels["rpm"], "MAP (kPa)": log.channels["map"]}
    table |= {"Coolant (C)": slow, "Lambda 1": log.channels["lambda"]}
    frame = pl.DataFrame(table).fill_nan(None)
    first = send(lead, "logs?name=a.csv", frame.write_csv(float_precision=4).encode())
    out = lead.client.get(f"/api/logs/{first['id']}/table?form={form}")
    data = b"".join(out.streaming_content) if out.streaming else out.content
    ending = {"csv": "csv", "parquet": "parquet", "mdf": "mf4", "workbook": "xlsx"}[form]
    again = send(lead, f"logs?name=a.{ending}", data)
    was = {c["name"]: (c["low"], c["high"]) for c in first["columns"] if c["canonical"]}
    now = {c["name"]: (c["low"], c["high"]) for c in again["columns"] if c["canonical"]}
    assert now.keys() == was.keys()
    for name, ends in was.items():
        assert now[name] == pytest.approx(ends, rel=1e-3, abs=1e-3), name


def test_a_workbook_that_is_damaged_or_empty_is_refused(lead):
    import openpyxl

    book = openpyxl.Workbook()
    out = io.BytesIO()
    book.save(out)
    assert "No sheet" in send(lead, "logs?name=a.xlsx", out.getvalue())["sentence"]
    assert lead.status == 422
    send(lead, "logs?name=a.xlsx", out.getvalue()[:-40])
    assert lead.status == 422


@pytest.mark.parametrize("key", bench.yard.vehicles())
def test_every_heading_that_we_write_is_read_by_us(key):
    """Of every pretend vehicle, in every dialect of `manage.py drive`: nothing is ignored, nothing asked."""
    log = drives.drive(key, faults={}, minutes=1.2)
    for dialect in drives.DIALECTS:
        read = read_log(drives.written(log, dialect).encode(), "log.csv")
        left = [(one.column, one.status) for one in read.reads if one.status in ("asked", "ignored")]
        assert left == [], dialect
        if dialect == "plain":
            assert set(read.channels) == set(log.channels)
