"""How large injectors must be, and how long they are open."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from ..basics import BadInput, Call, Evidence, Verdict, grade_above, require_between, require_positive
from .equation import fuel_rate
from .fuels import DIESEL, PETROL, Fuel

BSFC_NATURAL = 300.0  # g/kWh, planning figure on petrol, naturally aspirated
BSFC_BOOSTED = 365.0  # g/kWh, boosted; the band seen is 330–400


def required_flow(
    power_kw: float, bsfc: float, injectors: int, duty: float = 0.85, fuel: Fuel = PETROL
) -> float:
    """Static flow each injector must give [cm³/min]: P·BSFC / (60·ρ·n·d).

    Parameters
    ----------
    power_kw : float
        Crank power [kW].
    bsfc : float
        Brake-specific consumption planned **on petrol** [g/kWh]; scaled here by the fuel's mass ratio
        14.70/AFR. Of a diesel on diesel.
    injectors : int
    duty : float
        Highest duty allowed, 0–1.
    fuel : Fuel

    Examples
    --------
    >>> round(required_flow(120.0, 300.0, 4, 0.85), 1)
    236.9
    """
    require_positive(power_kw=power_kw, bsfc=bsfc, injectors=injectors, duty=duty)
    require_between(0.0, 1.0, duty=duty)
    return power_kw * bsfc * _mass_ratio(fuel) / (60.0 * fuel.density * injectors * duty)


def supported_power(
    flow: float, bsfc: float, injectors: int, duty: float = 0.85, fuel: Fuel = PETROL
) -> float:
    """Crank power [kW] that a set of injectors can feed; the inverse of `required_flow`."""
    require_positive(flow=flow, bsfc=bsfc, injectors=injectors, duty=duty)
    require_between(0.0, 1.0, duty=duty)
    return flow * 60.0 * fuel.density * injectors * duty / (bsfc * _mass_ratio(fuel))


def _mass_ratio(fuel: Fuel) -> float:
    if fuel == DIESEL:
        return 1.0
    return PETROL.stoichiometric / fuel.stoichiometric


def duty(pulse_ms: ArrayLike, rpm: ArrayLike, stroke: int = 4) -> np.ndarray | float:
    """Share of the cycle an injector is open, as a fraction, one pulse a cycle.

    Four-stroke: pulse·rpm/120 000; two-stroke: pulse·rpm/60 000. Scalars in, scalar out; arrays in, array
    out.

    Examples
    --------
    >>> duty(15.0, 6000.0)
    0.75
    """
    if stroke not in (2, 4):
        raise BadInput("A stroke cycle is 2 or 4.", "stroke")
    share = np.asarray(pulse_ms, float) * np.asarray(rpm, float) / (120_000.0 if stroke == 4 else 60_000.0)
    return float(share) if share.ndim == 0 else share


def duty_call(value: float, hold_at: float = 0.85, stop_at: float = 0.95) -> Call:
    """Judge a duty cycle (fraction) against its limits."""
    verdict = grade_above(value, hold_at, stop_at)
    advice = {
        Verdict.go: "There is room; go on.",
        Verdict.hold: "Plan bigger injectors or more pressure before asking for more power.",
        Verdict.stop: "Do not load the engine further: the injectors cannot give more fuel.",
    }[verdict]
    return Call(
        "injector.duty",
        verdict=verdict,
        because=(Evidence("highest duty", round(100 * value, 1), round(100 * hold_at, 1), unit="%"),),
        do_next=advice,
        source="Injector practice: linear range ends near 85 %",
        title="Injector duty",
    )


def window_limit_ms(window_deg: float, rpm: float) -> float:
    """Longest pulse of a direct injector whose window is `window_deg` of crank [ms]."""
    require_positive(window_deg=window_deg, rpm=rpm)
    return window_deg / (0.006 * rpm)


def pulse_at(
    power_kw: float,
    bsfc: float,
    injectors: int,
    rpm: float,
    flow: float,
    fuel: Fuel = PETROL,
    stroke: int = 4,
) -> float:
    """Effective pulse that a power asks of each injector, one pulse a cycle [ms].

    Parameters
    ----------
    flow : float
        As petrol passes it, at the pressure there [cm³/min].
    rpm : float
        At which the power is made.

    Examples
    --------
    >>> round(pulse_at(220.0, 365.0, 4, 6600.0, 840.0), 1)
    9.7
    """
    require_positive(power_kw=power_kw, bsfc=bsfc, injectors=injectors, rpm=rpm, flow=flow)
    cycles_per_hour = rpm * 60.0 / (2.0 if stroke == 4 else 1.0)
    grams = power_kw * bsfc * _mass_ratio(fuel) / (injectors * cycles_per_hour)
    return grams / fuel_rate(flow, fuel.density)
