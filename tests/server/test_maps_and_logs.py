"""Maps, the load board, logs, drum runs, first start and the report over the API, each by itself."""

from __future__ import annotations

import json

import jsonschema
import numpy as np
import pytest

from tests.conftest import ROOT
from tests.core.drives import as_csv, drive
from tests.shopwork import BOARD, J, by_hand, intake, send, standing, steps, to_map, until
from ventmap.core.forms import from_json
from ventmap.server.jobs.models import Job, LedgerEntry
from ventmap.server.shelf.models import ShelfItem

PLAIN = {
    "time": "Time (s)",
    "rpm": "Engine Speed (rpm)",
    "map": "Manifold Absolute Pressure (kPa)",
    "pedal": "Accel Position (%)",
    "lambda": "Lambda 1",
    "lambda_target": "Lambda Target",
    "knock": "Knock Retard (deg)",
}


class TestBaseMap:
    def test_candidates_come_with_their_reasons_and_conflicts(self, lead):
        intake(lead, J)
        lead.put(f"{J}/plan", {"injectors": "fenwright-330"})
        rows = lead.get(f"{J}/base-map")["candidates"]
        assert rows[0]["possible"]
        assert any("same engine" in reason for reason in rows[0]["reasons"])
        out = {row["name"]: row["conflicts"] for row in rows if not row["possible"]}
        assert any("98 RON" in text for texts in out.values() for text in texts)
        assert any("induction" in text for texts in out.values() for text in texts)
        bad = next(row["key"] for row in rows if not row["possible"])
        assert "cannot serve" in lead.post(f"{J}/maps", {"key": bad})["sentence"]
        assert lead.get(f"{J}/base-map")["versions"] == []

    def test_what_intake_says_was_changed_decides_and_a_map_is_judged_again_when_it_changes(self, lead):
        to_map(lead)
        assert standing(lead, J)["base-map.match"]["verdict"] == "go"
        assert steps(lead, J)["base-map.choose"]["done"]
        intake(lead, J, ron="91 RON")
        stop = standing(lead, J)["base-map.match"]
        assert stop["verdict"] == "stop"
        assert stop["evidence"][0]["value"] == "needs 95 RON; the tank holds 91"
        assert not steps(lead, J)["base-map.choose"]["done"]
        assert "no longer fits" in lead.post(f"{J}/loads")["sentence"]
        assert lead.status == 422
        intake(lead, J, ron="95", changes=["exhaust", "cams"])
        assert "another cam" in standing(lead, J)["base-map.match"]["evidence"][0]["value"]
        best = {
            tuple(changes): self.best(lead, changes) for changes in ([], ["exhaust"], ["catalyst", "filter"])
        }
        assert best == {
            (): "T20, stock exhaust, 95 RON",
            ("exhaust",): "T20, free exhaust, 95 RON",
            ("catalyst", "filter"): "",
        }

    def best(self, lead, changes: list[str]) -> str:
        intake(lead, J, ron="95", changes=changes)
        rows = lead.get(f"{J}/base-map")["candidates"]
        return rows[0]["name"] if rows[0]["possible"] else ""

    def test_a_version_is_a_file_by_the_published_schema_with_lineage_and_changes(self, lead):
        to_map(lead)
        versions = lead.get(f"{J}/base-map")["versions"]
        assert [v["version"] for v in versions] == ["r0", "r0.1"]
        text = lead.client.get(f"/api/{J}/maps/{versions[-1]['id']}/file").content.decode()
        jsonschema.validate(json.loads(text), json.loads((ROOT / "formats" / "map.schema.json").read_text()))
        assert from_json(text).identity.vin == "CVE2TWA06GS104417"
        assert f"{from_json(text).crc32:08X}" == versions[-1]["crc32"]
        changes = lead.get(f"{J}/maps/{versions[1]['id']}/changes?since={versions[0]['id']}")
        flow = next(c for c in changes if c["x"] is None and c["old"] == 440)
        assert flow["new"] == 330
        assert any(c["row"] is not None for c in changes)

    def test_figures_in_any_unit_and_impossible_ones(self, lead):
        to_map(lead)
        sheet = lead.get(f"{J}/base-map")["sheet"]["dead_time"]
        told = lead.put(
            f"{J}/figures",
            {"flow": "31.4286 lb/h", "rated": "43.511 psi", "pressure": "3 bar", "dead_time": sheet},
        )
        assert told["version"]["version"].startswith("r0.")
        assert lead.get(f"{J}/base-map")["current"]["flow"] == pytest.approx(330, abs=0.2)
        for change, field in (
            ({"flow": "-5"}, "flow"),
            ({"rated": "0"}, "rated"),
            ({"flow": "wide"}, "injector_flow"),
        ):
            wrong = lead.put(
                f"{J}/figures",
                {"flow": "330", "rated": "300", "pressure": "300", "dead_time": sheet, **change},
            )
            assert lead.status == 422, wrong
            assert field.split("_")[0] in wrong["field"], wrong

    def test_the_flow_is_set_for_the_pressure_here(self, lead):
        to_map(lead)
        sheet = lead.get(f"{J}/base-map")["sheet"]["dead_time"]
        lead.put(f"{J}/figures", {"flow": "330", "rated": "300", "pressure": "400", "dead_time": sheet})
        told = {
            e["label"]: e["value"]
            for e in next(iter(e for e in lead.get(J)["ledger"] if e["title"] == "Injector figures set"))[
                "evidence"
            ]
        }
        assert told["flow here"] == pytest.approx(330 * np.sqrt(400 / 300), abs=0.1)


