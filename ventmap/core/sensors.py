"""Sensors: transfer curves and what they must read before the engine turns."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import exp, log

import numpy as np

from .air import standard_pressure
from .calls import Call, Evidence, Verdict
from .errors import BadInput, require_positive

OPEN_CIRCUIT_C, SHORT_C = -40.0, 130.0


@dataclass(frozen=True)
class Linear:
    """value = volts·slope + offset."""

    slope: float
    offset: float

    def value(self, volts: float) -> float:
        return volts * self.slope + self.offset


def linear_from_points(points: Sequence[tuple[float, float]]) -> Linear:
    """Transfer of a linear sensor from two points (volts, value)."""
    (v1, y1), (v2, y2) = points
    if v1 == v2:
        raise BadInput("The two points need different voltages.", "points")
    slope = (y2 - y1) / (v2 - v1)
    return Linear(slope, y1 - slope * v1)


@dataclass(frozen=True)
class SteinhartHart:
    """Thermistor curve 1/T = a + b·ln R + c·(ln R)³, T in kelvin, R in ohm (Steinhart and Hart 1968)."""

    a: float
    b: float
    c: float

    @classmethod
    def from_points(cls, points: Sequence[tuple[float, float]]) -> SteinhartHart:
        """From three (temp_c, ohms)."""
        if len(points) != 3 or len({ohms for _, ohms in points}) != 3:
            raise BadInput("A thermistor curve needs three different points.", "points")
        for _, ohms in points:
            require_positive(ohms=ohms)
        rows = [[1.0, log(ohms), log(ohms) ** 3] for _, ohms in points]
        inverse = [1.0 / (temp + 273.15) for temp, _ in points]
        a, b, c = np.linalg.solve(np.array(rows), np.array(inverse))
        return cls(float(a), float(b), float(c))

    def temp_c(self, ohms: float) -> float:
        """Temperature [°C] at a resistance [Ω]."""
        require_positive(ohms=ohms)
        return 1.0 / (self.a + self.b * log(ohms) + self.c * log(ohms) ** 3) - 273.15

    def ohms(self, temp_c: float) -> float:
        """Resistance [Ω] at a temperature [°C], by bisection over 1 Ω to 10 MΩ."""
        low, high = 0.0, log(1e7)
        for _ in range(80):
            middle = (low + high) / 2
            low, high = (middle, high) if self.temp_c(exp(middle)) > temp_c else (low, middle)
        return exp((low + high) / 2)


def trigger_offset(old: float, locked: float, read: float) -> float:
    """New trigger offset [° before top dead centre] after reading `read` with spark locked at `locked`.

    The offset is where the reference edge passes, so a light that reads more advance than was commanded
    means that the edge passes earlier than set: new = old + (read − locked).
    """
    return old + (read - locked)


def key_on_calls(
    *,
    manifold_kpa: float,
    barometer_kpa: float | None = None,
    altitude_m: float | None = None,
    coolant_c: float | None = None,
    intake_c: float | None = None,
    ambient_c: float | None = None,
    cold_soak: bool = True,
    hold_kpa: float = 2.0,
    stop_kpa: float = 5.0,
    soak_c: float = 5.0,
) -> list[Call]:
    """Judge the sensors with the key on and the engine still.

    With no instrument the barometer comes from the altitude. Temperatures agree only after a cold soak.
    """
    calls = [_pressure_call(manifold_kpa, barometer_kpa, altitude_m, hold_kpa, stop_kpa)]
    temperatures = {"coolant": coolant_c, "intake": intake_c, "ambient": ambient_c}
    given = {name: value for name, value in temperatures.items() if value is not None}
    for name, value in given.items():
        if value <= OPEN_CIRCUIT_C or (value > SHORT_C and cold_soak):
            fault = "open circuit" if value <= OPEN_CIRCUIT_C else "short circuit"
            calls.append(
                Call(
                    "sensor.circuit", Verdict.stop, (Evidence(f"{name} temperature", value, unit="°C"),),
                    f"This reads like a {fault}. Check the {name} sensor's plug and wiring.",
                    "A thermistor circuit rails at −40 °C when open", title=f"{name.capitalize()} sensor: {fault}",
                )
            )  # fmt: skip
    sound = {name: value for name, value in given.items() if OPEN_CIRCUIT_C < value <= SHORT_C}
    if cold_soak and len(sound) >= 2:
        spread = max(sound.values()) - min(sound.values())
        verdict = Verdict.hold if spread > soak_c else Verdict.go
        advice = "Find the sensor that is out, or wait until the vehicle is truly cold."
        calls.append(
            Call(
                "sensor.cold_soak", verdict,
                (*(Evidence(f"{n} temperature", round(v, 1), unit="°C") for n, v in sound.items()),
                 Evidence("spread", round(spread, 1), soak_c, "K")),
                advice if verdict is Verdict.hold else "The temperatures agree.",
                "After a cold soak all parts are at one temperature", title="Temperatures after a cold soak",
            )
        )  # fmt: skip
    return calls


def _pressure_call(manifold: float, barometer: float | None, altitude_m: float | None, hold_kpa: float, stop_kpa: float) -> Call:
    if barometer is None:
        if altitude_m is None:
            raise BadInput("Give a barometer reading or the altitude.", "barometer_kpa")
        reference, source = standard_pressure(altitude_m), f"standard atmosphere at {altitude_m:g} m"
    else:
        reference, source = barometer, "barometer reading"
    off = abs(manifold - reference)
    verdict = Verdict.stop if off > stop_kpa else Verdict.hold if off > hold_kpa else Verdict.go
    advice = {
        Verdict.go: "The pressure sensor reads true.",
        Verdict.hold: "Check the sensor's scaling and the hose, then read again.",
        Verdict.stop: "Do not start: every fuel sum would be wrong. Check the transfer curve, the hose and the plug.",
    }[verdict]
    return Call(
        "sensor.key_on_pressure", verdict,
        (Evidence("manifold pressure", round(manifold, 1), unit="kPa"),
         Evidence("barometer", round(reference, 1), unit="kPa"),
         Evidence("difference", round(off, 1), hold_kpa, "kPa")),
        advice, source, title="Manifold pressure against barometer", protects="computer" if off > stop_kpa else "",
    )  # fmt: skip


def pedal_calls(
    closed_v: float, open_v: float, twin_closed_v: float | None = None, twin_open_v: float | None = None, *,
    low_v: float = 0.3, high_v: float = 4.7, span_v: float = 2.0, agree: float = 0.05,
) -> list[Call]:  # fmt: skip
    """Judge a pedal or throttle learn: `low_v` to `high_v`, span ≥ `span_v` [V], twin tracks within the share `agree`.

    The twin track may run over another range; it is compared as a share of its own 5 V-referred span.
    """
    low, high, span = min(closed_v, open_v), max(closed_v, open_v), abs(open_v - closed_v)
    inside = low >= low_v and high <= high_v
    calls = [
        Call(
            "pedal.range", Verdict.go if inside and span >= span_v else Verdict.stop,
            (Evidence("closed", closed_v, f"{low_v:g}–{high_v:g}", "V"), Evidence("open", open_v, f"{low_v:g}–{high_v:g}", "V"),
             Evidence("span", round(span, 2), span_v, "V")),
            "Closed and open are learned." if inside and span >= span_v
            else "Do not start: check the pedal's plug, feed and ground, then learn again.",
            "Electronic throttle practice", title="Pedal range", protects="people",
        )
    ]  # fmt: skip
    if twin_closed_v is not None and twin_open_v is not None:
        # Tracks that carry the same or half the voltage: compare both ends after scaling by the full-pedal ratio.
        ratio = open_v / twin_open_v if twin_open_v else 0.0
        off = abs(twin_closed_v * ratio - closed_v) / max(span, 1e-9)
        together = 0.45 <= ratio <= 2.2 and off <= agree
        calls.append(
            Call(
                "pedal.tracks", Verdict.go if together else Verdict.stop,
                (Evidence("tracks differ", round(100 * off, 1), 100 * agree, "%"),),
                "Both tracks agree." if together else "Do not start: a track is out. Check both signal wires.",
                "Twin tracks watch each other", title="Pedal tracks", protects="people",
            )
        )  # fmt: skip
    return calls
