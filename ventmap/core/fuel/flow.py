"""What an injector passes: at another pressure, of another fluid."""

from __future__ import annotations

from math import sqrt

from ..basics import BadInput, require_between, require_positive
from .fuels import PETROL

#: Density of the fluids that sheets are made on [kg/l]: n-heptane at 20 °C, oil by ISO 4113.
TEST_FLUIDS = {"petrol": PETROL.density, "n-heptane": 0.684, "diesel test oil": 0.823}


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


def flow_on(flow: float, test_density: float, density: float) -> float:
    """Volume flow of an injector on a fluid of another density [cm³/min]: Q · √(ρ_test/ρ).

    Notes
    -----
    Orifice law: Q ∝ √(Δp/ρ), so the denser fluid flows slower by volume and faster by mass.
    """
    require_positive(test_density=test_density, density=density)
    return flow * sqrt(test_density / density)


def as_petrol(flow: float, test_fluid: str) -> float:
    """A sheet's flow as petrol passes it [cm³/min].

    Examples
    --------
    >>> round(as_petrol(720.0, "n-heptane"), 1), as_petrol(330.0, "petrol")
    (689.9, 330.0)
    """
    if test_fluid not in TEST_FLUIDS:
        raise BadInput(
            f"A sheet is on {', '.join(TEST_FLUIDS)}; “{test_fluid}” is none of them.", "test_fluid"
        )
    return flow_on(flow, TEST_FLUIDS[test_fluid], PETROL.density)
