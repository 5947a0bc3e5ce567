"""Five thousand requests that no screen sends, as each role: no fault of ours, every refusal a sentence."""

from __future__ import annotations

import json
from urllib.parse import quote, urlencode

import pytest
from django.test import Client

from tests import fuzz
from tests.conftest import by_night
from ventmap.server.api import api
from ventmap.server.doors import address_wrong

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


@pytest.mark.parametrize("seed", [0, 1, *map(by_night, (2, 3, 4))])
def test_no_request_is_a_fault_of_ours(shop, seed):
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

    statuses, faults = fuzz.run(ask, DOCUMENT, 1_000, seed, LEAVE)
    assert faults == [], "\n".join(faults[:5])
    assert len(statuses) >= 5, statuses
    assert statuses[200] > 100, statuses
