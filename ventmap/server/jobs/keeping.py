"""What a job learned, kept on the shelf for the next one; and a variant of what stands there."""

from __future__ import annotations

from django.contrib.auth.models import User

from ventmap.core.basics import BadInput, Vehicle, VentMapError, parse
from ventmap.core.needs import Learned, Worked, kept, learned

from ..shelf.models import ShelfItem
from ..shelf.services import free_key, plain_called, put, record_of
from . import ledger
from .acting import changes_job
from .asks import told_now
from .baseline import baseline_out
from .inquiry import settle_vehicle
from .known import things_of
from .models import Job


def worked(job: Job) -> Worked:
    """What was read, waited and measured on a job."""
    done = list(job.steps_done.filter(set_aside="").order_by("at"))
    minutes: dict[str, float] = {}
    for before, after in zip(done, done[1:], strict=False):
        if before.by_id == after.by_id:
            minutes[after.key] = (after.at - before.at).total_seconds() / 60
    sleep = job.timers.filter(step="make-safe.asleep").exclude(ended_at=None).last()
    return Worked(
        readings={row.key: row.reading for row in done if row.reading is not None},
        slept_s=(sleep.ended_at - sleep.started_at).total_seconds() if sleep and sleep.ended_at else None,
        seats_mm=_seats(job),
        identity=_identity(job),
        minutes=minutes,
    )


def _seats(job: Job) -> dict[str, float]:
    """Lower seat to rail seat of the old and the new injectors, where the spacers were summed up."""
    row = job.grids.filter(step="sum.spacer-stack").first()
    found: dict[str, float] = {}
    for of, name in (("vehicle", "old"), ("injector", "new")):
        try:
            found[of] = parse(str(row.data.get(name, "")), "length") if row else 0.0
        except VentMapError:
            continue
    return {of: mm for of, mm in found.items() if mm > 0}


def _identity(job: Job) -> dict[str, str]:
    read = baseline_out(job)["identity"]
    return {"computer": read.get("computer", ""), "calibration": read.get("calibration", "")}


def offers(job: Job) -> list[Learned]:
    return learned(things_of(job), worked(job))


@changes_job
def keep(job: Job, ids: list[str], by: User) -> list[Learned]:
    """Keep what was chosen on the records of the things themselves, with who, when and source.

    Raises
    ------
    BadInput
        Where something is not on offer any more.
    """
    on_offer = {item.id: item for item in offers(job)}
    strange = [one for one in ids if one not in on_offer]
    if strange:
        raise BadInput("This is not on offer any more: somebody kept it, or it was read anew.", "keep")
    for one in ids:
        item = on_offer[one]
        row = ShelfItem.objects.get(kind=item.of, key=item.key)
        body = kept(row.body, item)
        if item.field != "minutes":
            body["told"] = {**body.get("told", {}), item.field: told_now("measured here", by)}
        put({"kind": row.kind, "key": row.key, "name": row.name, "body": body})
        ledger.write(
            job, "hand-over", "note", f"Kept for the next one: {item.title}", by, f"{item.name}: {item.shown}"
        )
    return [on_offer[one] for one in ids]


@changes_job
def new_variant(job: Job, name: str, tell_tale: str, here: str, there: str, by: User) -> ShelfItem:
    """This one differs: a variant of the job's vehicle, and what tells it from the one on the shelf.

    Raises
    ------
    BadInput
        Without a tell-tale, or with one that shows the same on both.
    """
    tale, mine, theirs = (" ".join(text.split()) for text in (tell_tale, here, there))
    if not tale or not mine or not theirs:
        raise BadInput(
            "A variant without a tell-tale cannot be told from its model: say what is looked at, what it"
            " shows here and what it shows on the other.",
            "tell_tale",
        )
    if mine.lower() == theirs.lower():
        raise BadInput("The tell-tale shows the same on both: look for one that differs.", "tell_tale")
    called = plain_called("vehicle", name)
    base = job.vehicle
    about = record_of(base, Vehicle)
    model, tales = about.model, about.tell_tales
    if tales.get(tale, theirs) != theirs:
        raise BadInput(
            f"{base.name} shows “{tales[tale]}” at its {tale}, by the shelf: which is right?", "there"
        )
    if tales.get(tale) != theirs:
        body = {**base.body, "tell_tales": {**tales, tale: theirs}}
        put({"kind": "vehicle", "key": base.key, "name": base.name, "body": body})
    fresh = {**base.body, "model": model, "tell_tales": {**tales, tale: mine}}
    item = put(
        {"kind": "vehicle", "key": free_key("vehicle", called), "name": called, "body": fresh}, job.practice
    )
    job.vehicle.refresh_from_db()
    settle_vehicle(job, item.key, {tale: mine}, by)
    return item
