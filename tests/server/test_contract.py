"""The API against its own document: whatever is sent, an answer of the promised shape or a sentence, never a
fault of ours.
"""

from __future__ import annotations

import json
from urllib.parse import unquote

import jsonschema
import pytest
import schemathesis
from django.test import Client
from hypothesis import HealthCheck, Phase, assume, given, settings
from hypothesis import strategies as st

from tests.conftest import Api
from ventmap.server.api import api

DOCUMENT = json.loads(json.dumps(api.get_openapi_schema()))
#: Each of these starts a thread, or takes seconds: they are walked in their own tests.
SLOW = {
    "/api/jobs/{number}/captures",
    "/api/jobs/{number}/loads",
    "/api/jobs/{number}/report",
    "/api/jobs/{number}/runs",
}
#: What a generated address is aimed at, so that it meets something that is there.
THERE = {
    "number": ["0003", "0001", "9999"],
    "key": ["fit.grounds", "fuel-pump", "intake.leaks"],
    "kind": ["pump"],
    "username": ["viewer"],
}


def operations():
    schema = schemathesis.openapi.from_dict(DOCUMENT)
    found = [result.ok() for result in schema.get_all_operations()]
    return [
        op
        for op in found
        if not op.path.endswith("/events") and not (op.method == "post" and op.path in SLOW)
    ]


@pytest.fixture(scope="module")
def people(django_db_setup, django_db_blocker):
    """The sample shop once for all operations: whatever they do to it, none may break it."""
    from django.contrib.auth.models import User
    from django.core.management import call_command

    with django_db_blocker.unblock():
        call_command("seed_demo")
        yield {name: User.objects.get(username=name) for name in ("lead", "viewer")}
        call_command("flush", "--no-input")


@pytest.mark.parametrize("operation", operations(), ids=lambda op: f"{op.method} {op.path}")
def test_every_operation_answers_as_promised(people, django_db_blocker, operation):
    success = (
        DOCUMENT["paths"][operation.path][operation.method]["responses"]
        .get("200", {})
        .get("content", {})
        .get("application/json", {})
        .get("schema")
    )

    @settings(
        max_examples=8,
        derandomize=True,
        database=None,
        phases=[Phase.generate],
        suppress_health_check=list(HealthCheck),
    )
    @given(operation.as_strategy(), st.data())
    def ask(case, data):
        for name in case.path_parameters or {}:
            if name in THERE:
                case.path_parameters[name] = data.draw(st.sampled_from(THERE[name]))
        client = Client(SERVER_NAME="localhost", raise_request_exception=False)
        client.force_login(
            people[data.draw(st.sampled_from(["lead", "lead", "viewer"]))],
            backend="django.contrib.auth.backends.ModelBackend",
        )
        body = (
            case.body
            if isinstance(case.body, bytes)
            else json.dumps(case.body)
            if isinstance(case.body, dict | list)
            else ""
        )
        # The doors refuse such an address (test_doors); this client comes in behind them.
        assume("\x00" not in "".join(map(str, (case.query or {}).values())) + unquote(case.formatted_path))
        answer = client.generic(
            case.method,
            case.formatted_path,
            body,
            content_type="application/json",
            query_params=case.query or {},
        )
        assert answer.status_code < 500, (case.formatted_path, body[:300], answer.content[:300])
        if answer.status_code == 200 and success and answer["Content-Type"].startswith("application/json"):
            jsonschema.validate(answer.json(), {**success, "components": DOCUMENT["components"]})
        elif answer.status_code >= 400 and answer.status_code != 405:
            assert answer.json()["sentence"].rstrip()[-1:] in ".?", answer.content

    with django_db_blocker.unblock():
        ask()


def test_the_document_is_served(shop):
    served = Api().get("openapi.json")
    assert served["paths"].keys() == DOCUMENT["paths"].keys()
    assert len(served["paths"]) > 70
