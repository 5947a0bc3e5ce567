"""The logs of one vehicle over all its jobs, a few figures each."""

from __future__ import annotations

from typing import Any

from django.db.models import Q

from ventmap.core.findings import TREND, TREND_CHANNELS, trend_of
from ventmap.core.logs import Log

from ..jobs.models import Job
from ..jobs.views import on_what
from . import reviews, store
from .models import LogFile
from .reading import TIME

#: So many of the newest are shown.
NEWEST = 30


def trend(job: Job) -> dict[str, Any]:
    """Figures of every log of this very vehicle: by its VIN, or where it has none by its registration and
    kind; where neither is known, of this job alone.
    """
    if job.vin:
        same, by = Q(vin=job.vin), f"VIN {job.vin}"
    elif job.registration:
        same, by = Q(registration=job.registration, vehicle_id=job.vehicle_id, vin=""), job.registration
    else:
        same, by = Q(pk=job.pk), f"job {job.number}"
    logs = LogFile.objects.filter(job__in=Job.objects.filter(same, practice=job.practice))
    newest = list(logs.select_related("job", "map").order_by("-id")[:NEWEST])
    return {
        "vehicle": by,
        "figures": [vars(one) for one in TREND],
        "logs": [_told(row) for row in reversed(newest)],
    }


def _told(row: LogFile) -> dict[str, Any]:
    columns = store.columns_of(row, list(TREND_CHANNELS))
    time_s = columns.pop(TIME).astype(float)
    log = Log(time_s, columns, columns={}, extras={}, notes=[], breaks=(), name=row.name)
    return {
        "log_id": row.pk,
        "job": row.job.number if row.job else "",
        "log": row.name,
        "at": row.at,
        "state": on_what(row.state) or (row.map.version if row.map else ""),
        "figures": trend_of(log, reviews.review_of(row).windows),
    }
