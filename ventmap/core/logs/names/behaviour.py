"""What the values of a channel are like: where they lie, and how they rest and move."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..channels import CHANNELS
from ..convert_units import to_unit, units_of

#: Channel → between what its middle usually lies, and how far it moves at least, in its own unit.
_USUAL: dict[str, tuple[float, float, float]] = {
    "rpm": (400.0, 9000.0, 50.0),
    "pedal": (0.0, 100.0, 5.0),
    "throttle": (0.0, 100.0, 3.0),
    "map": (15.0, 300.0, 5.0),
    "map_target": (15.0, 300.0, 0.0),
    "baro": (55.0, 108.0, 0.0),
    "iat": (-30.0, 110.0, 0.0),
    "coolant": (-30.0, 115.0, 0.0),
    "lambda": (0.75, 1.3, 0.005),
    "lambda_2": (0.75, 1.3, 0.005),
    "lambda_target": (0.75, 1.3, 0.0),
    "stft_1": (-20.0, 20.0, 0.2),
    "stft_2": (-20.0, 20.0, 0.2),
    "ltft_1": (-25.0, 25.0, 0.0),
    "ltft_2": (-25.0, 25.0, 0.0),
    "spark": (-5.0, 55.0, 0.5),
    "knock": (-0.5, 12.0, 0.0),
    "pulse": (0.0, 30.0, 0.1),
    "duty": (0.0, 100.0, 0.5),
    "battery": (9.0, 16.5, 0.0),
    "speed": (0.0, 250.0, 0.0),
    "feed": (150.0, 900.0, 0.0),
    "rail": (150.0, 220_000.0, 0.0),
    "rear_o2_1": (0.0, 1.1, 0.0),
    "rear_o2_2": (0.0, 1.1, 0.0),
    "ethanol": (0.0, 100.0, 0.0),
    "idle_target": (500.0, 2500.0, 0.0),
    "wastegate": (0.0, 100.0, 0.0),
    "oil_pressure": (0.0, 900.0, 0.0),
    "oil_temp": (-30.0, 150.0, 0.0),
    "head_temp": (-30.0, 260.0, 0.0),
    "ambient": (-40.0, 55.0, 0.0),
    "gear": (-1.0, 10.0, 0.0),
}


def likeness(
    values: NDArray[np.floating], name: str, unit: str, still: NDArray[np.bool_] | None = None
) -> float:
    """How much samples look like a channel: 1 like it, 0.5 possible, 0 they cannot be it.

    Parameters
    ----------
    values : ndarray
        As they stand in the file.
    name : str
        A key of `CHANNELS`.
    unit : str
        As `quantities` knows it; empty where the file does not say: then any unit of the quantity may serve.
    still : ndarray of bool, optional
        Rows in which the engine stands, where engine speed is known.
    """
    channel = CHANNELS[name]
    there = np.isfinite(values)
    finite = values[there]
    if not len(finite):
        return 0.5
    units = (unit,) if unit else units_of(channel.quantity)
    found = max(_in_unit(finite, name, one) for one in units)
    if found < 1.0:
        return found
    if name in RESTS and not _rests(finite):
        return 0.5
    if name in ("map", "map_target") and still is not None and len(still) == len(values):
        at_rest = values[still & there]
        if len(at_rest) >= 3 and not any(_at_the_barometer(at_rest, one) for one in units):
            return 0.5
    return found


#: A diesel's mixture: 3 to 6 at idle, to 12 and beyond at no load [lambda]; a middle above is another scale.
LEAN_BURNING = ("lambda", "lambda_2")
LEANEST, LEANEST_MIDDLE = 15.0, 8.0
#: Channels that a foot moves: let go they lie at one value.
RESTS = ("pedal", "throttle")


def _rests(values: NDArray[np.floating]) -> bool:
    """Whether a twentieth of the samples and more lies within two points of the lowest."""
    low = float(np.percentile(values, 1))
    return float((np.abs(values - low) <= 2.0).mean()) >= 0.05


def _at_the_barometer(values: NDArray[np.floating], unit: str) -> bool:
    """Whether a manifold sensor reads the barometer, or nothing above it, while the engine stands."""
    middle = float(np.median(to_unit(values, "pressure", unit, "kPa")))
    return 55.0 < middle < 108.0 or abs(middle) < 5.0


def _in_unit(values: NDArray[np.floating], name: str, unit: str) -> float:
    channel = CHANNELS[name]
    own = to_unit(values, channel.quantity, unit, channel.unit)
    low, high = channel.low, channel.high
    if name in LEAN_BURNING and float(np.median(own)) <= LEANEST_MIDDLE:
        high = max(high, LEANEST)
    if channel.quantity == "pressure" and name in ("map", "map_target"):
        low = -110.0  # it may be gauge
    inside = float(((own >= low) & (own <= high)).mean())
    if inside < 0.5:
        return 0.0
    usual = _USUAL.get(name)
    if usual is None:
        return 0.5
    middle, spread = float(np.median(own)), float(np.percentile(own, 98) - np.percentile(own, 2))
    least, most, moves = usual
    fits = inside > 0.95 and least <= middle <= most and spread >= moves
    return 1.0 if fits else 0.5
