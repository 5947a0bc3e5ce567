"""Tables that somebody brought by a name of their own: which hold a known quantity, and what of them can be
judged.
"""

from __future__ import annotations

from ..basics import Call, Evidence, Verdict
from ..forms import OWN_LIST, Calibration
from .job_of_map import MapJob


def holding(calibration: Calibration, known: str, holds: str) -> list[str]:
    """Names of a map's tables that hold a quantity: ours by that name, and those that were brought."""
    own = [
        f"own.{float(row['number']):g}"
        for row in calibration.lists.get(OWN_LIST, ())
        if row.get("holds") == holds
    ]
    return [name for name in (known, *own) if name in calibration.tables]


def called(calibration: Calibration, name: str) -> str:
    """What is added to a title, of a table with a name of its own."""
    return f": {calibration.title_of(name)}" if name.startswith("own.") else ""


def by_pressure(calibration: Calibration, name: str) -> bool:
    """Whether a table's rows are manifold pressure, absolute, so that load and boost can be told by them."""
    kind = calibration.table_kind(name)
    return kind is not None and kind.rows is not None and kind.rows.unit.lower() == "kpa"


def unjudged_load(calibration: Calibration, name: str, job: MapJob) -> list[Call]:
    """A mixture target whose rows are no pressure: which of its cells are boost nobody can tell."""
    if not job.boosted:
        return []
    kind = calibration.table_kind(name)
    rows = kind.rows if kind is not None else None
    told = f"{rows.text} [{rows.unit}]" if rows is not None else "none"
    return [
        Call(
            "map.mixture_boost",
            verdict=Verdict.hold,
            because=(Evidence("its rows are", told, "manifold pressure [kPa]"),),
            do_next="Look at its cells in boost yourself, or bring it with its rows in kPa absolute.",
            source="Boost needs the cooling of rich running",
            title=f"Mixture target in boost{called(calibration, name)}",
        )
    ]
