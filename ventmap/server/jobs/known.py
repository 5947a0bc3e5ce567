"""What is known of the things of a job: what records lack at a step, and which calls rest on a guess."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from ventmap.core.basics import BadInput, Call, Device
from ventmap.core.needs import Ask, Thing, asks_at, guesses_under, open_asks

from ..shelf.services import record_of
from .models import Job
from .rows import devices, injectors_of, pump_of, vehicle_of


def things_of(job: Job) -> list[Thing]:
    """The records at hand: vehicle, devices, injectors, pump."""
    found = [Thing("vehicle", job.vehicle.key, job.vehicle.name, vehicle_of(job))]
    found += [Thing("device", item.key, item.name, record_of(item, Device)) for item in devices(job)]
    injectors, pump = injectors_of(job), pump_of(job)
    if job.injectors and injectors:
        found.append(Thing("injector", job.injectors.key, job.injectors.name, injectors))
    if job.pump and pump:
        found.append(Thing("pump", job.pump.key, job.pump.name, pump))
    return found


def asks_of(job: Job) -> list[Ask]:
    """Everything that the records of this job do not say yet."""
    return open_asks(things_of(job))


def answered(job: Job, step: str) -> None:
    """Refuse a step that hangs on something nobody knows yet.

    Raises
    ------
    BadInput
        Naming what is asked, and why.
    """
    first = next((ask for ask in asks_at(step, asks_of(job)) if ask.question.must), None)
    if first is not None:
        raise BadInput(
            f"First: {first.question.title} ({first.thing.name}) {first.question.without}",
            first.question.field,
        )


def marked(job: Job, calls: Iterable[Call]) -> list[Call]:
    """Calls with the guesses they rest on."""
    things = things_of(job)
    if not any(told.source == "guessed" for thing in things for told in thing.record.told.values()):
        return list(calls)
    return [
        replace(call, because=(*call.because, *guesses))
        if (guesses := guesses_under(call.rule, things))
        else call
        for call in calls
    ]
