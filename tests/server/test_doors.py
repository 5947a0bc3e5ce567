"""The doors: nothing small takes the bench down, nothing given is lost."""

from __future__ import annotations

import gzip
import io
import json
import os
import re
import shutil
import sqlite3
from contextlib import closing
from datetime import timedelta
from unittest import mock

import numpy as np
import polars as pl
import pytest
from django.contrib.sessions.models import Session
from django.db import connection
from django.test import Client
from django.utils import timezone
from PIL import Image

from tests.conftest import Api
from tests.core.drives import as_csv, drive
from tests.shopwork import BOARD, J, picture, to_map
from ventmap.core.basics import LogError
from ventmap.core.findings import ReviewContext
from ventmap.core.logs import find_windows, read_log
from ventmap.server import backup, doors, settling, strict
from ventmap.server.api import api
from ventmap.server.jobs.models import LedgerEntry, Photo, UnderWay
from ventmap.server.logs import reading
from ventmap.server.logs.models import LogFile
from ventmap.server.maps.models import Load
from ventmap.server.shop import apart, tries
from ventmap.server.shop.models import SignedIn, WrongTry

ROAD = as_csv(drive()[0], {"time": "Time (s)", "rpm": "Engine Speed (rpm)", "map": "MAP (kPa)"}).encode()


def send(api: Api, address: str, data: bytes):
    answer = api.client.put(f"/api/{address}", data, content_type="application/octet-stream")
    api.status = answer.status_code
    return answer.json()


class TestBodies:
    @pytest.mark.parametrize(
        "body",
        [
            b'{"text": NaN, "stage": "fit"}',
            b'{"text": "a\\u0000b", "stage": "fit"}',
            b'{"text": "\\ud800", "stage": "fit"}',
            b'{"text": 1e999, "stage": "fit"}',
            b"[" * 100_000,
            b'{"text": ' + b'{"a": ' * 60 + b"1" + b"}" * 60 + b"}",
            b"\xff\xfe",
            json.dumps({"text": "x" * 10_001, "stage": "fit"}).encode(),
            json.dumps({"text": "x", "stage": "f" * 40}).encode(),
        ],
    )
    def test_what_no_person_types_is_refused_with_a_sentence(self, lead, body):
        before = LedgerEntry.objects.count()
        answer = lead.client.post(f"/api/{J}/notes", body, content_type="application/json")
        assert answer.status_code in (400, 422)
        assert answer.json()["sentence"].endswith((".", "?"))
        assert LedgerEntry.objects.count() == before

    def test_a_figure_of_blanks_and_one_without_end_are_answered(self, lead):
        for text in (" " * 400, "9" * 9_000, "1" + " " * 9_000 + "V", "-" * 9_000):
            assert "sentence" in lead.post("figures", {"text": text, "quantity": "voltage"}), text[:9]

    def test_a_text_longer_than_its_column_is_refused_by_name(self, lead):
        told = lead.post("jobs", {"vehicle": "corvane-estate-20", "registration": "R" * 21, "owner": "D"})
        assert (lead.status, told["field"]) == (422, "registration")
        assert "20 at most" in told["sentence"]

    def test_no_answer_holds_what_json_cannot_say(self):
        value = {"a": [float("nan"), 1.5, (float("inf"),)], "b": "NaN"}
        assert strict.finite(value) == {"a": [None, 1.5, [None]], "b": "NaN"}

    def test_every_operation_declares_its_refusals_and_foreign_pages_get_one(self, lead):
        paths = lead.get("openapi.json")["paths"]
        asked = [operation for operations in paths.values() for operation in operations.values()]
        assert all({"400", "401", "403", "404", "422"} <= set(op["responses"]) for op in asked)
        foreign = Client(SERVER_NAME="localhost", enforce_csrf_checks=True)
        answer = foreign.post("/api/figures", "{}", content_type="application/json")
        assert answer.status_code in (401, 403)
        assert answer.json()["sentence"]
        whole = lead.client.post(
            f"/api/{J}/maps/files", b"no parts", content_type="multipart/form-data", headers={}
        )
        assert whole.status_code == 400
        assert whole.json()["sentence"]
        assert lead.client.get("/api/nowhere").json() == {
            "sentence": "There is no such address here.",
            "field": None,
        }


def test_every_door_stands_before_an_address_that_there_is():
    """A door with a slip in its method or path lets its files meet the small limit of an entry."""
    operations = [
        (method.upper(), re.sub(r"\{[^}]+\}", "x", path))
        for path, methods in api.get_openapi_schema()["paths"].items()
        for method in methods
    ]
    for door in doors._doors():
        assert any(m == door.method and door.path.fullmatch(p) for m, p in operations), door
    assert doors.door_of("PUT", "/api/jobs/0001/run-files").most == 20 * doors.MB


