"""Logs: what is true of a job because of them, and what is judged again when that changes."""

from __future__ import annotations

from django.apps import AppConfig


class LogsConfig(AppConfig):
    name = "ventmap.server.logs"

    def ready(self) -> None:
        from ..jobs.living import FACTS, JUDGES
        from ..jobs.under_way import RESCUES
        from . import captured, living

        FACTS.append(living.facts)
        RESCUES["capture"] = captured.rescue
        JUDGES["log"] = (living.newest, living.judge_newest)
        JUDGES["mixture"] = (living.corrected_from, living.mixture_again)
