"""One way to change a job: its row is locked, and all of a change is kept or nothing.

Two people who change one job at once come after each other, on every database; the second sees what the first
left. A kill at any moment leaves what was before or what came after, with its line in the ledger.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from functools import wraps
from typing import Concatenate, ParamSpec, TypeVar

from django.db import transaction

from .models import Job

P = ParamSpec("P")
R = TypeVar("R")

_held: ContextVar[frozenset[int]] = ContextVar("jobs held", default=frozenset())


@contextmanager
def changing(job: Job) -> Iterator[None]:
    """Hold a job for a change; `job` is as it is in the database once it is held."""
    held = _held.get()
    with transaction.atomic():
        if job.pk in held:
            yield
            return
        Job.objects.select_for_update(of=("self",)).filter(pk=job.pk).values_list("pk").first()
        job.refresh_from_db()
        token = _held.set(held | {job.pk})
        try:
            yield
        finally:
            _held.reset(token)


def changes_job(act: Callable[Concatenate[Job, P], R]) -> Callable[Concatenate[Job, P], R]:
    """A service whose first argument is the job that it changes."""

    @wraps(act)
    def held(job: Job, *given: P.args, **named: P.kwargs) -> R:
        with changing(job):
            return act(job, *given, **named)

    return held
