"""What full load asks of a fuel system, with a vehicle's kit and goal: one record for plan and sums."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..basics import Device, HouseRules, InjectorPiggyback, SensorPiggyback, Vehicle
from .across import pressure_across
from .fuels import DIESEL, Fuel, blend
from .sizing import required_flow

#: What an ethanol kit runs where its sheet does not say: the most that is sold [fraction].
KIT_ETHANOL = 0.85


@dataclass(frozen=True)
class FuelDemand:
    """The engine at full load on the fuel that asks most of its injectors.

    Parameters
    ----------
    power_kw : float
        At the crank [kW].
    bsfc : float
        Consumption, planned on petrol, or on diesel where that burns [g/kWh].
    fuel : Fuel
        The one that asks most: of an ethanol kit its highest content.
    rail_kpa : float
        Gauge, without boost [kPa].
    boost_kpa : float
        Most boost with this kit [kPa].
    referenced : bool
        Whether the rail follows the manifold, or stands so far above it that it does not matter.
    stroke : int
        By an injector's period: 2 where it comes with each turn.
    rpm : float, optional
        Highest speed at which the power is made.
    window_deg : float, optional
        Window of direct injection [° of crank].
    dead_ms : float
        Dead time of a direct injector that does not say its own [ms].
    """

    power_kw: float
    bsfc: float
    cylinders: int
    fuel: Fuel
    rail_kpa: float
    boost_kpa: float = 0.0
    referenced: bool = True
    stroke: int = 4
    rpm: float | None = None
    window_deg: float | None = None
    dead_ms: float = 0.0

    @property
    def across_kpa(self) -> float:
        """Pressure across an injector there [kPa]."""
        return pressure_across(self.rail_kpa, max(self.boost_kpa, 0.0), self.referenced)

    def require_flow(self) -> None:
        """Raise `OutOfRange` where boost leaves nothing across the injectors."""
        pressure_across(self.rail_kpa, max(self.boost_kpa, 0.0), self.referenced)

    def need(self, limit: float) -> float:
        """Flow that each injector must give there at a duty of `limit` [cm³/min]."""
        return required_flow(self.power_kw, self.bsfc, self.cylinders, limit, self.fuel)


def bsfc_rule(vehicle: Vehicle) -> str:
    """Key of the house rule that says how much this kind of engine burns."""
    if vehicle.injection == "diesel":
        return "plan.bsfc_diesel"
    if vehicle.rotary:
        return "plan.bsfc_rotary"
    if vehicle.stroke == 2:
        return "plan.bsfc_two_stroke"
    return "plan.bsfc_boosted" if vehicle.boosted else "plan.bsfc_natural"


def most_ethanol(devices: Sequence[Device], in_the_tank: float) -> float:
    """Highest ethanol content that a vehicle will run with this kit [fraction]."""
    made_for = [
        KIT_ETHANOL if device.ethanol_max is None else device.ethanol_max
        for device in devices
        if device.ethanol_sensor
        or device.ethanol_max
        # A fuel box of which nobody said yet that it has no sensor is taken for an ethanol kit.
        or (isinstance(device, InjectorPiggyback) and device.ethanol_sensor is None)
    ]
    return max([in_the_tank, *made_for])


def hardest_fuel(vehicle: Vehicle, devices: Sequence[Device], in_the_tank: float) -> Fuel:
    """The fuel that asks most of the injectors."""
    return DIESEL if vehicle.injection == "diesel" else blend(most_ethanol(devices, in_the_tank))


def added_boost(devices: Sequence[Device]) -> float | None:
    """Most boost that a kit adds [kPa]; None where a device that adds some does not say how much."""
    if any(isinstance(device, SensorPiggyback) and device.added_boost_kpa is None for device in devices):
        return None
    return max((device.added_boost_kpa or 0.0 for device in devices), default=0.0)


def full_boost(vehicle: Vehicle, devices: Sequence[Device]) -> float | None:
    """Most boost with a kit, above the barometer [kPa]; None where nobody knows it."""
    added = added_boost(devices)
    stock = vehicle.boost_kpa if vehicle.boosted else 0.0
    return None if added is None or stock is None else stock + added


def demand_of(
    vehicle: Vehicle, devices: Sequence[Device], power_kw: float | None, ethanol: float, rules: HouseRules
) -> FuelDemand | tuple[str, ...]:
    """The demand of a vehicle with a kit and a goal; what nobody knows of it, in words, where that is more.

    Parameters
    ----------
    ethanol : float
        In the tank [fraction].
    """
    boost = full_boost(vehicle, devices)
    # A rail under high pressure stands far above any manifold.
    held = vehicle.injection in ("direct", "diesel") or vehicle.referenced_regulator
    # Without boost the manifold is at the barometer at full load, whatever the regulator does.
    lies_still = held or boost == 0.0
    wanted = {
        "pressure across the injectors": vehicle.fuel_pressure_kpa is None,
        "goal power": power_kw is None,
        "whether the fuel regulator follows the manifold": not lies_still and held is None,
        "boost with this kit": held is False and boost is None or held is None and boost is None,
    }
    missing = tuple(what for what, lacks in wanted.items() if lacks)
    if missing or vehicle.fuel_pressure_kpa is None or power_kw is None:
        return missing
    return FuelDemand(
        power_kw=power_kw,
        bsfc=rules[bsfc_rule(vehicle)],
        cylinders=vehicle.cylinders,
        fuel=hardest_fuel(vehicle, devices, ethanol),
        rail_kpa=vehicle.fuel_pressure_kpa,
        boost_kpa=boost or 0.0,
        referenced=bool(lies_still),
        stroke=vehicle.injection_stroke,
        rpm=vehicle.rev_limit,
        window_deg=vehicle.injection_window_deg,
        dead_ms=rules["plan.dead_direct"],
    )
