"""The idle that an engine is to keep: by the maps of its kit, where one of them says, else its own."""

from __future__ import annotations

from ventmap.core.forms import from_json

from ..shop.looking import once_a_look
from .models import Job
from .rows import devices, vehicle_of

#: What each map asks for, by its SHA-256: a map never changes.
_ASKED: dict[str, float | None] = {}


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
    rows = job.maps.order_by("id").values_list("part", "sha256", "id")
    newest = {part: (sha256, pk) for part, sha256, pk in rows}
    for part in ("", *(item.key for item in devices(job))):
        if part not in newest:
            continue
        sha256, pk = newest[part]
        if sha256 not in _ASKED:
            _ASKED[sha256] = from_json(job.maps.get(pk=pk).document).asked_idle
        if (asked := _ASKED[sha256]) is not None:
            return asked
    return own
