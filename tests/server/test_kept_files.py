"""What was given stays: a start removes nothing that a row names, a restore that is cut comes to its end."""

from __future__ import annotations

import hashlib
import sqlite3
import uuid
from contextlib import closing
from datetime import date, timedelta
from pathlib import Path

import pytest
from django.apps import apps
from django.core.management import call_command
from django.db import connection, models
from django.utils import timezone

from tests.shopwork import J, picture, send
from ventmap.server import backup, settling
from ventmap.server.jobs.models import Job
from ventmap.server.logs.models import ColdStart
from ventmap.server.shop import kept_files

ROAD = b"Time (s),RPM\n" + b"".join(b"%d,%d\n" % (n, 900 + n) for n in range(200))


def test_every_column_that_names_a_file_is_known():
    unknown = [
        f"{model.__name__}.{field.name}"
        for model in apps.get_models()
        for field in model._meta.concrete_fields
        if (isinstance(field, models.FileField) or field.name.endswith(("path", "file")))
        and model.__module__.startswith("ventmap")
        and not isinstance(field, kept_files.KeptPath)
        and not field.is_relation
    ]
    assert unknown == []
    assert len(list(kept_files.columns())) >= 3


def contents(root: Path) -> dict[str, str]:
    return {
        path.relative_to(root).as_posix(): hashlib.sha256(path.read_bytes()).hexdigest()
        for path in root.rglob("*")
        if path.is_file() and path.name != kept_files.MARK
    }


@pytest.fixture
def files(lead, settings, tmp_path) -> Path:
    """A shop with a file for each column that names one."""
    settings.DATA = tmp_path
    send(lead, "logs?name=road.csv&job=0001", ROAD)
    send(lead, f"{J}/photos?name=seen.jpg", picture())
    send(lead, f"{J}/files?name=stock.bin&role=stock%20image&part=fenwright-p4", ROAD)
    named = {(model, column) for model, column in kept_files.columns() if model.objects.exists()}
    job = Job.objects.get(number="0001")
    cold = settings.MEDIA_ROOT / "logs" / "cold.csv"
    cold.write_bytes(ROAD)
    ColdStart.objects.create(
        job=job,
        number=1,
        day=timezone.localdate(),
        name="cold.csv",
        path="logs/cold.csv",
        sha256=hashlib.sha256(ROAD).hexdigest(),
        verdict="go",
        by_id=job.ledger.first().by_id,
    )
    named.add((ColdStart, "path"))
    assert named == set(kept_files.columns()), "give this test a file of the new kind"
    return settings.MEDIA_ROOT


def test_starts_remove_nothing_that_a_row_names_and_set_aside_the_rest(files):
    given = contents(files)
    assert len(given) == 4
    assert settling.settle() == []
    assert settling.settle() == []
    (files / "logs" / "half.log").write_bytes(b"half")
    told = settling.settle()
    assert contents(files) == given
    assert "1 files" in told[0]
    lies = settling.aside() / str(timezone.localdate()) / "logs" / "half.log"
    assert lies.read_bytes() == b"half"
    assert settling.set_aside() == {timezone.localdate(): 1}


def test_what_was_set_aside_is_kept_a_month(files):
    days = {ago: timezone.localdate() - timedelta(days=ago) for ago in (0, 30, 31)}
    for day in days.values():
        (settling.aside() / str(day)).mkdir(parents=True)
    settling.settle()
    assert list(settling.set_aside()) == [days[30], days[0]]
    assert isinstance(days[0], date)


def test_files_whose_shop_nobody_said_are_left_at_the_first_start(files):
    (files / "logs" / "old.log").write_bytes(b"old")
    given = contents(files)
    assert "left where they are" in settling.settle()[0]
    assert contents(files) == given


def test_files_beside_an_empty_database_are_left(files):
    settling.settle()
    given = contents(files)
    call_command("flush", "--no-input", verbosity=0)
    assert settling.settle() == []
    assert contents(files) == given


def test_another_shops_files_are_left(files):
    kept_files.mark(uuid.uuid4())
    (files / "logs" / "theirs.log").write_bytes(b"theirs")
    given = contents(files)
    assert "another shop's" in settling.settle()[0]
    assert contents(files) == given


def test_a_file_that_a_row_names_and_that_is_gone_is_told(files):
    assert backup.missing_files() == []
    (files / "logs" / "cold.csv").unlink()
    assert backup.missing_files() == ["logs/cold.csv"]
    assert "logs/cold.csv" in settling.settle()[0]


def rows(database: Path) -> list[tuple[str]]:
    with closing(sqlite3.connect(database)) as file:
        return file.execute("SELECT number FROM jobs").fetchall()


def shop_at(data: Path, number: str) -> None:
    with closing(sqlite3.connect(data / backup.DATABASE)) as file:
        file.execute("CREATE TABLE jobs (number TEXT)")
        file.execute("INSERT INTO jobs VALUES (?)", (number,))
        file.commit()
    log = data / "files" / "logs" / f"{number}.log"
    log.parent.mkdir(parents=True)
    log.write_bytes(number.encode())


@pytest.mark.parametrize("cut", range(5))
def test_a_restore_that_is_cut_anywhere_is_brought_to_its_end(settings, tmp_path, monkeypatch, cut, db):
    """Moves: database and files aside, then what was brought in their place."""
    if connection.vendor != "sqlite":
        pytest.skip("a shop on PostgreSQL is backed up by its own pg_dump")
    old, new = tmp_path / "old", tmp_path / "new"
    for data, number in ((old, "0001"), (new, "0002")):
        data.mkdir()
        shop_at(data, number)
    settings.DATA, settings.MEDIA_ROOT = old, old / "files"
    monkeypatch.setattr(backup, "_source", lambda: old / backup.DATABASE)
    made = backup.make()
    settings.DATA, settings.MEDIA_ROOT = new, new / "files"
    done = 0

    def move(self: Path, target: Path) -> Path:
        nonlocal done
        if done == cut:
            raise KeyboardInterrupt
        done += 1
        return self.replace(target)

    monkeypatch.setattr(Path, "rename", move)
    if cut < 4:
        with pytest.raises(KeyboardInterrupt):
            backup.restore(made)
    else:
        backup.restore(made)
    monkeypatch.undo()
    if cut == 2:
        # Somebody opened the shop meanwhile: an empty one, with a journal of its own.
        for name in (backup.DATABASE, f"{backup.DATABASE}-wal"):
            (new / name).write_bytes(b"another shop's")
    assert backup.finish_restore(new) == (cut < 4)
    assert not (new / f"{backup.DATABASE}-wal").exists()
    assert rows(new / backup.DATABASE) == [("0001",)]
    assert contents(new / "files").keys() == {"logs/0001.log"}
    aside = next(new.glob("before-restore-*"))
    assert rows(aside / backup.DATABASE) == [("0002",)]
    assert (aside / "files" / "logs" / "0002.log").exists()
    assert not backup.finish_restore(new)
    assert not list(new.glob("restoring-*"))