class TestFiles:
    def test_files_that_hold_more_than_they_say_are_answered_in_words(self):
        wide = ",".join(f"c{n}" for n in range(20_000)) + "\n" + (",".join("1" * 20_000) + "\n") * 3
        nested, many = io.BytesIO(), io.BytesIO()
        pl.DataFrame({"t": [[1.0], [2.0]]}).write_parquet(nested)
        pl.DataFrame({c: np.zeros(130_000_000, np.int8) for c in ("Time", "rpm")}).write_parquet(many)
        for data, word in (
            (wide.encode(), "20000 columns"),
            (gzip.compress(ROAD), "gzip"),
            (b"Time (s),rpm\n" + gzip.compress(b"0,1\n" * 10**6), "packed|not a text log|gzip"),
            (nested.getvalue(), "no plain columns"),
            (many.getvalue(), "million cells"),
            (b"Time,RPM\n0,1\n1,2\n" + b"lorem ipsum, dolor sit\n" * 100_000, "words, not numbers"),
        ):
            with pytest.raises(LogError, match=word):
                read_log(data, "x")

    def test_a_clock_that_falls_on_every_row_is_no_clock_and_one_that_is_reset_is(self):
        rows = "".join(f"{200_000 - n},900\n" for n in range(200_000))
        with pytest.raises(LogError, match="counts down"):
            read_log(f"Time (s),rpm\n{rows}".encode(), "falls.csv")
        rows = "".join(f"{n % 500},{900 + n % 7}\n" for n in range(20_000))
        log = read_log(f"Time (s),rpm\n{rows}".encode(), "reset.csv")
        assert log.breaks == tuple(range(500, 20_000, 500))
        assert (np.diff(log.time_s) > 0).all()
        assert {w.stop - w.start for w in find_windows(log) if w.kind == "idle"} <= {500}

    def test_equal_headings_are_all_kept(self):
        heads = ",".join(["Time (s)", *["a long heading that is the same" * 6] * 40])
        rows = "".join(",".join(map(str, [n, *[n] * 40])) + "\n" for n in range(30))
        log = read_log(
            f"{heads},Engine Speed (rpm)\n".encode() + rows.replace("\n", ",900\n").encode(), "x.csv"
        )
        assert len(log.extras) == 40

    def test_reading_is_ended_where_memory_time_or_a_person_says_so(self, tmp_path, monkeypatch):
        path = tmp_path / "road.log"
        path.write_bytes(ROAD)
        told: list[str] = []
        out = reading.read_apart(path, "road.csv", ReviewContext(induction="none"), told.append)
        first, *columns = reading.kept_in(out)
        assert first.rows > 1000
        assert {c.name for c in columns} >= {"time", "rpm", "map"}
        assert told[0] == "waiting"
        assert "reading" in told
        out.unlink()
        for limits, word in (
            ({"stopped": lambda: True}, "stopped"),
            ({"longest_s": -1.0}, "longer than"),
        ):
            with pytest.raises(LogError, match=word):
                reading.read_apart(path, "road.csv", ReviewContext(induction="none"), **limits)
        monkeypatch.setattr(apart, "memory_limit", lambda size: 1_000_000)
        with pytest.raises(LogError, match="more memory"):
            reading.read_apart(path, "road.csv", ReviewContext(induction="none"))
        assert sorted(tmp_path.iterdir()) == [path], "a partial file never stays"

    def test_a_look_is_its_owners_and_a_jobs_log_the_leads_to_delete(self, lead, shop):
        mine = send(lead, "logs?name=mine.csv", ROAD)
        other = Api("installer")
        assert other.get(f"logs/{mine['id']}")["sentence"]
        assert other.status == 404
        assert other.get("logs") == []
        assert lead.get("logs")[0]["id"] == mine["id"]
        assert mine["may_delete"]
        of_job = send(other, "logs?name=road.csv&job=0001", ROAD)
        assert not of_job["may_delete"]
        assert other.call("delete", f"logs/{of_job['id']}")["sentence"].startswith("Only the lead")
        file = LogFile.objects.get(pk=of_job["id"]).file
        assert file.exists()
        assert lead.call("delete", f"logs/{of_job['id']}")["sentence"]
        line = LedgerEntry.objects.filter(title="Log deleted: road.csv").get()
        assert of_job["sha256"][:16] in line.text
        assert not LogFile.objects.filter(pk=of_job["id"]).exists()

    def test_looks_are_swept_after_a_month_unless_kept(self, lead):
        ids = [send(lead, f"logs?name=l{n}.csv", ROAD)["id"] for n in range(2)]
        assert lead.put(f"logs/{ids[0]}/kept", {"kept": True})["kept"]
        LogFile.objects.update(at=timezone.now() - timedelta(days=settling.LOOK_DAYS + 1))
        settling.settle()
        assert [row.pk for row in LogFile.objects.all()] == [ids[0]]

    def test_a_picture_with_damaged_notes_is_kept_and_deleted_by_the_lead(self, lead):
        out = io.BytesIO()
        exif = b"Exif\x00\x00MM\x00*\x00\x00\x00\x08\x00\x01\x01\x12\x00\x03\xff\xff\xff\xff\x00\x09"
        Image.linear_gradient("L").resize((900, 600)).convert("RGB").save(out, "JPEG", exif=exif)
        kept = send(lead, f"{J}/photos?name=bent.jpg", out.getvalue())
        assert (kept["width"], kept["height"]) == (900, 600)
        assert send(Api("installer"), f"{J}/photos?name=b.jpg", picture())["id"]
        assert lead.call("delete", f"photos/{kept['id']}?destroy=true")["sentence"].startswith("Deleted")
        assert not Photo.objects.filter(pk=kept["id"]).exists()
        assert LedgerEntry.objects.filter(title="Photo deleted: bent.jpg", text__contains=kept["sha256"][:16])


