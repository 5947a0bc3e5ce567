"""Runs before against runs after, with what their scatter allows to claim."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import lru_cache
from math import sqrt

import numpy as np

from ..basics import Call, Evidence, Floats, NotEnough, Verdict
from .apart import SCATTER_ALONE, Apart
from .reduction import PowerCurve, on_grid, shared_grid

#: Null comparisons from which the limit for a whole curve is found; samples until their noise has settled.
DRAWS, WARM = 2000, 50
#: Runs a side below which there is no scatter to speak of.
FEWEST = 2


@dataclass(frozen=True)
class Comparison:
    """Before against after on one grid, with what the scatter allows to claim.

    Gains are after − before. `claimable` marks where a gain clears its interval.
    """

    rpm: Floats
    before_kw: Floats
    after_kw: Floats
    gain_kw: Floats
    limit_kw: Floats
    before_nm: Floats
    after_nm: Floats
    claimable: np.ndarray
    pooled_sd_kw: float
    peak_before: tuple[float, float]
    peak_after: tuple[float, float]
    mean_gain_kw: float
    mean_limit_kw: float
    torque_band: tuple[float, float]
    score: float
    score_parts: dict[str, float] = field(default_factory=dict)
    calls: tuple[Call, ...] = ()


def compare(
    before: Sequence[PowerCurve],
    after: Sequence[PowerCurve],
    goal: str = "street",
    *,
    confidence: float = 0.98,
    repeats: int = 3,
    apart: Apart = SCATTER_ALONE,
) -> Comparison:
    """Hold the runs after against the runs before.

    A gain counts where its interval by Student's t leaves out zero: pooled variance, n₁ + n₂ − 2 degrees of
    freedom, two runs a side at least; what sets the groups apart besides, the day and its air, widens it.
    Marks along the curve stand in a band that holds for all speeds together.

    Parameters
    ----------
    confidence : float
        Of that interval, two-sided.
    apart : Apart
        Day and air, as standard deviations.

    Raises
    ------
    NotEnough
        Without a run on each side, with no common range of speed, or where a run lacks figures.
    """
    if not before or not after:
        raise NotEnough("Without runs before and after, no gain is claimed.", "runs")
    grid = shared_grid([*before, *after])
    from scipy.special import ndtri, stdtrit

    first, second = on_grid(grid, before), on_grid(grid, after)
    freedom = len(before) + len(after) - 2
    squares = ((first - first.mean(axis=0)) ** 2).sum(axis=0) + ((second - second.mean(axis=0)) ** 2).sum(
        axis=0
    )
    # Scatter at one speed from a few runs is itself scattered: pool it over neighbouring speeds as well.
    local = np.convolve(np.pad(squares, 5, mode="edge"), np.ones(11) / 11, mode="valid")
    deviation = np.sqrt(local / max(freedom, 1)) if freedom > 0 else np.full(len(grid), np.nan)
    wide = float(stdtrit(freedom, 0.5 + confidence / 2)) if freedom > 0 else float("nan")
    root = sqrt(1.0 / len(before) + 1.0 / len(after))
    shift = float(ndtri(0.5 + confidence / 2)) * apart.of_difference
    everywhere = _everywhere(first, second, confidence) if freedom > 0 else float("nan")
    limit = np.hypot(everywhere * deviation * root, shift * first.mean(axis=0))
    gain = second.mean(axis=0) - first.mean(axis=0)
    first_nm, second_nm = (
        on_grid(grid, before, "torque_nm").mean(axis=0),
        on_grid(grid, after, "torque_nm").mean(axis=0),
    )
    mean_gain = float(gain.mean())
    if not np.isfinite(first).all() or not np.isfinite(second).all():
        raise NotEnough("A run has speeds without power: leave it out, or bring its file again.", "runs")
    run_means = [run.mean() for run in first], [run.mean() for run in second]
    pooled = (
        sqrt(sum(np.var(m, ddof=1) * (len(m) - 1) for m in run_means if len(m) > 1) / max(freedom, 1))
        if freedom > 0
        else float("nan")
    )
    mean_limit = float(np.hypot(wide * pooled * root, shift * first.mean()))
    band = grid[second_nm >= 0.9 * second_nm.max()]
    score, parts = _score(goal, grid, gain, first, second_nm)
    enough = min(len(before), len(after)) >= max(repeats, FEWEST)
    counts = enough and mean_gain > mean_limit
    beyond = _only_after(before, after, float(grid[-1]))
    evidence = (
        Evidence(
            "mean gain over the band",
            round(mean_gain, 2),
            round(mean_limit, 2) if freedom > 0 else None,
            unit="kW",
        ),
        Evidence("runs before", len(before), repeats),
        Evidence("runs after", len(after), repeats),
        *(Evidence(f"of the score, {name}", round(part, 1), unit="%") for name, part in parts.items()),
        Evidence("speeds at which it counts", round(100 * float((gain > limit).mean()), 0), unit="%"),
        *([Evidence("scatter besides that of the runs", apart.source)] if apart.source else []),
        *beyond,
    )
    if not enough:
        verdict, title, advice = (
            Verdict.hold,
            "Too few runs to claim",
            f"Make {repeats} runs before and {repeats} after.",
        )
    elif counts:
        verdict, title, advice = (
            Verdict.go,
            "The gain is real",
            "Say the mean and the band, with the scatter beside it.",
        )
    elif abs(mean_gain) <= mean_limit:
        verdict, title, advice = (
            Verdict.hold,
            "Within scatter",
            "No gain is claimed. More runs would narrow the scatter.",
        )
    else:
        verdict, title, advice = (
            Verdict.hold,
            "Power was lost",
            "Look at spark and mixture before handing over.",
        )
    return Comparison(
        grid,
        first.mean(axis=0),
        after_kw=second.mean(axis=0),
        gain_kw=gain,
        limit_kw=limit,
        before_nm=first_nm,
        after_nm=second_nm,
        claimable=gain > limit,
        pooled_sd_kw=float(pooled),
        peak_before=_peak(grid, first),
        peak_after=_highest(_peak(grid, second), after),
        mean_gain_kw=mean_gain,
        mean_limit_kw=mean_limit,
        torque_band=(float(band[0]), float(band[-1])),
        score=score,
        score_parts=parts,
        calls=(
            Call(
                "dyno.gain",
                verdict=verdict,
                because=evidence,
                do_next=advice,
                source=f"Student's t, {100 * confidence:g} % interval of the difference of means",
                title=title,
            ),
        ),
    )


def _everywhere(first: Floats, second: Floats, confidence: float) -> float:
    """Limit of |t| that holds for all speeds of a curve at once.

    Found by simulation: noise as alike from speed to speed as that of these runs, put through the same pooled
    variance.
    """
    residuals = np.concatenate([first - first.mean(axis=0), second - second.mean(axis=0)])
    power = float((residuals**2).sum())
    alike = float((residuals[:, 1:] * residuals[:, :-1]).sum()) / power if power > 0 else 1.0
    return _limit_everywhere(
        len(first), len(second), first.shape[1], round(float(np.clip(alike, 0.0, 0.98)), 2), confidence
    )


@lru_cache(maxsize=256)
def _limit_everywhere(before: int, after: int, speeds: int, alike: float, confidence: float) -> float:
    # Loaded when first needed: it would hold up every start.
    from scipy.signal import lfilter

    random, runs = np.random.default_rng(20_240), before + after
    noise = random.standard_normal((DRAWS, runs, speeds + WARM))
    noise = lfilter([1.0], [1.0, -alike], noise, axis=2)[:, :, WARM:]
    first, second = noise[:, :before], noise[:, before:]
    gain = second.mean(axis=1) - first.mean(axis=1)
    squares = ((first - first.mean(axis=1, keepdims=True)) ** 2).sum(axis=1)
    squares += ((second - second.mean(axis=1, keepdims=True)) ** 2).sum(axis=1)
    padded = np.pad(squares, ((0, 0), (5, 5)), mode="edge")
    local = np.lib.stride_tricks.sliding_window_view(padded, 11, axis=1).mean(axis=2)
    t = gain / np.sqrt(local / (runs - 2) * (1.0 / before + 1.0 / after))
    # One side: a mark says that power rose.
    return float(np.quantile(t.max(axis=1), 0.5 + confidence / 2))


#: A side that went on so much further [rpm] reached what the other did not.
FURTHER_RPM = 200.0


def _only_after(
    before: Sequence[PowerCurve], after: Sequence[PowerCurve], high: float
) -> tuple[Evidence, ...]:
    """What only the runs after reached, above the speeds that both have: part of the result, no gain."""
    top = min(float(curve.rpm[-1]) for curve in after)
    if top - max(float(curve.rpm[-1]) for curve in before) < FURTHER_RPM:
        return ()
    most = [float(curve.power_kw[curve.rpm >= high].max()) for curve in after]
    return (
        Evidence("reached only after, up to", round(top), round(high), unit="rpm"),
        Evidence("highest there", round(float(np.mean(most)), 1), unit="kW"),
    )


def _highest(shared: tuple[float, float], runs: Sequence[PowerCurve]) -> tuple[float, float]:
    """The peak over all that the runs reached, where it stands above the speeds that both sides have."""
    tops = [curve.peak_power for curve in runs]
    own = float(np.mean([kw for kw, _ in tops])), float(np.median([rpm for _, rpm in tops]))
    return own if own[0] > shared[0] and own[1] > shared[1] else shared


def _peak(grid: Floats, runs: Floats) -> tuple[float, float]:
    """Peak of the mean run, and the speed at which it stands [rpm]."""
    mean = runs.mean(axis=0)
    return float(mean.max()), float(grid[int(np.argmax(mean))])


#: What each goal looks at: weights of mean gain, mid-range gain, peak gain and flatness of torque.
GOALS = {
    "street": (0.3, 0.4, 0.1, 0.2),
    "track": (0.4, 0.1, 0.3, 0.2),
    "tow": (0.3, 0.5, 0.0, 0.2),
    "economy": (0.4, 0.4, 0.0, 0.2),
    "learner": (0.2, 0.2, 0.0, 0.6),
    "peak": (0.1, 0.0, 0.9, 0.0),
}


def _score(
    goal: str, grid: Floats, gain: Floats, before: Floats, torque: Floats
) -> tuple[float, dict[str, float]]:
    """Percent gains by part and their weighted sum; flatness is mean over peak torque [%] less 80."""
    base = before.mean(axis=0)
    middle = slice(len(grid) // 4, 3 * len(grid) // 4)
    parts = {
        "mean gain": 100 * float(gain.mean() / base.mean()),
        "mid-range gain": 100 * float(gain[middle].mean() / base[middle].mean()),
        "peak gain": 100 * float((base + gain).max() / base.max() - 1),
        "flatness": 100 * float(torque.mean() / torque.max()) - 80.0,
    }
    weights = GOALS.get(goal, GOALS["street"])
    return float(sum(w * v for w, v in zip(weights, parts.values(), strict=True))), parts