class TestLoadBoard:
    def test_every_row_is_a_stop_until_it_is_answered_and_a_hold_has_its_way_out(self, lead):
        to_map(lead)
        empty = lead.get(f"{J}/load-board")
        assert empty["verdict"] == "stop"
        assert {call["rule"] for call in empty["calls"] if call["verdict"] == "go"} <= {"load.matched"}
        assert empty["lights"]
        half = lead.put(
            f"{J}/load-board", {"answers": {"measure": True, "laptop": "battery", "kept_awake": False}}
        )
        verdicts = {call["rule"]: call["verdict"] for call in half["calls"]}
        assert verdicts["load.laptop"] == verdicts["load.kept_awake"] == "hold"
        assert verdicts["load.battery"] == "go"
        assert verdicts["load.identity"] == "go"
        assert lead.post(f"{J}/loads")["sentence"].startswith("Not yet")

    def test_a_map_with_another_injectors_figures_is_not_written(self, lead):
        """Nor where the sheet has no dead-time table: it is typed, and only then the board lets go."""
        to_map(lead)
        ShelfItem.objects.filter(key="fenwright-330").update(
            body={
                key: value
                for key, value in ShelfItem.objects.get(key="fenwright-330").body.items()
                if key != "dead_time"
            }
        )
        base = lead.get(f"{J}/base-map")
        assert base["sheet"]["dead_time"] is None
        assert base["current"]["dead_time"]["ms"]
        lead.post(f"{J}/maps", {"key": base["candidates"][0]["key"]})
        lead.post(f"{J}/saved-images")
        told = lead.put(f"{J}/load-board", {"answers": BOARD})
        row = next(call for call in told["calls"] if call["rule"] == "load.matched")
        assert (told["verdict"], row["verdict"]) == ("stop", "stop")
        assert "dead time in Base map" in row["do_next"]
        assert lead.post(f"{J}/loads")["field"] == "load.matched"
        typed = {"voltages": [10, 12, 14, 16], "pressures_kpa": [250, 350]}
        typed["ms"] = [[1.3, 1.36], [0.9, 0.94], [0.66, 0.7], [0.55, 0.58]]
        body = {"flow": "330", "rated": "300", "pressure": "300", "dead_time": typed}
        assert lead.put(f"{J}/figures", body)["version"]
        assert lead.get(f"{J}/base-map")["current"]["dead_time"] == typed
        lead.post(f"{J}/saved-images")
        assert lead.put(f"{J}/load-board", {"answers": BOARD})["verdict"] == "go"

    def test_nonsense_answers_are_refused_by_name(self, lead):
        to_map(lead)
        for answers in ({"laptop": "steam"}, {"colour": True}):
            told = lead.put(f"{J}/load-board", {"answers": answers})
            assert lead.status == 422
            assert next(iter(answers)) in (told["field"] or told["sentence"])

    def test_a_new_map_asks_again_for_the_save(self, lead):
        to_map(lead)
        lead.post(f"{J}/saved-images")
        assert lead.put(f"{J}/load-board", {"answers": BOARD})["verdict"] == "go"
        sheet = lead.get(f"{J}/base-map")["sheet"]["dead_time"]
        lead.put(f"{J}/figures", {"flow": "331", "rated": "300", "pressure": "300", "dead_time": sheet})
        again = {call["rule"]: call["verdict"] for call in lead.get(f"{J}/load-board")["calls"]}
        assert again["load.saved"] == "stop"
        assert again["load.battery"] == "stop"

    def test_writing_back_what_was_saved(self, lead):
        to_map(lead)
        lead.post(f"{J}/saved-images")
        lead.put(f"{J}/load-board", {"answers": BOARD})
        lead.post(f"{J}/loads")
        until(lambda: lead.get(f"{J}/load-board"), lambda b: b["load"]["state"] == "verified")
        back = lead.post(f"{J}/loads?back=true")
        assert lead.status == 200, back
        board = until(lambda: lead.get(f"{J}/load-board"), lambda b: b["load"]["state"] != "writing")
        assert "saved" in board["load"]["what"] or board["load"]["state"] in ("verified", "restored"), board[
            "load"
        ]


