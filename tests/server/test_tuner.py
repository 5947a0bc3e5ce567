"""Rounds with a remote tuner: out, late and sometimes wrong back, taken only where nothing stands."""

from __future__ import annotations

import hashlib
import io
import json
import zipfile
from datetime import timedelta

import jsonschema
import pytest
from django.utils import timezone

from tests.conftest import ROOT
from tests.shopwork import J, by_hand, log, overrule, send, standing, to_map, write
from ventmap.core.forms import from_json
from ventmap.server.maps.models import MapVersion, TunerRound
from ventmap.standin import mailbox


def packed(lead, job=J):
    letter = lead.get(f"{job}/tuner")["letter"]
    told = lead.post(f"{job}/tuner/rounds", {"letter": letter + "\nIt pulls well below 3 000 rpm."})
    assert lead.status == 200, told
    return told["rounds"][-1]


def files_of(lead, job, number):
    data = lead.get(f"{job}/tuner/rounds/{number}/package")
    return data, zipfile.ZipFile(io.BytesIO(data))


def answered(lead, found, wrong=""):
    """The answer as the mailbox gives it, received as a file."""
    data, _ = files_of(lead, J, found["id"])
    return send(lead, f"{J}/tuner/reply?name=back.zip", mailbox.answer(data, wrong))


def verdicts(told):
    return {call["rule"]: call["verdict"] for call in told["calls"]}


@pytest.fixture
def ready(lead):
    """Job 0001 with a map, sent once."""
    return lead.at("sent to the tuner", lambda: (to_map(lead), packed(lead))[1])


def test_the_package_holds_what_its_schema_says_and_its_sums_are_true(lead, ready):
    _, files = files_of(lead, J, ready["id"])
    text = files.read("package.json")
    document = json.loads(text)
    jsonschema.validate(document, json.loads((ROOT / "formats" / "round-package.schema.json").read_text()))
    assert hashlib.sha256(text).hexdigest() == ready["sha256"]
    for one in [document["map"], *document["logs"]]:
        assert hashlib.sha256(files.read(one["file"])).hexdigest() == one["sha256"]
    assert document["vehicle"]["vin"]
    assert document["round"] == 1
    assert b"pulls well below" in files.read("letter.txt")


def test_a_round_goes_out_waits_and_its_file_becomes_the_next_version(lead):
    to_map(lead)
    write(lead)
    for act in ("key-on", "pedal", "start"):
        lead.post(f"{J}/{act}")
    by_hand(lead, J, "first-start")
    first = log(lead)
    found = packed(lead)
    lead.post(f"{J}/tuner/rounds/{found['id']}/post")
    told = lead.post(f"{J}/tuner/look")
    assert told["sentence"].startswith("Nothing yet")
    assert told["rounds"][-1]["state"] == "waiting"
    TunerRound.objects.update(due_at=timezone.now() - timedelta(seconds=1))
    told = lead.post(f"{J}/tuner/look")
    assert told["rounds"][-1]["state"] == "answered"
    assert told["rounds"][-1]["reply_letter"].startswith("Fuel by")
    for rule, verdict in verdicts(told).items():
        assert verdict != "stop", rule
        if verdict == "hold":
            overrule(lead, J, rule, "The tuner explained it on the telephone.")
    told = lead.post(f"{J}/tuner/rounds/{found['id']}/take")
    assert lead.status == 200, told
    version = MapVersion.objects.filter(job__number="0001").last()
    assert told["rounds"][-1]["taken"] == version.version == "r1"
    assert version.document == from_round(found)
    write(lead)
    lead.post(f"{J}/start")
    second = log(lead)
    shares = [lead.get(f"{J}/proposal?log_id={one['id']}")["within"] for one in (first, second)]
    assert shares[1] > shares[0] + 5, "a competent answer makes the log better"
    told = lead.get(f"{J}/report")["rounds"]
    assert [one["number"] for one in told] == [1]
    assert told[0]["came"].startswith("taken as map r1")


def from_round(found):
    return bytes(TunerRound.objects.get(pk=found["id"]).reply).decode()


@pytest.mark.parametrize(
    ("wrong", "rule", "verdict"),
    [
        ("another vehicle", "tuner.vehicle", "stop"),
        ("an old version", "tuner.newer", "hold"),
        ("too lean", "tuner.leaner", "stop"),
        ("damaged", "tuner.whole", "stop"),
    ],
)
def test_a_wrong_file_is_held_or_stopped_with_its_reason_and_never_taken(lead, ready, wrong, rule, verdict):
    told = answered(lead, ready, wrong)
    assert lead.status == 200, told
    assert verdicts(told)[rule] == verdict
    before = MapVersion.objects.filter(job__number="0001").count()
    refused = lead.post(f"{J}/tuner/rounds/{ready['id']}/take")
    assert lead.status == 422
    assert refused["sentence"]
    assert MapVersion.objects.filter(job__number="0001").count() == before
    if verdict == "stop":
        entry = standing(lead, J)[rule]
        lead.post(f"ledger/{entry['id']}/overrule", {"reason": "The tuner says it is fine."})
        assert lead.status == 403
    left = lead.post(f"{J}/tuner/rounds/{ready['id']}/leave")
    assert left["calls"] == []
    assert left["rounds"][-1]["state"] == "set aside"
    assert not any(name.startswith("tuner.") for name in standing(lead, J)), "what was left weighs no more"
    lead.post(f"{J}/tuner/rounds/{ready['id']}/take")
    assert lead.status == 422


def test_a_file_is_matched_to_its_job_and_round(lead, ready):
    data, _ = files_of(lead, J, ready["id"])
    first = mailbox.answer(data)
    second = packed(lead)
    assert second["number"] == 2
    assert verdicts(send(lead, f"{J}/tuner/reply", first))["tuner.round"] == "hold", (
        "it answers the round before"
    )
    lead.post(f"{J}/tuner/rounds/{second['id']}/take")
    assert lead.status == 422, "nothing came back for the second"
    foreign = json.loads(zipfile.ZipFile(io.BytesIO(first)).read("reply.json"))
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as files:
        files.writestr("reply.json", json.dumps({**foreign, "package": "0" * 64}))
        files.writestr("map.json", zipfile.ZipFile(io.BytesIO(first)).read("map.json"))
    assert verdicts(send(lead, f"{J}/tuner/reply", out.getvalue()))["tuner.round"] == "stop"


def test_a_bare_map_and_bad_files_are_answered_in_words(lead, ready):
    document = MapVersion.objects.filter(job__number="0001").last().document
    assert from_json(document)
    bare = verdicts(send(lead, f"{J}/tuner/reply?name=map.json", document.encode()))
    assert (bare["tuner.whole"], bare["tuner.round"], bare["tuner.newer"]) == ("hold", "hold", "hold")
    for data in (b"PK\x03\x04 not whole", b"", b"hello"):
        told = send(lead, f"{J}/tuner/reply?name=odd.zip", data)
        assert lead.status in (200, 422), told
        if lead.status == 200:
            assert verdicts(told)["tuner.whole"] == "stop"
    lead.post(f"{J}/tuner/rounds", {"letter": " "})
    assert lead.status == 422
    send(lead, "jobs/0002/tuner/reply", document.encode())
    assert lead.status == 422, "no round was sent from there"
