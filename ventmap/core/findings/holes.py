"""Holes: lean in one narrow band of engine speed at part throttle, and only there."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..basics import LOAD_THROTTLE, Evidence, Verdict
from ..logs import runs
from .model import Finding
from .view import Detector, View

#: A foot that moves faster after a shift says nothing of a hole [%/s]; a place needs so long in it [s].
TIP_IN, IN_A_PLACE_S = 40.0, 0.5


#: The sensor follows a step of the target so late at part throttle [s].
FOLLOWS_S = 0.3
#: Fuel comes back onto dry walls: lean for so long after a cut [s].
DRIED_S = 1.5
#: Below this it stands [km/h].
MOVES_KMH = 3.0


@dataclass(frozen=True)
class _Hole:
    """A band of engine speed that is lean at part throttle: its ends [rpm], how lean [%], share of the
    range [%].
    """

    low: float
    high: float
    lean: float
    width: float
    rows: np.ndarray


def _lately(view: View) -> np.ndarray:
    """The leanest target of the last moments: the sensor has not followed yet."""
    rows = view.rows(FOLLOWS_S)
    behind = [
        np.concatenate([view.target[:1].repeat(n), view.target[: len(view.target) - n]])
        for n in range(rows + 1)
    ]
    return np.asarray(np.max(behind, axis=0))


def _hole_of(view: View) -> _Hole | None:
    if not view.foot or not view.has("lambda", "rpm"):
        return None
    rules = view.rules
    part = view.mask("cruise") & ~view.cut_rows & view.running & view.fuelled & ~view.after_a_move(TIP_IN)
    dried = np.convolve(view.mask("overrun"), np.ones(view.rows(DRIED_S) + 1))[: len(part)] > 0
    part &= ~dried
    if view.has("speed") and float(np.nanmax(view["speed"])) > MOVES_KMH:
        # A push of the foot while standing wets the walls and is no place on a road.
        part &= view["speed"] > MOVES_KMH
    if view.warmth:
        part &= view[view.warmth] > 60.0
    rpm, error = view["rpm"], view["lambda"] / _lately(view) - 1.0
    if part.sum() < view.rows(10.0):
        return None
    low, high = float(np.percentile(rpm[view["rpm"] > 400], 1)), float(np.percentile(rpm, 99.5))
    edges = np.linspace(low, high, 21)
    place = np.clip(np.digitize(rpm, edges) - 1, 0, 19)
    means = np.full(20, np.nan)
    for bin_ in range(20):
        inside = part & (place == bin_)
        if inside.sum() >= max(5, view.rows(IN_A_PLACE_S)):
            means[bin_] = float(np.median(error[inside]))
    lean_bins = np.flatnonzero(means >= rules["hole.share"] / 100)
    seen = np.isfinite(means).sum()
    if not len(lean_bins) or seen < 4:
        return None
    width = 100 * (lean_bins[-1] - lean_bins[0] + 1) / 20
    if width > rules["hole.band"] or len(lean_bins) > 0.6 * seen:
        return None
    return _Hole(
        float(edges[lean_bins[0]]),
        float(edges[lean_bins[-1] + 1]),
        100 * float(np.nanmax(means[lean_bins])),
        width,
        part & np.isin(place, lean_bins),
    )


def excused(view: View, error: np.ndarray) -> np.ndarray:
    """Lean rows at part pedal, without boost, that a hole explains: one fault, told once.

    Beside the band as well, where it thins out beyond what was held long enough to be told; and everywhere
    what would be no more than a hold: the hole tells how lean it is there.
    """
    found = _hole_of(view)
    if found is None:
        return np.zeros(len(view.log), bool)
    beside = max(found.high - found.low, (found.high - found.low) / found.width * 10.0)
    inside = (view["rpm"] >= found.low - beside) & (view["rpm"] <= found.high + beside)
    slight = error < view.rules["lean.stop_share"] / 100
    return np.asarray((inside | slight) & (view[view.foot] < LOAD_THROTTLE) & ~view.boosted)


def _slight_beside(view: View) -> float:
    """How lean it is at part pedal where it is not told by itself [%]; nought where it is not."""
    _, high = view.targets_near
    error = view["lambda"] / high - 1.0
    share = view.rules["lean.share"] / 100
    lean = excused(view, error) & view.settled_load & view.fresh("lambda") & (error >= share)
    stretches = runs(lean, view.time, view.rules["lean.for_s"], 0.1)
    return round(100 * max((float(np.median(error[a:b])) for a, b in stretches), default=0.0), 1)


def hole(view: View) -> list[Finding]:
    """Lean in one narrow band of speed at part throttle, and only there."""
    found = _hole_of(view)
    if found is None:
        return []
    rows = np.flatnonzero(found.rows)
    beside = _slight_beside(view)
    elsewhere = (Evidence("lean at part pedal elsewhere", beside, view.rules["lean.share"], unit="%"),)
    return [
        Finding(
            "lean_hole",
            verdict=Verdict.hold,
            title="Lean hole at part throttle",
            from_s=float(view.time[rows[0]]),
            to_s=float(view.time[rows[-1]]),
            evidence=(
                Evidence("band from", round(found.low), unit="rpm"),
                Evidence("band to", round(found.high), unit="rpm"),
                Evidence("lean of target", round(found.lean, 1), view.rules["hole.share"], unit="%"),
                Evidence(
                    "width of the speed range", round(found.width, 0), view.rules["hole.band"], unit="%"
                ),
                *(elsewhere if beside else ()),
            ),
            causes=("gap in the stock calibration", "intake or exhaust resonance"),
            check="Drive the band slowly up and down: it stays at one speed, resonance or map",
            next="Correct the cells of this band at part throttle.",
        )
    ]


HOLE = Detector(
    "lean_hole",
    (("lambda",), ("rpm",), ("pedal", "throttle")),
    hole,
    lambda context: context.spark,
)
