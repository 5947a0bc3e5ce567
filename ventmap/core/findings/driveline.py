"""Between engine and road: what slips under load, and a throttle that the computer shuts at full pedal."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..basics import Evidence, Verdict
from ..logs import Window, runs, smooth
from .model import Finding, ReviewContext
from .view import Detector, View

#: Slower than this a wheel's turn is too coarse to tell a gear by [km/h].
FROM_KMH = 30.0
#: What a logger holds over lags behind the engine by so long: over it the lowest ratio counts [s].
HELD_S = 0.8
#: It slips, or is shut, for so long at a stretch [s]; the foot's own going down is over by then [s].
SLIP_S, SHUT_S, DOWN_S = 0.4, 1.5, 1.0
#: Wheels that differ by more spin: that is no clutch's [share].
SPIN = 0.08
#: Boost so near to its target is at it, or above [kPa]; hot intake, hot coolant [°C]; near its limit [rpm].
AT_TARGET_KPA, HOT_INTAKE_C, HOT_COOLANT_C, NEAR_LIMIT_RPM = 3.0, 60.0, 103.0, 300.0


#: Limits that say that something is amiss; engine speed and torque by gear are as the works set them.
BOOST, HEAT = "boost at or above what it allows", "heat"
FAULTY = (BOOST, HEAT)


def _slip(view: View, pull: Window) -> tuple[int, int, float] | None:
    """Where engine speed runs away from road speed in a pull: first and last row, and by which share."""
    from scipy.ndimage import minimum_filter1d

    rows = slice(pull.start, pull.stop)
    speed, rpm = view["speed"][rows], view["rpm"][rows]
    fast = (speed >= FROM_KMH) & ~view.cut_rows[rows] & view.fresh("speed")[rows]
    if fast.sum() < view.rows(1.0):
        return None
    ratio = np.where(fast, rpm / np.maximum(speed, 1.0), np.nan)
    seen = np.flatnonzero(fast)
    low = minimum_filter1d(smooth(ratio[seen], view.rows(0.3)), 2 * view.rows(HELD_S / 2) + 1)
    rise = low / np.minimum.accumulate(low) - 1.0
    found = runs(rise >= view.rules["slip.share"] / 100.0, view.time[rows][seen], SLIP_S, 0.2)
    if not found:
        return None
    first, last = found[0]
    return pull.start + int(seen[first]), pull.start + int(seen[last - 1]), float(rise[first:last].max())


def _spins(view: View, start: int, stop: int) -> bool:
    """Driven and undriven wheels differ there."""
    if not view.has("front_speed", "rear_speed"):
        return False
    front, rear = view["front_speed"][start : stop + 1], view["rear_speed"][start : stop + 1]
    return bool(np.max(np.abs(rear - front) / np.maximum(np.minimum(front, rear), FROM_KMH)) >= SPIN)


def slips(view: View) -> list[Finding]:
    """Engine speed climbs away from road speed within one pull, and nothing was shifted."""
    found = [(pull, told) for pull in view.pulls if (told := _slip(view, pull)) is not None]
    found = [(pull, told) for pull, told in found if not _spins(view, told[0], told[1])]
    if not found:
        return []
    _, (start, stop, share) = max(found, key=lambda one: one[1][2])
    return [
        Finding(
            "gear_slips",
            verdict=Verdict.hold,
            title="Engine speed runs away from road speed",
            from_s=float(view.time[start]),
            to_s=float(view.time[stop]),
            evidence=(
                Evidence("above its gear", round(100 * share, 1), view.rules["slip.share"], unit="%"),
                Evidence("at", round(float(view["rpm"][start])), unit="rpm"),
                Evidence("road speed there", round(float(view["speed"][start]), 1), unit="km/h"),
                Evidence("pulls in which it does", len(found), len(view.pulls)),
            ),
            causes=("clutch slips", "driven wheels spin", "converter or gearbox slips"),
            check="Same gear, half the load: holds, the clutch; wheel speeds apart, the tyres",
            next="No more full load in this gear: what slips burns. Look at the clutch before the next pull.",
        )
    ]


def _open_at_full(view: View) -> float:
    """What this throttle reads when it is open: it need not be 100 %."""
    down = view["pedal"] >= 90.0
    return float(np.percentile(view["throttle"][down], 95)) if down.any() else 100.0


def _shut(view: View) -> NDArray[np.bool_]:
    """Rows with the pedal down for a while and the throttle well below open, and no cut of traction."""
    down = view["pedal"] >= 90.0
    rows = view.rows(DOWN_S)
    held = np.convolve(down, np.ones(rows))[: len(down)] >= rows
    return held & (view["throttle"] <= _open_at_full(view) - view.rules["throttle.shut"]) & ~view.cut_rows


def _limiter(view: View, start: int, stop: int) -> str:
    """Which limit shuts it, by what stood at its own there."""
    rows = slice(start, stop)
    limit = view.context.rev_limit
    if limit is not None and float(view["rpm"][rows].max()) >= limit - NEAR_LIMIT_RPM:
        return "engine speed"
    charged = view.has("map", "map_target") and view.context.induction != "none"
    if charged and float(np.median(view["map"][rows] - view["map_target"][rows])) >= -AT_TARGET_KPA:
        return BOOST
    for name, hot in (("iat", HOT_INTAKE_C), ("coolant", HOT_COOLANT_C)):
        if view.has(name) and float(np.median(view[name][rows])) >= hot:
            return HEAT
    return "torque, by gear or gearbox"


def throttle_shut(view: View) -> list[Finding]:
    """The computer holds the throttle below what the pedal asks for, longer than a cut of traction."""
    found = runs(_shut(view), view.time, SHUT_S, 0.2)
    if not found:
        return []
    start, stop = max(found, key=lambda one: one[1] - one[0])
    why = _limiter(view, start, stop)
    return [
        Finding(
            "throttle_shut",
            verdict=Verdict.hold if why in FAULTY else Verdict.go,
            title="The computer shuts the throttle under a full pedal",
            from_s=float(view.time[start]),
            to_s=float(view.time[stop - 1]),
            evidence=(
                Evidence(
                    "throttle",
                    round(float(np.median(view["throttle"][start:stop])), 1),
                    round(_open_at_full(view) - view.rules["throttle.shut"], 1),
                    unit="%",
                ),
                Evidence("pedal", round(float(np.median(view["pedal"][start:stop])), 1), unit="%"),
                Evidence("for", round(float(view.time[stop - 1] - view.time[start]), 1), SHUT_S, unit="s"),
                Evidence("at its limit there", why),
            ),
            causes=(f"limit: {why}", "limit of a gear or mode", "a fault that the codes name"),
            check="Codes first; then the same pull in the next gear: open there, it is a limit by gear",
            next="Read no boost or power from this stretch: find which limit it is, and whether it stays.",
        )
    ]


def _clutch(context: ReviewContext) -> bool:
    """Gears that a foot changes: a converter slips as it should, an automatic changes down at full pedal."""
    return context.manual and not context.belt


SLIPS = Detector(
    "gear_slips",
    (("rpm",), ("speed",), ("pedal", "throttle")),
    slips,
    applies=_clutch,
    where="pull",
    sees=(("speed",),),
)
SHUT = Detector(
    "throttle_shut",
    (("pedal",), ("throttle",), ("rpm",)),
    throttle_shut,
    # Nothing throttles a diesel at load.
    applies=lambda context: context.spark,
)
