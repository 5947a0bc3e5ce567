"""Injectors at their limit and fuel pressure that sags."""

from __future__ import annotations

import numpy as np

from ..basics import Evidence, Verdict
from ..fuel import blend, pulse_multiplier
from ..fuel import duty as duty_of
from ..logs import runs, smooth
from .model import Finding
from .view import Detector, View

DIRECT_INJECTION_KPA = 2000.0
#: A regulator, its hose and a logger's own pace are this far behind the manifold [s].
LAG_S = 0.5


def _direct(view: View) -> bool:
    return view.context.injection in ("direct", "both")


def _share(view: View) -> np.ndarray:
    """Share of the time an injector has that it uses [%]."""
    return _logged_share(view) * view.context.pulse_now


def _logged_share(view: View) -> np.ndarray:
    context = view.context
    if _direct(view):
        assert context.window_deg is not None
        longest = context.window_deg / (0.006 * np.maximum(view["rpm"], 1.0))
        return np.asarray(100 * view["pulse"] / longest * view.running)
    # A logger's own duty counts a four-stroke's cycle: on a two-stroke it is half of what is true.
    if view.has("pulse") and (context.injection_stroke == 2 or not view.has("duty")):
        return 100 * np.asarray(duty_of(view["pulse"], view["rpm"], context.injection_stroke))
    return np.asarray(view["duty"] * (2.0 if context.injection_stroke == 2 else 1.0))


def _lacks(view: View) -> str:
    if not _direct(view):
        return ""
    if view.context.window_deg is None:
        return "window of direct injection"
    return "" if view.has("pulse") else "pulse"


def limit(view: View) -> list[Finding]:
    """Injectors at their limit: duty logged or from pulse and speed, a direct one's share of its window."""
    rules, context = view.rules, view.context
    duty, longer = _share(view), context.pulse_at_most
    stretches = runs(duty * longer >= rules["duty.hold"], view.time, 1.5 / view.rate, 0.2)
    if not stretches:
        return []
    start, stop = max(stretches, key=lambda s: float(duty[s[0] : s[1]].max()))
    most = float(np.sort(duty[start:stop])[-2])
    stopped = most >= rules["duty.stop"]
    if most < rules["duty.hold"]:
        return [_on_more_ethanol(view, start, stop, most, longer)]
    return [
        Finding(
            "injector_limit",
            verdict=Verdict.stop if stopped else Verdict.hold,
            title="Injectors near their limit",
            from_s=float(view.time[start]),
            to_s=float(view.time[stop - 1]),
            evidence=(
                Evidence(
                    "most of the window" if _direct(view) else "highest duty",
                    round(most, 1),
                    rules["duty.stop"] if stopped else rules["duty.hold"],
                    unit="%",
                ),
                Evidence("at", round(float(view["rpm"][start])), unit="rpm"),
            ),
            causes=(
                "injectors too small for this power",
                "fuel pressure below plan",
                "fuel with more ethanol than planned",
            ),
            check="Fuel pressure right: the injectors; low: supply first",
            next=(
                "Stop asking for more: bigger injectors or more pressure."
                if stopped
                else "Plan the next size before more power."
            ),
        )
    ]


def _on_more_ethanol(view: View, start: int, stop: int, most: float, longer: float) -> Finding:
    """Injectors that carry this tank, and not the most ethanol that the kit runs."""
    context, limit = view.context, view.rules["duty.hold"]
    contents = np.linspace(context.ethanol or 0.0, context.most_ethanol or 0.0, 101)
    now = pulse_multiplier(blend(context.ethanol or 0.0))
    carried = [e for e in contents if most * pulse_multiplier(blend(float(e))) / now < limit]
    percent = np.floor(100 * max(carried, default=context.ethanol or 0.0))
    return Finding(
        "injector_limit",
        verdict=Verdict.hold,
        title="Injectors too small for the ethanol that this kit runs",
        from_s=float(view.time[start]),
        to_s=float(view.time[stop - 1]),
        evidence=(
            Evidence("highest duty, on this tank", round(most, 1), limit, unit="%"),
            Evidence(
                f"on {100 * (context.most_ethanol or 0.0):.0f} % ethanol",
                round(most * longer, 1),
                limit,
                unit="%",
            ),
            Evidence("carried up to, ethanol", float(percent), unit="%"),
            Evidence("at", round(float(view["rpm"][start])), unit="rpm"),
        ),
        causes=("injectors sized for the fuel of today",),
        check="The sheet of the set: its flow against the need on the most ethanol",
        next=f"No more than {percent:.0f} % ethanol under load before larger injectors, or more pressure.",
    )


