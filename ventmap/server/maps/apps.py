"""Maps: what is true of a job because of them, and what is judged again when that changes."""

from __future__ import annotations

from django.apps import AppConfig


class MapsConfig(AppConfig):
    name = "ventmap.server.maps"

    def ready(self) -> None:
        from ..jobs.gate import ON_IT_NOW
        from ..jobs.living import FACTS, JUDGES
        from ..jobs.stamp import STATE
        from ..jobs.steps import FORGET, UNREAD
        from . import living
        from .entering import entered_again, forget, unread

        ON_IT_NOW.append(living.on_it_now)
        FACTS.append(living.facts)
        STATE.append(living.state)
        UNREAD.append(unread)
        FORGET.append(forget)
        JUDGES["devices"] = (living.devices_of, living.set_again)
        JUDGES["entered"] = (living.devices_of, entered_again)
        JUDGES["maps"] = (living.chosen_by, living.judge_again)
