"""What breaks an engine by itself, whatever the map says: pressure, oil, heat, speed, voltage beyond
their ends.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..basics import Evidence, Verdict
from ..logs import CHANNELS, runs, smooth
from .model import Finding, ReviewContext
from .view import Detector, View

Mask = NDArray[np.bool_]
#: Causes, the check that parts them, what to do at a stop, and at a hold.
_Say = tuple[tuple[str, ...], str, str, str]
#: Above this an engine's oil pressure is judged by its speed [rpm]; warm is judged from here [°C].
OIL_FROM_RPM, OIL_WARM_C = 2000.0, 70.0
#: Less than this is nought [kPa].
OIL_NOUGHT_KPA = 10.0
#: Two batteries in a row, not one that is charged too high [V].
TWO_BATTERIES_V = 20.0


def _worst(
    view: View, high: Mask, higher: Mask, hold_s: float, stop_s: float
) -> tuple[int, int, bool] | None:
    """The longest stretch over the stop, else over the hold: (start, stop, whether it is the stop)."""
    for mask, seconds, grave in ((higher, stop_s, True), (high, hold_s, False)):
        found = runs(mask, view.time, seconds, 0.2)
        if found:
            start, stop = max(found, key=lambda s: s[1] - s[0])
            return start, stop, grave
    return None


def _told(
    view: View, kind: str, title: str, span: tuple[int, int, bool], evidence: tuple[Evidence, ...], say: _Say
) -> list[Finding]:
    start, stop, grave = span
    return [
        Finding(
            kind,
            verdict=Verdict.stop if grave else Verdict.hold,
            title=title,
            from_s=float(view.time[start]),
            to_s=float(view.time[stop - 1]),
            evidence=(
                *evidence,
                Evidence("for", round(float(view.time[stop - 1] - view.time[start]), 1), unit="s"),
            ),
            causes=say[0],
            check=say[1],
            next=say[2] if grave else say[3],
        )
    ]


_OVERBOOST: _Say = (
    ("wastegate line off or split", "base duty too high", "wastegate stuck shut", "a level above the map's"),
    "Wastegate duty falls while boost stays: the gate or its line; duty stays high: the map",
    "No more load: boost is out of control until line, gate and duty are put right.",
    "Look at the wastegate line and its duty before the next pull.",
)


def overboost(view: View) -> list[Finding]:
    """Manifold pressure above its target while the foot asks for it; a spike at lift is the plenum, no
    fault.
    """
    rules, pressure = view.rules, smooth(view["map"], view.rows(0.2))
    # What a box beside the stock computer adds is meant: the computer's own target knows nothing of it.
    wanted = view["map_target"] + (view.context.added_boost_kpa or 0.0)
    asked = view.mask("load", "pull") & view.boosted & ~view.cut_rows & (wanted > 0.8 * view.barometer)
    if view.foot:
        foot, back = view[view.foot], view.rows(0.5)
        # Not while the foot comes back: target falls at once, pressure cannot.
        asked &= foot >= np.concatenate([foot[:1].repeat(min(back, len(foot))), foot[:-back]]) - 5.0
    over = np.where(asked, pressure - wanted, -np.inf)
    span = _worst(view, over >= rules["boost.over_hold"], over >= rules["boost.over_stop"], 0.5, 0.5)
    if span is None:
        return []
    rows = slice(span[0], span[1])
    row = span[0] + int(np.argmax(over[rows]))
    limit = rules["boost.over_stop"] if span[2] else rules["boost.over_hold"]
    evidence = (
        Evidence("manifold", round(float(pressure[row]), 1), round(float(wanted[row]), 1), unit="kPa"),
        Evidence("above its target", round(float(over[row]), 1), limit, unit="kPa"),
        Evidence("at", round(float(view["rpm"][row])), unit="rpm"),
    )
    return _told(view, "overboost", "More boost than its target", span, evidence, _OVERBOOST)


_OIL: _Say = (
    ("oil level", "pick-up draws air in a bend", "bearing or pump worn", "sender or its scale"),
    "Read it with a gauge at the block: the same, the oil; right, the sender",
    "Switch it off now; it does not run again before the pressure is read with a gauge.",
    "Look at level and grade, then read it with a gauge before the next pull.",
)


def oil_pressure_low(view: View) -> list[Finding]:
    """Oil pressure below what a warm engine needs at its speed, or none at all."""
    rules, rpm = view.rules, view["rpm"]
    pressure = smooth(view["oil_pressure"], view.rows(0.3))
    running = np.asarray(rpm > 500.0)
    warm = running & (rpm >= OIL_FROM_RPM)
    name = next((name for name in ("oil_temp", "coolant", "head_temp") if view.has(name)), "")
    if name:
        warm &= view[name] >= OIL_WARM_C
    need = rules["oil.per_1000"] * rpm / 1000.0
    nought = runs(running & (pressure < OIL_NOUGHT_KPA), view.time, 1.0, 0.2)
    if nought:
        span: tuple[int, int, bool] | None = (*max(nought, key=lambda s: s[1] - s[0]), True)
    else:
        span = _worst(view, warm & (pressure < need), warm & (pressure < need / 2.0), 0.5, 0.3)
    if span is None:
        return []
    row = span[0] + int(np.argmin(pressure[span[0] : span[1]]))
    limit = 0.0 if nought else round(float(need[row] / (2.0 if span[2] else 1.0)))
    evidence = (
        Evidence("oil pressure", round(float(pressure[row])), limit or OIL_NOUGHT_KPA, unit="kPa"),
        Evidence("at", round(float(rpm[row])), unit="rpm"),
    )
    return _told(view, "oil_pressure_low", "Oil pressure is low", span, evidence, _OIL)


def _sender_not_ready(view: View) -> str:
    """A sender that reads nought with the engine still, and stays, tells nothing of the oil."""
    still = view.mask("key_on")
    pressure = view["oil_pressure"]
    reads = still.any() and bool((np.abs(pressure) < OIL_NOUGHT_KPA).all())
    return "oil pressure (its sender reads nought from key on)" if reads else ""


_EXHAUST: _Say = (
    ("too lean", "spark too late", "too much load for its cooling", "a probe too near the valve"),
    "Spark there later than the shelf map: spark; lean: fuel; neither: load and time at it",
    "Off the load at once; nothing pulls again before mixture and spark are looked at.",
    "Shorter pulls, and look at mixture and spark there first.",
)


def _exhaust_limits(context: ReviewContext) -> tuple[float, float, float, float]:
    """Where it holds and where it stops [°C], and how long each may last [s]."""
    rules = context.rules
    if context.oil_in_fuel:
        return rules["exhaust.two_stroke_hold"], rules["exhaust.two_stroke_stop"], 1.0, 1.0
    if context.spark:
        return rules["exhaust.petrol_hold"], rules["exhaust.petrol_stop"], 1.0, 0.5
    return rules["exhaust.diesel_hold"], rules["exhaust.diesel_stop"], 10.0, 1.0


def exhaust_hot(view: View) -> list[Finding]:
    """Exhaust gas hotter than turbine, valves or piston bear."""
    hold, stop, hold_s, stop_s = _exhaust_limits(view.context)
    names = [name for name in view.log.channels if name.startswith("egt_") and view.has(name)]
    hottest = np.max([smooth(view[name], view.rows(0.5)) for name in names], axis=0)
    span = _worst(view, view.running & (hottest > hold), view.running & (hottest > stop), hold_s, stop_s)
    if span is None:
        return []
    rows = slice(span[0], span[1])
    row = span[0] + int(np.argmax(hottest[rows]))
    where = max(names, key=lambda name: float(view[name][row]))
    evidence = (
        Evidence(CHANNELS[where].label, round(float(hottest[row])), stop if span[2] else hold, unit="°C"),
        Evidence("at", round(float(view["rpm"][row])), unit="rpm") if view.has("rpm") else None,
    )
    return _told(view, "exhaust_hot", "Exhaust is too hot", span, tuple(e for e in evidence if e), _EXHAUST)


_INTAKE: _Say = (
    ("heat soak", "cooler too small or without air", "boost above what it was made for", "the wrong sensor"),
    "Cold start: it reads the air outside, the sensor is right; then look at the cooler's air",
    "No more load before it has cooled and the cooler has air.",
    "Let it cool, give the cooler air, and pull again.",
)


def intake_hot(view: View) -> list[Finding]:
    """Intake air under load hotter than the knock margin bears."""
    rules, air = view.rules, smooth(view["iat"], view.rows(0.5))
    load = view.mask("load", "pull")
    span = _worst(view, load & (air > rules["charge.hold"]), load & (air > rules["charge.stop"]), 0.5, 0.5)
    if span is None:
        return []
    most = float(air[span[0] : span[1]].max())
    limit = rules["charge.stop"] if span[2] else rules["charge.hold"]
    evidence = (Evidence("intake air under load", round(most, 1), limit, unit="°C"),)
    return _told(view, "intake_hot", "Intake air is too hot", span, evidence, _INTAKE)


_VOLTAGE: _Say = (
    ("regulator", "battery left out or its post loose", "a gauge that is out"),
    "Measure at the battery: the same, the regulator; right there, feed or scale of the computer",
    "Switch it off: computers and injector drivers do not bear it.",
    "Measure at the battery, then the regulator, before a write or a long drive.",
)


def voltage_high(view: View) -> list[Finding]:
    """Battery above what computers bear; two batteries in a row are judged by the half."""
    rules, volts = view.rules, smooth(view["battery"], view.rows(0.5))
    if float(np.median(volts)) > TWO_BATTERIES_V:
        volts = volts / 2.0
    running = np.asarray(view["rpm"] > 500.0)
    high, higher = volts > rules["battery.high"], volts > rules["battery.high_stop"]
    span = _worst(view, running & high, running & higher, 2.0, 1.0)
    if span is None:
        return []
    most = float(volts[span[0] : span[1]].max())
    limit = rules["battery.high_stop"] if span[2] else rules["battery.high"]
    evidence = (Evidence("battery, running", round(most, 2), limit, unit="V"),)
    return _told(view, "voltage_high", "Battery voltage is high", span, evidence, _VOLTAGE)


_SPEED: _Say = (
    ("rev limit of the map not set", "a missed shift", "engine speed scaled wrong", "another vehicle's log"),
    "The dial against the log at one held speed: apart, the scale; the same, limit or shift",
    "No more pulls: find out what it was before valves and rods are trusted.",
    "Set the rev limit, then one pull to it.",
)


def overspeed(view: View) -> list[Finding]:
    """Engine speed above the limit of the vehicle and its map."""
    limit = view.context.rev_limit
    assert limit is not None
    over = view["rpm"] - limit
    rows_s = 1.5 / view.rate
    span = _worst(
        view, over > view.rules["speed.over_hold"], over > view.rules["speed.over_stop"], rows_s, rows_s
    )
    if span is None:
        return []
    most = float(view["rpm"][span[0] : span[1]].max())
    beyond = view.rules["speed.over_stop"] if span[2] else view.rules["speed.over_hold"]
    evidence = (Evidence("engine speed", round(most), round(limit + beyond), unit="rpm"),)
    return _told(view, "overspeed", "Over its rev limit", span, evidence, _SPEED)


def _boosted(context: ReviewContext) -> bool:
    return context.induction != "none"


OVERBOOST = Detector(
    "overboost",
    (("map",), ("map_target",), ("rpm",)),
    overboost,
    _boosted,
    where="load",
    sees=(("map",), ("map_target",)),
)
OIL = Detector(
    "oil_pressure_low",
    (("oil_pressure",), ("rpm",)),
    oil_pressure_low,
    lambda context: not context.oil_in_fuel,
    _sender_not_ready,
)
EXHAUST_HOT = Detector("exhaust_hot", (tuple(f"egt_{n}" for n in range(1, 9)),), exhaust_hot)
INTAKE = Detector(
    "intake_hot",
    (("iat",), ("rpm",), ("pedal", "throttle", "map", "pulse")),
    intake_hot,
    _boosted,
    where="load",
    sees=(("iat",),),
)
VOLTAGE_HIGH = Detector("voltage_high", (("battery",), ("rpm",)), voltage_high)
OVERSPEED = Detector(
    "overspeed",
    (("rpm",),),
    overspeed,
    lacks=lambda view: "" if view.context.rev_limit is not None else "rev limit of this vehicle",
)
