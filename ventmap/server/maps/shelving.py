"""A map that proved right, kept on the shelf for the next vehicle of its kind."""

from __future__ import annotations

import json
from dataclasses import replace

from django.contrib.auth.models import User
from django.db import transaction

from ventmap.core.forms import to_json, without_wishes

from ..jobs import ledger
from ..jobs.models import Job
from ..shelf.models import ShelfItem
from ..shelf.services import free_key, plain_called, put
from .services import calibration_of, version_by


@transaction.atomic
def shelve(job: Job, version_id: int, name: str, by: User) -> ShelfItem:
    """Put a version of a job's map on the shelf; the one vehicle's number and its owner's wishes do
    not go with it.

    Raises
    ------
    BadInput
        Where the name is missing or taken.
    """
    version = version_by(job, version_id)
    called = plain_called("map", name)
    source = without_wishes(calibration_of(version))
    fresh = replace(source, name=called, identity=replace(source.identity, vin=""))
    body = json.loads(to_json(fresh))
    item = put({"kind": "map", "key": free_key("map", called), "name": called, "body": body}, job.practice)
    ledger.write(job, "base-map", "note", f"Kept for the next one: map {version.version}", by, called)
    return item
