"""Files of other programs: any bytes are kept, and what is written or read back is held against them."""

from __future__ import annotations

import hashlib
from pathlib import Path

import pytest
from django.conf import settings

from tests.conftest import Api
from tests.shopwork import send, standing
from ventmap.core.basics import Verdict
from ventmap.core.loading import ROLES, HeldFile, picked_call, read_back_call
from ventmap.server.jobs.models import JobFile
from ventmap.server.shop import kept_files

J, PART = "jobs/0006", "harrowgate-flash"
ONE, TWO, STRANGE = b"\x00\xffround one" * 40, b"\x01\xferound two" * 40, b"of another car" * 9


@pytest.fixture
def lead(shop) -> Api:
    return Api()


def keep(api: Api, data: bytes, role: str, round_: int, name: str = "tune.bin", part: str = "") -> dict:
    return send(api, f"{J}/files?name={name}&role={role}&part={part or first_part(api)}&round={round_}", data)


def hold(api: Api, data: bytes, read_back: bool = False, name: str = "picked.bin") -> dict:
    asked = f"name={name}&part={first_part(api)}&read_back={str(read_back).lower()}"
    return send(api, f"{J}/held-files?{asked}", data)


def first_part(api: Api) -> str:
    return api.get(f"{J}/files")["parts"][0]["part"]


def test_a_file_is_kept_as_it_came_and_held_against_through_its_rounds(lead):
    assert hold(lead, ONE)["verdict"] == "hold"
    kept = keep(lead, ONE, "file to write", 1, name="tune 1 für Ada.bin")
    assert (kept["size"], kept["sha256"]) == (len(ONE), hashlib.sha256(ONE).hexdigest())
    assert kept["picked_at"] is None
    answer = lead.client.get(f"/api/{J}/files/{kept['id']}/content")
    assert b"".join(answer.streaming_content) if answer.streaming else answer.content == ONE
    assert hold(lead, ONE)["verdict"] == "go"
    assert lead.get(f"{J}/files")["files"][0]["picked_at"]
    assert hold(lead, TWO, read_back=True)["verdict"] == "hold"
    assert hold(lead, ONE, read_back=True)["verdict"] == "go"
    assert lead.get(f"{J}/files")["files"][0]["read_back_at"]
    keep(lead, TWO, "file to write", 2)
    assert hold(lead, ONE)["title"] == "This is an older file"
    assert hold(lead, TWO)["verdict"] == "go"


def test_another_cars_file_is_a_stop_that_nothing_but_the_right_one_lifts(lead):
    keep(lead, ONE, "file to write", 1)
    told = hold(lead, STRANGE)
    assert (told["verdict"], told["protects"]) == ("stop", "computer")
    entry = standing(lead, J)["load.picked"]
    lead.post(f"ledger/{entry['id']}/overrule", {"reason": "it is the same tune"})
    assert lead.status == 403
    slats = {slat["key"]: slat["barred"] for slat in lead.get(J)["slats"]}
    assert "another file" in slats["load"]["sentence"]
    assert slats["first-start"]
    assert hold(lead, ONE)["verdict"] == "go"
    assert not {slat["key"]: slat["barred"] for slat in lead.get(J)["slats"]}["load"]


def test_what_was_held_ready_for_a_device_that_is_gone_says_nothing_until_it_is_back(lead):
    keep(lead, ONE, "file to write", 1)
    assert hold(lead, STRANGE)["verdict"] == "stop"
    kit = [device["key"] for device in lead.get(f"{J}/kit")["devices"] if device["chosen"]]
    lead.put(f"{J}/kit", {"devices": ["kelmar-ethanol"]})
    assert lead.status == 200
    assert "load.picked" not in standing(lead, J)
    lead.put(f"{J}/kit", {"devices": kit})
    assert standing(lead, J)["load.picked"]["verdict"] == "stop"
    assert hold(lead, ONE)["verdict"] == "go"


def test_what_was_held_ready_goes_with_its_device_when_the_one_before_it_leaves(lead):
    second = first_part(lead)
    lead.put(f"{J}/kit", {"devices": ["tarn-body", second]})
    assert lead.status == 200
    keep(lead, ONE, "file to write", 1, part=second)
    told = send(lead, f"{J}/held-files?name=picked.bin&part={second}&read_back=false", STRANGE)
    assert told["verdict"] == "stop"
    lead.put(f"{J}/kit", {"devices": [second]})
    assert lead.status == 200
    assert standing(lead, J)["load.picked"]["verdict"] == "stop", "another place, the same file"


def test_the_same_file_again_is_the_one_that_is_there_and_nothing_is_swept(lead):
    first, again = (keep(lead, ONE, "stock image", 0) for _ in range(2))
    assert first["id"] == again["id"]
    row = JobFile.objects.get()
    assert row.path in kept_files.named_files()
    assert (Path(settings.MEDIA_ROOT) / row.path).read_bytes() == ONE
    assert len(list((Path(settings.MEDIA_ROOT) / "programs").iterdir())) == 1


def test_what_is_wrong_is_said_and_nothing_is_kept(lead):
    for path, data, word in (
        (f"{J}/files?name=a&role=tune&part={first_part(lead)}", ONE, "What is it?"),
        (f"{J}/files?name=a&role=other&part={first_part(lead)}", b"", "empty"),
        (f"{J}/files?name=a&role=other&part=nobody", ONE, "no device"),
        (f"{J}/files?name=a&role=other&part={first_part(lead)}&round=-1", ONE, "round"),
    ):
        told = send(lead, path, data)
        assert word in told["sentence"], told
    assert not JobFile.objects.exists()
    assert send(Api("viewer"), f"{J}/files?name=a&role=other&part={PART}", ONE)["sentence"]
    assert not JobFile.objects.exists()


@pytest.mark.parametrize("role", ROLES)
def test_only_the_rounds_own_file_is_a_go(role):
    """Whatever else is kept beside it: nothing else of the job, and nothing strange, is written on a go."""
    meant = HeldFile("r2", "file to write", "2" * 64, 2)
    beside = HeldFile("beside", role, "1" * 64, 1)
    kept = [beside, meant]
    assert picked_call("r", "x", "2" * 64, kept).verdict is Verdict.go
    assert picked_call("r", "x", "1" * 64, kept).verdict is Verdict.hold
    assert picked_call("r", "x", "3" * 64, kept).verdict is Verdict.stop
    assert picked_call("r", "x", "1" * 64, []).verdict is Verdict.hold
    later = HeldFile("r2 again", "file to write", "4" * 64, 2)
    assert picked_call("r", "x", "4" * 64, [*kept, later]).verdict is Verdict.go
    assert picked_call("r", "x", "2" * 64, [*kept, later]).verdict is Verdict.hold, "of one round the last"
    assert read_back_call("r", "x", "2" * 64, meant).verdict is Verdict.go
    assert read_back_call("r", "x", "3" * 64, meant).verdict is Verdict.hold
    assert read_back_call("r", "x", "3" * 64, None).verdict is Verdict.hold
