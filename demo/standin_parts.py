"""What several pretend vehicles share: gears, what a sheet claims, a snow sled."""

from __future__ import annotations

from typing import Any

ROAD = {"gears": [13.1, 7.4, 5.1, 3.9, 3.15], "loss": 0.14}


def sheet(power_kw: float, power_rpm: float, torque_nm: float, torque_rpm: float) -> dict[str, float]:
    return {
        "power_kw": power_kw,
        "power_rpm": power_rpm,
        "torque_nm": torque_nm,
        "torque_rpm": torque_rpm,
    }


def sled(
    key: str, seed: int, claims: dict[str, float], *, top: float, throttle_gs: float, pump_gs: float
) -> dict[str, Any]:
    """A two-stroke snow sled: no trims, a belt, a track."""
    return {
        "vehicle": key,
        "seed": seed,
        "sheet": claims,
        "idle": 1700,
        "top": top,
        # More than its swept volume runs through it, and part of that unburnt.
        "fill": 1.26,
        "hump": 0.86,
        "most_kpa": 102,
        "build": {
            "air": {"throttle_gs": throttle_gs, "plenum_l": throttle_gs / 245.0},
            "feed": {
                "pump_gs": pump_gs,
                "referenced": False,
                "spread": 0.02,
                # Through the crankcase: more of it lies on walls, and for longer.
                "film": {"share": 0.16, "seconds": 0.26},
            },
            "burn": {
                "trims": False,
                "margin": 4.0,
                "best_spark": 27.0,
                "friction": [16.0, 0.0016, 0.0],
                "tuned_rpm": round(0.93 * top, -2),
            },
            "body": {
                "kind": "belt",
                "loss": 0.18,
                "mass_kg": 200.0 + throttle_gs / 5.3,
                "wheel_radius_m": 0.09,
                "gears": [2.9],
                "drag": [260.0, 0.5],
                "engine_inertia": throttle_gs / 12800.0,
            },
        },
    }
