"""An act of the API is whole, comes after whoever came before, and is done once."""

from __future__ import annotations

import threading
from collections import Counter
from collections.abc import Sequence
from contextlib import contextmanager

import pytest
from django.db import close_old_connections, connection
from django.test import Client

from tests.conftest import Api
from tests.shopwork import BOARD, J, log, picture, send, steps, to_map, until, write
from ventmap.server.acts import SAFE, kind_of
from ventmap.server.api import api
from ventmap.server.jobs.acting import changing
from ventmap.server.jobs.models import Job, LedgerEntry, Photo
from ventmap.server.maps.models import DraftEdit, MapVersion
from ventmap.server.shelf.models import ShelfItem

LINE = "jobs/0005/sheets/brandrel-line"
#: Tables that are written beside an act: who is here, what runs, what a computer remembers of itself.
BESIDE = ("session", "signedin", "wrongtry", "underway", "pretendcomputer", "auth_user")


def operations():
    for router in api._get_bound_routers():
        for path, view in router.path_operations.items():
            for operation in view.operations:
                if not SAFE.issuperset(operation.methods):
                    yield f"{'/'.join(operation.methods)} {path}", operation


def test_what_waits_or_only_asks_says_so_beside_itself():
    kinds = {name: kind_of(operation) for name, operation in operations()}
    assert set(kinds.values()) == {"acts", "asks", "waits"}
    assert all(operation.view_func.why for _, operation in operations() if kind_of(operation) == "waits")
    # What changes a job's record without a file or a vehicle is always held whole.
    for name in (
        "POST /jobs/{number}/notes",
        "PUT /jobs/{number}/intake",
        "POST /ledger/{entry_id}/overrule",
    ):
        assert kinds[name] == "acts"


@contextmanager
def kept():
    """Tables that were written, one list for each time that the database was asked to keep them."""
    pieces, now = [], []

    def watch(execute, sql, params, many, context):
        words = sql.split(None, 3)
        if words[0] in ("INSERT", "UPDATE", "DELETE"):
            table = next(word for word in words[1:] if word not in ("INTO", "FROM")).strip('"')
            (now if connection.in_atomic_block else own).append(table)
            if not connection.in_atomic_block:
                pieces.append([table])
        return execute(sql, params, many, context)

    own: list[str] = []
    commit = connection._commit

    def keep():
        if now:
            pieces.append([*now])
            now.clear()
        return commit()

    connection._commit = keep
    try:
        with connection.execute_wrapper(watch):
            yield pieces
    finally:
        del connection._commit


class Watched(Api):
    """Counts how often the database was asked to keep something, by request."""

    def call(self, method, path, body=None):
        with kept() as pieces:
            answer = super().call(method, path, body)
        beside = [all(any(b in table for b in BESIDE) for table in piece) for piece in pieces]
        # That there was power is noted before there is any.
        powered = [set(piece) == {"jobs_job"} for piece in pieces]
        weighty = [p for p, one, other in zip(pieces, beside, powered, strict=True) if not (one or other)]
        if len(weighty) > 1:
            self.torn[f"{method} {path}"] = weighty
        self.seen[method] += bool(weighty)
        return answer

    torn: dict[str, list[list[str]]]
    seen: Counter[str]


@pytest.fixture
def watched(shop) -> Watched:
    Watched.torn, Watched.seen = {}, Counter()
    return Watched()


def test_a_job_is_kept_request_by_request_whole(watched):
    """A kill between two writes of one act cannot be: there is one moment at which an act is kept."""
    watched.post(f"{J}/notes", {"text": "played anew", "stage": "fit"})
    to_map(watched)
    write(watched)
    for act in ("key-on", "pedal", "start"):
        watched.post(f"{J}/{act}")
        assert watched.status == 200
    log(watched)
    watched.post(f"{J}/mixture")
    watched.post(f"{J}/runs", {"when": "before"})
    watched.post(f"{J}/runs", {"when": "after"})
    watched.post(f"{J}/report")
    assert watched.status == 200
    sheet = watched.get(LINE)
    where = {"target": "fuel_trim.1", "top": 1, "left": 1, "bottom": 1, "right": 1}
    edit = {"revision": sheet["revision"], "operation": "add", "amount": "1", **where}
    watched.post(f"{LINE}/edits", edit)
    watched.post(f"{LINE}/kept", {"note": "leaner by a hair"})
    assert watched.status == 200
    assert watched.seen["post"] > 30
    assert watched.torn == {}


