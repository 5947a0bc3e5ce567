"""Runs: what is true of a job because of them, and what is judged again when that changes."""

from __future__ import annotations

from django.apps import AppConfig


class DynoConfig(AppConfig):
    name = "ventmap.server.dyno"

    def ready(self) -> None:
        from ..jobs.living import FACTS, JUDGES
        from . import living

        FACTS.append(living.facts)
        JUDGES["gain"] = (living.counting, living.claim_falls)
