"""Telling a wrong injector flow from a wrong dead time."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import ArrayLike

from ..basics import BadInput, Floats, NotEnough


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
    between_cells: float = 0.0  # what cells of alike pulse differ by after the split, fraction

    def at(self, pulse_ms: Floats) -> Floats:
        """Correction that the two scalars make at an effective pulse [ms] (fraction, add fuel is positive).

        Exact: less flow gives less at every pulse, and a longer dead time takes from each pulse its own
        length.
        """
        left = np.maximum(1.0 - self.dead_time_error_ms / np.asarray(pulse_ms, float), 0.2)
        return np.asarray((1.0 + self.flow_error) / left - 1.0)


def split_fuel_error(
    effective_pulse_ms: ArrayLike,
    fuel_error: ArrayLike,
    weights: ArrayLike | None = None,
    cells: ArrayLike | None = None,
) -> SplitFuelError:
    """Tell a wrong flow from a wrong dead time.

    A dead time wrong by δ ms makes an error of δ/(effective pulse); a wrong flow makes the same error
    everywhere.
    So over 1/(effective pulse) the intercept is the flow error and the slope the dead-time error.

    Parameters
    ----------
    effective_pulse_ms : array_like, shape (n,)
        Pulse less dead time [ms], > 0.
    fuel_error : array_like, shape (n,)
        Fraction.
    weights : array_like, shape (n,), optional
        How much each sample counts; all alike where absent.

    cells : array_like of int, shape (n,), optional
        The cell each sample lies in. Samples of one cell err together: the intervals then count cells, not
        samples.

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
    place = np.arange(len(pulse)) if cells is None else np.asarray(cells)
    pulse, error, weight, place = pulse[usable], error[usable], weight[usable], place[usable]
    if len(pulse) < 6:
        raise NotEnough("Fewer than 6 usable samples: log idle and load, warm.", "fuel_error")
    low, high = np.percentile(pulse, [5, 95]) if len(pulse) >= 40 else (pulse.min(), pulse.max())
    if high / low < 2.0:
        raise NotEnough(
            f"Pulses span only {high / low:.2f} to 1 and flow cannot be told from dead time. Log idle and a"
            " pull.",
            "effective_pulse_ms",
        )
    design = np.column_stack([np.ones_like(pulse), 1.0 / pulse])
    normal = design.T @ (design * weight[:, None])
    inverse = np.linalg.inv(normal)
    solution = inverse @ (design.T @ (weight * error))
    residual = error - design @ solution
    scale = float((weight * residual**2).sum() / weight.sum())
    from scipy.special import stdtrit

    # Weighted samples count by Kish's effective number, so that a long idle does not fake certainty.
    effective = float(weight.sum() ** 2 / (weight**2).sum())
    freedom = max(effective - 2.0, 1.0)
    spread = np.sqrt(np.diag(inverse) * scale * weight.sum() / freedom)
    between = 0.0
    if cells is not None:
        spread, freedom, between = _by_cell(design, weight, residual, place, inverse)
    half = spread * float(stdtrit(freedom, 0.975))
    # Variance about "no error": a flow wrong everywhere alike has none about its own mean, yet it explains
    # all.
    about_zero = float((weight * error**2).sum() / weight.sum())
    explained = 1.0 - scale / about_zero if about_zero > 0 else 0.0
    return SplitFuelError(
        float(solution[0]),
        float(solution[1]),
        flow_error_interval=(float(solution[0] - half[0]), float(solution[0] + half[0])),
        dead_time_error_interval_ms=(float(solution[1] - half[1]), float(solution[1] + half[1])),
        explained=explained,
        samples=len(pulse),
        between_cells=between,
    )


def split_correction(
    effective_pulse_ms: ArrayLike,
    correction: ArrayLike,
    weights: ArrayLike | None = None,
    cells: ArrayLike | None = None,
) -> SplitFuelError:
    """The same of a *correction* that was measured (add fuel is positive), by the exact relation.

    1/(1 + correction) = (1 + φ)·(1 + δ/pulse): too much fuel by flow φ and by a dead time set δ too long is a
    straight line over 1/pulse, whatever their size. What comes back is what to correct by: `flow_error` is
    1/(1 + φ) − 1, `dead_time_error_ms` is −δ.
    """
    excess = 1.0 / (1.0 + np.asarray(correction, float)) - 1.0
    line = split_fuel_error(effective_pulse_ms, excess, weights, cells)
    whole = 1.0 + line.flow_error
    low, high = line.flow_error_interval
    # Slope over intercept: both are uncertain, the slope far more.
    ends = sorted(-end / whole for end in line.dead_time_error_interval_ms)
    return replace(
        line,
        flow_error=1.0 / whole - 1.0,
        dead_time_error_ms=-line.dead_time_error_ms / whole,
        flow_error_interval=(1.0 / (1.0 + high) - 1.0, 1.0 / (1.0 + low) - 1.0),
        dead_time_error_interval_ms=(ends[0], ends[1]),
    )


def _by_cell(
    design: np.ndarray, weight: np.ndarray, residual: np.ndarray, place: np.ndarray, inverse: np.ndarray
) -> tuple[np.ndarray, float, float]:
    """Standard errors clustered by cell, their degrees of freedom, and the weighted rms of the cells'
    residuals.
    """
    _, index = np.unique(place, return_inverse=True)
    count = int(index.max()) + 1
    scores = design * (weight * residual)[:, None]
    sums = np.zeros((count, 2))
    np.add.at(sums, index, scores)
    in_cell = np.bincount(index, weights=weight, minlength=count)
    mean = np.bincount(index, weights=weight * residual, minlength=count) / np.maximum(in_cell, 1e-12)
    between = float(np.sqrt((in_cell * mean**2).sum() / in_cell.sum()))
    widen = count / max(count - 2, 1)
    spread = np.sqrt(np.diag(inverse @ (sums.T @ sums) @ inverse) * widen)
    return spread, float(max(count - 2, 1)), between
