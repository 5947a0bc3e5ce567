"""What the pretend vehicle really is, hidden from the map."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from ventmap.core.basics import Floats, Table2D
from ventmap.core.fuel import PETROL, DeadTimeTable, Fuel

from .faults import Faults
from .spec import Build


@dataclass(frozen=True)
class VehicleTruth:
    """A vehicle as built: geometry, parts, the air of the place, and its faults.

    `filling` is the honest volumetric efficiency [%] before `Faults.ve_error`; `injector_flow` [cm³/min at
    `injector_rated_kpa`] and `dead_time` are the sheet's figures of the injectors fitted.
    """

    vin: str
    displacement_cc: float
    cylinders: int
    filling: Table2D
    injector_flow: float
    injector_rated_kpa: float
    dead_time: DeadTimeTable
    fuel_pressure_kpa: float = 300.0
    fuel: Fuel = PETROL
    barometer_kpa: float = 85.1
    ambient_c: float = 18.0
    relative_humidity: float = 0.4
    stroke: int = 4
    ron: float = 95.0
    idle_rpm: float = 820.0
    top_rpm: float = 6800.0
    seed: int = 1
    faults: Faults = field(default_factory=Faults)
    build: Build = field(default_factory=Build)
    #: What its sheet claims at the crank [N·m].
    torque_nm: float = 200.0

    def true_filling(self) -> Table2D:
        """Filling with its smooth error, by the seed."""
        table = self.filling
        field_ = smooth_field(table.x, table.y, self.seed) * self.faults.ve_error
        return table.with_values(table.values * (1.0 + field_))


def smooth_field(x: Floats, y: Floats, seed: int) -> Floats:
    """A smooth random field over a table's cells with a peak of exactly 1 in size.

    A few long cosine waves over the two axes; shape (len(y), len(x)).
    """
    random = np.random.default_rng(seed)
    across = (x - x[0]) / (x[-1] - x[0])
    up = (y - y[0]) / (y[-1] - y[0])
    total = np.zeros((len(y), len(x)))
    for _ in range(5):
        waves = random.uniform(-1.5, 1.5, 2)
        phase = random.uniform(0, 2 * np.pi)
        total += random.normal() * np.cos(
            2 * np.pi * (waves[0] * across[None, :] + waves[1] * up[:, None]) / 1.5 + phase
        )
    peak = float(np.abs(total).max())
    return np.asarray(total / peak if peak else total, dtype=float)