class TestLogsAlone:
    def test_lanes_keep_peaks_and_gaps_within_the_points_asked(self, lead):
        log, mask = drive()
        log.channels["knock"][np.flatnonzero(mask["pull"])[37]] = 9.0
        row = send(lead, "logs?name=peak.csv", as_csv(log, PLAIN).encode())
        lanes = {
            lane["name"]: lane
            for lane in lead.get(f"logs/{row['id']}/lanes?channels=knock,rpm&start=0&stop=999&points=100")[
                "lanes"
            ]
        }
        assert len(lanes["knock"]["time_s"]) <= 100
        assert max(lanes["knock"]["values"]) == pytest.approx(9.0)
        assert lead.get(f"logs/{row['id']}/lanes?channels=&start=0&stop=9&points=100")["lanes"] == []
        assert lead.get(f"logs/{row['id']}/lanes?channels=colour&start=0&stop=9")["lanes"] == []

    def test_a_log_of_a_job_is_judged_into_its_ledger_and_the_next_takes_its_place(self, lead):
        to_map(lead)
        log, mask = drive(boost=0.0)
        log.channels["knock"][np.flatnonzero(mask["pull"])[80:90]] = 7.0
        send(lead, "logs?name=knock.csv&job=0001", as_csv(log, PLAIN).encode())
        assert standing(lead, J)["log.knock"]["verdict"] == "stop"
        send(lead, "logs?name=clean.csv&job=0001", as_csv(drive(boost=0.0)[0], PLAIN).encode())
        assert "log.knock" not in standing(lead, J)
        assert standing(lead, J)["log.clean"]["verdict"] == "go"
        assert [row["name"] for row in lead.get("logs?job=0001")] == ["clean.csv", "knock.csv"]

    @pytest.mark.parametrize("form", ["csv", "parquet"])
    def test_a_log_leaves_in_canonical_units_and_comes_back_the_same(self, lead, form):
        log, _ = drive()
        imperial = {**PLAIN, "map": "MAP (psi)"}
        first = send(lead, "logs?name=road.csv", as_csv(log, imperial).encode())
        taken = lead.get(f"logs/{first['id']}/table?form={form}")
        assert taken[:4] == b"PAR1" if form == "parquet" else taken.startswith(b"Time (s),")
        again = send(lead, f"logs?name=road.{form}", taken)
        ranges = [
            {c["name"]: (c["low"], c["high"], c["unit"]) for c in row["columns"]} for row in (first, again)
        ]
        assert set(ranges[0]) == set(ranges[1])
        assert all(ranges[1][name][:2] == pytest.approx(ranges[0][name][:2], rel=1e-4) for name in ranges[0])
        assert [f["kind"] for f in again["findings"]] == [f["kind"] for f in first["findings"]]
        assert again["rows"] == first["rows"]
        assert "one of csv, parquet" in lead.get(f"logs/{first['id']}/table?form=xls")["sentence"]

    def test_a_log_that_is_not_there_is_said(self, lead):
        assert lead.get("logs/999")["sentence"]
        assert lead.status == 404

    def test_a_proposal_wants_a_log_of_this_job(self, lead):
        to_map(lead)
        assert "Log first" in lead.get(f"{J}/proposal")["sentence"]
        other = send(lead, "logs?name=alone.csv", as_csv(drive()[0], PLAIN).encode())
        assert "Log first" in lead.get(f"{J}/proposal?log_id={other['id']}")["sentence"]
        bare = send(
            lead,
            "logs?name=bare.csv&job=0001",
            as_csv(drive()[0], {k: PLAIN[k] for k in ("time", "rpm", "map")}).encode(),
        )
        assert lead.get(f"{J}/proposal?log_id={bare['id']}")["sentence"]
        assert lead.status == 422


