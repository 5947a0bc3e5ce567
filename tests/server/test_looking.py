"""What a change has read holds until a table is written that it came from, and no longer."""

from __future__ import annotations

import pytest
from django.contrib.auth.models import User
from django.db import connection, transaction

from ventmap.server.jobs import acting
from ventmap.server.jobs.models import Job, LedgerEntry, StepDone
from ventmap.server.shop.access import full_name
from ventmap.server.shop.looking import between_writes, looking, tables_of, until_written
from ventmap.server.shop.people import with_people

ASKED: list[str] = []


@until_written
def _numbers() -> tuple[str, ...]:
    ASKED.append("numbers")
    return tuple(Job.objects.values_list("number", flat=True))


@until_written
def _how_many() -> int:
    ASKED.append("how many")
    return len(_numbers())


def _undone() -> None:
    with transaction.atomic():
        point = transaction.savepoint()
        Job.objects.filter(number="0001").update(complaint="gone again")
        _numbers()
        transaction.savepoint_rollback(point)


#: What is done in between → which of the two questions is asked anew.
DONE = {
    "nothing": (lambda: None, []),
    "another table": (lambda: StepDone.objects.filter(pk=0).update(words="x"), []),
    "a table of its own": (lambda: Job.objects.filter(number="0001").update(complaint="x"), ["numbers"]),
    "a row that is new": (
        lambda: Job.objects.create(number="0999", vehicle=Job.objects.get(number="0001").vehicle),
        ["numbers"],
    ),
    "a row that goes": (lambda: LedgerEntry.objects.filter(pk=0).delete(), []),
    "written and undone": (_undone, ["numbers", "numbers"]),
    "words that nobody can read": (
        lambda: connection.cursor().execute("WITH one AS (SELECT 1) SELECT * FROM one"),
        ["numbers"],
    ),
}


@pytest.mark.parametrize("done", DONE)
def test_an_answer_is_asked_anew_after_its_table_was_written_and_not_before(shop, done):
    act, anew = DONE[done]
    with transaction.atomic(), between_writes():
        _numbers()
        ASKED.clear()
        act()
        assert _numbers() == tuple(Job.objects.values_list("number", flat=True))
    assert anew == ASKED


def test_an_answer_made_from_a_kept_one_rests_on_its_tables_too(shop):
    with transaction.atomic(), between_writes():
        _numbers()
        before = _how_many()
        Job.objects.create(number="0999", vehicle=Job.objects.get(number="0001").vehicle)
        assert _how_many() == before + 1


def test_outside_a_change_nothing_is_kept(shop):
    ASKED.clear()
    assert _numbers() == _numbers()
    assert ASKED == ["numbers"] * 2


@pytest.mark.parametrize(
    ("sql", "read", "written"),
    [
        (
            'SELECT "a"."x" FROM "a" INNER JOIN "b" ON 1 WHERE EXISTS(SELECT 1 FROM "c")',
            {"a", "b", "c"},
            set(),
        ),
        ('UPDATE "a" SET "x" = (SELECT 1 FROM "b")', {"b"}, {"a"}),
        ('INSERT INTO "a" ("x") VALUES (1)', set(), {"a"}),
        ('DELETE FROM "a" WHERE 1', {"a"}, {"a"}),
        ("SAVEPOINT s1", set(), set()),
        ("ROLLBACK TO SAVEPOINT s1", set(), {"*"}),
        ("VACUUM", set(), {"*"}),
    ],
)
def test_tables_of_a_statement(sql, read, written):
    found = tables_of(sql)
    assert found[0] == read
    assert found[1] == written


def test_a_word_for_the_record_judges_nothing_anew_and_anything_else_does(lead, monkeypatch):
    settled: list[str] = []
    monkeypatch.setattr(acting, "AFTER", [*acting.AFTER, lambda job: settled.append(job.number)])
    before = lead.get("jobs/0001/revision")
    lead.post("jobs/0001/notes", {"text": "Owner calls at four.", "stage": "intake"})
    assert settled == []
    assert lead.get("jobs/0001/revision") != before
    lead.post("jobs/0001/steps/intake.battery/done", {"reading": "12.6 V"})
    assert settled == ["0001"]
    job = Job.objects.get(number="0001")
    with acting.changing(job):
        acting.only_says()
        StepDone.objects.filter(job=job).update(words="x")
    assert settled == ["0001", "0001"], "it said that it only says, and wrote a step"


def test_people_of_many_rows_are_read_once_a_look(shop, django_assert_num_queries):
    lines = LedgerEntry.objects.order_by("id")[:20]
    with looking():
        with django_assert_num_queries(2):
            first = with_people(lines, "by", "overruled_by")
            told = {full_name(line.by) for line in first}
        with django_assert_num_queries(1):
            told_again = {full_name(line.by) for line in with_people(lines.all(), "by")}
    assert told_again == told
    assert told == {full_name(User.objects.get(pk=line.by_id)) for line in first}
    assert all(line.overruled_by is None for line in first if line.overruled_by_id is None)
