"""Days on the drum: which runs were made on one, and what an unchanged vehicle shows from day to day."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from django.db.models import Max, Min
from django.utils import timezone

from ventmap.core.basics import NM_RPM_PER_KW
from ventmap.core.drum import Drum, PowerCurve, reduce_pull

from ..jobs.models import Job
from .models import Run


def curve_of(run: Run, factor: float = 1.0) -> PowerCurve:
    if run.curve:
        rpm, kw = np.array(run.curve["rpm"]), np.array(run.curve["kw"]) * factor
        return PowerCurve(rpm, kw, kw * NM_RPM_PER_KW / rpm)
    drum = Drum(run.drum["inertia"], tuple(run.drum["parasitic"]), run.drum["ratio"])
    return reduce_pull(run.samples["time_s"], run.samples["drum_rad_s"], drum, factor=factor)


def day_of(run: Run) -> str:
    """The day on which a run was made; empty where nobody knows: a file of another drum comes when it
    comes.
    """
    return "" if run.curve else timezone.localtime(run.at).date().isoformat()


def one_day(runs: Sequence[Run]) -> bool:
    """Whether all were made on one day, for certain."""
    days = {day_of(run) for run in runs}
    return len(days) == 1 and "" not in days


def unchanged_pairs() -> list[dict[str, list[float]]]:
    """Of every job whose *before* was run on several days: day → mean power of each run [kW]."""
    spread = Job.objects.filter(runs__when="before", runs__counts=True, runs__curve=None).annotate(
        first=Min("runs__at"), last=Max("runs__at")
    )
    found = []
    for job in spread:
        if job.first.date() == job.last.date():
            continue
        days: dict[str, list[float]] = {}
        for run in job.runs.filter(when="before", counts=True, curve=None):
            days.setdefault(day_of(run), []).append(float(curve_of(run).power_kw.mean()))
        if len(days) > 1:
            found.append(days)
    return found
