"""Jobs, and what they listen to."""

from __future__ import annotations

from typing import Any

from django.apps import AppConfig


class JobsConfig(AppConfig):
    name = "ventmap.server.jobs"

    def ready(self) -> None:
        from ..shelf.services import CHANGED
        from ..shelf.signals import leaving, proving
        from . import living, plan_facts
        from .acting import AFTER

        AFTER.append(living.refresh)
        CHANGED.append(_judged_anew)
        plan_facts.register()
        leaving.connect(_users, dispatch_uid="jobs.users")
        proving.connect(_proved, dispatch_uid="jobs.proved")


def _judged_anew(item: Any) -> None:
    """What stands in open jobs that use a thing is held against it as it is now."""
    from . import floor
    from .acting import changing
    from .models import Job

    users = _users(None, item)
    open_ = Job.objects.exclude(steps_done__key="hand-over.told")
    for job in open_.filter(number__in=users):
        with changing(job):
            pass
    floor.keep(users)


def _users(sender: Any, item: Any, **_: Any) -> list[str]:
    """Jobs that use a thing on the shelf."""
    from .models import Job

    return [
        job.number
        for job in Job.objects.all()
        if item.pk in (job.vehicle_id, job.device_id, job.injectors_id, job.pump_id)
        or (item.kind == "device" and item.key in job.also)
    ]


def _proved(sender: Any, **_: Any) -> dict[tuple[str, str], int]:
    """In how many jobs that were handed over each thing on the shelf was used."""
    from .models import Job

    counts: dict[tuple[str, str], int] = {}
    ended = Job.objects.filter(steps_done__key="hand-over.told").select_related(
        "vehicle", "device", "injectors", "pump"
    )
    for job in ended:
        used = {(row.kind, row.key) for row in (job.vehicle, job.device, job.injectors, job.pump) if row}
        for one in used | {("device", key) for key in job.also}:
            counts[one] = counts.get(one, 0) + 1
    return counts
