"""The one fuel equation: from air in a cylinder to the pulse that feeds it.

Air by the ideal gas law, m = filling · p · V / (R · T); fuel for it m / (stoichiometric · mixture); pulse =
fuel ÷ (flow · √(ρ_petrol · ρ)) + dead time. The computer of the stand-in, the physics behind it and the
correction
all use it, each with figures of its own: where those differ, the mixture shows it.
"""

from __future__ import annotations

from math import sqrt
from typing import TypeVar

from ..basics import GAS_CONSTANT_AIR, Floats
from .fuels import PETROL

#: A figure, or an array of them.
F = TypeVar("F", float, Floats)


def cylinder_constant(displacement_cc: float, cylinders: float) -> float:
    """Air of a full cylinder [g·K/kPa]: swept volume over the gas constant.

    Examples
    --------
    >>> round(cylinder_constant(2000.0, 4) * 101.325 / 288.15, 3)
    0.613
    """
    return displacement_cc / cylinders / GAS_CONSTANT_AIR


def cylinder_air(filling_percent: F, manifold_kpa: F, kelvin: float, constant: float) -> F:
    """Air that one cylinder takes [g].

    Parameters
    ----------
    filling_percent : float
        Volumetric efficiency against the manifold [%].
    manifold_kpa : float
        Absolute [kPa].
    kelvin : float
        Of the air at the port [K].
    constant : float
        As `cylinder_constant` gives it.
    """
    return filling_percent / 100.0 * manifold_kpa * constant / kelvin


def fuel_rate(flow: float, density: float) -> float:
    """Fuel that an open injector passes [g/ms].

    Parameters
    ----------
    flow : float
        As petrol passes it, at the pressure there [cm³/min].
    density : float
        Of the fuel that is in it [kg/l].

    Notes
    -----
    Orifice law in density: mass flow ∝ √(Δp · ρ), so Q · √(ρ_petrol · ρ).

    Examples
    --------
    >>> round(fuel_rate(440.0, 0.745) * 1000, 3)
    5.463
    """
    return flow * sqrt(PETROL.density * density) / 60_000.0


def fuel_for(air_g: float, stoichiometric: float, mixture: float) -> float:
    """Fuel [g] that makes `mixture` (lambda) of an amount of air [g]."""
    return air_g / (stoichiometric * mixture)


def mixture_of(air_g: float, fuel_g: float, stoichiometric: float) -> float:
    """Lambda of air and fuel that burn together [g, g]."""
    return air_g / (fuel_g * stoichiometric)
