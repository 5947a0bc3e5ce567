"""Units of files as factors and offsets."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from ..basics import parse, show

#: Units that a column without one may be in, by quantity; the first is what is taken where all fit.
_UNSAID = {
    "pressure": ("kPa", "bar", "psi", "mbar"),
    "temperature": ("°C", "°F"),
    "mixture": ("lambda", "AFR"),
    "fraction": ("%",),
    "voltage": ("V", "mV"),
    "speed": ("km/h", "mph"),
    "pulse": ("ms", "µs"),
}


#: Units that a person may say a column is in, by quantity.
UNITS_BY_QUANTITY = {
    "pressure": ("kPa", "bar", "psi", "mbar", "hPa", "MPa", "inHg"),
    "temperature": ("°C", "°F", "K"),
    "mixture": ("lambda", "AFR"),
    "fraction": ("%",),
    "voltage": ("V", "mV"),
    "speed": ("km/h", "mph", "m/s"),
    "pulse": ("ms", "µs"),
    "spark": ("°",),
    "engine_speed": ("rpm",),
}


def units_of(quantity: str) -> tuple[str, ...]:
    """Units that a column of this quantity may be in where the file does not say; none for a bare number."""
    return _UNSAID.get(quantity, ("",))


@lru_cache(maxsize=512)
def line_of(quantity: str, unit: str, to: str) -> tuple[float, float]:
    """(factor, offset) from a unit on file to another of the same quantity."""
    if not quantity or unit in ("", to):
        return 1.0, 0.0
    offset = show(parse("0.0", quantity, unit), quantity, to)
    return show(parse("1.0", quantity, unit), quantity, to) - offset, offset


def to_unit(values: NDArray[np.floating], quantity: str, unit: str, to: str) -> NDArray[np.floating]:
    """Samples in another unit of their quantity, as float32."""
    factor, offset = line_of(quantity, unit, to)
    if factor == 1.0 and offset == 0.0:
        return values
    return (values * np.float32(factor) + np.float32(offset)).astype(np.float32)
