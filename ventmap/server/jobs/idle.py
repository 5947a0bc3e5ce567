"""The idle that an engine is to keep, and how fast it may turn: by the maps of its kit, else its own."""

from __future__ import annotations

from ventmap.core.forms import from_json

from ..shop.looking import once_a_look, until_written
from .models import Job
from .rows import devices, vehicle_of

#: What each map asks for, idle and limit, by its SHA-256: a map never changes.
_ASKED: dict[str, tuple[float | None, float | None]] = {}


@until_written
def _newest(job_id: int) -> dict[str, tuple[str, int]]:
    rows = Job(pk=job_id).maps.order_by("id").values_list("part", "sha256", "id")
    return {part: (sha256, pk) for part, sha256, pk in rows}


def _asked(job: Job) -> list[tuple[float | None, float | None]]:
    """Of the newest map of each part of the kit, the main one first."""
    newest = _newest(job.pk)
    found = []
    for part in ("", *(item.key for item in devices(job))):
        if part not in newest:
            continue
        sha256, pk = newest[part]
        if sha256 not in _ASKED:
            asked = from_json(job.maps.get(pk=pk).document)
            _ASKED[sha256] = asked.asked_idle, asked.asked_rev_limit
        found.append(_ASKED[sha256])
    return found


@once_a_look
def idle_of(job: Job, *, stock: bool = False) -> float | None:
    """Idle speed to hold a reading against [rpm]; None where nobody knows it.

    Parameters
    ----------
    job : Job
    stock : bool
        Before anything was touched: its own, whatever a map asks for.
    """
    own = vehicle_of(job).idle_rpm
    if stock:
        return own
    return next((idle for idle, _ in _asked(job) if idle is not None), own)


@once_a_look
def rev_limit_of(job: Job, *, stock: bool = False) -> float | None:
    """Engine speed that vehicle and maps let it turn [rpm]; None where nobody knows it.

    Parameters
    ----------
    job : Job
    stock : bool
        Before anything was touched: its own.
    """
    asked = [] if stock else [limit for _, limit in _asked(job) if limit is not None]
    own = vehicle_of(job).rev_limit
    return max([*asked, own]) if own is not None else max(asked, default=None)
