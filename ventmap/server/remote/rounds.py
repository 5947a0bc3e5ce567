"""Rounds with a remote tuner: on their way, come back, matched by checksum, judged, and only then taken."""

from __future__ import annotations

from datetime import timedelta

from django.contrib.auth.models import User
from django.utils import timezone

from ventmap.core.basics import BadInput, Call, VentMapError, standard_pressure
from ventmap.core.corrections import (
    Came,
    CameBack,
    Wanted,
    file_calls,
    keeps_injectors,
    take_apart,
    unreadable_call,
)
from ventmap.core.forms import read_map_file

from .. import bench
from ..jobs import ledger
from ..jobs.acting import changes_job
from ..jobs.assemble import rules
from ..jobs.models import Job
from ..jobs.rows import NotFound, vehicle_of
from ..jobs.steps import finish
from ..maps.choosing import take_file
from ..maps.models import MapVersion, TunerRound
from ..maps.parts import main_part, wanted_of
from ..maps.services import calibration_of
from ..shop.apart import read_apart

STAGE, RULE = "correct", "tuner."


def round_by(job: Job, round_id: int) -> TunerRound:
    found = TunerRound.objects.filter(job=job, pk=round_id).first()
    if found is None:
        raise NotFound("There is no such round.", "round")
    return found


def post(found: TunerRound, by: User) -> None:
    """Into the bench's simulated mailbox: it answers after a while."""
    if found.state != "packed":
        raise BadInput("This round is on its way already.", "round")
    late = bench.mailbox_waits(bytes(found.package))
    found.state, found.due_at = "waiting", timezone.now() + timedelta(seconds=late)
    found.save(update_fields=["state", "due_at"])
    ledger.write(found.job, STAGE, "map", f"Round {found.number} sent to the mailbox", by)


def look(job: Job, by: User) -> str:
    """Whether the mailbox has answered; what came is judged. A sentence where nothing has."""
    found = TunerRound.objects.filter(job=job, state="waiting").last()
    if found is None or found.due_at is None:
        return "No round is on its way."
    left = (found.due_at - timezone.now()).total_seconds()
    if left > 0:
        return f"Nothing yet: the tuner answers when they can. Sent {_ago(found)} ago."
    try:
        data = bench.mailbox_answers(bytes(found.package))
    except VentMapError as error:
        found.state = "packed"
        found.save(update_fields=["state"])
        return f"The tuner writes back: {error.sentence}"
    receive(job, data, "mailbox.zip", by)
    return ""


def _ago(found: TunerRound) -> str:
    seconds = (timezone.now() - found.made_at).total_seconds()
    return f"{seconds:.0f} s" if seconds < 120 else f"{seconds / 60:.0f} min"


def receive(job: Job, data: bytes, name: str, by: User) -> TunerRound:
    """A file that came back, matched to its round and judged; it is kept, and taken by nobody yet.

    Raises
    ------
    BadInput
        Where no round was sent, or it is no map at all.
    """
    if not TunerRound.objects.filter(job=job).exists():
        sentence = "No package was sent from this job: pack one first, then the answer can be matched."
        raise BadInput(sentence, "file")
    return _enter(job, read_apart(take_apart, data, name, size=len(data)), by)


@changes_job
def _enter(job: Job, came: CameBack, by: User) -> TunerRound:
    rounds = list(TunerRound.objects.filter(job=job))
    found = next((one for one in rounds if one.sha256 == came.reply.package), rounds[-1])
    digest = came.sha256
    calls, title = _judged(job, came, rounds)
    found.reply, found.reply_sha256, found.reply_letter = came.file, digest, came.letter
    # What is judged now is the newest file: an older one that was not taken is taken no more.
    TunerRound.objects.filter(job=job, state="answered").update(state="set aside")
    found.state = "taken" if found.state == "taken" else "answered"
    found.save()
    told = f"Round {found.number} came back: {title}"[:160]
    ledger.write(job, STAGE, "map", told, by, f"SHA-256 {digest[:16]}")
    ledger.withdraw(job, STAGE, RULE)
    ledger.judge(job, STAGE, calls, by)
    return found


def _judged(job: Job, came: CameBack, rounds: list[TunerRound]) -> tuple[list[Call], str]:
    reply, made, digest = came.reply, came.made, came.sha256
    if made is None:
        damaged = reply.sha256 and reply.sha256.lower() != digest
        # What was damaged on its way is told as that, whatever it became.
        sentence = "It was damaged on its way: have it sent again." if damaged else came.why_not
        return [unreadable_call(reply.sha256, digest, sentence)], "it cannot be read"
    newest = rounds[-1]
    part = main_part(job)
    last = calibration_of(newest.map) if newest.map else None
    want = wanted_of(job, part)
    versions = MapVersion.objects.filter(job=job, part=part.key)
    wanted = Wanted(
        package=newest.sha256,
        earlier={one.sha256 for one in rounds[:-1]},
        vin=job.vin,
        engine=vehicle_of(job).engine,
        computer=want.computer,
        last=last,
        had={row.sha256: row.version for row in versions},
        barometer_kpa=standard_pressure(job.altitude_m),
        boosted=vehicle_of(job).boosted,
    )
    return file_calls(Came(reply.package, reply.sha256, digest, made), wanted, rules(job)), made.name


@changes_job
def take(job: Job, found: TunerRound, by: User) -> MapVersion:
    """The file that came back becomes the next version, where nothing stops it and each hold was answered.

    Raises
    ------
    BadInput
        Naming the first call that stands in its way.
    """
    if found.state != "answered" or not found.reply:
        raise BadInput("Nothing came back for this round that could be taken.", "round")
    standing = job.ledger.filter(stage=STAGE, rule__startswith=RULE, standing=True, overruled_by=None)
    first = standing.filter(verdict="stop").first() or standing.filter(verdict="hold").first()
    if first is not None:
        raise BadInput(f"{first.title}: {first.text}", "file")
    version = take_file(job, read_map_file(bytes(found.reply)), by, part_key=found.part)
    # A file that kept the injectors of the map it answers needs nobody to set them again.
    sent = calibration_of(found.map) if found.map is not None and not found.part else None
    if sent is not None and keeps_injectors(sent, calibration_of(version), rules(job)):
        for step in ("base-map.flow", "base-map.dead_time"):
            finish(job, step, by)
    found.state, found.taken = "taken", version
    found.save(update_fields=["state", "taken"])
    return version


@changes_job
def leave(job: Job, found: TunerRound, by: User) -> None:
    """The file that came back is not taken: it stays on record, and what was found on it weighs no more."""
    if found.state != "answered":
        raise BadInput("Nothing came back for this round that could be left.", "round")
    found.state = "set aside"
    found.save(update_fields=["state"])
    ledger.withdraw(job, STAGE, RULE)
    told = f"Round {found.number}: its file is not taken"
    ledger.write(job, STAGE, "note", told, by, f"SHA-256 {found.reply_sha256[:16]}")