class TestAfterAKill:
    def test_what_was_cut_is_told(self, lead):
        from ventmap.server.jobs.rows import job_by

        job, by = job_by("0001"), lead_user()
        for kind in ("capture", "import", "report"):
            UnderWay.objects.create(job=job, kind=kind, stage="log", by=by)
        told = settling.settle()
        assert len([line for line in told if "0001" in line]) == 3
        assert not UnderWay.objects.exists()
        titles = set(LedgerEntry.objects.filter(job=job).values_list("title", flat=True))
        assert {"Cut short: capture", "Cut short: import", "Cut short: report"} <= titles

    @pytest.mark.parametrize("whole", [True, False])
    def test_an_open_write_is_settled_by_what_the_computer_answers(self, lead, whole):
        to_map(lead)
        lead.post(f"{J}/saved-images")
        assert lead.put(f"{J}/load-board", {"answers": BOARD})["verdict"] == "go"
        if whole:
            from tests.shopwork import write

            write(lead)
            Load.objects.update(state="writing", phase="check", ended_at=None)
            LedgerEntry.objects.filter(title__startswith="Loaded and verified").update(title="lost")
        else:
            job = LedgerEntry.objects.filter(job__number="0001").first().job
            Load.objects.create(
                job=job, map=job.maps.last(), total=65_536, done=20_480, phase="write", by=lead_user()
            )
        told = settling.settle()
        state = Load.objects.first().state
        assert state == ("verified" if whole else "interrupted")
        assert any("0001" in line for line in told)
        seen = lead.get(f"{J}")
        done = {step["key"] for step in seen["steps"] if step["done"]}
        assert ("load.write" in done) == whole
        assert whole or any(e["rule"] == "load.interrupted" and e["standing"] for e in seen["ledger"])


class TestSignIn:
    def test_waits_grow_by_name_and_address_and_never_lock_the_lead_out_here(self, shop):
        stranger, wrong = Client(SERVER_NAME="localhost"), {"name": "installer", "phrase": "guess"}

        def ask(body, address="10.0.0.7"):
            return stranger.post(
                "/api/sessions", json.dumps(body), content_type="application/json", REMOTE_ADDR=address
            )

        for _ in range(tries.FREE_TRIES):
            assert ask(wrong).status_code == 401
        right = {"name": "installer", "phrase": "sorrel pass 1450"}
        held = ask(right)
        assert held.status_code == 429
        assert "another 15 s" in held.json()["sentence"]
        assert ask(right, "10.0.0.8").status_code == 200, "from another address the name is free"
        WrongTry.objects.update(until=timezone.now())
        assert ask(right).status_code == 200
        assert not WrongTry.objects.filter(address="10.0.0.7").exists()
        for _ in range(40):
            ask({"name": "lead", "phrase": "guess"}, "127.0.0.1")
            WrongTry.objects.update(until=timezone.now())
        ask({"name": "lead", "phrase": "guess"}, "127.0.0.1")
        left = (WrongTry.objects.get(name="lead").until - timezone.now()).total_seconds()
        assert 0 < left <= tries.LEAD_HERE_S
        grown = [tries.wait_s(n, lead_here=False) for n in range(40)]
        assert grown == sorted(grown)
        assert grown[-1] == tries.LONGEST_WAIT_S

    def test_letter_case_and_full_width_make_no_second_person(self, lead):
        body = {"first": "Ann", "last": "Other", "role": "viewer", "phrase": "four words of mine"}
        assert lead.post("people", {**body, "username": "ann"})
        assert lead.status == 200
        for same in ("ANN", "ａｎｎ", " Ann "):
            assert "already" in lead.post("people", {**body, "username": same})["sentence"]
        for phrase in ("password1234", "aaaaaaaaaaaab", "short one", "123456789012345"):
            told = lead.post("people", {**body, "username": "bob", "phrase": phrase})
            assert told["field"] == "phrase", phrase

    def test_wrong_old_phrases_are_counted_and_sessions_are_listed_and_ended(self, shop):
        mine, tablet = Api("viewer"), Api("viewer")
        for _ in range(tries.FREE_TRIES):
            mine.post("phrases", {"old": "guess", "new": "four words of mine"})
        mine.post("phrases", {"old": "sorrel pass 1450", "new": "four words of mine"})
        assert mine.status == 429
        rows = mine.get("sessions")
        assert [row["here"] for row in rows].count(True) == 1
        assert len(rows) == 2
        other = next(row["id"] for row in rows if not row["here"])
        assert len(mine.call("delete", f"sessions/{other}")) == 1
        tablet.get("jobs")
        assert tablet.status == 401
        third = Api("viewer")
        Session.objects.filter(session_key=third.client.session.session_key).update(
            expire_date=timezone.now() - timedelta(days=1)
        )
        settling.settle()
        assert len(mine.get("sessions")) == SignedIn.objects.filter(user__username="viewer").count() == 1


