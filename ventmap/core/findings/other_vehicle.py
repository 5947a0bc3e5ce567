"""A log that is of another vehicle: told before anything is read into it."""

from __future__ import annotations

import numpy as np

from ..basics import Evidence, Verdict
from ..logs import runs
from .model import Finding
from .view import Detector, View

#: Above the barometer by this for a second no engine without a charger breathes [kPa]: ram air gives
# three. Where
#: nobody read the barometer the weather and the height of the road are in it.
BOOST_KPA, BOOST_UNREAD_KPA, BOOST_S = 15.0, 25.0, 1.0
#: A channel of which nothing ever moves is a column that the logger writes for every engine.
ALIVE = 0.01


def _moves(view: View, name: str) -> bool:
    values = view[name][view.running]
    return bool(len(values)) and float(np.ptp(values)) > ALIVE * max(1.0, abs(float(np.median(values))))


def _signs(view: View) -> list[tuple[Evidence, int]]:
    """What this log shows that the vehicle does not have, and the row at which it does."""
    context = view.context
    found: list[tuple[Evidence, int]] = []
    if context.induction == "none" and view.has("map", "rpm"):
        limit = view.barometer + (BOOST_KPA if view.has("baro") else BOOST_UNREAD_KPA)
        high = runs(view.running & (view["map"] > limit), view.time, BOOST_S, 0.2)
        if high:
            start, stop = high[0]
            most = float(view["map"][start:stop].max())
            found.append((Evidence("boost on an engine without", round(most), round(limit), "kPa"), start))
    # Trims of a second bank are written by many loggers whatever is there; a second mixture is read.
    if context.banks == 1 and view.has("lambda_2") and _moves(view, "lambda_2"):
        found.append((Evidence("a second bank", "its mixture moves", "one bank"), 0))
    if context.cylinders is not None:
        for n in range(context.cylinders + 1, 9):
            if view.has(f"egt_{n}") and _moves(view, f"egt_{n}"):
                found.append((Evidence("exhaust of cylinder", n, context.cylinders), 0))
                break
    return found


def look(view: View) -> list[Finding]:
    """Boost, banks or cylinders that this vehicle has not."""
    signs = _signs(view)
    if not signs:
        return []
    row = signs[0][1]
    return [
        Finding(
            "other_vehicle",
            verdict=Verdict.stop,
            title="This log is of another vehicle",
            from_s=float(view.time[row]),
            to_s=float(view.time[-1]),
            evidence=tuple(evidence for evidence, _ in signs),
            causes=(
                "another vehicle's file",
                "the vehicle's record says another variant",
                "a column misread",
            ),
            check="Name and time of the file; the variant of this vehicle; what the column really is",
            next="Bring the log of this vehicle, or put its record or the column right: then it is judged.",
        )
    ]


OTHER = Detector(
    "other_vehicle",
    (("rpm",),),
    look,
    lacks=lambda view: (
        ""
        if view.context.induction != "unknown" or view.context.banks or view.context.cylinders
        else "what this vehicle has"
    ),
)
