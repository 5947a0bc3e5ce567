"""Maps, and what they listen to."""

from __future__ import annotations

from typing import Any

from django.apps import AppConfig

#: Fields of Intake that a map was chosen by.
CHOSEN_BY = {"ron", "ethanol", "altitude_m", "changes"}


class MapsConfig(AppConfig):
    name = "ventmap.server.maps"

    def ready(self) -> None:
        from ..jobs.signals import intake_saved, kit_changed

        intake_saved.connect(_judge_again, dispatch_uid="maps.judge_again")
        kit_changed.connect(_set_again, dispatch_uid="maps.set_again")


def _judge_again(sender: Any, job: Any, changed: set[str], by: Any, **_: Any) -> None:
    from .choosing import judge_again

    if CHOSEN_BY & changed:
        judge_again(job, by)


def _set_again(sender: Any, job: Any, by: Any, **_: Any) -> None:
    from .choosing import set_again

    set_again(job, by)
