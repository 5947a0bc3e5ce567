"""Where an engine works hard, and where it is boosted: one answer for maps, corrections and logs."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike, NDArray

#: Load begins at this share of the barometer: above it a lean cell hurts.
LOAD_SHARE = 0.8
#: Boost begins this far above the barometer: below lies what a gauge and the weather move [kPa].
BOOST_ABOVE_KPA = 5.0
#: Without a pressure, load begins at this throttle [%].
LOAD_THROTTLE = 75.0


def under_load(manifold_kpa: ArrayLike, barometer_kpa: float) -> NDArray[np.bool_]:
    """Whether the engine works hard at a manifold pressure, both absolute [kPa].

    Examples
    --------
    >>> under_load([79.0, 80.0], 100.0).tolist()
    [False, True]
    """
    return np.asarray(manifold_kpa) >= LOAD_SHARE * barometer_kpa


def in_boost(manifold_kpa: ArrayLike, barometer_kpa: float) -> NDArray[np.bool_]:
    """Whether the manifold is above the barometer by more than a gauge's own error, both absolute [kPa].

    Examples
    --------
    >>> in_boost([105.0, 105.1], 100.0).tolist()
    [False, True]
    """
    return np.asarray(manifold_kpa) > barometer_kpa + BOOST_ABOVE_KPA
