"""The drum: from its speed to power, to standard air, and before against after."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from math import pi, sqrt

import numpy as np
from numpy.typing import ArrayLike

from .air import dry_pressure
from .calls import Call, Evidence, Verdict
from .dyno_cooling import CoolDown, cool_down
from .errors import BadInput, NotEnough, OutOfRange, require_positive
from .tables import Floats

__all__ = [
    "STANDARDS", "Comparison", "CoolDown", "CorrectionFactor", "Curve", "Drum", "compare", "cool_down",
    "correction_factor", "reduce_pull",
]  # fmt: skip

STANDARDS = ("none", "SAE J1349", "ISO 1585", "DIN 70020", "SAE J607")
VALID = (0.93, 1.07)
KPA_PER_INHG = 3.38639
TRIM_ENDS = 0.04  # share of a pull left out at each end, where the foot and the clutch still act


@dataclass(frozen=True)
class CorrectionFactor:
    """Factor to a standard's air, whether the standard vouches for it here, and the judgement to show."""

    standard: str
    factor: float
    valid: bool
    call: Call


def correction_factor(standard: str, pressure_kpa: float, temp_c: float, relative_humidity: float) -> CorrectionFactor:
    """Factor from measured to standard power.

    Parameters
    ----------
    standard : str
        One of `STANDARDS`.
    pressure_kpa : float
        Barometer, not corrected to sea level [kPa].
    temp_c : float
        Intake air [°C].
    relative_humidity : float
        0–1.

    Notes
    -----
    SAE J1349: 1.180·(990/pd)·√((T+273)/298) − 0.18; ISO 1585 / ECE R85 (spark): (99/pd)^1.2·(T/298)^0.6; both valid
    within 0.93–1.07. DIN 70020: (1013/p)·√((273+T)/293). SAE J607: (29.92/pd)·√((T_F+460)/520).

    Examples
    --------
    >>> round(correction_factor("SAE J1349", 99.0, 25.0, 0.0).factor, 3)
    1.0
    """
    require_positive(pressure_kpa=pressure_kpa)
    dry = dry_pressure(pressure_kpa, temp_c, relative_humidity)
    kelvin = temp_c + 273.0
    if standard == "none":
        factor, bounded = 1.0, False
    elif standard == "SAE J1349":
        factor, bounded = 1.180 * (990.0 / (10.0 * dry)) * sqrt(kelvin / 298.0) - 0.18, True
    elif standard == "ISO 1585":
        factor, bounded = (99.0 / dry) ** 1.2 * (kelvin / 298.0) ** 0.6, True
    elif standard == "DIN 70020":
        factor, bounded = (1013.0 / (10.0 * pressure_kpa)) * sqrt(kelvin / 293.0), False
    elif standard == "SAE J607":
        factor, bounded = (29.92 / (dry / KPA_PER_INHG)) * sqrt((temp_c * 1.8 + 32.0 + 460.0) / 520.0), False
    else:
        raise BadInput(f"There is no standard “{standard}”. Choose {', '.join(STANDARDS)}.", "standard")
    valid = not bounded or VALID[0] <= factor <= VALID[1]
    evidence = [Evidence("factor", round(factor, 3), f"{VALID[0]}–{VALID[1]}" if bounded else None)]
    evidence += [Evidence("barometer", round(pressure_kpa, 1), unit="kPa"), Evidence("intake air", round(temp_c, 1), unit="°C")]
    evidence += [Evidence("dry pressure", round(dry, 2), unit="kPa")]
    if valid:
        advice = "Compare only runs under the same standard."
    else:
        advice = f"{standard} does not vouch for air this thin. Figures are shown uncorrected; compare runs of one day."
    return CorrectionFactor(
        standard, factor, valid,
        Call("dyno.correction", Verdict.go if valid else Verdict.hold, tuple(evidence), advice, standard,
             title=f"{standard}: {'valid here' if valid else 'outside its validity'}" if standard != "none" else "As measured, no correction"),
    )  # fmt: skip


@dataclass(frozen=True)
class Drum:
    """An inertia drum.

    Parameters
    ----------
    inertia : float
        Drum, wheels and driveline at the drum's speed [kg·m²].
    parasitic : tuple of float
        Loss torque at the drum, polynomial in ω: (a, b, c) for a + b·ω + c·ω² [N·m].
    ratio : float
        Engine speed over drum speed.
    """

    inertia: float
    parasitic: tuple[float, float, float]
    ratio: float


