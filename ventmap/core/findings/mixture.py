"""Mixture against its target: lean or rich under load, and holes at part throttle."""

from __future__ import annotations

import numpy as np

from ..basics import LOAD_THROTTLE, Evidence, Verdict
from ..logs import runs
from .holes import excused
from .model import Finding, ReviewContext
from .view import Detector, View


def _of_banks(view: View, worse: np.ufunc) -> np.ndarray:
    """The mixture of the worse bank: one that is right hides nothing of the other."""
    one = view["lambda"]
    return np.asarray(worse(one, view["lambda_2"])) if view.has("lambda_2") else one


def lean(view: View) -> list[Finding]:
    """Leaner than target under load for long enough to be no sensor delay."""
    rules = view.rules
    _, high = view.targets_near
    measured, load = _of_banks(view, np.maximum), view.settled_load & view.fresh("lambda")
    boost = view.boosted
    wanted = "target" if view.has("lambda_target") else "stoichiometric"
    # Without a target nothing that pulls a load is meant to be leaner than stoichiometric.
    error = measured / high - 1.0
    load &= ~excused(view, error)
    # In boost the limit stands by itself: a target above it, or none, excuses nothing.
    hot = load & boost & (measured > rules["lean.boost_lambda"])
    stretches = runs(load & (error >= rules["lean.share"] / 100) | hot, view.time, rules["lean.for_s"], 0.1)
    if not stretches:
        return []

    def grave(stretch: tuple[int, int]) -> bool:
        """Below three quarters of the pedal and without boost lean surges before it hurts: a stop from twice
        as much.
        """
        rows = slice(*stretch)
        foot_down = not view.foot or bool((view[view.foot][rows] >= LOAD_THROTTLE).any())
        stop_at = rules["lean.stop_share"] * (1.0 if foot_down else PART_PEDAL)
        return bool(hot[rows].any()) or 100 * float(np.percentile(error[rows], 90)) >= stop_at

    # What stops leads, then what is in boost, then what is leanest.
    start, stop = max(
        stretches,
        key=lambda s: (grave(s), bool(hot[s[0] : s[1]].any()), float(np.median(error[s[0] : s[1]]))),
    )
    worst = 100 * float(np.percentile(error[start:stop], 90))
    leanest = float(np.percentile(measured[start:stop], 90))
    in_boost = bool(hot[start:stop].any())
    stopped = grave((start, stop))
    limit = rules["lean.boost_lambda"] if in_boost else round(float(np.median(high[start:stop])), 3)
    evidence = [
        Evidence(f"lean of {wanted}", round(worst, 1), rules["lean.share"], unit="%"),
        Evidence("leanest in boost" if in_boost else "leanest", round(leanest, 3), limit, unit="lambda"),
        Evidence(
            "for", round(float(view.time[stop - 1] - view.time[start]), 1), rules["lean.for_s"], unit="s"
        ),
        Evidence("from", round(float(view["rpm"][start])), unit="rpm"),
    ]
    if view.has("lambda_2"):
        second = float(np.median((view["lambda_2"] - view["lambda"])[start:stop])) > 0
        evidence.append(Evidence("leaner bank", "2" if second else "1"))
    if view.has("duty"):
        evidence.append(
            Evidence(
                "injector duty there",
                round(float(np.max(view["duty"][start:stop])), 1),
                rules["duty.hold"],
                unit="%",
            )
        )
    if view.has("rail"):
        evidence.append(
            Evidence(
                "lowest rail pressure there", round(float(np.min(view["rail"][start:stop])), 0), unit="kPa"
            )
        )
    return [
        Finding(
            "lean_under_load",
            verdict=Verdict.stop if stopped else Verdict.hold,
            title="Lean under load",
            from_s=float(view.time[start]),
            to_s=float(view.time[stop - 1]),
            evidence=tuple(evidence),
            causes=("fuel supply: pump, filter, regulator", "injectors at their limit", "map too lean there"),
            check="Rail pressure sags: supply; duty at its limit: injectors; neither: the map",
            next=(
                "No more load until it is put right."
                if stopped
                else "Correct these cells before the next pull."
            ),
        )
    ]


#: So many times the stop's share at part pedal.
PART_PEDAL = 2.0
#: At part pedal rich is judged where load is held: after a tip-in it is meant [s].
HELD_S = 2.0


