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
    grade_above,
    require_between,
    require_positive,
    standard_pressure,
)
from ..fuel import Fuel, as_petrol, flow_at_pressure, required_flow, supported_power
from ..vehicle import NOT, WITH_WORK, FitReason

SATURATED_OHMS = 10.0
#: Flow over need from which the smallest pulses at idle no longer meter.
OVERSIZE = 2.6


@dataclass(frozen=True)
class InjectorChoice:
    """An injector on the shelf held against the need."""

    key: str
    name: str
    flow: float  # at this vehicle's pressure [cm³/min]
    supports_kw: float
    duty_at_goal: float
    call: Call
    fit: tuple[FitReason, ...]


@dataclass(frozen=True)
class InjectorPlan:
    sums: tuple[Sum, ...]
    choices: tuple[InjectorChoice, ...]
    calls: tuple[Call, ...]


@dataclass(frozen=True)
class ShelfInjector:
    """An injector as the shelf knows it; flow of `fluid` at `rated_kpa` [cm³/min], resistance [Ω]; how it
    fits this seat.
    """

    key: str
    name: str
    flow: float
    rated_kpa: float
    ohms: float
    fluid: str = "petrol"
    direct: bool = False
    fit: tuple[FitReason, ...] = ()


def plan_injectors(
    *,
    power_kw: float,
    boosted: bool,
    cylinders: int,
    fuel: Fuel,
    fuel_pressure_kpa: float,
    altitude_m: float,
    injectors: tuple[ShelfInjector, ...],
    rules: HouseRules,
) -> InjectorPlan:
    """Size injectors for a goal power.

    Parameters
    ----------
    power_kw : float
        Goal at the crank [kW].
    fuel_pressure_kpa : float
        Pressure across the injector [kPa].
    altitude_m : float
        Where it will be proven: shows what the air there leaves of the goal.
    injectors : tuple of ShelfInjector
        The easiest to fit come first, then by flow.
    """
    require_between(5.0, 1500.0, power_kw=power_kw)
    require_positive(cylinders=cylinders, fuel_pressure_kpa=fuel_pressure_kpa)
    limit = rules["plan.duty"] / 100
    bsfc = rules["plan.bsfc_boosted" if boosted else "plan.bsfc_natural"]
    need = required_flow(power_kw, bsfc, cylinders, limit, fuel)
    need_sum = Sum(
        "Flow each injector must give",
        formula="Q = P · BSFC · 14.70/AFR ÷ (60 · ρ · n · d)",
        inputs=(
            Evidence("P, goal power", power_kw, unit="kW"),
            Evidence("BSFC on petrol", bsfc, unit="g/kWh"),
            Evidence("AFR of the fuel", round(fuel.stoichiometric, 2)),
            Evidence("ρ of the fuel", round(fuel.density, 4), unit="kg/l"),
            Evidence("n, injectors", cylinders),
            Evidence("d, allowed duty", limit),
        ),
        result=Evidence("Q at this pressure", round(need, 1), unit="cm³/min"),
        source="mass balance; planning figures are house rules",
    )
    choices = []
    for injector in injectors:
        rated = as_petrol(injector.flow, injector.fluid)
        flow = flow_at_pressure(rated, injector.rated_kpa, fuel_pressure_kpa)
        duty = limit * need / flow
        verdict = grade_above(round(duty, 4), limit + 1e-6, rules["duty.stop"] / 100)
        # Far too large an injector is unsteady at idle: its smallest pulse no longer meters.
        oversize = flow > OVERSIZE * need
        if oversize:
            verdict = Verdict.hold
        # 1–4 Ω burns a driver made for saturated injectors; direct ones have a driver of their own.
        low_ohms = not injector.direct and injector.ohms < SATURATED_OHMS
        if low_ohms and verdict is Verdict.go:
            verdict = Verdict.hold
        advice = (
            "Low resistance: needs a peak-and-hold driver or ballast resistors."
            if low_ohms and verdict is Verdict.hold and not oversize
            else (
                "More than twice the need: small pulses at idle meter badly. Choose a smaller one."
                if oversize
                else "Enough, with room."
                if verdict is Verdict.go
                else "Too small for this goal."
            )
        )
        misfit = next((reason for reason in injector.fit if reason.result == NOT), None)
        work = [reason.work for reason in injector.fit if reason.work]
        if misfit:
            verdict, advice = Verdict.stop, f"Does not go in: {misfit.why}."
        elif work:
            advice = f"{advice} Fits with work: {'; '.join(work)}."
        fluid = (
            (Evidence(f"rated on {injector.fluid}, as petrol", round(rated, 1), unit="cm³/min"),)
            if rated != injector.flow
            else ()
        )
        choices.append(
            InjectorChoice(
                injector.key,
                injector.name,
                flow=flow,
                supports_kw=supported_power(flow, bsfc, cylinders, limit, fuel),
                duty_at_goal=duty,
                call=Call(
                    "plan.injector",
                    verdict=verdict,
                    because=(
                        Evidence("duty at the goal", round(100 * duty, 1), round(100 * limit, 1), unit="%"),
                        Evidence("flow here", round(flow, 1), round(need, 1), unit="cm³/min"),
                        *fluid,
                        Evidence("resistance", injector.ohms, SATURATED_OHMS, unit="Ω"),
                    ),
                    do_next=advice,
                    source="Q₂ = Q₁·√(Δp₂/Δp₁), orifice law",
                    title=injector.name,
                ),
                fit=injector.fit,
            )
        )
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
    sums = [need_sum] if boosted else [need_sum, altitude_sum]
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
    best = min(good, key=_easiest, default=None)
    calls = (
        Call(
            "plan.injectors",
            verdict=Verdict.go if best else Verdict.stop,
            because=(
                Evidence("needed", round(need, 1), unit="cm³/min"),
                Evidence("fitting injectors on the shelf", len(good), 1),
            ),
            do_next=(
                f"Smallest that serves: {best.name}."
                if best
                else "Nothing on the shelf serves this goal: order larger, or lower the goal."
            ),
            source=f"House rule: plan for {100 * limit:g} % duty",
            title="Injectors for the goal",
        ),
    )
    return InjectorPlan(tuple(sums), tuple(sorted(choices, key=_easiest)), calls)


def _easiest(choice: InjectorChoice) -> tuple[int, float]:
    results = {reason.result for reason in choice.fit}
    return (2 if NOT in results else 1 if WITH_WORK in results else 0, choice.flow)
