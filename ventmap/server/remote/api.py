"""Rounds with a remote tuner, over the API."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema

from ventmap.core.basics import Verdict, worst

from ..jobs import ledger
from ..jobs.rows import job_by
from ..maps.models import TunerRound
from ..schemas import CallOut, call_out
from ..shop.access import full_name, worker
from ..shop.acts import waits
from . import packing, rounds

router = Router(tags=["tuner"])


class TunerRoundOut(Schema):
    id: int
    number: int
    state: str
    map: str
    sha256: str
    letter: str
    made_at: datetime
    by: str
    reply_sha256: str
    reply_letter: str
    taken: str
    """Version that its file became."""


class TunerOut(Schema):
    letter: str
    """For the next round, from what the logs show; changed by who sends it."""
    rounds: list[TunerRoundOut]
    calls: list[CallOut]
    """What stands on the file that came last."""
    may_take: bool
    """Nothing stops it."""
    sentence: str = ""


class LetterIn(Schema):
    letter: str


def _out(number: str, sentence: str = "") -> dict[str, Any]:
    job = job_by(number)
    standing = job.ledger.filter(stage=rounds.STAGE, rule__startswith=rounds.RULE, standing=True)
    calls = [ledger.as_call(entry) for entry in standing.order_by("id")]
    return {
        "letter": packing.proposed(job),
        "rounds": [
            {
                "id": one.pk,
                "number": one.number,
                "state": one.state,
                "map": one.map.version if one.map else "",
                "sha256": one.sha256,
                "letter": one.letter,
                "made_at": one.made_at,
                "by": full_name(one.by),
                "reply_sha256": one.reply_sha256,
                "reply_letter": one.reply_letter,
                "taken": one.taken.version if one.taken else "",
            }
            for one in TunerRound.objects.filter(job=job).select_related("map", "taken", "by")
        ],
        "calls": [call_out(call) for call in calls],
        "may_take": worst(calls) is not Verdict.stop,
        "sentence": sentence,
    }


@router.get("/jobs/{number}/tuner", response=TunerOut)
def tuner(request: HttpRequest, number: str) -> Any:
    return _out(number)


@router.post("/jobs/{number}/tuner/rounds", response=TunerOut)
def pack_round(request: HttpRequest, number: str, body: LetterIn) -> Any:
    """Pack the next round, with the letter as it was changed."""
    packing.pack(job_by(number), body.letter, worker(request))
    return _out(number)


@router.get("/jobs/{number}/tuner/rounds/{round_id}/package")
def package(request: HttpRequest, number: str, round_id: int) -> HttpResponse:
    """The package as a zip, to be sent by whatever way the tuner reads."""
    found = rounds.round_by(job_by(number), round_id)
    response = HttpResponse(bytes(found.package), content_type="application/zip")
    response["Content-Disposition"] = f'attachment; filename="job-{number}-round-{found.number}.zip"'
    return response


@router.post("/jobs/{number}/tuner/rounds/{round_id}/post", response=TunerOut)
def post_round(request: HttpRequest, number: str, round_id: int) -> Any:
    """Into the simulated mailbox of this bench."""
    rounds.post(rounds.round_by(job_by(number), round_id), worker(request))
    return _out(number)


@router.post("/jobs/{number}/tuner/look", response=TunerOut)
def look(request: HttpRequest, number: str) -> Any:
    """Look into the mailbox."""
    return _out(number, rounds.look(job_by(number), worker(request)))


@router.put("/jobs/{number}/tuner/reply", response=TunerOut)
@waits("reads a file")
def reply(request: HttpRequest, number: str, name: str = "reply.zip") -> Any:
    """A file that came back by another way, sent as it is."""
    rounds.receive(job_by(number), request.body, name, worker(request))
    return _out(number)


@router.post("/jobs/{number}/tuner/rounds/{round_id}/take", response=TunerOut)
def take(request: HttpRequest, number: str, round_id: int) -> Any:
    """Make the file that came back the next version."""
    job = job_by(number)
    rounds.take(job, rounds.round_by(job, round_id), worker(request))
    return _out(number)


@router.post("/jobs/{number}/tuner/rounds/{round_id}/leave", response=TunerOut)
def leave(request: HttpRequest, number: str, round_id: int) -> Any:
    """Leave the file that came back: it stays on record, and holds nothing up."""
    job = job_by(number)
    rounds.leave(job, rounds.round_by(job, round_id), worker(request))
    return _out(number)
