"""What an injector passes: at another pressure, of another fluid."""

from __future__ import annotations

from math import sqrt

from ..basics import require_between, require_positive
from .fuels import PETROL

N_HEPTANE_DENSITY = 0.684  # kg/l, the usual test fluid


def flow_at_pressure(flow: float, rated_kpa: float, kpa: float) -> float:
    """Static flow of an injector at another pressure across it.

    Parameters
    ----------
    flow : float
        Rated static flow [cm³/min].
    rated_kpa, kpa : float
        Pressure across the injector, rail minus manifold, rated and actual [kPa], both > 0.

    Raises
    ------
    OutOfRange
        If a pressure is not positive.

    Notes
    -----
    Orifice law, incompressible flow. SAE J1832 rates flow at a stated pressure difference.

    Examples
    --------
    >>> round(flow_at_pressure(440.0, 300.0, 400.0), 1)
    508.1
    """
    require_positive(rated_kpa=rated_kpa, kpa=kpa)
    return flow * sqrt(kpa / rated_kpa)


def require_figures(flow: float, rated_kpa: float, pressure_kpa: float) -> None:
    """Raise `OutOfRange`, naming the figure, where an injector's flow [cm³/min] or pressures [kPa]
    cannot be.
    """
    require_between(10.0, 20_000.0, flow=flow)
    require_between(50.0, 400_000.0, rated=rated_kpa, pressure=pressure_kpa)


def flow_on_petrol(flow_n_heptane: float) -> float:
    """Mass-equivalent petrol flow of an injector rated on n-heptane [cm³/min of n-heptane density].

    Orifice law: mass flow goes with the square root of density, √(0.745/0.684).
    """
    return flow_n_heptane * sqrt(PETROL.density / N_HEPTANE_DENSITY)


def as_petrol(flow: float, test_fluid: str) -> float:
    """A sheet's flow as petrol passes it [cm³/min]; n-heptane is converted, other fluids are taken as they
    are.

    Examples
    --------
    >>> round(as_petrol(720.0, "n-heptane"), 1), as_petrol(330.0, "petrol")
    (751.4, 330.0)
    """
    return flow_on_petrol(flow) if test_fluid == "n-heptane" else flow