def _held(view: View) -> np.ndarray:
    mask = view.mask("pull")
    for window in view.loads:
        mask[window.start + view.rows(HELD_S) : window.stop] = True
    return mask


def rich(view: View) -> list[Finding]:
    """Richer than target under load, or richer than burns cleanly."""
    rules = view.rules
    low, _ = view.targets_near
    measured, load = _of_banks(view, np.minimum), view.settled_load & view.fresh("lambda") & _held(view)
    if view.warmth:
        # What a cold engine is given on purpose is no fault.
        load &= view[view.warmth] >= view.warm_at
    error = 1.0 - measured / low
    stretches = runs(load & (error >= rules["rich.share"] / 100), view.time, rules["lean.for_s"], 0.1)
    limit = min(rules["rich.lambda"], float(low.min()) - 0.02)
    stretches += runs(load & (measured < limit), view.time, 1.0, 0.1)
    if not stretches:
        return []
    start, stop = max(stretches, key=lambda s: float(np.median(error[s[0] : s[1]])))
    return [
        Finding(
            "rich_under_load",
            verdict=Verdict.hold,
            title="Rich under load",
            from_s=float(view.time[start]),
            to_s=float(view.time[stop - 1]),
            evidence=(
                Evidence(
                    "rich of target",
                    round(100 * float(np.median(error[start:stop])), 1),
                    rules["rich.share"],
                    unit="%",
                ),
                Evidence(
                    "richest",
                    round(float(np.min(measured[start:stop])), 3),
                    round(float(np.median(low[start:stop])), 3),
                    unit="lambda",
                ),
            ),
            causes=("map too rich there", "fuel pressure too high", "sensor reading low"),
            check="Compare with a second sensor; they agree: the map",
            next="Correct these cells.",
        )
    ]


def smoke(view: View) -> list[Finding]:
    """A diesel richer than it burns without smoke under load: soot, and an exhaust that gets too hot."""
    rules = view.rules
    measured, load = _of_banks(view, np.minimum), view.settled_load & view.fresh("lambda")
    stretches = runs(load & (measured < rules["smoke.lambda"]), view.time, rules["lean.for_s"], 0.1)
    if not stretches:
        return []
    start, stop = min(stretches, key=lambda s: float(np.median(measured[s[0] : s[1]])))
    richest = float(np.median(measured[start:stop]))
    grave = richest < rules["smoke.stop"]
    return [
        Finding(
            "smoke",
            verdict=Verdict.stop if grave else Verdict.hold,
            title="Richer than it burns without smoke",
            from_s=float(view.time[start]),
            to_s=float(view.time[stop - 1]),
            evidence=(
                Evidence("mixture there", round(richest, 3), rules["smoke.lambda"], unit="lambda"),
                Evidence("for", round(float(view.time[stop - 1] - view.time[start]), 1), unit="s"),
            ),
            causes=(
                "more pulse than there is air for",
                "boost below its target",
                "injector too large for its map",
            ),
            check="Boost against its target there: low, the air; right, the pulse",
            next="Less pulse at that demand and speed, or more air, before it pulls a load again.",
        )
    ]


def _spark(context: ReviewContext) -> bool:
    return context.spark


def _boost_unknown(view: View) -> str:
    """What is leaner than it may be in boost shows only where target or pressure tells of boost."""
    if view.context.induction == "none" or view.has("lambda_target") or view.has("map"):
        return ""
    return "lambda_target or map"


_FOOT = ("pedal", "throttle")
_HARD = (*_FOOT, "map", "pulse")
_SEEN = (("lambda",), ("lambda_2",))


def _judged(view: View) -> tuple[np.ndarray, float]:
    return view.settled_load & view.fresh("lambda"), view.rules["lean.for_s"]


LEAN = Detector(
    "lean_under_load",
    (("lambda",), ("rpm",), _HARD),
    lean,
    _spark,
    _boost_unknown,
    where="load",
    sees=_SEEN,
    judges=_judged,
)
RICH = Detector(
    "rich_under_load",
    (("lambda",), ("rpm",), _HARD, ("lambda_target",)),
    rich,
    _spark,
    where="load",
    sees=_SEEN,
    judges=_judged,
)
SMOKE = Detector(
    "smoke",
    (("lambda",), ("rpm",), _HARD),
    smoke,
    lambda context: not context.spark,
    where="load",
    sees=_SEEN,
    judges=_judged,
)
