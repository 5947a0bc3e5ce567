"""What the pretend vehicle really is, hidden from the map."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from ventmap.core.basics import Floats, Table2D
from ventmap.core.fuel import PETROL, DeadTimeTable, Fuel


@dataclass(frozen=True)
class Faults:
    """What is wrong. Zero everywhere is a sound vehicle.

    Parameters
    ----------
    flow_error : float
        True injector flow over the one on the sheet, less 1.
    dead_time_error_ms : float
        True dead time less the one on the sheet.
    ve_error : float
        Peak of the smooth error of filling (fraction).
    air_leak : float
        Air past a lower injector seal at idle vacuum [g/s].
    weak_pump : float
        Share of rail pressure missing at full flow, 0–1.
    slow_battery : float
        Volts missing from charging.
    poor_fuel : float
        Degrees of knock margin missing.
    interrupt_write_at : float
        Share of a write after which the link is lost once; 0 is never.
    """

    flow_error: float = 0.0
    dead_time_error_ms: float = 0.0
    ve_error: float = 0.0
    air_leak: float = 0.0
    weak_pump: float = 0.0
    slow_battery: float = 0.0
    poor_fuel: float = 0.0
    interrupt_write_at: float = 0.0


@dataclass(frozen=True)
class VehicleTruth:
    """A vehicle as built: geometry, gearing, the air of the place, and its faults.

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
    mass_kg: float = 1480.0
    wheel_radius_m: float = 0.312
    gears: tuple[float, ...] = (13.1, 7.4, 5.1, 3.9, 3.15)
    drag: tuple[float, float] = (170.0, 0.41)  # N, N/(m/s)²
    engine_inertia: float = 0.16
    idle_rpm: float = 820.0
    top_rpm: float = 6800.0
    seed: int = 1
    faults: Faults = field(default_factory=Faults)

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
