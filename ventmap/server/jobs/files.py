"""Files of other programs: kept byte for byte with the job, and what a tool writes and reads back held
to them.
"""

from __future__ import annotations

import hashlib
import uuid
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.auth.models import User
from django.utils import timezone

from ventmap.core.basics import BadInput, Call
from ventmap.core.loading import ROLES, TO_WRITE, HeldFile, picked_call, read_back_call

from ..shelf.models import ShelfItem
from ..shop import kept_files
from ..shop.access import full_name
from . import ledger
from .acting import changing
from .models import Job, JobFile
from .rows import NotFound, devices

LARGEST = 64_000_000
STAGE, RULE, BACK = "load", "load.picked", "load.reads_back"


def _data(name: str, data: bytes) -> tuple[str, str]:
    """What a file is called, and its SHA-256."""
    called = Path(name).name[:200] or "file"
    if not data:
        raise BadInput(f"{called} is empty.", "file")
    if len(data) > LARGEST:
        raise too_large(called, len(data))
    return called, hashlib.sha256(data).hexdigest()


def too_large(name: str, size: int) -> BadInput:
    return BadInput(f"{name} has {size / 1e6:.0f} MB; up to {LARGEST // 10**6} MB are kept.", "file")


def _places(job: Job) -> list[tuple[ShelfItem, str]]:
    """The devices of the kit, each with the tail of its rules."""
    return [(item, "" if n == 1 else f"-{n}") for n, item in enumerate(devices(job), 1)]


def _device(job: Job, part: str) -> tuple[ShelfItem, str]:
    """The device that a file is for, and the tail of its rules."""
    for item, tail in _places(job):
        if item.key == part or (not part and not tail):
            return item, tail
    raise NotFound(f"This job has no device “{part}”.", "part")


def keep(job: Job, part: str, role: str, round_: int, name: str, data: bytes, by: User) -> JobFile:
    """Keep a file in its role; the same one again is the one that is there.

    Raises
    ------
    BadInput
        Where it is empty, too large, or of no role.
    """
    called, digest = _data(name, data)
    if role not in ROLES:
        raise BadInput(f"What is it? One of {', '.join(ROLES)}.", "role")
    if not 0 <= round_ <= 999:
        raise BadInput("A round is a number from 0, for what the job began with.", "round")
    device, _ = _device(job, part)
    folder = Path(settings.MEDIA_ROOT) / "programs"
    folder.mkdir(parents=True, exist_ok=True)
    path = folder / uuid.uuid4().hex
    kept_files.put(path, data)
    try:
        with changing(job):
            there = job.files.filter(part=part, role=role, sha256=digest).first()
            if there is not None:
                path.unlink()
                return there
            row = JobFile.objects.create(
                job=job,
                part=part,
                role=role,
                round=round_,
                name=called,
                path=str(path.relative_to(settings.MEDIA_ROOT)),
                sha256=digest,
                size=len(data),
                by=by,
            )
            told = f"{role}, round {round_}, {len(data)} bytes, SHA-256 {digest[:16]}; unread"
            ledger.write(job, STAGE, "map", f"File kept: {called}, for {device.name}"[:160], by, told)
    except BaseException:
        path.unlink(missing_ok=True)
        raise
    return row


def _held(job: Job, part: str) -> list[HeldFile]:
    return [HeldFile(row.name, row.role, row.sha256, row.round) for row in job.files.filter(part=part)]  # type: ignore[arg-type]


def hold(job: Job, part: str, name: str, data: bytes, by: User, *, read_back: bool) -> Call:
    """Hold a file that a tool is about to write, or has read back, against those that are kept; nothing of it
    is kept but its sum. One that is *go* is told as picked, which is not yet written.
    """
    called, digest = _data(name, data)
    device, tail = _device(job, part)
    given = {"device": device.key, "part": part, "name": called, "sha256": digest}
    with changing(job):
        if read_back:
            row = job.files.filter(part=part).exclude(picked_at=None).order_by("-picked_at").first()
            was = HeldFile(row.name, row.role, row.sha256, row.round) if row else None  # type: ignore[arg-type]
            call = read_back_call(f"{BACK}{tail}", called, digest, was)
            if row is not None and call.verdict == "go":
                row.read_back_at = timezone.now()
                row.save(update_fields=["read_back_at"])
        else:
            call = picked_call(f"{RULE}{tail}", called, digest, _held(job, part))
            meant = job.files.filter(part=part, sha256=digest, role=TO_WRITE)
            if call.verdict == "go":
                meant.update(picked_at=timezone.now(), picked_by=by, read_back_at=None)
        ledger.judge(job, STAGE, [call], by, given)
    return call


def held_again(job: Job, by: User) -> None:
    """Another kit: what a tool held ready for a device says nothing of the one in its place; a device that
    came back is judged by what was held ready for it last.
    """
    there = {tail: item.key for item, tail in _places(job)}
    for entry in ledger.standing_in(job, STAGE):
        rule, _, tail = entry.rule.partition("-")
        place = tail and f"-{tail}"
        # Of an entry made before devices were kept with it, its place alone is known.
        another = place not in there or there[place] != entry.given.get("device", there[place])
        if rule in (RULE, BACK) and another:
            ledger.withdraw_one(job, STAGE, entry.rule)
    stands = {entry.rule for entry in ledger.standing_in(job, STAGE)}
    for item, tail in _places(job):
        # It may have had another place in the kit when it was held ready.
        last = job.ledger.filter(rule__startswith=RULE, given__device=item.key).first()
        rule = f"{RULE}{tail}"
        if last is not None and rule not in stands:
            held = _held(job, last.given["part"])
            call = picked_call(rule, last.given["name"], last.given["sha256"], held)
            ledger.judge(job, STAGE, [call], by, last.given)


def file_by(job: Job, file_id: int) -> JobFile:
    row = job.files.filter(pk=file_id).first()
    if row is None:
        raise NotFound("This file is gone.", "file")
    return row


def file_out(row: JobFile) -> dict[str, Any]:
    return {
        "id": row.pk,
        "part": row.part,
        "role": row.role,
        "round": row.round,
        "name": row.name,
        "size": row.size,
        "sha256": row.sha256,
        "who": full_name(row.by),
        "at": row.at,
        "picked_at": row.picked_at,
        "picked_by": full_name(row.picked_by) if row.picked_by else "",
        "read_back_at": row.read_back_at,
    }