@dataclass(frozen=True)
class Curve:
    """A reduced pull on a grid: wheel power [kW], torque at the engine from it [N·m]."""

    rpm: Floats
    power_kw: Floats
    torque_nm: Floats

    @property
    def peak_power(self) -> tuple[float, float]:
        """(kW, rpm)"""
        at = int(np.argmax(self.power_kw))
        return float(self.power_kw[at]), float(self.rpm[at])

    @property
    def peak_torque(self) -> tuple[float, float]:
        """(N·m, rpm)"""
        at = int(np.argmax(self.torque_nm))
        return float(self.torque_nm[at]), float(self.rpm[at])


def reduce_pull(time_s: ArrayLike, drum_rad_s: ArrayLike, drum: Drum, *, factor: float = 1.0, step_rpm: float = 50.0) -> Curve:
    """Power over engine speed from the drum's speed: P = I·ω·dω/dt + parasitic(ω)·ω.

    Parameters
    ----------
    time_s : array_like, shape (n,)
    drum_rad_s : array_like, shape (n,)
        [rad/s]
    drum : Drum
    factor : float
        Correction factor; 1 leaves it as measured.
    step_rpm : float
        Grid of the result.

    Raises
    ------
    NotEnough
        With under a second of samples, or no rise of speed.

    Notes
    -----
    Derivative by Savitzky–Golay over about 0.4 s; both ends trimmed.
    """
    # Loaded when first needed: scipy's signal package would hold up every start of the server.
    from scipy.signal import savgol_filter

    time, omega = np.asarray(time_s, float), np.asarray(drum_rad_s, float)
    if len(time) < 20 or time[-1] - time[0] < 1.0:
        raise NotEnough("The pull is shorter than a second. Start lower and hold the pedal to the limiter.", "time_s")
    dt = float(np.median(np.diff(time)))
    even = np.arange(time[0], time[-1], dt)
    omega = np.interp(even, time, omega)
    window = min(len(omega) - 1, max(7, int(0.4 / dt))) | 1
    if window > len(omega):
        window -= 2
    smooth = savgol_filter(omega, window, 2)
    rate = savgol_filter(omega, window, 2, deriv=1, delta=dt)
    a, b, c = drum.parasitic
    torque = drum.inertia * rate + a + b * smooth + c * smooth**2
    power = torque * smooth
    engine_rpm = smooth * drum.ratio * 30.0 / pi
    ends = max(int(TRIM_ENDS * len(power)), window // 2)
    rising = slice(ends, len(power) - ends)
    rpm, power = engine_rpm[rising], power[rising]
    if len(rpm) < 10 or rpm[-1] - rpm[0] < 500.0:
        raise NotEnough("Engine speed hardly rises in this pull.", "drum_rad_s")
    order = np.argsort(rpm)
    grid = np.arange(np.ceil(rpm.min() / step_rpm), np.floor(rpm.max() / step_rpm) + 1) * step_rpm
    kilowatts = np.interp(grid, rpm[order], power[order]) * factor / 1000.0
    return Curve(grid, kilowatts, kilowatts * 1000.0 / (grid * pi / 30.0))


def crank_range(wheel_kw: float, loss_low: float = 0.12, loss_high: float = 0.20) -> tuple[float, float]:
    """What a wheel figure may be at the crank [kW]: a range, for the losses between are not measured.

    `loss_low` and `loss_high` are shares of crank power.

    Examples
    --------
    >>> [round(kw, 1) for kw in crank_range(88.0)]
    [100.0, 110.0]
    """
    if not 0.0 <= loss_low <= loss_high < 1.0:
        raise OutOfRange("Losses are shares below 1, the lower one first.", "loss_low")
    return wheel_kw / (1.0 - loss_low), wheel_kw / (1.0 - loss_high)


@dataclass(frozen=True)
class Comparison:
    """Before against after on one grid, with what the scatter allows to claim.

    Gains are after − before. `claimable` marks where a gain clears the limit of pooled standard deviations.
    """

    rpm: Floats
    before_kw: Floats
    after_kw: Floats
    gain_kw: Floats
    limit_kw: Floats
    before_nm: Floats
    after_nm: Floats
    claimable: np.ndarray
    pooled_sd_kw: float
    peak_before: tuple[float, float]
    peak_after: tuple[float, float]
    mean_gain_kw: float
    mean_limit_kw: float
    torque_band: tuple[float, float]
    score: float
    score_parts: dict[str, float] = field(default_factory=dict)
    calls: tuple[Call, ...] = ()


def compare(before: Sequence[Curve], after: Sequence[Curve], goal: str = "street", *, sigma: float = 2.0, repeats: int = 3) -> Comparison:
    """Hold the runs after against the runs before.

    A gain counts only above `sigma` pooled standard deviations of the difference of means, from the repeats.

    Raises
    ------
    NotEnough
        Without a run on each side, or with no common range of speed.
    """
    if not before or not after:
        raise NotEnough("Without runs before and after, no gain is claimed.", "runs")
    low = max(curve.rpm[0] for curve in (*before, *after))
    high = min(curve.rpm[-1] for curve in (*before, *after))
    if high - low < 500:
        raise NotEnough("The runs share too little of the speed range.", "runs")
    grid = np.arange(low, high + 1, 50.0)
    stack = lambda curves, pick: np.stack([np.interp(grid, c.rpm, getattr(c, pick)) for c in curves])  # noqa: E731
    first, second = stack(before, "power_kw"), stack(after, "power_kw")
    freedom = len(before) + len(after) - 2
    squares = ((first - first.mean(axis=0)) ** 2).sum(axis=0) + ((second - second.mean(axis=0)) ** 2).sum(axis=0)
    # Scatter at one speed from a few runs is itself scattered: pool it over neighbouring speeds as well.
    local = np.convolve(np.pad(squares, 5, mode="edge"), np.ones(11) / 11, mode="valid")
    deviation = np.sqrt(local / max(freedom, 1)) if freedom > 0 else np.full(len(grid), np.nan)
    limit = sigma * deviation * sqrt(1.0 / len(before) + 1.0 / len(after))
    gain = second.mean(axis=0) - first.mean(axis=0)
    first_nm, second_nm = stack(before, "torque_nm").mean(axis=0), stack(after, "torque_nm").mean(axis=0)
    mean_gain = float(gain.mean())
    run_means = [run.mean() for run in first], [run.mean() for run in second]
    pooled = sqrt(sum(np.var(m, ddof=1) * (len(m) - 1) for m in run_means if len(m) > 1) / max(freedom, 1)) if freedom > 0 else float("nan")
    mean_limit = sigma * pooled * sqrt(1.0 / len(before) + 1.0 / len(after))
    band = grid[second_nm >= 0.9 * second_nm.max()]
    peak = lambda runs: (float(runs.mean(axis=0).max()), float(grid[int(np.argmax(runs.mean(axis=0)))]))  # noqa: E731
    score, parts = _score(goal, grid, gain, first, second_nm)
    enough = min(len(before), len(after)) >= repeats
    counts = enough and mean_gain > mean_limit
    evidence = (
        Evidence("mean gain over the band", round(mean_gain, 2), round(mean_limit, 2) if freedom > 0 else None, "kW"),
        Evidence("runs before", len(before), repeats), Evidence("runs after", len(after), repeats),
        Evidence("speeds at which it counts", round(100 * float((gain > limit).mean()), 0), unit="%"),
    )  # fmt: skip
    if not enough:
        verdict, title, advice = Verdict.hold, "Too few runs to claim", f"Make {repeats} runs before and {repeats} after."
    elif counts:
        verdict, title, advice = Verdict.go, "The gain is real", "Claim the mean and the band, with the scatter beside it."
    elif abs(mean_gain) <= mean_limit:
        verdict, title, advice = Verdict.hold, "Within scatter", "No gain is claimed. More runs would narrow the scatter."
    else:
        verdict, title, advice = Verdict.hold, "Power was lost", "Look at spark and mixture before handing over."
    return Comparison(
        grid, first.mean(axis=0), second.mean(axis=0), gain, limit, first_nm, second_nm, gain > limit, float(pooled),
        peak(first), peak(second), mean_gain, mean_limit, (float(band[0]), float(band[-1])), score, parts,
        (Call("dyno.gain", verdict, evidence, advice, "Gain above 2 pooled standard deviations of the repeats", title=title),),
    )  # fmt: skip


#: What each goal looks at: weights of mean gain, mid-range gain, peak gain and flatness of torque.
GOALS = {
    "street": (0.3, 0.4, 0.1, 0.2), "track": (0.4, 0.1, 0.3, 0.2), "tow": (0.3, 0.5, 0.0, 0.2),
    "economy": (0.4, 0.4, 0.0, 0.2), "learner": (0.2, 0.2, 0.0, 0.6), "peak": (0.1, 0.0, 0.9, 0.0),
}  # fmt: skip


def _score(goal: str, grid: Floats, gain: Floats, before: Floats, torque: Floats) -> tuple[float, dict[str, float]]:
    """Percent gains by part and their weighted sum; flatness is mean over peak torque [%] less 80."""
    base = before.mean(axis=0)
    middle = slice(len(grid) // 4, 3 * len(grid) // 4)
    parts = {
        "mean gain": 100 * float(gain.mean() / base.mean()),
        "mid-range gain": 100 * float(gain[middle].mean() / base[middle].mean()),
        "peak gain": 100 * float((base + gain).max() / base.max() - 1),
        "flatness": 100 * float(torque.mean() / torque.max()) - 80.0,
    }
    weights = GOALS.get(goal, GOALS["street"])
    return float(sum(w * v for w, v in zip(weights, parts.values(), strict=True))), parts
