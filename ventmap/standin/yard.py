"""The yard: pretend vehicles from their files and the shelf's sheets, without a job."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from pathlib import Path
from typing import Any

from ventmap.core.basics import BadInput, Injector, Vehicle
from ventmap.core.forms import Identity
from ventmap.core.fuel import DIESEL, DeadTimeTable, as_petrol, blend, dead_time_of

from . import garage
from .engine import DT, Engine
from .faults import Faults
from .programs import program_of, stock_image
from .spec import StandIn
from .truth import VehicleTruth

DEMO = Path(__file__).resolve().parents[2] / "demo"
OUT = DEMO / "standin"
#: Opening delay of injectors whose sheet gives none, at 14 V [ms].
USUAL_DEAD_MS = {"port": 0.62, "direct": 0.34, "diesel": 0.3}
FLASH = 65_536


@dataclass(frozen=True)
class Known:
    """The shelf, as its files hold it."""

    vehicles: Mapping[str, Vehicle]
    injectors: Mapping[str, Injector]


@lru_cache(maxsize=1)
def known() -> Known:
    """The sample shelf."""

    def read(name: str) -> list[dict[str, Any]]:
        return json.loads((DEMO / "shelf" / name).read_text(encoding="utf-8"))

    return Known(
        {one["key"]: Vehicle.model_validate_json(json.dumps(one["body"])) for one in read("vehicles.json")},
        {one["key"]: Injector.model_validate_json(json.dumps(one["body"])) for one in read("injectors.json")},
    )


@lru_cache(maxsize=1)
def devices() -> dict[str, str]:
    """Devices of the sample shelf: key to what it answers as."""
    rows = json.loads((DEMO / "shelf" / "devices.json").read_text(encoding="utf-8"))
    return {row["key"]: row["body"].get("computer") or row["key"] for row in rows}


@lru_cache(maxsize=32)
def spec_of(key: str) -> StandIn | None:
    """The stand-in of a vehicle on the shelf, or None where there is none."""
    file = OUT / f"{key}.json"
    if "/" in key or not file.exists():
        return None
    return StandIn.model_validate_json(file.read_text(encoding="utf-8"))


def vehicles() -> list[str]:
    """Keys of the vehicles that run here."""
    return sorted(file.stem for file in OUT.glob("*.json"))


def dead_time(injectors: Injector, kind: str) -> DeadTimeTable:
    """The sheet's table; one of its kind where it gives none."""
    return dead_time_of(injectors) or garage.dead_time(USUAL_DEAD_MS[kind])


def truth_of(
    spec: StandIn,
    body: Vehicle,
    fitted: Injector,
    *,
    vin: str = "",
    faults: Faults | None = None,
    seed: int | None = None,
    barometer_kpa: float = 85.1,
    ambient_c: float = 18.0,
    ethanol: float = 0.0,
    ron: float = 95.0,
) -> VehicleTruth:
    """The vehicle as built: its sheet, its parts, its faults.

    Raises
    ------
    BadInput
        If the shelf does not say what an engine cannot do without.
    """
    kind = spec.build.feed.kind
    flow = fitted.flow if kind == "diesel" else as_petrol(fitted.flow, fitted.test_fluid)
    return VehicleTruth(
        vin=vin,
        displacement_cc=needed(body.displacement_cc, "displacement"),
        cylinders=body.cylinders,
        stroke=body.stroke,
        filling=spec.filling.table(),
        injector_flow=flow,
        injector_rated_kpa=fitted.rated_kpa,
        dead_time=dead_time(fitted, kind),
        fuel_pressure_kpa=needed(body.fuel_pressure_kpa, "fuel pressure"),
        fuel=DIESEL if kind == "diesel" else blend(ethanol),
        torque_nm=spec.sheet.torque_nm,
        barometer_kpa=barometer_kpa,
        ambient_c=ambient_c,
        ron=ron,
        idle_rpm=body.idle_rpm or garage.IDLE_RPM,
        top_rpm=needed(body.rev_limit, "rev limit"),
        seed=spec.seed if seed is None else seed,
        faults=Faults.named(spec.faults) if faults is None else faults,
        build=spec.build,
    )


def needed(value: float | None, what: str) -> float:
    """A figure that the stand-in cannot do without.

    Raises
    ------
    BadInput
        Naming it.
    """
    if value is None:
        raise BadInput(f"The bench engine needs its {what}: enter it on the shelf.", what.replace(" ", "_"))
    return value


def stock_parts(key: str) -> tuple[Vehicle, Injector]:
    """A vehicle of the sample shelf with the injectors that it came with."""
    shelf = known()
    body = shelf.vehicles[key]
    return body, shelf.injectors[str(body.stock_injectors)]


def stock_engine(truth: VehicleTruth, body: Vehicle, coolant_c: float | None = None) -> Engine:
    """The engine with its stock computer, key on."""
    identity = Identity(body.engine, body.stock_computer, body.stock_calibration)
    image = stock_image(replace(truth, faults=Faults()), identity, body.boost_kpa or 0.0, FLASH)
    program, _, _ = program_of(image, truth, "stock")
    engine = Engine(truth, program, coolant_c)
    engine.key = True
    return engine


def full_load(truth: VehicleTruth, spec: StandIn, rpm: float, seconds: float = 7.0) -> float:
    """Torque at the crank on full pedal with a brake that holds `rpm`, warm [N·m]."""
    engine = stock_engine(replace(truth, faults=Faults()), known().vehicles[spec.vehicle], coolant_c=88.0)
    engine.gear, engine.drum_inertia, engine.rpm, engine.pedal = 1, 1.0, rpm, 100.0
    summed, count = 0.0, 0
    while engine.time < seconds:
        engine.rpm = rpm
        engine.step()
        if engine.time > seconds - 1.5:
            summed += engine.torque
            count += 1
    return summed / count


__all__ = [
    "DT",
    "Known",
    "dead_time",
    "full_load",
    "known",
    "needed",
    "spec_of",
    "stock_engine",
    "stock_parts",
    "truth_of",
    "vehicles",
]
