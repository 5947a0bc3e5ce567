"""A log that is not of this engine: told before anything is read into it."""

from __future__ import annotations

import numpy as np

from ..basics import Evidence, Verdict
from .model import Finding
from .view import Detector, View

#: Nothing throttles a diesel's air: at idle it has three to six times what its fuel needs. Richer than this
#: no diesel idles [lambda].
RICHEST_IDLE = 1.5


def spark_ignited(view: View) -> list[Finding]:
    """At idle the mixture of a spark-ignition engine, on a job whose engine is a diesel."""
    idle = view.mask("idle") & np.isfinite(view["lambda"])
    if idle.sum() < view.rows(3.0):
        return []
    mixture = float(np.median(view["lambda"][idle]))
    if mixture >= RICHEST_IDLE:
        return []
    rows = np.flatnonzero(idle)
    return [
        Finding(
            "another_engine",
            verdict=Verdict.hold,
            title="This log is not of a diesel",
            from_s=float(view.time[rows[0]]),
            to_s=float(view.time[rows[-1]]),
            evidence=(Evidence("mixture at idle", round(mixture, 2), RICHEST_IDLE, unit="lambda"),),
            causes=(
                "another vehicle's file",
                "a mixture on a petrol scale",
                "a sensor that reads no lean mixture",
            ),
            check="Name and time of the file, and the vehicle it was logged on",
            next="Bring the log of this vehicle; what else is told of this one is another engine's.",
        )
    ]


ANOTHER = Detector(
    "another_engine",
    (("lambda",), ("rpm",), ("pedal", "throttle")),
    spark_ignited,
    lambda context: not context.spark,
)
