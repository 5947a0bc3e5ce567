"""Injectors for a goal, from those on the shelf."""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil

from ..basics import (
    SEA_LEVEL_KPA,
    Call,
    Evidence,
    HouseRules,
    Sum,
    Verdict,
    require_between,
    standard_pressure,
)
from ..fuel import DIESEL, FuelDemand
from ..vehicle import FitResult
from .injector_held import InjectorChoice, SetWanted, ShelfInjector, easiest, hold_against


@dataclass(frozen=True)
class InjectorPlan:
    sums: tuple[Sum, ...]
    choices: tuple[InjectorChoice, ...]
    calls: tuple[Call, ...]

    def at_hand(self, choice: InjectorChoice, chosen: str = "") -> bool:
        """Whether a choice is looked at first: what wants adapters is, where nothing that simply goes in
        serves.
        """
        simple = choice.result is FitResult.fits
        served = any(c.result is FitResult.fits and c.call.verdict is Verdict.go for c in self.choices)
        return choice.key == chosen or simple or (choice.call.verdict is Verdict.go and not served)


def plan_injectors(
    *,
    demand: FuelDemand,
    boosted: bool,
    altitude_m: float,
    injectors: tuple[ShelfInjector, ...],
    rules: HouseRules,
    stock: str = "",
    rescaled: bool | None = True,
) -> InjectorPlan:
    """Size injectors for a goal power.

    Parameters
    ----------
    demand : FuelDemand
        What full load asks, on the fuel that asks most.
    altitude_m : float
        Where it will be proven: shows what the air there leaves of the goal.
    injectors : tuple of ShelfInjector
        The easiest to fit come first, then by flow.
    stock : str
        Key of the set that is on the engine: it may always stay, whatever its sum says.
    rescaled : bool, optional
        Whether something of the kit tells the computer of other injectors; None before a device is chosen.
    """
    require_between(5.0, 1500.0, power_kw=demand.power_kw)
    limit, fuel, cylinders = rules["plan.duty"] / 100, demand.fuel, demand.cylinders
    need, across = demand.need(limit), demand.across_kpa
    need_sum = Sum(
        "Flow each injector must give",
        formula="Q = P · BSFC · 14.70/AFR ÷ (60 · ρ · n · d)",
        inputs=(
            Evidence("P, goal power", demand.power_kw, unit="kW"),
            Evidence("BSFC, planned on petrol" if fuel != DIESEL else "BSFC", demand.bsfc, unit="g/kWh"),
            Evidence("fuel, the one that asks most", fuel.name),
            Evidence("AFR of the fuel", round(fuel.stoichiometric, 2)),
            Evidence("ρ of the fuel", round(fuel.density, 4), unit="kg/l"),
            Evidence("n, injectors", cylinders),
            Evidence("d, allowed duty", limit),
        ),
        result=Evidence("Q at the pressure across it", round(need, 1), unit="cm³/min"),
        source="mass balance; planning figures are house rules",
    )
    across_sum = Sum(
        "Pressure across it at full load",
        formula="Δp = rail"
        if demand.referenced
        else "Δp = rail − boost: this rail does not follow the manifold",
        inputs=(
            Evidence("rail, gauge", demand.rail_kpa, unit="kPa"),
            Evidence("boost with this kit", demand.boost_kpa, unit="kPa"),
        ),
        result=Evidence("Δp", round(across, 1), unit="kPa"),
        source="rail absolute minus manifold absolute",
    )
    asked = SetWanted(demand, limit)
    choices = [
        hold_against(asked, injector, injector.key == stock, rescaled, rules) for injector in injectors
    ]
    pressure = standard_pressure(altitude_m)
    share = pressure / standard_pressure(0.0)
    altitude_sum = Sum(
        "What the air here leaves of a naturally aspirated engine",
        formula="share = p(h) ÷ p(0)",
        inputs=(
            Evidence("altitude", altitude_m, unit="m"),
            Evidence("p(h)", round(pressure, 1), unit="kPa"),
            Evidence("p(0)", round(SEA_LEVEL_KPA, 1), unit="kPa"),
        ),
        result=Evidence("share of sea-level power", round(100 * share, 1), unit="%"),
        source="ISO 2533",
    )
    sums = [need_sum, across_sum] if boosted else [need_sum, across_sum, altitude_sum]
    reserve = rules["plan.pump_reserve"]
    sums.append(
        Sum(
            "Fuel the goal burns, with the pump's reserve",
            formula="V = n · Q · d · 0.06 · (1 + reserve)",
            inputs=(
                Evidence("n · Q · d", round(need * cylinders * limit, 1), unit="cm³/min"),
                Evidence("reserve", reserve, unit="%"),
            ),
            result=Evidence(
                "at the rail", float(ceil(need * cylinders * limit * 0.06 * (1 + reserve / 100))), unit="l/h"
            ),
            source="the pump sum holds a pump against the injectors' whole flow",
        )
    )
    good = [c for c in choices if c.call.verdict is Verdict.go]
    # One that simply goes in comes before one that wants adapters, and one that does not go in comes last.
    best = min(good, key=easiest, default=None)
    kept = next((c for c in choices if c.key == stock), None)
    # Large enough, and held by something that nobody has looked up yet.
    enough = [c for c in choices if c.call.verdict is Verdict.hold and c.duty_at_goal <= limit]
    near = min(enough, key=easiest, default=None)
    calls = (
        Call(
            "plan.injectors",
            verdict=Verdict.go if best else Verdict.hold if kept or near else Verdict.stop,
            because=(
                Evidence("needed", round(need, 1), unit="cm³/min"),
                Evidence("fitting injectors on the shelf", len(good), 1),
            ),
            do_next=(
                f"Smallest that serves: {best.name}."
                if best
                else f"Smallest that would serve: {near.name}. {near.call.do_next}"
                if near
                else "Nothing on the shelf serves this goal: order larger, or lower the goal."
                if rescaled is not False
                else "The stock set is too small for this goal, and nothing in this kit tells the computer of"
                " larger ones: lower the goal, or choose a device that sets injector flow."
            ),
            source=f"House rule: plan for {100 * limit:g} % duty",
            title="Injectors for the goal",
        ),
    )
    return InjectorPlan(tuple(sums), tuple(sorted(choices, key=easiest)), calls)
