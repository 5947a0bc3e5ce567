"""Five thousand requests that no screen sends, as each role: no fault of ours, every refusal a sentence."""

from __future__ import annotations

import io
import json
import random
from urllib.parse import quote, urlencode

import pytest
from django.core.management import call_command
from django.test import Client

from tests import fuzz, milestones
from tests.conftest import by_night, make_base_map
from tests.shopwork import picture
from ventmap.core.forms import pack_firmware, to_hex, to_json, to_workbook
from ventmap.core.lists import write_csv, write_workbook
from ventmap.server.api import api
from ventmap.server.doors import address_wrong
from ventmap.server.jobs.models import Job

DOCUMENT = json.loads(json.dumps(api.get_openapi_schema()))
#: Threads that outlive a request, seconds of work, or the loss of who asks; each has tests of its own.
LEAVE = {
    "post /api/jobs/{number}/captures",
    "post /api/jobs/{number}/loads",
    "post /api/jobs/{number}/report",
    "post /api/jobs/{number}/runs",
    "post /api/backups",
    "delete /api/sessions/current",
    "delete /api/sessions/{session_id}",
    "post /api/phrases",
    "put /api/people/{username}",
}


def given_files() -> list[bytes]:
    """One of each kind of file that a shop brings."""
    lists = [["Name", "Phone"], ["Rowan Ames", "=1+1"], ["Ida Holm", "55 12"]]
    map_ = make_base_map()
    program = pack_firmware("FW-P4", "2.4", b"program" * 50)
    log = b"Time (s),Engine speed (rpm),MAP (kPa)\n" + b"".join(b"%d,900,40\n" % n for n in range(60))
    run = b"rpm,Power (kW)\n" + b"".join(b"%d,%d\n" % (2000 + 200 * n, 40 + 5 * n) for n in range(20))
    pins = b"connector,number,colour,function,action\nA,1,red,power,keep\n"
    return [
        to_json(map_).encode(),
        to_workbook(map_),
        to_hex(map_).encode(),
        write_csv(*lists[:1], lists[1:]),
        write_workbook(*lists[:1], lists[1:]),
        program,
        log,
        run,
        pins,
        picture(),
    ]


def test_no_reading_of_a_grid_is_a_fault_of_ours(shop):
    """Whatever stands in the cells of any grid of any job: calls, or a sentence that names the cell."""
    from ventmap.core.basics import VentMapError
    from ventmap.core.grids import GRIDS, judge_grid
    from ventmap.server.jobs.assemble import run_sheet
    from ventmap.server.jobs.grids import about
    from ventmap.server.jobs.models import Job

    chance, met = random.Random(1), set()
    for job in Job.objects.all():
        for step in run_sheet(job).steps:
            if step.evidence != "grid":
                continue
            known, shape = about(job, step), GRIDS[step.grid].data.model_json_schema()
            met.add(step.grid)
            for _ in range(60):
                data = fuzz.cells(shape, shape.get("$defs", {}), chance, known)
                try:
                    judge_grid(step.grid, known, data)
                except VentMapError as error:
                    assert error.sentence
    assert len(met) >= 9


def the_day() -> None:
    """A shop that has people keeps them: it is emptied, or nothing of the day would be in it."""
    call_command("flush", "--noinput", verbosity=0)
    call_command("seed_demo", "--day", stdout=io.StringIO())
    assert Job.objects.count() == 14


@pytest.mark.parametrize("seed", [0, 1, *map(by_night, (2, 3, 4))])
def test_no_request_is_a_fault_of_ours(shop, seed):
    if seed % 2:
        milestones.at("the sample's day", the_day)
    from django.contrib.auth.models import User

    people = {user.username: user for user in User.objects.all()}
    clients = {}
    for role in ("lead", "installer", "viewer", ""):
        clients[role] = Client(SERVER_NAME="localhost", raise_request_exception=False)
        if role:
            clients[role].force_login(people[role])

    def ask(asked: fuzz.Asked) -> tuple[int, bytes, str]:
        # Django's own client comes in behind the doors: what they turn away never gets there.
        query = urlencode(asked.query or {}, doseq=True)
        wrong = address_wrong({"raw_path": quote(asked.path, "/%").encode(), "query_string": query.encode()})
        if wrong:
            return 400, json.dumps({"sentence": wrong, "field": None}).encode(), "application/json"
        answer = clients[asked.role].generic(
            asked.method, asked.path, asked.body, content_type=asked.kind, query_params=asked.query
        )
        body = b"" if answer.streaming else answer.content
        return answer.status_code, body, answer.get("Content-Type", "")

    statuses, faults = fuzz.run(ask, DOCUMENT, 1_000, seed, LEAVE, given_files())
    assert faults == [], "\n".join(faults[:5])
    assert len(statuses) >= 5, statuses
    assert statuses[200] > 100, statuses
