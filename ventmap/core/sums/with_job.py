"""Which sums a job asks for, and what it knows of their inputs."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import isclose
from typing import Any

from ..basics import (
    Call,
    Computer,
    Device,
    Evidence,
    HouseRules,
    Injector,
    InlineController,
    OutOfRange,
    Pump,
    Vehicle,
    Verdict,
    standard_pressure,
)
from ..fuel import (
    TEST_FLUIDS,
    FuelDemand,
    as_petrol,
    bsfc_rule,
    demand_of,
    flow_at_pressure,
    full_boost,
    most_ethanol,
    pulse_at,
)
from .catalogue import SUMS
from .model import read_field

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
        "staged-injection": vehicle.rotary,
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


#: Typed figures that differ by less are the same: they were rounded [share].
SAME = 0.005


def other_figures(job: JobFigures, house: HouseRules, key: str, typed: Mapping[str, Any]) -> Call | None:
    """What was typed into a sum against what the job knows: a pass with another pump's curve is none of this
    one's. None where nothing differs.
    """
    known = {name: value for name, value in known_figures(job, house, key).items() if value not in ("", [])}
    because = []
    for item in SUMS[key].fields:
        if item.name not in known:
            continue
        ours, theirs = (
            read_field(item, known[item.name]),
            read_field(item, typed.get(item.name, item.default)),
        )
        if not _same(ours, theirs):
            plain = isinstance(ours, (int, float)) and not isinstance(ours, bool)
            because.append(Evidence(item.label, theirs if plain else "another", ours if plain else None))
    if not because:
        return None
    return Call(
        "sum.figures",
        verdict=Verdict.hold,
        because=tuple(because),
        do_next="Use the figures of this job, or put the sheet of vehicle, pump or injectors right: the step"
        " stays open.",
        source="A step is passed by figures of this vehicle and its parts",
        title="Not the figures of this job",
    )


def _same(ours: Any, theirs: Any) -> bool:
    if isinstance(ours, list) and isinstance(theirs, list):
        return len(ours) == len(theirs) and all(map(_same, _in_order(ours), _in_order(theirs)))
    if isinstance(ours, dict) and isinstance(theirs, dict):
        return ours.keys() == theirs.keys() and all(_same(ours[name], theirs[name]) for name in ours)
    if isinstance(ours, (int, float)) and isinstance(theirs, (int, float)):
        return isclose(ours, theirs, rel_tol=SAME, abs_tol=1e-9)
    return bool(ours == theirs)


def _in_order(rows: list[Any]) -> list[Any]:
    """A curve's points may be typed in any order."""
    return sorted(rows, key=lambda row: tuple(row.values()) if isinstance(row, dict) else (row,))


def _figure(value: float | None) -> str | None:
    """A figure as it would be typed; None where nobody knows it."""
    return None if value is None else f"{value:g}"


def _demand(job: JobFigures, house: HouseRules) -> FuelDemand | None:
    """What full load asks; None where something of it is not known."""
    found = demand_of(job.vehicle, job.devices, job.power_goal_kw, job.ethanol, house)
    return found if isinstance(found, FuelDemand) else None


def _across(job: JobFigures, house: HouseRules) -> float | None:
    """Pressure across the injectors at full load, whatever the goal [kPa]; None where nobody knows it, or
    nothing is left of it.
    """
    found = demand_of(job.vehicle, job.devices, job.power_goal_kw or 1.0, job.ethanol, house)
    try:
        return found.across_kpa if isinstance(found, FuelDemand) else None
    except OutOfRange:
        return None


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
    boost = full_boost(vehicle, job.devices)
    most = f"{100 * most_ethanol(job.devices, job.ethanol):g} %"
    across = _across(job, house)
    return {
        "injector-need": {
            "power": _figure(job.power_goal_kw),
            "bsfc": f"{house[bsfc_rule(vehicle)]:g}",
            "count": count,
            "duty": f"{house['plan.duty']:g}",
            "ethanol": most,
            "pressure": None if across is None else f"{across:g}",
            "rated": rail,
        },
        "staged-injection": {
            "power": _figure(job.power_goal_kw),
            "bsfc": f"{house[bsfc_rule(vehicle)]:g}",
            "ethanol": most,
            "duty": f"{house['plan.duty']:g}",
            "cycle": "four-stroke" if vehicle.injection_stroke == 4 else "two-stroke or rotary",
        },
        "injector-pressure": {
            "rail": rail,
            "barometer": f"{barometer:.1f}",
            "manifold": None if boost is None else f"{barometer + boost:.1f}",
            "referenced": referenced,
        },
        "injection-window": _window(job, house),
        "injector-duty": {"rpm": _figure(vehicle.rev_limit), "stroke": str(vehicle.injection_stroke)},
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
        "ethanol-cost": {"ethanol": f"{100 * job.ethanol:g} %"} if job.ethanol > WORTH_A_SUM else {},
    }


def _window(job: JobFigures, house: HouseRules) -> dict[str, Any]:
    """The pulse that the goal asks at the highest speed, in the window of this engine."""
    vehicle, injectors, demand = job.vehicle, job.injectors, _demand(job, house)
    known: dict[str, Any] = {"rpm": _figure(vehicle.rev_limit)}
    if vehicle.injection_window_deg:
        known["window"] = f"{vehicle.injection_window_deg:g}"
    if injectors is None or injectors.kind != "direct" or demand is None or demand.rpm is None:
        return known
    petrol = as_petrol(injectors.flow, injectors.test_fluid)
    pulse = pulse_at(
        demand.power_kw,
        demand.bsfc,
        demand.cylinders,
        demand.rpm,
        flow_at_pressure(petrol, injectors.rated_kpa, demand.across_kpa),
        demand.fuel,
        demand.stroke,
    )
    return {**known, "pulse": f"{pulse:.2f}", "dead": f"{injectors.dead_time_14v or demand.dead_ms:g}"}


def _pump_of_direct(job: JobFigures, house: HouseRules) -> dict[str, Any]:
    """Direct injection is fed by its low-pressure pump: what the goal burns, at feed pressure."""
    demand = _demand(job, house)
    return {
        "flow": None if demand is None else f"{demand.need(1.0):.1f}",
        "rated": "0",
        "rail": _figure(job.vehicle.feed_kpa),
        "referenced": "no",
        "boost": "0",
    }