def test_a_log_whose_length_was_not_told_is_counted_and_leaves_nothing(lead, settings):
    settings.LARGEST_UPLOAD = 40_000
    before = set((settings.MEDIA_ROOT / "logs").glob("*"))
    told = send(lead, "logs?name=long.csv&job=0001", as_csv(drive()[0], PLAIN).encode())
    assert lead.status == 422
    assert "larger than 0 MB" in told["sentence"]
    assert told["field"] == "file"
    assert set((settings.MEDIA_ROOT / "logs").glob("*")) == before
    assert lead.get("logs?job=0001") == []


class TestDrumAndReport:
    def test_a_run_left_out_does_not_count_and_reopens_the_step(self, lead):
        for _ in range(3):
            runs = lead.post(f"{J}/runs", {"when": "before"})
        assert len(runs["runs"]) == 3
        assert Job.objects.get(number="0001").steps_done.filter(key="baseline.runs").exists()
        lead.put(f"{J}/runs/{runs['runs'][1]['id']}", {"counts": False})
        assert not Job.objects.get(number="0001").steps_done.filter(key="baseline.runs").exists()
        assert "no such run" in lead.put(f"{J}/runs/99999", {"counts": True})["sentence"].lower()
        assert "no standard" in lead.put(f"{J}/standard", {"standard": "guess"})["sentence"]

    def test_peaks_repeat_within_scatter_and_a_standard_outside_its_range_is_not_used(self, lead):
        for _ in range(3):
            runs = lead.post(f"{J}/runs", {"when": "before"})["runs"]
        peaks = np.array([run["peak_kw"] for run in runs])
        assert peaks.std() / peaks.mean() < 0.03, "a drum repeats, and never to the last digit"
        assert peaks.std() > 0, "a drum repeats, and never to the last digit"
        corrected = lead.put(f"{J}/standard", {"standard": "SAE J1349"})["runs"]
        assert [run["peak_kw"] for run in corrected] == [run["peak_kw"] for run in runs], (
            "at 85 kPa the factor lies outside 0.93–1.07"
        )
        assert standing(lead, J)["dyno.correction"]["verdict"] == "hold"

    def test_the_report_says_why_no_gain_is_claimed_and_lists_who_did_what(self, lead):
        intake(lead, J)
        by_hand(lead, J, "intake")
        report = lead.get(f"{J}/report")
        assert report["gain"] is None
        assert "no gain is claimed" in report["no_gain"]
        assert any("battery" in line["what"].lower() and " V" in line["result"] for line in report["work"])
        assert {line["who"] for line in report["record"]} == {"Mara Tallis"}
        assert report["law"]
        assert report["recheck"]
        assert report["back"]
        assert (
            len(report["record"])
            == LedgerEntry.objects.filter(job__number="0001").exclude(kind="note").count()
        ), "the whole record, not its end"
        entry = LedgerEntry.objects.filter(job__number="0001", rule="step.intake.battery").get()
        assert entry.evidence[0]["limit"]
        assert entry.source

    def test_the_way_back_is_that_of_the_kit(self, lead):
        job = "jobs/0003"
        planned = lead.get(f"{job}/report")
        assert planned["parts"]
        assert all("no step of fitting" in part for part in planned["parts"])
        assert "bypass plug" not in " ".join(planned["back"]), "nothing was fitted yet"
        lead.put(f"{job}/vehicle", {"vehicle": lead.get(job)["plate"]["vehicle_key"]})
        by_hand(lead, job, "intake", "plan", "make-safe", "fit")
        report = lead.get(f"{job}/report")
        assert [part.split(" (")[0] for part in report["parts"]] == [
            "Kelmar pressure shifter",
            "Kelmar ethanol kit",
            "Kelmar 255 pump",
        ]
        assert not any("no step" in part for part in report["parts"])
        told = " ".join(report["back"])
        assert "bypass plug" in told
        assert "unplug the module at every injector" in told
        assert "stock pump" in told
        assert "stock computer is on the shelf" not in told, "it was never taken out"


