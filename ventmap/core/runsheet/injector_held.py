"""One injector on the shelf held against what is asked of a set."""

from __future__ import annotations

from dataclasses import dataclass
from math import isnan, nan

from ..basics import Call, Evidence, HouseRules, Verdict, grade_above
from ..fuel import (
    PETROL,
    FuelDemand,
    as_petrol,
    flow_at_pressure,
    flow_on,
    pulse_at,
    supported_power,
    window_limit_ms,
)
from ..vehicle import FitReason, FitResult, worst_fit

SATURATED_OHMS = 10.0
TOO_SMALL = "Too small for this goal."
#: Flow over need from which the smallest pulses at idle no longer meter.
OVERSIZE = 2.6


@dataclass(frozen=True)
class InjectorChoice:
    """An injector on the shelf held against the need."""

    key: str
    name: str
    flow: float  # at this vehicle's pressure [cm³/min]
    supports_kw: float | None  # not known without a window
    duty_at_goal: float
    call: Call
    fit: tuple[FitReason, ...]

    @property
    def result(self) -> FitResult:
        """How it goes in, all reasons together."""
        return worst_fit(self.fit)


@dataclass(frozen=True)
class ShelfInjector:
    """An injector as the shelf knows it; flow of `fluid` at `rated_kpa` [cm³/min], resistance [Ω], dead time
    [ms]; how it fits this seat.
    """

    key: str
    name: str
    flow: float
    rated_kpa: float
    ohms: float | None
    fluid: str = "petrol"
    direct: bool = False
    dead_ms: float | None = None
    fit: tuple[FitReason, ...] = ()


@dataclass(frozen=True)
class SetWanted:
    """What is asked of a set, up to which duty [fraction]."""

    demand: FuelDemand
    limit: float

    @property
    def need(self) -> float:
        """Flow of each at the pressure across it [cm³/min]."""
        return self.demand.need(self.limit)


def hold_against(
    asked: SetWanted, injector: ShelfInjector, stock: bool, rescaled: bool | None, rules: HouseRules
) -> InjectorChoice:
    """One injector held against the need: by its duty, or a direct one by its window."""
    rated = as_petrol(injector.flow, injector.fluid)
    demand = asked.demand
    petrol = flow_at_pressure(rated, injector.rated_kpa, demand.across_kpa)
    flow = flow_on(petrol, PETROL.density, demand.fuel.density)
    supports: float | None
    if injector.direct:
        share, because, supports = _in_window(asked, injector, petrol)
    else:
        share = asked.limit * asked.need / flow
        supports = supported_power(flow, demand.bsfc, demand.cylinders, asked.limit, demand.fuel)
        because = (
            Evidence("duty at the goal", round(100 * share, 1), round(100 * asked.limit, 1), unit="%"),
            Evidence("flow of this fuel", round(flow, 1), round(asked.need, 1), unit="cm³/min"),
            Evidence("pressure across it at full load", round(demand.across_kpa, 1), unit="kPa"),
        )
    if demand.fuel.ethanol:
        because += (Evidence("ethanol, the most it will run", round(100 * demand.fuel.ethanol), unit="%"),)
    verdict, advice = _verdict(asked, injector, flow, share, rules)
    misfit = next((reason for reason in injector.fit if reason.result == FitResult.no), None)
    work = [reason.work for reason in injector.fit if reason.work]
    if stock:
        # It runs on them now: what the sum says of them is told, and holds at most.
        advice = _kept(verdict, advice, supports)
        verdict = verdict if verdict is Verdict.go else Verdict.hold
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


def _kept(verdict: Verdict, advice: str, supports: float | None) -> str:
    """What is said of the set that is in, in one sentence that does not contradict itself."""
    if verdict is Verdict.go:
        return f"The stock set may stay. {advice}"
    if advice is TOO_SMALL and supports is not None:
        return (
            f"The stock set stays only with a lower goal: it carries {supports:.0f} kW. For this goal it is"
            " too small."
        )
    return f"The stock set may stay until that is known. {advice}"


def _in_window(
    asked: SetWanted, injector: ShelfInjector, petrol: float
) -> tuple[float, tuple[Evidence, ...], float | None]:
    """Share of its window that a direct injector needs, dead time and all; NaN where window or speed are not
    known.
    """
    demand = asked.demand
    if not demand.rpm or not demand.window_deg:
        return nan, (Evidence("window of direct injection", "not known"),), None
    gives = pulse_at(
        demand.power_kw,
        demand.bsfc,
        demand.cylinders,
        demand.rpm,
        petrol,
        demand.fuel,
        demand.stroke,
    )
    dead = demand.dead_ms if injector.dead_ms is None else injector.dead_ms
    longest = window_limit_ms(demand.window_deg, demand.rpm)
    share = (gives + dead) / longest
    because = (
        Evidence("pulse at the goal", round(gives + dead, 2), round(longest, 2), unit="ms"),
        Evidence("of its window", round(100 * share, 1), round(100 * asked.limit, 1), unit="%"),
        Evidence("of it dead time", dead, unit="ms")
        if injector.dead_ms is not None
        else Evidence("of it dead time, by house rule", dead, unit="ms"),
        Evidence("at", round(demand.rpm), unit="rpm"),
    )
    return share, because, max(demand.power_kw * (asked.limit * longest - dead) / gives, 0.0)


def _verdict(
    asked: SetWanted, injector: ShelfInjector, flow: float, share: float, rules: HouseRules
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
        return verdict, TOO_SMALL
    # 1–4 Ω burns a driver made for saturated injectors; direct ones have a driver of their own.
    if not injector.direct and injector.ohms is None:
        return Verdict.hold, "Enough; look up its resistance: 1–4 Ω needs a driver made for it."
    if not injector.direct and injector.ohms is not None and injector.ohms < SATURATED_OHMS:
        return Verdict.hold, "Low resistance: needs a peak-and-hold driver or ballast resistors."
    return verdict, "Enough, with room."


def easiest(choice: InjectorChoice) -> tuple[int, float]:
    """What simply goes in before what wants adapters, what does not go in last; then by flow."""
    return choice.result.rank, choice.flow
