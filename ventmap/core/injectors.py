"""Injectors: flow, sizing, duty, matching and the errors they make in a mixture."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import sqrt

import numpy as np
from numpy.typing import ArrayLike
from scipy.special import stdtrit

from .calls import Call, Evidence, Verdict, grade_above
from .dead_time import DeadTimeTable
from .errors import BadInput, NotEnough, OutOfRange, require_between, require_positive
from .fuels import PETROL, Fuel

__all__ = [
    "BSFC_BOOSTED", "BSFC_NATURAL", "BodyCode", "DeadTimeTable", "SplitFuelError", "as_petrol", "best_set", "compare_read_back",
    "duty", "duty_call", "flow_at_pressure", "flow_on_petrol", "flow_spread", "flow_spread_call", "require_figures", "required_flow",
    "split_fuel_error", "supported_power", "window_limit_ms",
]  # fmt: skip

BSFC_NATURAL = 300.0  # g/kWh, planning figure on petrol, naturally aspirated
BSFC_BOOSTED = 365.0  # g/kWh, boosted; the band seen is 330–400
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
    """Raise `OutOfRange`, naming the figure, where an injector's flow [cm³/min] or pressures [kPa] cannot be."""
    require_between(10.0, 20_000.0, flow=flow)
    require_between(50.0, 400_000.0, rated=rated_kpa, pressure=pressure_kpa)


def flow_on_petrol(flow_n_heptane: float) -> float:
    """Mass-equivalent petrol flow of an injector rated on n-heptane [cm³/min of n-heptane density].

    Orifice law: mass flow goes with the square root of density, √(0.745/0.684).
    """
    return flow_n_heptane * sqrt(PETROL.density / N_HEPTANE_DENSITY)


def as_petrol(flow: float, test_fluid: str) -> float:
    """A sheet's flow as petrol passes it [cm³/min]; n-heptane is converted, other fluids are taken as they are.

    Examples
    --------
    >>> round(as_petrol(720.0, "n-heptane"), 1), as_petrol(330.0, "petrol")
    (751.4, 330.0)
    """
    return flow_on_petrol(flow) if test_fluid == "n-heptane" else flow


def required_flow(power_kw: float, bsfc: float, injectors: int, duty: float = 0.85, fuel: Fuel = PETROL) -> float:
    """Static flow each injector must give [cm³/min]: P·BSFC / (60·ρ·n·d).

    Parameters
    ----------
    power_kw : float
        Crank power [kW].
    bsfc : float
        Brake-specific consumption planned **on petrol** [g/kWh]; scaled here by the fuel's mass ratio 14.70/AFR.
    injectors : int
    duty : float
        Highest duty allowed, 0–1.
    fuel : Fuel

    Examples
    --------
    >>> round(required_flow(120.0, 300.0, 4, 0.85), 1)
    236.9
    """
    require_positive(power_kw=power_kw, bsfc=bsfc, injectors=injectors, duty=duty)
    require_between(0.0, 1.0, duty=duty)
    return power_kw * bsfc * _mass_ratio(fuel) / (60.0 * fuel.density * injectors * duty)


def supported_power(flow: float, bsfc: float, injectors: int, duty: float = 0.85, fuel: Fuel = PETROL) -> float:
    """Crank power [kW] that a set of injectors can feed; the inverse of `required_flow`."""
    require_positive(flow=flow, bsfc=bsfc, injectors=injectors, duty=duty)
    require_between(0.0, 1.0, duty=duty)
    return flow * 60.0 * fuel.density * injectors * duty / (bsfc * _mass_ratio(fuel))


def _mass_ratio(fuel: Fuel) -> float:
    return PETROL.stoichiometric / fuel.stoichiometric


def duty(pulse_ms: ArrayLike, rpm: ArrayLike, stroke: int = 4) -> np.ndarray | float:
    """Share of the cycle an injector is open, as a fraction, one pulse a cycle.

    Four-stroke: pulse·rpm/120 000; two-stroke: pulse·rpm/60 000. Scalars in, scalar out; arrays in, array out.

    Examples
    --------
    >>> duty(15.0, 6000.0)
    0.75
    """
    if stroke not in (2, 4):
        raise BadInput("A stroke cycle is 2 or 4.", "stroke")
    share = np.asarray(pulse_ms, float) * np.asarray(rpm, float) / (120_000.0 if stroke == 4 else 60_000.0)
    return float(share) if share.ndim == 0 else share


