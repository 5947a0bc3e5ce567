"""Who is at work on which job, with what at hand."""

from __future__ import annotations

from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from django.contrib.auth.models import User

from ventmap.core.basics import BadInput

from ..jobs.models import Job
from .clock import Clock


@dataclass
class Desk:
    """A job, the people of the shop, the clock, the folder with their files, and what steps are shown by."""

    job: Job
    people: dict[str, User]
    clock: Clock
    folder: Path
    evidence: dict[str, Any]
    record: bool = False
    """Whether what can be captured is captured, and its files written anew."""
    act: dict[str, Any] = field(default_factory=dict)
    by: User = None  # type: ignore[assignment]

    def shown(self, key: str) -> Any:
        """What a step is shown by: in this act, in this job, in the shop's usual."""
        found = self.act.get("evidence", {}).get(key, self.evidence.get(key))
        if found is None:
            raise BadInput(f"No evidence is written down for {key}.", key)
        return found

    def file(self, name: str) -> bytes:
        return (self.folder / name).read_bytes()
