"""What was in and on a vehicle, stamped on what is read on it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from .models import Job

#: What is in and on a job's vehicle, as the app of the maps knows it; *stock* before anything is fitted.
STATE: list[Callable[[Job, bool], dict[str, Any]]] = []
#: Before the kit it is as it came; while it is fitted and written it is neither.
BEFORE_THE_KIT = ("intake", "plan", "baseline", "make-safe")
WHILE_FITTED = ("fit", "base-map", "load")


def state_at(job: Job, key: str) -> dict[str, Any]:
    """For a step that is done now."""
    stage = key.split(".")[0]
    if stage in WHILE_FITTED:
        return {}
    return next((of(job, stage in BEFORE_THE_KIT) for of in STATE), {})
