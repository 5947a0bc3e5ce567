"""Air: pressure by altitude, water vapour, density."""

from __future__ import annotations

from math import exp

from .constants import GAS_CONSTANT_AIR, SEA_LEVEL_KPA, ZERO_C
from .errors import require_between, require_positive


def standard_pressure(altitude_m: float) -> float:
    """Standard barometer at an altitude [kPa] (ISO 2533 troposphere).

    Examples
    --------
    >>> round(standard_pressure(1450.0), 1)
    85.1
    """
    require_between(-500.0, 11000.0, altitude_m=altitude_m)
    return SEA_LEVEL_KPA * (1.0 - 2.25577e-5 * altitude_m) ** 5.25588


def vapour_pressure(temp_c: float, relative_humidity: float) -> float:
    """Partial pressure of water vapour [kPa] at a relative humidity of 0–1 (Buck 1996, over water).

    Examples
    --------
    >>> round(vapour_pressure(25.0, 1.0), 3)
    3.169
    """
    require_between(0.0, 1.0, relative_humidity=relative_humidity)
    require_between(-60.0, 80.0, temp_c=temp_c)
    saturated_hpa = 6.1121 * exp((18.678 - temp_c / 234.5) * (temp_c / (257.14 + temp_c)))
    return relative_humidity * saturated_hpa / 10.0


def dry_pressure(pressure_kpa: float, temp_c: float, relative_humidity: float) -> float:
    """Pressure of the dry air alone [kPa]."""
    require_positive(pressure_kpa=pressure_kpa)
    return pressure_kpa - vapour_pressure(temp_c, relative_humidity)


def density(pressure_kpa: float, temp_c: float) -> float:
    """Density of dry air [kg/m³]."""
    require_positive(pressure_kpa=pressure_kpa)
    return pressure_kpa * 1000.0 / (GAS_CONSTANT_AIR * (temp_c + ZERO_C))
