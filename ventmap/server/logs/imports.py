"""Files that are being read now: how far, and stopped by who dropped them."""

from __future__ import annotations

import threading
from dataclasses import dataclass, field
from time import monotonic

from django.contrib.auth.models import User

from ventmap.core.basics import BadInput

from ..jobs.rows import NotFound

running: dict[str, Import] = {}


@dataclass
class Import:
    """A file on its way in; `phase` as `reading.read_apart` tells it."""

    by: int
    phase: str = "sending"
    began: float = field(default_factory=monotonic)
    stopping: threading.Event = field(default_factory=threading.Event)

    def tell(self, phase: str) -> None:
        self.phase = phase


def begin(ticket: str, by: User) -> Import:
    """A new import under the ticket that the sender chose; without one nobody can ask for it."""
    if ticket in running:
        raise BadInput("This ticket is in use: send the file again.", "ticket")
    found = Import(by.pk)
    if ticket:
        running[ticket] = found
    return found


def end(ticket: str) -> None:
    running.pop(ticket, None)


def of(ticket: str, by: User) -> Import:
    """A person's own import.

    Raises
    ------
    NotFound
        Where it has ended, or is another's.
    """
    found = running.get(ticket)
    if found is None or found.by != by.pk:
        raise NotFound("This file is not being read now.", "ticket")
    return found
