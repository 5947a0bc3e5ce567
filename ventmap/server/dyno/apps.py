"""Runs: what is true of a job because of them, and what is judged again when that changes."""

from __future__ import annotations

from django.apps import AppConfig


class DynoConfig(AppConfig):
    name = "ventmap.server.dyno"

    def ready(self) -> None:
        from ..jobs.living import FACTS, JUDGES
        from ..jobs.steps import WORK
        from . import living, services

        FACTS.append(living.facts)
        WORK["baseline.runs"] = lambda job: services.enough(job, "before")
        WORK["prove.runs"] = lambda job: services.enough(job, "after")
        JUDGES["gain"] = (living.counting, living.claim_falls)
