"""Whether an engine is run from here: not while its own first start says that it must not."""

from __future__ import annotations

from ventmap.core.basics import BadInput, Verdict

from .models import Job


def may_run(job: Job, *, load: bool = False) -> None:
    """Refuse to run the engine while a stop of its first start stands: a sensor that is open, a pedal's track
    that is out, an output that answers for another, oil that does not come.

    Parameters
    ----------
    job : Job
    load : bool
        Beyond idle. Base timing that is off is read again at idle, and not driven with.

    Raises
    ------
    BadInput
        Naming the stop and what is to be done about it.
    """
    stops = job.ledger.filter(
        stage="first-start", standing=True, verdict=Verdict.stop.value, overruled_by=None
    )
    if not load:
        stops = stops.exclude(rule__contains="base_timing")
    found = stops.order_by("id").first()
    if found is not None:
        raise BadInput(f"Not run: “{found.title}” is a stop. {found.text}".strip(), "start")