class TestFirstStart:
    def test_nothing_is_started_before_a_verified_map(self, lead):
        to_map(lead)
        for act in ("key-on", "pedal", "start"):
            assert "Load one first" in lead.post(f"{J}/{act}")["sentence"]
            assert lead.status == 422

    def test_a_wait_ends_once_and_says_how_long_it_ran(self, lead):
        lead.post(f"{J}/steps/make-safe.cool/done", {})
        timer = lead.get(J)["timers"][0]
        lead.post(f"timers/{timer['id']}/end")
        lead.post(f"timers/{timer['id']}/end")
        ended = [e for e in lead.get(J)["ledger"] if e["title"] == "Ended: Let the engine cool"]
        assert len(ended) == 1
        assert "of 20 min" in ended[0]["text"]
        assert lead.get(J)["timers"] == []
        assert "gone" in lead.post("timers/99999/end")["sentence"]
        assert lead.status == 404

    def test_notes_are_kept_with_their_slat(self, lead):
        assert "Write the note" in lead.post(f"{J}/notes", {"stage": "fit", "text": "  "})["sentence"]
        lead.post(f"{J}/notes", {"stage": "fit", "text": "Clip on plug A was cracked, replaced"})
        note = lead.get(J)["ledger"][0]
        assert (note["stage"], note["kind"], note["who"]) == ("fit", "note", "Mara Tallis")


def test_figures_typed_anywhere_are_understood_in_one_place(lead):
    assert lead.post("figures", {"text": "43.5 psi", "quantity": "pressure"})["value"] == pytest.approx(
        299.92, abs=0.01
    )
    told = lead.post("figures", {"text": "12 stone", "quantity": "pressure"})
    assert "does not measure pressure" in told["sentence"]
    assert told["field"] == "pressure"
    assert "no quantity" in lead.post("figures", {"text": "1", "quantity": "luck"})["sentence"]
