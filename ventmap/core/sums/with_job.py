"""Which sums a job asks for, and what it knows of their inputs."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from ..basics import (
    Computer,
    Device,
    HouseRules,
    Injector,
    InlineController,
    Pump,
    SensorPiggyback,
    Vehicle,
    standard_pressure,
)
from ..fuel import TEST_FLUIDS, as_petrol, blend, flow_at_pressure, pulse_at, required_flow
from .catalogue import SUMS

#: Ethanol from which running on it is worth a sum [fraction].
WORTH_A_SUM = 0.3


@dataclass(frozen=True)
class JobFigures:
    """What a job knows: vehicle, kit, goal [kW], fuel and place."""

    vehicle: Vehicle
    devices: Sequence[Device]
    injectors: Injector | None
    pump: Pump | None
    power_goal_kw: float | None
    ethanol: float
    altitude_m: float


def sums_of(job: JobFigures) -> list[str]:
    """Keys of the sums that a job asks for, in the order in which they are worked."""
    vehicle, devices = job.vehicle, job.devices
    ethanol = any(device.ethanol_sensor for device in devices)
    wanted = {
        "injector-need": vehicle.petrol,
        "injector-pressure": vehicle.injection in ("port", "both"),
        "injection-window": vehicle.injection in ("direct", "both"),
        "fuel-pump": vehicle.petrol,
        "wire-and-fuse": True,
        "flow-match": vehicle.petrol,
        "injector-care": True,
        "spacer-stack": job.injectors is not None,
        "feed-line": ethanol,
        "ethanol-cost": ethanol,
        "ethanol-content": ethanol,
        "shift-rod": any(isinstance(device, InlineController) and device.shift_sensor for device in devices),
        "inputs-outputs": any(isinstance(device, Computer) and device.spare_pins for device in devices),
    }
    return [key for key in SUMS if wanted.get(key)]


def known_figures(job: JobFigures, house: HouseRules, key: str) -> dict[str, Any]:
    """What a job knows of a sum's inputs, as it would be typed; figures named on the shelf win."""
    named: dict[str, Any] = dict(job.vehicle.sums.get(key, {}))
    for device in job.devices:
        named |= device.sums.get(key, {})
    known = _plain(job, house)
    _with_injectors(known, job)
    if job.vehicle.injection == "direct":
        known["fuel-pump"] |= _pump_of_direct(job, house)
    if job.pump:
        known["fuel-pump"] |= {
            "curve": [{"kpa": f"{kpa:g}", "lph": f"{flow:g}"} for kpa, flow in job.pump.curve or ()],
            "nominal": _figure(job.pump.volts),
        }
        known["wire-and-fuse"]["current"] = _figure(job.pump.current_a)
    # What nobody knows stays blank: a usual figure would look like a fact.
    plain = {name: "" if value is None else value for name, value in known.get(key, {}).items()}
    return {**plain, **named}


def _figure(value: float | None) -> str | None:
    """A figure as it would be typed; None where nobody knows it."""
    return None if value is None else f"{value:g}"


def _boost(job: JobFigures) -> float | None:
    """Most boost with this kit, above the barometer [kPa]; None where nobody knows it."""
    added = added_boost(job.devices)
    stock = job.vehicle.boost_kpa if job.vehicle.boosted else 0.0
    return None if added is None or stock is None else stock + added


def _with_injectors(known: dict[str, dict[str, Any]], job: JobFigures) -> None:
    injectors = job.injectors
    if injectors is None:
        return
    there, has = job.vehicle.injector_seat.seat_to_rail_mm, injectors.seat_to_rail_mm
    known["spacer-stack"] = {"old": _figure(there), "new": _figure(has)}
    known["injector-pressure"] |= {
        "flow": f"{injectors.flow:g}",
        "rated": f"{injectors.rated_kpa:g}",
        "fluid": injectors.test_fluid if injectors.test_fluid in TEST_FLUIDS else "petrol",
    }
    if job.vehicle.injection == "port":
        known["fuel-pump"] |= {
            "flow": f"{as_petrol(injectors.flow, injectors.test_fluid):.1f}",
            "rated": f"{injectors.rated_kpa:g}",
        }


