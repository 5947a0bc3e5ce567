"""Whether injectors make a set: the spread of their flows."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import ArrayLike

from ..basics import BadInput, Call, Evidence, OutOfRange, Verdict


def flow_spread(flows: ArrayLike) -> float:
    """(max − min)/mean of a set, as a fraction."""
    values = np.asarray(flows, float)
    if values.size == 0 or np.any(values <= 0):
        raise OutOfRange("Every flow must be above zero.", "flows")
    return float((values.max() - values.min()) / values.mean())


def flow_spread_call(flows: ArrayLike, good: float = 0.02, usable: float = 0.04) -> Call:
    """Judge the flow spread of a set: up to 2 % good, up to 4 % usable, above that hold."""
    spread = flow_spread(flows)
    verdict = Verdict.hold if spread > usable else Verdict.go
    word = "good" if spread <= good else "usable" if spread <= usable else "too wide"
    advice = "Match a better set from more injectors." if verdict is Verdict.hold else f"The set is {word}."
    return Call(
        "injector.spread",
        verdict=verdict,
        because=(Evidence("spread", round(100 * spread, 2), round(100 * usable, 2), unit="%"),),
        do_next=advice,
        source="Injector set practice",
        title=f"Flow spread {word}",
    )


def best_set(flows: Sequence[float], n: int) -> tuple[int, ...]:
    """Indices of the `n` injectors with the smallest spread.

    For a given richest member the best partners are the next ones below it, so only runs of the sorted
    flows need trying.
    """
    if not 1 <= n <= len(flows):
        raise BadInput(f"Cannot choose {n} from {len(flows)} injectors.", "n")
    order = sorted(range(len(flows)), key=lambda index: flows[index])
    runs = [order[start : start + n] for start in range(len(flows) - n + 1)]
    return tuple(sorted(min(runs, key=lambda run: flow_spread([flows[index] for index in run]))))
