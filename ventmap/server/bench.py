"""The one door to the stand-in: everything the server knows of pretend vehicles goes through here."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping
from dataclasses import replace
from functools import lru_cache
from typing import Any

from django.conf import settings

from ventmap.core.basics import BadInput, Computer, Device, Injector, Vehicle, standard_pressure
from ventmap.core.forms import Calibration, Identity
from ventmap.core.fuel import DeadTimeTable, as_petrol, blend, dead_time_of
from ventmap.link import wire
from ventmap.standin import garage
from ventmap.standin.catalogue import Catalogue
from ventmap.standin.memory import Memory
from ventmap.standin.route import Leg, fuel_route
from ventmap.standin.truth import Faults, VehicleTruth
from ventmap.standin.vehicle import BusVehicle, DirectLine, PretendVehicle

__all__ = [
    "WARM_C",
    "BusVehicle",
    "DirectLine",
    "Leg",
    "Memory",
    "PretendVehicle",
    "Setup",
    "build_vehicle",
    "fuel_route",
    "new_memory",
    "rehearsal_map",
    "rehearsal_vehicle",
    "start_route",
]

WARM_C = 86.0
#: A stock computer that is only read runs no engine: any sound dead time will do [ms].
USUAL_DEAD_MS = 0.62
#: Noise differs from run to run, the vehicle's truth does not.
SEEDS = 1_000_003


class Setup:
    """What the stand-in needs to know of a job: shelf bodies, place, fuel, and which parts are on the
    vehicle.
    """

    def __init__(
        self,
        *,
        vehicle_key: str,
        vehicle: Vehicle,
        device: Device | None,
        stock_injectors: Injector,
        kit_injectors: Injector,
        vin: str,
        altitude_m: float,
        ethanol: float,
    ) -> None:
        self.vehicle_key, self.vehicle, self.device = vehicle_key, vehicle, device
        self.stock_injectors, self.kit_injectors = stock_injectors, kit_injectors
        self.vin, self.altitude_m, self.ethanol = vin, altitude_m, ethanol

    def injectors(self, which: str) -> Injector:
        return self.kit_injectors if which == "kit" else self.stock_injectors


@lru_cache(maxsize=1)
def _hidden() -> dict[str, Any]:
    """What is really wrong with the sample vehicles: hidden from maps and screens."""
    file = settings.BASE / "demo" / "standin.json"
    return json.loads(file.read_text(encoding="utf-8")) if file.exists() else {}


def _truth(setup: Setup, which: str) -> VehicleTruth:
    """The same engine with either set of parts; what is wrong with the kit's injectors is wrong with those
    alone.
    """
    hidden = _hidden().get(setup.vehicle_key, {})
    faults = Faults(**hidden.get("faults", {}))
    if which == "stock":
        faults = Faults(ve_error=faults.ve_error)
    injectors, body = setup.injectors(which), setup.vehicle
    return VehicleTruth(
        vin=setup.vin,
        displacement_cc=_known(body.displacement_cc, "displacement"),
        cylinders=body.cylinders,
        filling=garage.filling(),
        injector_flow=_flow(injectors),
        injector_rated_kpa=injectors.rated_kpa,
        dead_time=_dead_time(injectors),
        fuel_pressure_kpa=_known(body.fuel_pressure_kpa, "fuel pressure"),
        fuel=blend(setup.ethanol),
        barometer_kpa=standard_pressure(setup.altitude_m),
        ambient_c=18.0,
        idle_rpm=body.idle_rpm or garage.IDLE_RPM,
        top_rpm=_known(body.rev_limit, "rev limit"),
        seed=int(hidden.get("seed", 7)),
        faults=faults,
    )


def _known(value: float | None, what: str) -> float:
    """A figure that the stand-in cannot do without."""
    if value is None:
        raise BadInput(f"The bench engine needs its {what}: enter it on the shelf.", what.replace(" ", "_"))
    return value


def _flow(injectors: Injector) -> float:
    """What the sheet says of petrol."""
    return as_petrol(injectors.flow, injectors.test_fluid)


def _dead_time(injectors: Injector) -> DeadTimeTable:
    """The sheet's table; where a computer is only read and its engine never runs, any sound one."""
    return dead_time_of(injectors) or garage.dead_time()


def new_memory(setup: Setup, which: str) -> Memory:
    """A computer as delivered: the stock one with its own, well-made map; the kit's without one."""
    hidden = _hidden().get(setup.vehicle_key, {})
    if which == "kit":
        assert isinstance(setup.device, Computer)
        identity = {
            "vin": setup.vin,
            "computer": setup.device.computer,
            "calibration": "",
            "firmware": setup.device.firmware or "",
        }
        return Memory(identity, codes=list(hidden.get("kit_codes", [])))
    body = setup.vehicle
    identity = {"vin": setup.vin, "computer": body.stock_computer, "calibration": "", "firmware": "4.0"}
    memory = Memory(
        identity, codes=list(hidden.get("stock_codes", [])), pending=list(hidden.get("stock_pending", []))
    )
    calibration = garage.two_litre_map(
        name="stock",
        identity=Identity(body.engine, body.stock_computer, body.stock_calibration),
        injector_flow=_flow(setup.stock_injectors),
        dead_ms=setup.stock_injectors.dead_time_14v or USUAL_DEAD_MS,
        full_load_lambda=0.84,
        spark_retard=9.0,
        rev_limit=body.rev_limit or garage.TOP_RPM,
        idle=body.idle_rpm or garage.IDLE_RPM,
    ).with_table("ve", _truth(setup, "stock").true_filling())
    memory.flash[:] = calibration.image(wire.FLASH_SIZE)
    memory.whole, memory.pedal_learned = True, True
    return memory


def build_vehicle(
    setup: Setup,
    which: str,
    memory: Memory,
    *,
    warm: bool,
    run: int = 0,
    remember: Callable[[], None] | None = None,
) -> PretendVehicle:
    """The job's vehicle with its stock parts or with the kit fitted."""
    truth = _truth(setup, which)
    vehicle = PretendVehicle(truth, memory, WARM_C if warm else None, remember)
    # The truth is the seed's; the noise of this very run is its own.
    vehicle.engine.random.seed(truth.seed * SEEDS + run)
    return vehicle


@lru_cache(maxsize=1)
def catalogue() -> Catalogue:
    """The supplier's catalogue, simulated."""
    return Catalogue(settings.BASE / "demo" / "catalogue")


def start_route() -> list[Leg]:
    """A start and a minute of idle."""
    return [Leg("start", 5.0), Leg("idle", 60.0)]


def rehearsal_map(identity: Identity) -> Calibration:
    """A base map with the sheet's figures of the injectors fitted."""
    return garage.two_litre_map(
        name="rehearsal",
        identity=identity,
        injector_flow=440.0,
        dead_ms=0.62,
        full_load_lambda=0.88,
        spark_retard=2.0,
    )


def rehearsal_vehicle(seed: int, faults: Mapping[str, float]) -> PretendVehicle:
    """A warm two-litre four whose truth differs from its map by `faults`."""
    truth = VehicleTruth(
        vin="",
        displacement_cc=1998.0,
        cylinders=4,
        filling=garage.filling(),
        injector_flow=440.0,
        injector_rated_kpa=300.0,
        dead_time=garage.dead_time(0.62),
        seed=seed,
    )
    truth = replace(truth, faults=Faults(**faults))
    return PretendVehicle(
        truth,
        Memory({"vin": "", "computer": "VM-P4", "calibration": "", "firmware": "2.1"}),
        coolant_c=WARM_C,
    )
