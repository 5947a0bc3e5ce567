"""What the pretend vehicles are made of; `demo/make_standin.py` fits them to their sheets."""

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


VEHICLES: list[dict[str, Any]] = [
    {
        "vehicle": "corvane-estate-20",
        "garage": True,
        "seed": 12,
        "sheet": sheet(128, 5900, 218, 4300),
        "idle": 820,
        "top": 6600,
        "hump": 0.65,
        "most_kpa": 102,
        "build": {"body": ROAD, "burn": {"stock_retard": 8.0}},
        "hidden": {
            "stock_pending": ["P0171"],
            "kit_codes": ["P0113", "P0102"],
            "faults": {"flow_error": -0.06, "dead_time_error_ms": 0.11, "ve_error": 0.09},
        },
    },
    {
        "vehicle": "corvane-estate-20-di",
        "seed": 14,
        "sheet": sheet(142, 6400, 217, 4700),
        "idle": 820,
        "top": 6600,
        "hump": 0.66,
        "most_kpa": 102,
        "build": {
            "body": ROAD,
            "feed": {"kind": "direct", "referenced": False, "pump_gs": 17.0, "window_deg": 280.0},
            "burn": {"margin": 5.0},
        },
    },
    {
        "vehicle": "corvane-estate-18",
        "seed": 16,
        "sheet": sheet(103, 6100, 172, 4400),
        "idle": 820,
        "top": 6600,
        "hump": 0.64,
        "most_kpa": 102,
        "build": {
            "body": {**ROAD, "mass_kg": 1420.0},
            "air": {"throttle_gs": 450.0},
            "feed": {"pump_gs": 11.0},
        },
    },
    {
        "vehicle": "ostrel-merrin-16t",
        "seed": 21,
        "sheet": sheet(132, 5500, 250, 2600),
        "idle": 780,
        "top": 6400,
        "hump": 0.55,
        "most_kpa": 200,
        "build": {
            "air": {"throttle_gs": 420.0, "plenum_l": 3.6},
            "charger": {"kind": "turbo", "most_kpa": 165.0, "knee_gs": 68.0, "choke_gs": 165.0},
            "feed": {"pump_gs": 17.0},
            "burn": {"margin": 12.6, "boost_margin": 0.16},
            "body": {
                **ROAD,
                "gears": [13.8, 7.7, 5.2, 3.9, 3.1, 2.6],
                "mass_kg": 1390.0,
                "engine_inertia": 0.14,
            },
        },
        "hidden": {"stock_pending": ["P0299"]},
    },
    {
        "vehicle": "ostrel-merrin-16t-late",
        "seed": 23,
        "sheet": sheet(147, 5600, 276, 2700),
        "idle": 760,
        "top": 6400,
        "hump": 0.55,
        "most_kpa": 215,
        "build": {
            "air": {"throttle_gs": 430.0, "plenum_l": 3.6},
            "charger": {"kind": "turbo", "most_kpa": 185.0, "knee_gs": 70.0, "choke_gs": 175.0},
            "feed": {"pump_gs": 20.0, "referenced": False},
            "burn": {"margin": 7.0, "boost_margin": 0.04},
            "body": {**ROAD, "mass_kg": 1460.0, "engine_inertia": 0.14},
        },
    },
    {
        "vehicle": "tarnwood-packhorse-30",
        "fill": 1.05,
        "seed": 31,
        "sheet": sheet(184, 3600, 550, 2000),
        "idle": 700,
        "top": 4400,
        "hump": 0.5,
        "most_kpa": 270,
        "off_s": 30.0,
        "build": {
            "air": {"throttle_gs": 2400.0, "plenum_l": 6.0},
            "charger": {
                "kind": "turbo",
                "most_kpa": 235.0,
                "knee_gs": 95.0,
                "choke_gs": 300.0,
                "slow_s": 0.8,
                "fast_s": 0.3,
                "cooler": 0.88,
                "cooler_s": 45.0,
            },
            "feed": {
                "kind": "diesel",
                "referenced": False,
                "pump_gs": 30.0,
                "window_deg": 55.0,
                "bulk_kpa_g": 60000.0,
            },
            "burn": {
                "kind": "diesel",
                "efficiency": 0.42,
                "full_mg": 78.0,
                "trims": False,
                "friction": [30.0, 0.0055, 0.0],
            },
            "body": {
                "mass_kg": 2280.0,
                "loss": 0.18,
                "wheel_radius_m": 0.387,
                "gears": [17.6, 11.7, 7.8, 6.2, 4.9, 3.7, 3.1, 2.5],
                "drag": [310.0, 0.72],
                "engine_inertia": 0.42,
            },
        },
        "hidden": {"stock_codes": ["P0401"]},
    },
    {
        "vehicle": "garrowby-hauler-22",
        "fill": 1.05,
        "seed": 33,
        "sheet": sheet(103, 3600, 330, 1900),
        "idle": 760,
        "top": 4300,
        "hump": 0.5,
        "most_kpa": 245,
        "off_s": 20.0,
        "build": {
            "air": {"throttle_gs": 1700.0, "plenum_l": 4.5},
            "charger": {
                "kind": "turbo",
                "most_kpa": 200.0,
                "knee_gs": 62.0,
                "choke_gs": 200.0,
                "cooler": 0.86,
            },
            "feed": {
                "kind": "diesel",
                "referenced": False,
                "pump_gs": 20.0,
                "window_deg": 55.0,
                "bulk_kpa_g": 60000.0,
            },
            "burn": {
                "kind": "diesel",
                "efficiency": 0.42,
                "full_mg": 66.0,
                "trims": False,
                "friction": [30.0, 0.0055, 0.0],
            },
            "body": {
                "mass_kg": 2450.0,
                "loss": 0.16,
                "wheel_radius_m": 0.345,
                "gears": [16.2, 8.6, 5.3, 3.6, 2.7, 2.2],
                "drag": [330.0, 0.95],
                "engine_inertia": 0.3,
            },
        },
    },
    {
        "vehicle": "quillon-triple-660",
        "seed": 41,
        "sheet": sheet(60, 9400, 65, 7600),
        "idle": 1300,
        "top": 10500,
        "hump": 0.74,
        "most_kpa": 102,
        "build": {
            "air": {
                "path": "throttle bodies",
                "throttle_gs": 300.0,
                "plenum_l": 0.4,
                "resonance": {"rpm": 5200.0, "width_rpm": 900.0, "depth": 0.13, "throttle": 40.0},
            },
            "feed": {"pump_gs": 6.0, "referenced": False, "film": {"share": 0.08, "seconds": 0.12}},
            "burn": {"friction": [15.0, 0.0009, 0.0000001], "best_spark": 36.0},
            "body": {
                "mass_kg": 265.0,
                "loss": 0.14,
                "wheel_radius_m": 0.315,
                "gears": [13.6, 10.1, 8.2, 6.9, 6.1, 5.5],
                "drag": [38.0, 0.34],
                "engine_inertia": 0.022,
            },
        },
    },
    sled("bramble-skimmer-850", 51, sheet(121, 7900, 150, 7200), top=8200, throttle_gs=640.0, pump_gs=18.0),
    sled("bramble-skimmer-600", 53, sheet(92, 8100, 112, 7300), top=8300, throttle_gs=480.0, pump_gs=14.0),
    {
        "vehicle": "pelvane-wake-1500",
        "fill": 1.17,
        "seed": 61,
        "sheet": sheet(191, 7500, 246, 6600),
        "idle": 1300,
        "top": 8100,
        "hump": 0.66,
        "most_kpa": 180,
        "build": {
            "air": {"throttle_gs": 520.0, "plenum_l": 3.0},
            "charger": {"kind": "blower", "kpa_at_1000": 1.32, "pulley": 3.5, "belt_nm": 18.5},
            "feed": {"pump_gs": 24.0},
            "burn": {"trims": False, "margin": 5.0, "boost_margin": 0.04, "friction": [15.0, 0.0016, 0.0]},
            "body": {
                "kind": "water",
                "mass_kg": 390.0,
                "gears": [5.0],
                "engine_inertia": 0.09,
                "impeller_nm": 205.0,
            },
        },
    },
    {
        "vehicle": "hobcroft-trail-1000",
        "seed": 71,
        "sheet": sheet(125, 7900, 160, 6400),
        "idle": 1200,
        "top": 8500,
        "hump": 0.62,
        "most_kpa": 185,
        "build": {
            "air": {"throttle_gs": 330.0, "plenum_l": 2.4},
            "charger": {
                "kind": "turbo",
                "most_kpa": 150.0,
                "knee_gs": 70.0,
                "choke_gs": 210.0,
                "cooler": 0.9,
            },
            "feed": {"pump_gs": 16.0},
            "burn": {"margin": 6.0, "boost_margin": 0.045, "friction": [16.0, 0.0018, 0.0]},
            "body": {
                "kind": "belt",
                "mass_kg": 890.0,
                "loss": 0.18,
                "wheel_radius_m": 0.36,
                "gears": [9.5],
                "drag": [360.0, 0.8],
                "engine_inertia": 0.07,
            },
        },
        # It stands on tyres a size larger than its works knew.
        "hidden": {"faults": {"tyre_error": -0.0131}},
    },
]
