"""Boost that falls or levels off too low."""

from __future__ import annotations

import numpy as np

from ..basics import Evidence, Verdict
from ..logs import Window, smooth
from .model import Finding, ReviewContext
from .view import Detector, View

FALL_CAUSES = {
    "blower": ("drive slip: belt, pulley or clutch", "bypass valve opening", "intake restriction"),
    "turbo": ("wastegate opening", "turbo out of flow", "leak that opens with pressure"),
    "unknown": (
        "drive slip of a blower: belt, pulley or clutch",
        "wastegate of a turbo opening, or out of flow",
        "leak that opens with pressure",
    ),
}


#: The foot comes off a pull in this [s].
OFF_S = 0.3
#: Above the barometer by this it is boost [kPa]; after this long at full pedal a charger has spooled [s].
BOOST_KPA, SPOOLED_S = 10.0, 2.0


def _boosted_pull(view: View, pull: Window) -> tuple[np.ndarray, np.ndarray] | None:
    """Smoothed pressure and speed of a pull without its cuts; None where there is no boost or too little."""
    rows = np.arange(pull.start, pull.stop)
    # At the limiter fuel is cut, and without its heat nothing drives the charger.
    rows = rows[~view.cut_rows[rows] & view.fuelled[rows]]
    # The last moments are the foot that comes off, and values that a slow logger repeats.
    rows = rows[: max(0, len(rows) - view.rows(OFF_S))]
    if len(rows) < view.rows(1.0):
        return None
    pressure = smooth(view["map"][rows], view.rows(0.3))
    if pressure.max() < view.barometer + BOOST_KPA:
        return None
    return rows, pressure


def falls(view: View) -> list[Finding]:
    """Manifold pressure falls from its peak in a pull while speed goes on rising; a falling target is a wish,
    no fault.
    """
    found = []
    rules, rpm = view.rules, view["rpm"]
    for pull in view.pulls:
        boosted = _boosted_pull(view, pull)
        if boosted is None:
            continue
        rows, pressure = boosted
        peak = int(np.argmax(pressure))
        end = float(np.median(pressure[-view.rows(0.3) :]))
        fall = float(pressure[peak]) - end
        share, rise = 100 * fall / pressure[peak], 100 * (rpm[rows[-1]] / rpm[rows[peak]] - 1)
        wanted = 0.0
        if view.has("map_target"):
            # A target that falls by itself is the computer's wish, not a fault.
            target = view["map_target"][rows]
            wanted = max(0.0, float(target[peak] - np.median(target[-view.rows(0.3) :])))
        if (
            share >= rules["boost.fall_share"]
            and fall - wanted >= rules["boost.fall_kpa"]
            and rise >= rules["boost.fall_rpm"]
        ):
            found.append((pull, peak, rows, pressure, end, share, rise))
    if not found:
        return []
    pull, peak, rows, pressure, end, share, rise = max(found, key=lambda item: item[5])
    blower = view.context.induction == "blower"
    return [
        Finding(
            "boost_falls_with_rpm",
            verdict=Verdict.stop if blower else Verdict.hold,
            title="Boost falls as speed rises",
            from_s=float(view.time[rows[peak]]),
            to_s=pull.to_s,
            evidence=(
                Evidence(f"peak at {rpm[rows[peak]]:.0f} rpm", round(float(pressure[peak]), 1), unit="kPa"),
                Evidence(f"at {rpm[rows[-1]]:.0f} rpm", round(end, 1), unit="kPa"),
                Evidence("fall", round(share, 1), rules["boost.fall_share"], unit="%"),
                Evidence("seen in pulls", len(found), len(view.pulls)),
            ),
            causes=FALL_CAUSES.get(view.context.induction, FALL_CAUSES["unknown"]),
            check=(
                "Mark belt and pulley with chalk: a slipped mark is drive slip; none, test the bypass"
                if blower
                else "Wastegate duty still rising while boost falls: out of flow; level: the spring or a leak"
            ),
            next="Check the drive before another pull." if blower else "Log wastegate duty over one pull.",
        )
    ]