def duty_call(value: float, hold_at: float = 0.85, stop_at: float = 0.95) -> Call:
    """Judge a duty cycle (fraction) against its limits."""
    verdict = grade_above(value, hold_at, stop_at)
    advice = {
        Verdict.go: "There is room; go on.",
        Verdict.hold: "Plan bigger injectors or more pressure before asking for more power.",
        Verdict.stop: "Do not load the engine further: the injectors cannot give more fuel.",
    }[verdict]
    return Call(
        "injector.duty", verdict,
        (Evidence("highest duty", round(100 * value, 1), round(100 * hold_at, 1), "%"),),
        advice, "Injector practice: linear range ends near 85 %", title="Injector duty",
    )  # fmt: skip


def window_limit_ms(window_deg: float, rpm: float) -> float:
    """Longest pulse of a direct injector whose window is `window_deg` of crank [ms]."""
    require_positive(window_deg=window_deg, rpm=rpm)
    return window_deg / (0.006 * rpm)


@dataclass(frozen=True)
class SplitFuelError:
    """Fuel error split into its two scalars, each with a 95 % confidence interval (low, high).

    The sign follows the input: given *too much fuel* as positive, `dead_time_error_ms` is set − true; given a
    *correction* (add fuel is positive), both carry the sign of the correction.
    """

    flow_error: float
    dead_time_error_ms: float
    flow_error_interval: tuple[float, float]
    dead_time_error_interval_ms: tuple[float, float]
    explained: float  # share of the variance that the two scalars explain, 0–1
    samples: int


def split_fuel_error(effective_pulse_ms: ArrayLike, fuel_error: ArrayLike, weights: ArrayLike | None = None) -> SplitFuelError:
    """Tell a wrong flow from a wrong dead time.

    A dead time wrong by δ ms makes an error of δ/(effective pulse); a wrong flow makes the same error everywhere.
    So over 1/(effective pulse) the intercept is the flow error and the slope the dead-time error.

    Parameters
    ----------
    effective_pulse_ms : array_like, shape (n,)
        Pulse less dead time [ms], > 0.
    fuel_error : array_like, shape (n,)
        Fraction.
    weights : array_like, shape (n,), optional
        How much each sample counts; all alike where absent.

    Raises
    ------
    NotEnough
        With fewer than 6 samples, or pulses that span less than 2:1 (5th to 95th percentile).
    """
    pulse, error = np.asarray(effective_pulse_ms, float), np.asarray(fuel_error, float)
    if pulse.shape != error.shape or pulse.ndim != 1:
        raise BadInput("Pulses and errors must be two rows of the same length.", "fuel_error")
    weight = np.ones_like(pulse) if weights is None else np.asarray(weights, float)
    usable = np.isfinite(pulse) & np.isfinite(error) & (pulse > 0) & (weight > 0)
    pulse, error, weight = pulse[usable], error[usable], weight[usable]
    if len(pulse) < 6:
        raise NotEnough("Fewer than 6 usable samples: log idle and load, warm.", "fuel_error")
    low, high = np.percentile(pulse, [5, 95]) if len(pulse) >= 40 else (pulse.min(), pulse.max())
    if high / low < 2.0:
        raise NotEnough(
            f"Pulses span only {high / low:.2f} to 1 and flow cannot be told from dead time. Log idle and a pull.",
            "effective_pulse_ms",
        )
    design = np.column_stack([np.ones_like(pulse), 1.0 / pulse])
    normal = design.T @ (design * weight[:, None])
    inverse = np.linalg.inv(normal)
    solution = inverse @ (design.T @ (weight * error))
    residual = error - design @ solution
    scale = float((weight * residual**2).sum() / weight.sum())
    # Weighted samples count by Kish's effective number, so that a long idle does not fake certainty.
    effective = float(weight.sum() ** 2 / (weight**2).sum())
    freedom = max(effective - 2.0, 1.0)
    spread = np.sqrt(np.diag(inverse) * scale * weight.sum() / freedom)
    half = spread * float(stdtrit(freedom, 0.975))
    # Variance about "no error": a flow wrong everywhere alike has none about its own mean, yet it explains all.
    about_zero = float((weight * error**2).sum() / weight.sum())
    explained = 1.0 - scale / about_zero if about_zero > 0 else 0.0
    return SplitFuelError(
        float(solution[0]), float(solution[1]),
        (float(solution[0] - half[0]), float(solution[0] + half[0])),
        (float(solution[1] - half[1]), float(solution[1] + half[1])),
        explained, len(pulse),
    )  # fmt: skip


