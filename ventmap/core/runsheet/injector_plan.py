"""Injectors for a goal, from those on the shelf."""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil, isnan, nan

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
from ..fuel import (
    PETROL,
    Fuel,
    as_petrol,
    flow_at_pressure,
    flow_on,
    pulse_at,
    required_flow,
    supported_power,
    window_limit_ms,
)
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
    ohms: float | None
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
    stroke: int = 4,
    rpm: float | None = None,
    window_deg: float | None = None,
    stock: str = "",
    rescaled: bool | None = True,
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
    rpm : float, optional
        Highest speed at which the power is made: direct injection has its window there.
    window_deg : float, optional
        Window of direct injection [° of crank]; not known where absent.
    stock : str
        Key of the set that is on the engine: it may always stay, whatever its sum says.
    rescaled : bool, optional
        Whether something of the kit tells the computer of other injectors; None before a device is chosen.
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
    asked = _Asked(power_kw, bsfc, cylinders, limit, fuel, need, fuel_pressure_kpa, stroke, rpm, window_deg)
    choices = [_choice(asked, injector, injector.key == stock, rescaled, rules) for injector in injectors]
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
    kept = next((c for c in choices if c.key == stock), None)
    calls = (
        Call(
            "plan.injectors",
            verdict=Verdict.go if best else Verdict.hold if kept else Verdict.stop,
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


@dataclass(frozen=True)
class _Asked:
    """What is asked of a set."""

    power_kw: float
    bsfc: float
    count: int
    limit: float
    fuel: Fuel
    need: float
    kpa: float
    stroke: int
    rpm: float | None
    window_deg: float | None


def _choice(
    asked: _Asked, injector: ShelfInjector, stock: bool, rescaled: bool | None, rules: HouseRules
) -> InjectorChoice:
    """One injector held against the need: by its duty, or a direct one by its window."""
    rated = as_petrol(injector.flow, injector.fluid)
    petrol = flow_at_pressure(rated, injector.rated_kpa, asked.kpa)
    flow = flow_on(petrol, PETROL.density, asked.fuel.density)
    if injector.direct:
        share, because, supports = _in_window(asked, petrol)
    else:
        share = asked.limit * asked.need / flow
        supports = supported_power(flow, asked.bsfc, asked.count, asked.limit, asked.fuel)
        because = (
            Evidence("duty at the goal", round(100 * share, 1), round(100 * asked.limit, 1), unit="%"),
            Evidence("flow here, of this fuel", round(flow, 1), round(asked.need, 1), unit="cm³/min"),
        )
    verdict, advice = _verdict(asked, injector, flow, share, rules)
    misfit = next((reason for reason in injector.fit if reason.result == NOT), None)
    work = [reason.work for reason in injector.fit if reason.work]
    if stock:
        # It runs on them now: what the sum says of them is told, and holds at most.
        if verdict is not Verdict.go:
            verdict = Verdict.hold
        advice = f"The stock set may stay. {advice}"
    elif misfit:
        verdict, advice = Verdict.stop, f"Does not go in: {misfit.why}."
    elif rescaled is None:
        verdict = Verdict.hold if verdict is Verdict.go else verdict
        advice = f"{advice} Choose the device first: one that tells the computer of these injectors."
    elif not rescaled:
        verdict = Verdict.stop
        advice = (
            "Nothing in this kit tells the computer of other injectors: it would feed these as the stock"
            " ones. Keep the stock set, or choose a device that sets injector flow."
        )
    elif work:
        advice = f"{advice} Fits with work: {'; '.join(work)}."
    if rated != injector.flow:
        because += (Evidence(f"rated on {injector.fluid}, as petrol", round(rated, 1), unit="cm³/min"),)
    ohms = "not known" if injector.ohms is None else injector.ohms
    because += (Evidence("resistance", ohms, None if injector.direct else SATURATED_OHMS, unit="Ω"),)
    call = Call(
        "plan.injector",
        verdict=verdict,
        because=because,
        do_next=advice,
        source="orifice law in pressure and density; a direct one by its window ÷ (0.006 · rpm)",
        title=injector.name,
        protects="computer" if verdict is Verdict.stop and rescaled is False and not stock else "",
    )
    return InjectorChoice(
        injector.key,
        injector.name,
        flow=flow,
        supports_kw=supports,
        duty_at_goal=share,
        call=call,
        fit=injector.fit,
    )


def _in_window(asked: _Asked, petrol: float) -> tuple[float, tuple[Evidence, ...], float]:
    """Share of its window that a direct injector needs; NaN where window or speed are not known."""
    if not asked.rpm or not asked.window_deg:
        return nan, (Evidence("window of direct injection", "not known"),), 0.0
    pulse = pulse_at(asked.power_kw, asked.bsfc, asked.count, asked.rpm, petrol, asked.fuel, asked.stroke)
    longest = window_limit_ms(asked.window_deg, asked.rpm)
    because = (
        Evidence("pulse at the goal", round(pulse, 2), round(longest, 2), unit="ms"),
        Evidence("of its window", round(100 * pulse / longest, 1), round(100 * asked.limit, 1), unit="%"),
        Evidence("at", round(asked.rpm), unit="rpm"),
    )
    return pulse / longest, because, asked.power_kw * asked.limit * longest / pulse


def _verdict(
    asked: _Asked, injector: ShelfInjector, flow: float, share: float, rules: HouseRules
) -> tuple[Verdict, str]:
    if isnan(share):
        return (
            Verdict.hold,
            ("Enter the window of this engine's direct injection on its sheet: without it nobody knows."),
        )
    verdict = grade_above(round(share, 4), asked.limit + 1e-6, rules["duty.stop"] / 100)
    # Far too large an injector is unsteady at idle: its smallest pulse no longer meters.
    if not injector.direct and flow > OVERSIZE * asked.need:
        return (
            Verdict.hold,
            "More than twice the need: small pulses at idle meter badly. Choose a smaller one.",
        )
    if verdict is not Verdict.go:
        return verdict, "Too small for this goal."
    # 1–4 Ω burns a driver made for saturated injectors; direct ones have a driver of their own.
    if not injector.direct and injector.ohms is None:
        return Verdict.hold, "Enough; look up its resistance: 1–4 Ω needs a driver made for it."
    if not injector.direct and injector.ohms is not None and injector.ohms < SATURATED_OHMS:
        return Verdict.hold, "Low resistance: needs a peak-and-hold driver or ballast resistors."
    return verdict, "Enough, with room."


def _easiest(choice: InjectorChoice) -> tuple[int, float]:
    results = {reason.result for reason in choice.fit}
    return (2 if NOT in results else 1 if WITH_WORK in results else 0, choice.flow)