def plateau(view: View) -> list[Finding]:
    """Manifold pressure levels off below its target, or below the baseline where no target is logged."""
    rules, rpm = view.rules, view["rpm"]
    baseline = view.context.baseline_boost_kpa
    if none := _no_boost(view):
        return [none]
    for pull in view.pulls:
        boosted = _boosted_pull(view, pull)
        if boosted is None:
            continue
        rows, pressure = boosted
        tail = slice(len(rows) // 2, None)
        level, seconds = pressure[tail], view.time[rows][tail]
        if seconds[-1] - seconds[0] < 1.0:
            continue
        slope = float(np.polyfit(seconds, level, 1)[0])
        target = float(np.median(view["map_target"][rows][tail])) if view.has("map_target") else baseline
        if target is None:
            continue
        short = target - float(np.median(level))
        # Level: over the second half it moves less than the regulation's own play. Or it never came
        # near, late
        # as it spools through a leak: then the best of a long pull is short as well.
        flat = abs(slope) * (seconds[-1] - seconds[0]) < rules["boost.fall_kpa"]
        best = target - float(np.max(pressure))
        late = pull.to_s - pull.from_s >= SPOOLED_S + 1.0 and best >= rules["boost.low_kpa"]
        # What falls from its best is another fault, and told as that.
        late &= int(np.argmax(pressure)) >= len(pressure) // 2
        if (flat or late) and short >= rules["boost.low_kpa"]:
            return [
                Finding(
                    "boost_plateau_low",
                    verdict=Verdict.hold,
                    title="Boost levels off below target",
                    from_s=float(seconds[0]),
                    to_s=pull.to_s,
                    evidence=(
                        Evidence("level", round(float(np.median(level)), 1), round(target, 1), unit="kPa"),
                        Evidence("short by", round(short, 1), rules["boost.low_kpa"], unit="kPa"),
                        Evidence("up to", round(float(rpm[rows[-1]])), unit="rpm"),
                    ),
                    causes=(
                        "leak between compressor and manifold",
                        "wastegate not closing",
                        "wrong boost level chosen",
                    ),
                    check="Pressure-test the intake: it leaks down, a leak; it holds, look at the wastegate",
                    next="Pressure-test the intake from the compressor on.",
                )
            ]
    return []


def _no_boost(view: View) -> Finding | None:
    """An engine that is charged, in pulls of two seconds and more that never rise above the barometer."""
    known = view.has("baro") or view.context.altitude_m is not None
    if view.context.induction not in ("turbo", "blower") or not known:
        # At sea level a boost of 20 kPa at 2 500 m would look like none.
        return None
    pulls = [pull for pull in view.pulls if pull.to_s - pull.from_s >= SPOOLED_S]
    if not pulls or any(_boosted_pull(view, pull) for pull in pulls):
        return None
    peaks = [float(np.max(smooth(view["map"][p.start : p.stop], view.rows(0.3)))) for p in pulls]
    best = int(np.argmax(peaks))
    return Finding(
        "boost_plateau_low",
        verdict=Verdict.hold,
        title="It makes no boost",
        from_s=pulls[best].from_s,
        to_s=pulls[best].to_s,
        evidence=(
            Evidence("highest in a pull", round(peaks[best], 1), unit="kPa"),
            Evidence("barometer", round(view.barometer, 1), unit="kPa"),
            Evidence("pulls", len(pulls)),
        ),
        causes=(
            "hose off, or a large leak between compressor and manifold",
            "wastegate or bypass open, belt off",
            "the column is gauge pressure, or another sensor's",
        ),
        check="Key on, engine off, it reads the barometer: the sensor is right; else say what the column is",
        next="Pressure-test the intake from the compressor on before another pull.",
    )


def _boosted(context: ReviewContext) -> bool:
    return context.induction != "none"


_NEEDS = (("map",), ("pedal", "throttle"), ("rpm",))
FALLS = Detector("boost_falls_with_rpm", _NEEDS, falls, _boosted, where="pull", sees=(("map",),))
PLATEAU = Detector("boost_plateau_low", _NEEDS, plateau, _boosted, where="pull", sees=(("map",),))