def test_a_file_and_its_story_are_kept_in_one_piece(watched):
    road = b"Time (s),Engine speed (rpm)\n" + b"".join(b"%.1f,900\n" % (n / 10) for n in range(100))
    with kept() as pieces:
        assert send(watched, "logs?name=road.csv&job=0001", road)["rows"] == 100
    whole = [piece for piece in pieces if any("logfile" in table for table in piece)]
    assert len(whole) == 1
    # The row that would tell of a cut goes in the very moment in which the log is there.
    assert {"jobs_ledgerentry", "jobs_underway"} <= set(whole[0])
    with kept() as pieces:
        send(watched, f"{J}/photos?name=a.jpg", picture())
    assert [sorted(set(piece)) for piece in pieces if "jobs_photo" in piece] == [
        ["jobs_job", "jobs_ledgerentry", "jobs_photo"]
    ]


def test_a_refusal_takes_back_what_it_had_written(lead, monkeypatch):
    from ventmap.core.basics import BadInput
    from ventmap.server.jobs import ledger

    def half(*given, **named):
        write(*given, **named)
        raise BadInput("Refused after it was written.", "text")

    write = ledger.write
    before = LedgerEntry.objects.count(), Job.objects.get(number="0001").revision
    monkeypatch.setattr(ledger, "write", half)
    lead.post(f"{J}/notes", {"text": "half", "stage": "fit"})
    assert lead.status == 422
    assert (LedgerEntry.objects.count(), Job.objects.get(number="0001").revision) == before


class TestOnce:
    def entry(self, who: Api, key: str, text: str, job: str = J):
        return who.client.post(
            f"/api/{job}/notes",
            {"text": text, "stage": "fit"},
            content_type="application/json",
            headers={"X-Entry": key},
        )

    def test_an_entry_whose_answer_was_lost_is_answered_again_and_done_once(self, lead):
        first, again = (self.entry(lead, "key-1", "belt squeals") for _ in range(2))
        assert first.status_code == again.status_code == 200
        assert first.json() == again.json()
        assert LedgerEntry.objects.filter(title="belt squeals").count() == 1
        self.entry(lead, "key-2", "belt squeals")
        assert LedgerEntry.objects.filter(title="belt squeals").count() == 2

    def test_a_key_is_one_persons_and_one_addresss(self, lead):
        self.entry(lead, "key-1", "of the lead")
        self.entry(Api("installer"), "key-1", "of the installer")
        self.entry(lead, "key-1", "of another job", "jobs/0002")
        assert LedgerEntry.objects.filter(title__startswith="of ").count() == 3

    def test_what_was_refused_may_be_sent_again(self, lead):
        key = next(key for key, step in steps(lead, J).items() if step["evidence"] == "tick")
        address, given = f"/api/{J}/steps/{key}/undo", {"headers": {"X-Entry": "key-3"}}
        assert self.entry(lead, "key-3", "").status_code == 422
        assert self.entry(lead, "key-3", "with words now").status_code == 200
        assert lead.client.post(address, "{}", content_type="application/json", **given).status_code == 200

    def test_a_picture_sent_twice_is_one(self, lead):
        data = picture()
        first, again = (send(lead, f"{J}/photos?name=a.jpg", data) for _ in range(2))
        assert first["id"] == again["id"]
        assert Photo.objects.count() == 1