@dataclass(frozen=True)
class BodyCode:
    """One field of a correction code on a direct injector's body.

    Parameters
    ----------
    cylinder : int
    code : int
        As read on the body.
    scale, offset : float
        Value to enter = code·scale + offset.
    storage_step : float
        Step in which the computer keeps it.
    """

    cylinder: int
    code: int
    scale: float = 1.0
    offset: float = 0.0
    storage_step: float = 1.0

    @property
    def entry_value(self) -> float:
        return self.code * self.scale + self.offset


def compare_read_back(codes: Sequence[BodyCode], read: Sequence[float]) -> list[Call]:
    """Judge the values read back after entry: *fine*, *crossed* with another cylinder, or *wrong*."""
    if len(codes) != len(read):
        raise BadInput("Give one read-back value for each injector.", "read")

    def fits(code: BodyCode, value: float) -> bool:
        return abs(value - code.entry_value) <= code.storage_step / 2 + 1e-9

    calls = []
    for code, value in zip(codes, read, strict=True):
        other = next((c for c in codes if c is not code and fits(c, value)), None)
        because = (Evidence(f"cylinder {code.cylinder}", value, code.entry_value),)
        if fits(code, value):
            verdict, title, advice = Verdict.go, "fine", "Equal within half a storage step: rounded, nothing to do."
        elif other is not None:
            verdict, title = Verdict.stop, "crossed"
            advice = f"This is cylinder {other.cylinder}'s value. Enter both again, then read back."
        else:
            verdict, title, advice = Verdict.stop, "wrong", "Enter it again from the code on the body, then read back."
        calls.append(Call("injector.body_code", verdict, because, advice, "Maker's injector coding", title=title))
    return calls


def flow_spread(flows: ArrayLike) -> float:
    """(max − min)/mean of a set, as a fraction."""
    values = np.asarray(flows, float)
    if values.size == 0 or np.any(values <= 0):
        raise OutOfRange("Every flow must be above zero.", "flows")
    return float((values.max() - values.min()) / values.mean())


def flow_spread_call(flows: ArrayLike, good: float = 0.02, usable: float = 0.04) -> Call:
    """Judge the flow spread of a set: up to 2 % good, up to 4 % usable, above that hold."""
    spread = flow_spread(flows)
    verdict = Verdict.hold if spread > usable else Verdict.go
    word = "good" if spread <= good else "usable" if spread <= usable else "too wide"
    advice = "Match a better set from more injectors." if verdict is Verdict.hold else f"The set is {word}."
    return Call(
        "injector.spread", verdict, (Evidence("spread", round(100 * spread, 2), round(100 * usable, 2), "%"),),
        advice, "Injector set practice", title=f"Flow spread {word}",
    )  # fmt: skip


def best_set(flows: Sequence[float], n: int) -> tuple[int, ...]:
    """Indices of the `n` injectors with the smallest spread.

    For a given richest member the best partners are the next ones below it, so only runs of the sorted
    flows need trying.
    """
    if not 1 <= n <= len(flows):
        raise BadInput(f"Cannot choose {n} from {len(flows)} injectors.", "n")
    order = sorted(range(len(flows)), key=lambda index: flows[index])
    runs = [order[start : start + n] for start in range(len(flows) - n + 1)]
    return tuple(sorted(min(runs, key=lambda run: flow_spread([flows[index] for index in run]))))
