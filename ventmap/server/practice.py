"""The sample shop: filling an empty one, or beside an own one for practice, and gone without a trace."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.auth.models import User
from django.db import transaction
from django.http import HttpRequest
from ninja import Router, Schema

from ventmap.core.basics import BadInput
from ventmap.core.forms import from_json

from .jobs.assemble import linked
from .jobs.injector_choice import choose_injectors
from .jobs.intake import open_job
from .jobs.kit import change_kit
from .jobs.models import Job
from .maps.choosing import choose_map
from .schemas import Done
from .shelf.models import ShelfItem
from .shelf.signals import leaving
from .shop.access import lead
from .shop.acts import waits
from .shop.models import House

DEMO = Path(settings.BASE) / "demo"
router = Router(tags=["shop"])


def sample() -> dict[str, Any]:
    """What the sample shop is: house, people, jobs."""
    return dict(json.loads((DEMO / "shop.json").read_text(encoding="utf-8")))


def _items() -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = []
    for file in sorted((DEMO / "shelf").glob("*.json")):
        found += json.loads(file.read_text(encoding="utf-8"))
    for file in sorted((DEMO / "maps").rglob("*.json")):
        text = file.read_text(encoding="utf-8")
        found.append(
            {"kind": "map", "key": file.stem, "name": from_json(text).name, "body": json.loads(text)}
        )
    return found


def put_in(by: User, practice: bool) -> int:
    """Put the sample's shelf and jobs in; how many jobs. What stands under the same key stays as it is."""
    have = set(ShelfItem.objects.values_list("kind", "key"))
    for item in _items():
        if (item["kind"], item["key"]) not in have:
            ShelfItem.objects.create(**item, practice=practice)
    jobs = sample()["jobs"]
    for entry in jobs:
        job = open_job(entry["vehicle"], entry["registration"], entry["owner"], by)
        for key, value in entry.get("details", {}).items():
            setattr(job, key, value)
        job.practice = practice
        job.save()
        if "devices" in entry:
            change_kit(job, entry["devices"], entry.get("pump", ""), by)
        job.refresh_from_db()
        if "injectors" in entry:
            choose_injectors(job, entry["injectors"], by)
        for device, key in entry.get("maps", {}).items():
            written = linked(job) and device == entry["devices"][0]
            choose_map(job, key, by, "" if written else device)
    return len(jobs)


@transaction.atomic
def take_out() -> tuple[int, int]:
    """Take practice jobs and things out, with their history and files: (jobs gone, things that stay).

    A thing that an own job uses stays, as the shop's own.
    """
    jobs = list(Job.objects.filter(practice=True))
    files: list[Path] = []
    for job in jobs:
        files += _files(job)
        for name in ("tuner_rounds", "runs", "loads", "logs", "saved_images"):
            getattr(job, name).all().delete()
        job.maps.update(parent=None)  # type: ignore[attr-defined]
        job.maps.all().delete()  # type: ignore[attr-defined]
        past = [row.history for row in job.grids.all()]  # type: ignore[attr-defined]
        for history in past:
            history.all().delete()
        job.history.all().delete()  # type: ignore[attr-defined]
        number = job.pk
        job.delete()
        Job.history.filter(id=number).delete()
    stay = 0
    for item in ShelfItem.objects.filter(practice=True):
        if any(names for _, names in leaving.send(ShelfItem, item=item)):
            item.practice = False
            item.save()
            stay += 1
            continue
        key = item.pk
        item.delete()
        ShelfItem.history.filter(id=key).delete()
    transaction.on_commit(lambda: _remove(files))
    return len(jobs), stay


def _remove(files: list[Path]) -> None:
    for path in files:
        path.unlink(missing_ok=True)


def _files(job: Job) -> list[Path]:
    """Pictures and logs of a job, as they lie in the data folder."""
    rows: list[Any] = [*job.photos.all(), *job.files.all(), *job.logs.all()]  # type: ignore[attr-defined]
    return [Path(settings.MEDIA_ROOT) / row.path for row in rows if row.path]


class PracticeOut(Schema):
    jobs: int
    things: int
    own: bool
    """This is a shop of its own: the sample can be put beside it."""


@router.get("/practice-shop", response=PracticeOut)
def practice(request: HttpRequest) -> Any:
    return {
        "jobs": Job.objects.filter(practice=True).count(),
        "things": ShelfItem.objects.filter(practice=True).count(),
        "own": not House.current().is_sample,
    }


@router.put("/practice-shop", response=Done)
@waits("plays a whole day")
def add_practice(request: HttpRequest) -> Any:
    """Put the sample shop beside the own one, for practice; its jobs are marked wherever they show."""
    by = lead(request)
    if House.current().is_sample:
        raise BadInput("This is the sample shop already.", "practice")
    if Job.objects.filter(practice=True).exists():
        raise BadInput("The practice jobs are in already.", "practice")
    with transaction.atomic():
        count = put_in(by, practice=True)
    return {"sentence": f"{count} practice jobs are on the floor, marked on every screen."}


@router.delete("/practice-shop", response=Done)
@waits("removes a whole day")
def remove_practice(request: HttpRequest) -> Any:
    """Take it out again, without a trace."""
    lead(request)
    gone, stay = take_out()
    rest = f"; {stay} things stay, for own jobs use them" if stay else ""
    return {"sentence": f"{gone} practice jobs and their things are gone{rest}."}