def at_once(requests: list[tuple[str, str, object]], people: Sequence[Api] = ()) -> list[tuple[int, dict]]:
    """Requests of as many tablets, sent in one moment: statuses and answers."""
    ready = threading.Barrier(len(requests))
    answers: list[tuple[int, dict] | None] = [None] * len(requests)
    signed_in = people or [Api() for _ in requests]

    def tablet(at: int, client: Client, method: str, path: str, body: object) -> None:
        close_old_connections()
        try:
            ready.wait()
            answer = getattr(client, method)(f"/api/{path}", body, content_type="application/json")
            answers[at] = answer.status_code, answer.json()
        finally:
            connection.close()

    threads = [
        threading.Thread(target=tablet, args=(at, person.client, *request))
        for at, (person, request) in enumerate(zip(signed_in, requests, strict=True))
    ]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return [answer for answer in answers if answer is not None]


def test_who_waits_too_long_is_told_that_the_shop_is_busy(lead, settings):
    """Somebody else's long work holds the shop: a second tablet is answered in words, and nothing is lost."""
    settings.PATIENCE_S = 0.2
    held, go_on = threading.Event(), threading.Event()

    def long_work() -> None:
        with changing(Job.objects.get(number="0001")):
            LedgerEntry.objects.filter(job__number="0001").update(source="held")
            held.set()
            go_on.wait(60)
        connection.close()

    thread = threading.Thread(target=long_work)
    thread.start()
    held.wait(60)
    note = ("post", f"{J}/notes", {"text": "in between", "stage": "fit"})
    try:
        [(status, told)] = at_once([note], [lead])
    finally:
        go_on.set()
        thread.join()
    assert status == 503, told
    assert "busy" in told["sentence"]
    assert not LedgerEntry.objects.filter(title="in between").exists()
    [(status, _)] = at_once([note], [lead])
    assert status == 200


EIGHT = range(8)


