"""Every operation that changes something is one act: whole or not, after whoever came before, and once.

- Whole: one transaction around the operation; a refusal takes back what it had written.
- After each other: the row of the job, or of the shop where it is about no job, is locked first.
- In its order: what a tablet kept says how long ago it was made (`jobs/moment.py`).
- Once: an entry that carries a key of its own (`X-Entry`) and was done already is answered as it was then.
"""

from __future__ import annotations

import zlib
from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager, contextmanager
from typing import Any

from django.db import DatabaseError, models
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja.operation import Operation

from ventmap.core.basics import VentMapError

from .jobs.acting import changing, of_person
from .jobs.models import Job, LedgerEntry, Photo, Timer
from .jobs.moment import AGO, entered
from .logs.models import LogFile
from .shop.access import person
from .shop.looking import looking
from .shop.models import Answered
from .shop.services import changing_shop

SAFE = {"GET", "HEAD", "OPTIONS"}
KEY = "X-Entry"
#: A row that an address names, whose job is changed by it.
OF_A_JOB: dict[str, type[models.Model]] = {
    "timer_id": Timer,
    "entry_id": LedgerEntry,
    "photo_id": Photo,
    "log_id": LogFile,
}


class _TakenBack(Exception):
    """A refusal: what was written before it goes back with it."""

    def __init__(self, response: HttpResponse) -> None:
        super().__init__()
        self.response = response


Run = Callable[..., HttpResponse]


def as_act(run: Run) -> Run:
    """For a whole API, in mode ``view``: what changes something is a whole act, or says otherwise itself."""
    operation: Operation = run.__self__  # type: ignore[attr-defined]
    if SAFE.issuperset(operation.methods):
        return _looked(run)
    if kind_of(operation) != "acts":
        return run
    return _whole(operation, run)


def _looked(run: Run) -> Run:
    def look(request: HttpRequest, **named: Any) -> HttpResponse:
        with looking():
            return run(request, **named)

    return look


def kind_of(operation: Operation) -> str:
    """``acts``, ``asks`` or ``waits``."""
    return str(getattr(operation.view_func, "act", "acts"))


def _whole(operation: Operation, run: Run) -> Run:
    def act(request: HttpRequest, **named: Any) -> HttpResponse:
        if not request.user.is_authenticated:
            return run(request, **named)  # which refuses it; a stranger holds nobody up
        of_person(person(request))
        try:
            with _held(named):
                known = _answered(request)
                if known is not None:
                    return known
                with entered(request.headers.get(AGO)):
                    response = run(request, **named)
                if response.status_code >= 400:
                    raise _TakenBack(response)
                _remember(request, response)
                return response
        except _TakenBack as refused:
            return refused.response
        except (DatabaseError, VentMapError) as error:
            return operation.api.on_exception(request, error)

    return act


def _held(named: dict[str, Any]) -> AbstractContextManager[None]:
    """The job that an address is about, held; else the shop."""
    job: Job | None = None
    if "number" in named:
        # Held, it is read whole; here it is only told apart.
        pk = Job.objects.filter(number=named["number"]).order_by().values_list("pk").first()
        job = Job(pk=pk[0]) if pk else None
    for name, model in OF_A_JOB.items():
        if name in named and str(named[name]).isdigit():
            row = model._default_manager.filter(pk=min(int(named[name]), 2**62)).select_related("job").first()
            job = getattr(row, "job", None)
    return _holding(job)


@contextmanager
def _holding(job: Job | None) -> Iterator[None]:
    if job is None:
        with changing_shop():
            yield
    else:
        with changing(job):
            yield


def _answered(request: HttpRequest) -> HttpResponse | None:
    key = request.headers.get(KEY, "")[:40]
    if not key:
        return None
    row = Answered.objects.filter(key=key, by=person(request), address=request.path[:200]).first()
    if row is None:
        return None
    return HttpResponse(
        zlib.decompress(bytes(row.answer)), status=row.status, content_type="application/json; charset=utf-8"
    )


def _remember(request: HttpRequest, response: HttpResponse) -> None:
    key = request.headers.get(KEY, "")[:40]
    if key:
        Answered.objects.create(
            key=key,
            by=person(request),
            address=request.path[:200],
            status=response.status_code,
            answer=zlib.compress(response.content),
            at=timezone.now(),
        )
