"""Transfer curves of sensors: straight lines and thermistors."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import exp, log

import numpy as np

from ..basics import BadInput, require_positive


@dataclass(frozen=True)
class Linear:
    """value = volts·slope + offset."""

    slope: float
    offset: float

    def value(self, volts: float) -> float:
        return volts * self.slope + self.offset


def linear_from_points(points: Sequence[tuple[float, float]]) -> Linear:
    """Transfer of a linear sensor from two points (volts, value)."""
    (v1, y1), (v2, y2) = points
    if v1 == v2:
        raise BadInput("The two points need different voltages.", "points")
    slope = (y2 - y1) / (v2 - v1)
    return Linear(slope, y1 - slope * v1)


@dataclass(frozen=True)
class SteinhartHart:
    """Thermistor curve 1/T = a + b·ln R + c·(ln R)³, T in kelvin, R in ohm (Steinhart and Hart 1968)."""

    a: float
    b: float
    c: float

    @classmethod
    def from_points(cls, points: Sequence[tuple[float, float]]) -> SteinhartHart:
        """From three (temp_c, ohms)."""
        if len(points) != 3 or len({ohms for _, ohms in points}) != 3:
            raise BadInput("A thermistor curve needs three different points.", "points")
        for _, ohms in points:
            require_positive(ohms=ohms)
        rows = [[1.0, log(ohms), log(ohms) ** 3] for _, ohms in points]
        inverse = [1.0 / (temp + 273.15) for temp, _ in points]
        a, b, c = np.linalg.solve(np.array(rows), np.array(inverse))
        return cls(float(a), float(b), float(c))

    def temp_c(self, ohms: float) -> float:
        """Temperature [°C] at a resistance [Ω]."""
        require_positive(ohms=ohms)
        return 1.0 / (self.a + self.b * log(ohms) + self.c * log(ohms) ** 3) - 273.15

    def ohms(self, temp_c: float) -> float:
        """Resistance [Ω] at a temperature [°C], by bisection over 1 Ω to 10 MΩ."""
        low, high = 0.0, log(1e7)
        for _ in range(80):
            middle = (low + high) / 2
            low, high = (middle, high) if self.temp_c(exp(middle)) > temp_c else (low, middle)
        return exp((low + high) / 2)