def _expected(view: View, rail: np.ndarray) -> np.ndarray | None:
    """What the rail should read: level, or following the manifold, whichever fits the quiet running."""
    calm = view.mask("key_on", "idle", "cruise")
    if calm.sum() < view.rows(3.0):
        calm = ~view.mask("pull")
    if calm.sum() < 10:
        return None
    level = np.full(len(rail), float(np.median(rail[calm])))
    if float(np.median(rail[calm])) > DIRECT_INJECTION_KPA or not view.has("map"):
        return None if float(np.median(rail[calm])) > DIRECT_INJECTION_KPA else level
    lift = view["map"] - view.barometer
    referenced = float(np.median((rail - lift)[calm])) + lift
    return referenced if np.std((rail - referenced)[calm]) < np.std((rail - level)[calm]) else level


def _lowest_lately(values: np.ndarray, rows: int) -> np.ndarray:
    """Lowest of each value and the rows before it."""
    # Loaded when first needed: it would hold up every start.
    from scipy.ndimage import minimum_filter1d

    return np.asarray(minimum_filter1d(values, rows, origin=(rows - 1) // 2, mode="nearest"))


def drop(view: View) -> list[Finding]:
    """Rail or feed pressure below expected in a pull; a high-pressure rail against its own highest there."""
    rules = view.rules
    for name, label in (("rail", "rail pressure"), ("feed", "feed pressure")):
        if not view.has(name):
            continue
        pressure = smooth(view[name], view.rows(0.2))
        expected = _expected(view, pressure)
        # A rail under high pressure is judged in pulls alone: elsewhere it is asked for less on purpose.
        for pull in view.pulls if expected is None else [*view.pulls, *view.loads]:
            rows = slice(pull.start, pull.stop)
            if expected is None:
                # A rail under high pressure is asked for more as load and speed rise: it is held against the
                # most that it gave so far in the same pull.
                want = np.maximum.accumulate(pressure[rows])
            else:
                # A rail that follows the manifold, or a channel that comes late, lags while boost comes up.
                want = np.minimum(expected, _lowest_lately(expected, view.rows(LAG_S)))[rows]
            short = 1.0 - pressure[rows] / np.maximum(want, 1.0)
            low = runs(short >= rules["fuel.drop"] / 100, view.time[rows], rules["fuel.for_s"], 0.1)
            if low:
                a, b = max(low, key=lambda s: s[1] - s[0])
                worst = a + int(np.argmax(short[a:b]))
                return [
                    Finding(
                        "fuel_pressure_drop",
                        verdict=Verdict.stop,
                        title="Fuel pressure sags in a pull",
                        from_s=float(view.time[pull.start + a]),
                        to_s=float(view.time[pull.start + b - 1]),
                        evidence=(
                            Evidence(
                                f"lowest {label}",
                                round(float(pressure[rows][worst]), 0),
                                round(float(want[worst]), 0),
                                unit="kPa",
                            ),
                            Evidence(
                                "below expected",
                                round(100 * float(short[worst]), 1),
                                rules["fuel.drop"],
                                unit="%",
                            ),
                            Evidence(
                                "for",
                                round(float(view.time[pull.start + b - 1] - view.time[pull.start + a]), 1),
                                rules["fuel.for_s"],
                                unit="s",
                            ),
                        ),
                        causes=("pump", "filter", "regulator", "pump voltage"),
                        check="Volts at the pump in the pull: low, wiring; right, pump or filter",
                        next="No more load until the supply is put right.",
                    )
                ]
    return []


LIMIT = Detector(
    "injector_limit", (("duty", "pulse"), ("rpm",)), limit, lambda context: context.spark, _lacks
)


def _no_pull(view: View) -> str:
    """A rail under high pressure is judged in pulls alone."""
    seen = [name for name in ("rail", "feed") if view.has(name)]
    if view.pulls or not seen or any(_expected(view, view[name]) is not None for name in seen):
        return ""
    return "pull (none was driven)"


DROP = Detector(
    "fuel_pressure_drop",
    (("rail", "feed"), ("rpm",), ("pedal", "throttle", "map", "pulse")),
    drop,
    partly=_no_pull,
    where="load",
    sees=(("rail", "feed"),),
)
