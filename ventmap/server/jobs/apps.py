"""Jobs, and what they listen to."""

from __future__ import annotations

from typing import Any

from django.apps import AppConfig


class JobsConfig(AppConfig):
    name = "ventmap.server.jobs"

    def ready(self) -> None:
        from ..shelf.signals import leaving

        leaving.connect(_users, dispatch_uid="jobs.users")


def _users(sender: Any, item: Any, **_: Any) -> list[str]:
    """Jobs that use a thing on the shelf."""
    from .models import Job

    return [
        job.number
        for job in Job.objects.all()
        if item.pk in (job.vehicle_id, job.device_id, job.injectors_id, job.pump_id)
        or (item.kind == "device" and item.key in job.also)
    ]
