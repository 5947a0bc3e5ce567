"""Fuels, their blends and what running on them costs."""

from __future__ import annotations

from dataclasses import dataclass

from ..basics import OutOfRange, require_between, require_positive


@dataclass(frozen=True)
class Fuel:
    """A fuel at 15–20 °C.

    Parameters
    ----------
    name : str
    density : float
        [kg/l]
    stoichiometric : float
        Air to fuel by mass at lambda 1.
    heating_value : float
        Lower heating value [MJ/kg].
    ethanol : float
        Volume fraction of ethanol.
    """

    name: str
    density: float
    stoichiometric: float
    heating_value: float
    ethanol: float = 0.0


PETROL = Fuel("petrol", 0.745, stoichiometric=14.70, heating_value=43.5)
ETHANOL = Fuel("ethanol", 0.789, stoichiometric=9.00, heating_value=26.8, ethanol=1.0)
METHANOL = Fuel("methanol", 0.792, stoichiometric=6.47, heating_value=19.9)
DIESEL = Fuel("diesel", 0.835, stoichiometric=14.50, heating_value=42.6)


def blend(ethanol_fraction: float) -> Fuel:
    """Petrol with a volume fraction of ethanol. Density mixes by volume, the rest by mass.

    Examples
    --------
    >>> round(volume_multiplier(blend(0.85)), 3)
    1.426
    """
    require_between(0.0, 1.0, ethanol_fraction=ethanol_fraction)
    density = ethanol_fraction * ETHANOL.density + (1 - ethanol_fraction) * PETROL.density
    by_mass = ethanol_fraction * ETHANOL.density / density
    return Fuel(
        name=f"E{round(100 * ethanol_fraction)}" if ethanol_fraction else PETROL.name,
        density=density,
        stoichiometric=by_mass * ETHANOL.stoichiometric + (1 - by_mass) * PETROL.stoichiometric,
        heating_value=by_mass * ETHANOL.heating_value + (1 - by_mass) * PETROL.heating_value,
        ethanol=ethanol_fraction,
    )


def volume_multiplier(fuel: Fuel, reference: Fuel = PETROL) -> float:
    """Litres of `fuel` per litre of `reference` at equal lambda and equal air."""
    return (reference.stoichiometric * reference.density) / (fuel.stoichiometric * fuel.density)


def pulse_multiplier(fuel: Fuel, reference: Fuel = PETROL) -> float:
    """Effective pulse on `fuel` per pulse on `reference` at equal lambda, air and pressure.

    More fuel by mass, through an orifice that passes the denser fluid faster by mass:
    (AFR_ref/AFR) · √(ρ_ref/ρ). Dead time is left out of it.

    Examples
    --------
    >>> round(pulse_multiplier(blend(0.85)), 3), round(pulse_multiplier(blend(1.0)), 3)
    (1.462, 1.587)
    """
    by_mass = reference.stoichiometric / fuel.stoichiometric
    return float(by_mass * (reference.density / fuel.density) ** 0.5)


def ethanol_from_frequency(hz: float) -> float:
    """Ethanol fraction from the in-line content sensor: 50 Hz is none, 150 Hz is all.

    Raises
    ------
    OutOfRange
        At 180 Hz and above (water or contamination), or below 45 Hz (sensor or wiring).
    """
    if hz >= 180:
        raise OutOfRange(
            f"{hz:g} Hz means water or dirt in the fuel. Drain a sample before running it.", "hz"
        )
    if hz < 45:
        raise OutOfRange(f"{hz:g} Hz is below what the sensor can send. Check its feed and wiring.", "hz")
    return min(max((hz - 50.0) / 100.0, 0.0), 1.0)


@dataclass(frozen=True)
class RunningCost:
    """Cost of two fuels over the same distance; money in the shop's currency."""

    consumption: float  # l/100 km on the new fuel
    cost_old: float  # per 100 km
    cost_new: float
    per_fill_saving: float  # the usual, misleading comparison: one tank against one tank
    break_even_price_ratio: float  # new price / old price at which 100 km cost the same
    break_even_km: float | None  # distance that pays for the kit; None where it never does


def running_cost(
    litres_per_100km: float,
    price_old: float,
    price_new: float,
    fuel: Fuel,
    *,
    tank_l: float = 50.0,
    kit_cost: float = 0.0,
    reference: Fuel = PETROL,
) -> RunningCost:
    """Cost per distance on another fuel, beside the per-fill comparison that misleads.

    Consumption rises with the inverse ratio of heating value per litre.
    """
    require_positive(
        litres_per_100km=litres_per_100km, price_old=price_old, price_new=price_new, tank_l=tank_l
    )
    per_litre = (fuel.heating_value * fuel.density) / (reference.heating_value * reference.density)
    consumption = litres_per_100km / per_litre
    cost_old, cost_new = litres_per_100km * price_old, consumption * price_new
    saving = (cost_old - cost_new) / 100.0
    return RunningCost(
        consumption,
        cost_old,
        cost_new=cost_new,
        per_fill_saving=tank_l * (price_old - price_new),
        break_even_price_ratio=per_litre,
        break_even_km=kit_cost / saving if saving > 0 else None,
    )