def _plain(job: JobFigures, house: HouseRules) -> dict[str, dict[str, Any]]:
    vehicle = job.vehicle
    barometer = standard_pressure(job.altitude_m)
    count = str(vehicle.cylinders)
    rail = _figure(vehicle.fuel_pressure_kpa)
    referenced = {True: "yes", False: "no"}.get(vehicle.referenced_regulator)  # type: ignore[arg-type]
    boost = _boost(job)
    ethanol = f"{100 * job.ethanol:g} %"
    return {
        "injector-need": {
            "power": _figure(job.power_goal_kw),
            "bsfc": f"{house['plan.bsfc_boosted' if vehicle.boosted else 'plan.bsfc_natural']:g}",
            "count": count,
            "duty": f"{house['plan.duty']:g}",
            "ethanol": ethanol,
            "pressure": rail,
            "rated": rail,
        },
        "injector-pressure": {
            "rail": rail,
            "barometer": f"{barometer:.1f}",
            "manifold": None if boost is None else f"{barometer + boost:.1f}",
            "referenced": referenced,
        },
        "injection-window": _window(job, house),
        "injector-duty": {"rpm": _figure(vehicle.rev_limit), "stroke": str(vehicle.stroke)},
        "fuel-pump": {
            "count": count,
            "rail": rail,
            "boost": _figure(boost),
            "referenced": referenced,
            "reserve": f"{house['plan.pump_reserve']:g}",
        },
        "wire-and-fuse": {"allowed": f"{house['plan.wire_drop']:g}", "margin": f"{house['plan.fuse']:g}"},
        "flow-match": {
            "count": count,
            "good": f"{house['plan.spread_good']:g}",
            "usable": f"{house['plan.spread_usable']:g}",
        },
        "injector-care": {"count": count, "kind": "port" if vehicle.injection == "port" else "direct"},
        "feed-line": {
            "slack": f"{house['plan.hose_slack']:g}",
            "bend_factor": f"{house['plan.bend_factor']:g}",
        },
        # A frequency is read off the sensor; the job's ethanol is what it is held against, not its source.
        "ethanol-content": {"hz": ""},
        "ethanol-cost": {"ethanol": ethanol} if job.ethanol > WORTH_A_SUM else {},
    }


def added_boost(devices: Sequence[Device]) -> float | None:
    """Most boost that a kit adds [kPa]; None where a device that adds some does not say how much."""
    if any(isinstance(device, SensorPiggyback) and device.added_boost_kpa is None for device in devices):
        return None
    return max((device.added_boost_kpa or 0.0 for device in devices), default=0.0)


def _window(job: JobFigures, house: HouseRules) -> dict[str, Any]:
    """The pulse that the goal asks at the highest speed, in the window of this engine."""
    vehicle, injectors = job.vehicle, job.injectors
    known: dict[str, Any] = {"rpm": _figure(vehicle.rev_limit)}
    if vehicle.injection_window_deg:
        known["window"] = f"{vehicle.injection_window_deg:g}"
    kpa, top, goal = vehicle.fuel_pressure_kpa, vehicle.rev_limit, job.power_goal_kw
    there = injectors is not None and injectors.kind == "direct"
    if there and injectors and kpa is not None and top is not None and goal is not None:
        flow = flow_at_pressure(as_petrol(injectors.flow, injectors.test_fluid), injectors.rated_kpa, kpa)
        bsfc = house["plan.bsfc_boosted" if vehicle.boosted else "plan.bsfc_natural"]
        pulse = pulse_at(
            goal,
            bsfc,
            vehicle.cylinders,
            top,
            flow,
            blend(job.ethanol),
            vehicle.stroke,
        )
        known["pulse"] = f"{pulse:.2f}"
    return known


def _pump_of_direct(job: JobFigures, house: HouseRules) -> dict[str, Any]:
    """Direct injection is fed by its low-pressure pump: what the goal burns, at feed pressure."""
    vehicle = job.vehicle
    bsfc = house["plan.bsfc_boosted" if vehicle.boosted else "plan.bsfc_natural"]
    goal = job.power_goal_kw
    mean = None if goal is None else required_flow(goal, bsfc, vehicle.cylinders, 1.0, blend(job.ethanol))
    return {
        "flow": None if mean is None else f"{mean:.1f}",
        "rated": "0",
        "rail": _figure(vehicle.feed_kpa),
        "referenced": "no",
        "boost": "0",
    }