def test_a_full_disk_is_told_and_a_write_asks_for_room(lead, monkeypatch, settings):
    from ventmap.server.logs import store

    def full(*_: object, **__: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(store, "keep", full)
    told = send(lead, "logs?name=road.csv&job=0001", ROAD)
    assert lead.status == 507
    assert "The disk is full: free" in told["sentence"]
    assert not LogFile.objects.exists()
    assert not UnderWay.objects.exists()
    assert not list((settings.MEDIA_ROOT / "logs").glob("*"))
    monkeypatch.undo()
    assert send(lead, "logs?name=road.csv&job=0001", ROAD)["rows"]
    to_map(lead)
    lead.post(f"{J}/saved-images")
    lead.put(f"{J}/load-board", {"answers": BOARD})
    monkeypatch.setattr(doors, "LEAST_FREE", 10**18)
    assert lead.post(f"{J}/loads")["field"] == "disk"
    assert not Load.objects.exists()


def lead_user():
    from django.contrib.auth.models import User

    return User.objects.get(username="lead")


def test_the_database_is_the_owners_alone(settings):
    assert os.stat(settings.DATA).st_mode & 0o077 == 0


class TestBackup:
    def test_a_backup_is_read_back_and_restored_and_a_damaged_one_is_not(self, settings, tmp_path, shop):
        """The test's own database is no file of a shop's folder: a small one stands for it."""
        if connection.vendor != "sqlite":
            with pytest.raises(backup.BackupError, match="pg_dump"):
                backup.make()
            return
        source = tmp_path / "ventmap.sqlite3"
        with closing(sqlite3.connect(source)) as file:
            file.execute("CREATE TABLE jobs (number TEXT)")
            file.executemany("INSERT INTO jobs VALUES (?)", [(f"{n:04d}",) for n in range(500)])
            file.commit()
        settings.DATA, settings.MEDIA_ROOT = tmp_path, tmp_path / "files"
        log = tmp_path / "files" / "logs" / "road.log"
        log.parent.mkdir(parents=True)
        log.write_bytes(ROAD)
        with mock.patch.object(backup, "_source", lambda: source):
            made = backup.make()
            assert backup.check(made)["rows"] == {"jobs": 500}
            assert not list(backup.folder().glob("*.part"))
            kept, old = tmp_path / "kept.zip", backup.folder() / "ventmap-20200101-000000.zip"
            shutil.copy(made, kept)
            shutil.copy(made, old)
            os.utime(old, (0, 0))
            made.unlink()
            backup.make()
            assert not old.exists(), "after two weeks it is let go"
        log.write_bytes(b"other")
        aside = backup.restore(kept)
        assert log.read_bytes() == ROAD
        assert (aside / "files" / "logs" / "road.log").read_bytes() == b"other"
        whole = kept.read_bytes()
        climbing = whole.replace(b"files/logs/road.log", b"files/../../evil.lo")
        for bad in (whole[: len(whole) // 2], b"no zip", climbing):
            (tmp_path / "bad.zip").write_bytes(bad)
            with pytest.raises(backup.BackupError):
                backup.restore(tmp_path / "bad.zip")
        assert log.read_bytes() == ROAD, "nothing was touched"

    def test_the_health_card_tells_what_there_is(self, lead):
        told = lead.get("health")
        assert told["free_mb"] > 0
        assert told["orphans"] == 0
        assert told["integrity"] == ("ok" if connection.vendor == "sqlite" else "kept by PostgreSQL")
        assert "Only the lead" in Api("installer").post("backups")["sentence"]