class TestEightAtOnce:
    """What was acknowledged stands, and what is one of a kind stays one, on every database."""

    def done(self, requests) -> list[dict]:
        answers = at_once(requests)
        assert len(answers) == len(requests)
        assert {status for status, _ in answers} <= {200, 409, 422, 503}, answers
        return [answer for status, answer in answers if status == 200]

    def test_notes(self, lead):
        done = self.done([("post", f"{J}/notes", {"text": f"note {n}", "stage": "fit"}) for n in EIGHT])
        assert len(done) == LedgerEntry.objects.filter(title__startswith="note ").count() == 8

    def test_jobs_are_numbered(self, lead):
        before = Job.objects.count()
        body = {"vehicle": "corvane-estate-20", "registration": "", "owner": ""}
        done = self.done([("post", "jobs", body) for _ in EIGHT])
        assert len({row["number"] for row in done}) == 8
        assert Job.objects.count() == before + 8

    def test_edits_of_one_sheet(self, lead):
        sheet = lead.get(LINE)
        bodies = [
            {"revision": sheet["revision"], "operation": "add", "amount": "1", "target": "fuel_trim.1"}
            | {"top": n, "bottom": n, "left": 1, "right": 1}
            for n in EIGHT
        ]
        done = self.done([("post", f"{LINE}/edits", body) for body in bodies])
        numbers = list(DraftEdit.objects.filter(draft__job__number="0005").values_list("number", flat=True))
        assert len(numbers) == len(set(numbers)) == len(done)
        assert lead.get(LINE)["edits"] == len(done)

    def test_versions_kept(self, lead):
        sheet = lead.get(LINE)
        where = {"target": "fuel_trim.1", "top": 1, "left": 1, "bottom": 1, "right": 1}
        edit = {"revision": sheet["revision"], "operation": "add", "amount": "1", **where}
        lead.post(f"{LINE}/edits", edit)
        self.done([("post", f"{LINE}/kept", {"note": f"why {n}"}) for n in EIGHT])
        names = list(MapVersion.objects.filter(job__number="0005").values_list("part", "version"))
        assert len(names) == len(set(names))

    def test_versions_chosen(self, lead):
        mine = MapVersion.objects.filter(job__number="0005")
        before = mine.count()
        requests = [("post", "jobs/0005/map-parts/brandrel-line/maps", {"key": "q660-race"}) for _ in EIGHT]
        done = self.done(requests)
        names = list(mine.values_list("part", "version"))
        assert len(names) == len(set(names)) == before + len(done)

    def test_a_step_answered_eight_ways(self, lead):
        key = next(key for key, step in steps(lead, J).items() if step["evidence"] == "reading")
        readings = [("post", f"{J}/steps/{key}/done", {"reading": f"{10 + n}"}) for n in EIGHT]
        undone = [("post", f"{J}/steps/{key}/undo", {}) for _ in range(2)]
        self.done([*readings, *undone])
        standing = LedgerEntry.objects.filter(job__number="0001", standing=True)
        rules = list(standing.values_list("stage", "rule"))
        assert len(rules) == len(set(rules))
        step = steps(lead, J)[key]
        call = standing.filter(rule=f"step.{key}").first()
        assert step["done"] == (call is not None and call.verdict == "go")

    def test_readings_of_one_grid(self, lead):
        lead.post(f"{J}/notes", {"text": "played anew", "stage": "fit"})
        to_map(lead)
        key = next(key for key, step in steps(lead, J).items() if step["grid"] == "grounds")
        address = f"{J}/steps/{key}/grid"
        grid = lead.get(address)
        names = grid["about"]["grounds"]
        bodies = [
            {
                "revision": grid["revision"],
                "data": {"rows": [{"name": names[n % len(names)], "static": f"{n + 10} mV"}]},
            }
            for n in EIGHT
        ]
        done = self.done([("put", address, body) for body in bodies])
        assert lead.get(address)["revision"] == grid["revision"] + len(done)

    def test_things_of_one_name(self, lead):
        item = ShelfItem.objects.get(kind="vehicle", key="corvane-estate-20")
        bodies = [
            {"kind": "vehicle", "key": "eight-at-once", "name": f"Eight {n}", "body": item.body}
            for n in EIGHT
        ]
        done = self.done([("put", "shelf-items", body) for body in bodies])
        assert done
        assert ShelfItem.objects.filter(kind="vehicle", key="eight-at-once").count() == 1

    def test_people_of_one_name(self, lead):
        body = {
            "username": "rowan",
            "first": "R",
            "last": "W",
            "role": "installer",
            "phrase": "ten green vents 7",
        }
        assert len(self.done([("post", "people", body) for _ in EIGHT])) == 1

    def test_intake_seen_at_one_revision(self, lead):
        plate = lead.get(J)["plate"]
        from tests.shopwork import INTAKE

        body = {name: plate[name] for name in INTAKE}
        done = self.done([("put", f"{J}/intake", {**body, "complaint": f"it hums, says {n}"}) for n in EIGHT])
        assert len(done) == 1

    def test_timers_and_set_asides(self, lead):
        waits = next(key for key, step in steps(lead, J).items() if step["evidence"] == "timer")
        lead.post(f"{J}/steps/{waits}/done", {})
        aside = [("post", f"{J}/steps/{waits}/set-aside", {"because": f"it is cold, {n}"}) for n in range(4)]
        self.done([*aside, *(("post", f"{J}/steps/{waits}/done", {"anyway": True}) for _ in range(4))])
        assert Job.objects.get(number="0001").steps_done.filter(key=waits).count() <= 1

    def test_board_and_kit(self, lead):
        lead.post(f"{J}/notes", {"text": "played anew", "stage": "fit"})
        to_map(lead)
        rows = [
            ("put", f"{J}/load-board", {"answers": {name: BOARD[name]}})
            for name in BOARD
            if name != "measure"
        ]
        self.done(rows)
        board = until(lambda: lead.get(f"{J}/load-board"), lambda found: found["answers"])
        assert {name for _, _, body in rows for name in body["answers"]} <= set(board["answers"])
