"""Heat: soaked intake air, cold pulls, hot coolant, exhaust spread."""

from __future__ import annotations

import numpy as np

from ..basics import Evidence, NotEnough, Verdict
from ..drum import cool_down
from ..logs import runs, smooth
from .model import Finding
from .view import Detector, View


def heat_soak(view: View) -> list[Finding]:
    """Intake air that starts each pull warmer, or warms within one; with the minutes to wait where the decay
    can be fitted.
    """
    rules, pulls = view.rules, view.pulls
    if not pulls:
        return []
    intake = smooth(view["iat"], view.rows(0.4))
    starts = [float(intake[pull.start]) for pull in pulls]
    within = [float(intake[pull.stop - 1] - intake[pull.start]) for pull in pulls]
    rise = max(starts) - starts[0]
    if rise < rules["heat.between_k"] and max(within) <= rules["heat.within_k"]:
        return []
    evidence = [
        Evidence("intake at the first pull", round(starts[0], 1), unit="°C"),
        Evidence(
            "warmest start", round(max(starts), 1), round(starts[0] + rules["heat.between_k"], 1), unit="°C"
        ),
        Evidence("most within one pull", round(max(within), 1), rules["heat.within_k"], unit="K"),
    ]
    advice = "Let it cool between pulls, with a fan at the cooler."
    last = pulls[-1]
    try:
        after = slice(last.stop, len(view.log))
        cooling = cool_down(
            view.time[after] - view.time[last.stop - 1],
            intake[after],
            starts[0],
            within_k=rules["heat.back_to_k"],
        )
        longer = "longer than " if cooling.longer_than else ""
        evidence.append(
            Evidence(
                f"wait after the last pull{', longer than' if longer else ''}",
                round(cooling.minutes, 1),
                unit="min",
            )
        )
        if cooling.uncertain_minutes:
            evidence.append(Evidence("which may be out by", round(cooling.uncertain_minutes, 1), unit="min"))
        advice = (
            f"Wait {longer}{np.ceil(cooling.minutes):.0f} min between pulls: then intake is within"
            f" {rules['heat.back_to_k']:g} K of the first."
        )
    except (NotEnough, IndexError):
        pass
    return [
        Finding(
            "heat_soak",
            verdict=Verdict.hold,
            title="Intake air is heat-soaked",
            from_s=pulls[0].from_s,
            to_s=last.to_s,
            evidence=tuple(evidence),
            causes=(
                "too little time between pulls",
                "no fan at the cooler",
                "cooler too small for this boost",
            ),
            check="Cool fully and repeat one pull: it rises as much within it, the cooler",
            next=advice,
        )
    ]


#: What tells of warmth, as it is called.
_WARMTH = {"coolant": "coolant", "head_temp": "head", "oil_temp": "oil"}


def not_warm(view: View) -> list[Finding]:
    """Pulls made before the engine was warm: its coolant, or the head of one without."""
    limit, warmth = view.warm_at, view[view.warmth]
    cold = [pull for pull in view.pulls if float(np.median(warmth[pull.start : pull.stop])) < limit]
    if not cold:
        return []
    lowest = min(float(np.median(warmth[pull.start : pull.stop])) for pull in cold)
    return [
        Finding(
            "not_warm",
            verdict=Verdict.hold,
            title="Pulled before it was warm",
            from_s=cold[0].from_s,
            to_s=cold[-1].to_s,
            evidence=(
                Evidence(f"{_WARMTH[view.warmth]} in the pull", round(lowest, 1), limit, unit="°C"),
                Evidence("pulls too cold", len(cold), len(view.pulls)),
            ),
            causes=("not driven long enough",)
            if view.context.air_cooled
            else ("not driven long enough", "thermostat stuck open"),
            check="Ten minutes at cruise and still cold: the sensor, and where it sits"
            if view.context.air_cooled
            else "Ten minutes at cruise and still cold: the thermostat",
            next="Repeat warm; these pulls judge nothing.",
        )
    ]


