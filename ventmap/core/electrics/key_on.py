"""What sensors must read with the key on and the engine still."""

from __future__ import annotations

from math import exp

from ..basics import BadInput, Call, Evidence, Verdict, standard_pressure

#: An open circuit rails at −40 °C; read over a link it comes within a degree of it, never exactly at it.
OPEN_CIRCUIT_C, SHORT_C = -39.0, 130.0

#: A warm engine is so far above the air around it [K], and loses that with this time constant [h]; sooner
#: than this its temperatures tell nothing of its sensors [h].
WARM_OVER_K, COOLS_H, STANDS_H = 70.0, 2.6, 2.0


def left_after(stood_h: float) -> float:
    """What is left of a warm engine's heat after it stood, above the air around it [K].

    Newton's law of cooling.

    Examples
    --------
    >>> round(left_after(0.0)), round(left_after(8.0), 1)
    (70, 3.2)
    """
    return WARM_OVER_K * exp(-max(stood_h, 0.0) / COOLS_H)


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
    stood_h: float | None = None,
) -> list[Call]:
    """Judge the sensors with the key on and the engine still.

    With no instrument the barometer comes from the altitude. Temperatures agree only after a cold soak:
    `stood_h` says how long it stood [h]; a night where nobody says otherwise.
    """
    calls = [_pressure_call(manifold_kpa, barometer_kpa, altitude_m, hold_kpa, stop_kpa)]
    temperatures = {"coolant": coolant_c, "intake": intake_c, "ambient": ambient_c}
    given = {name: value for name, value in temperatures.items() if value is not None}
    for name, value in given.items():
        # A reading that is none fails every comparison, and is no sound sensor.
        if not value > OPEN_CIRCUIT_C or (value > SHORT_C and cold_soak):
            fault = "short circuit" if value > SHORT_C else "open circuit"
            calls.append(
                Call(
                    "sensor.circuit",
                    verdict=Verdict.stop,
                    because=(Evidence(f"{name} temperature", value, unit="°C"),),
                    do_next=f"This reads like a {fault}. Check the {name} sensor's plug and wiring.",
                    source="A thermistor circuit rails at −40 °C when open",
                    title=f"{name.capitalize()} sensor: {fault}",
                )
            )
    sound = {name: value for name, value in given.items() if OPEN_CIRCUIT_C < value <= SHORT_C}
    if cold_soak and len(sound) >= 2:
        spread = max(sound.values()) - min(sound.values())
        left = 0.0 if stood_h is None else left_after(stood_h)
        # What is left of the heat is the coolant's: nothing else may be that much warmer.
        warmest = max(sound, key=lambda name: sound[name])
        allowed = soak_c + (left if warmest == "coolant" else 0.0)
        short = stood_h is not None and not stood_h >= STANDS_H
        verdict = Verdict.hold if spread > allowed or short else Verdict.go
        advice = (
            f"It stood for less than {STANDS_H:g} h: leave it longer, then read again."
            if short
            else "Find the sensor that is out, or wait until the vehicle is truly cold."
        )
        calls.append(
            Call(
                "sensor.cold_soak",
                verdict=verdict,
                because=(
                    *(Evidence(f"{n} temperature", round(v, 1), unit="°C") for n, v in sound.items()),
                    Evidence("spread", round(spread, 1), round(allowed, 1), unit="K"),
                    *(() if stood_h is None else (Evidence("stood for", stood_h, STANDS_H, unit="h"),)),
                ),
                do_next=advice if verdict is Verdict.hold else "The temperatures agree.",
                source="After a cold soak all parts are at one temperature",
                title="Temperatures after a cold soak",
            )
        )
    return calls


def _pressure_call(
    manifold: float, barometer: float | None, altitude_m: float | None, hold_kpa: float, stop_kpa: float
) -> Call:
    if barometer is None:
        if altitude_m is None:
            raise BadInput("Give a barometer reading or the altitude.", "barometer_kpa")
        reference, source = standard_pressure(altitude_m), f"standard atmosphere at {altitude_m:g} m"
    else:
        reference, source = barometer, "barometer reading"
    off = abs(manifold - reference)
    # A reading that is none is no sound sensor.
    stops, holds = not off <= stop_kpa, not off <= hold_kpa
    verdict = Verdict.stop if stops else Verdict.hold if holds else Verdict.go
    advice = {
        Verdict.go: "The pressure sensor reads true.",
        Verdict.hold: "Check the sensor's scaling and the hose, then read again.",
        Verdict.stop: (
            "Do not start: every fuel sum would be wrong. Check the transfer curve, the hose and the plug."
        ),
    }[verdict]
    return Call(
        "sensor.key_on_pressure",
        verdict=verdict,
        because=(
            Evidence("manifold pressure", round(manifold, 1), unit="kPa"),
            Evidence("barometer", round(reference, 1), unit="kPa"),
            Evidence("difference", round(off, 1), hold_kpa, unit="kPa"),
        ),
        do_next=advice,
        source=source,
        title="Manifold pressure against barometer",
        protects="computer" if stops else "",
    )