def coolant_high(view: View) -> list[Finding]:
    """Coolant above its limits, or climbing at cruise."""
    rules = view.rules
    coolant = smooth(view["coolant"], view.rows(1.0))
    hot = runs(coolant > rules["hot.coolant"], view.time, 1.0, 1.0)
    if hot:
        start, stop = max(hot, key=lambda s: float(coolant[s[0] : s[1]].max()))
        most = float(coolant[start:stop].max())
        stopped = most > rules["hot.stop"]
        evidence = (
            Evidence(
                "coolant", round(most, 1), rules["hot.stop"] if stopped else rules["hot.coolant"], unit="°C"
            ),
        )
    else:
        climbing = None
        for window in view.of("cruise"):
            if window.to_s - window.from_s >= 30.0 and coolant[window.stop - 1] > 95.0:
                rows = slice(window.start, window.stop)
                rate = 60.0 * float(np.polyfit(view.time[rows], coolant[rows], 1)[0])
                if rate > rules["hot.rise"]:
                    climbing = (window, rate)
        if climbing is None:
            return []
        window, rate = climbing
        start, stop, stopped = window.start, window.stop, False
        evidence = (Evidence("coolant climbs at cruise", round(rate, 1), rules["hot.rise"], unit="K/min"),)
    return [
        Finding(
            "coolant_high",
            verdict=Verdict.stop if stopped else Verdict.hold,
            title="Coolant is high",
            from_s=float(view.time[start]),
            to_s=float(view.time[stop - 1]),
            evidence=evidence,
            causes=("low coolant or air in it", "fan not running", "thermostat", "radiator blocked"),
            check="Fan runs: flow or level; fan still: its relay or setting",
            next=(
                "Let it idle with the fan, then switch off."
                if stopped
                else "Find the cause before the next pull."
            ),
        )
    ]


def egt_spread(view: View) -> list[Finding]:
    """Exhaust temperatures of cylinders apart for a second or more."""
    names = [name for name in view.log.channels if name.startswith("egt_")]
    if len(names) < 2:
        return []
    running = view["rpm"] > 1200
    table = np.stack([smooth(view[name], view.rows(1.0)) for name in names])
    # Loaded when first needed: it would hold up every start.
    from scipy.ndimage import maximum_filter1d, minimum_filter1d

    # Probes and channels come one after the other: apart is what stays apart for a second.
    near = 2 * view.rows(0.5) + 1
    hottest_of = minimum_filter1d(table, near, axis=1).max(axis=0)
    coolest_of = maximum_filter1d(table, near, axis=1).min(axis=0)
    spread = np.where(running, np.maximum(hottest_of - coolest_of, 0.0), 0.0)
    apart = runs(spread >= view.rules["egt.spread"], view.time, 1.0, 0.5)
    if not apart:
        return []
    start, stop = max(apart, key=lambda s: float(spread[s[0] : s[1]].max()))
    row = start + int(np.argmax(spread[start:stop]))
    hottest = names[int(np.argmax(table[:, row]))].removeprefix("egt_")
    return [
        Finding(
            "egt_spread",
            verdict=Verdict.hold,
            title="Exhaust temperatures differ",
            from_s=float(view.time[start]),
            to_s=float(view.time[stop - 1]),
            evidence=(
                Evidence("spread", round(float(spread[row])), view.rules["egt.spread"], unit="K"),
                Evidence("hottest cylinder", hottest),
            ),
            causes=("injector low on the hot cylinder", "air distribution", "probe depth"),
            check="Swap the hot cylinder's injector with a cool one: the heat moves, the injector",
            next="Swap and log again.",
        )
    ]


SOAK = Detector("heat_soak", (("iat",), ("rpm",), ("pedal", "throttle")), heat_soak)
COLD = Detector(
    "not_warm",
    (("coolant",), ("rpm",), ("pedal", "throttle")),
    not_warm,
    lambda context: not context.air_cooled,
)
COLD_IN_THE_WIND = Detector(
    "not_warm",
    (("head_temp", "oil_temp", "coolant"), ("rpm",), ("pedal", "throttle")),
    not_warm,
    lambda context: context.air_cooled,
)
HOT = Detector("coolant_high", (("coolant",),), coolant_high, lambda context: not context.air_cooled)
EXHAUST = Detector(
    "egt_spread",
    (("egt_1",), ("egt_2",), ("rpm",)),
    egt_spread,
    lambda context: context.cylinders is None or context.cylinders > 1,
)
