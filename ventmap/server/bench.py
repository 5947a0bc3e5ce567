"""The one door to the stand-in: everything the server knows of pretend vehicles goes through here."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from functools import lru_cache
from typing import Any

from django.conf import settings

from ventmap.core.basics import BadInput, Computer, Device, Injector, Vehicle, standard_pressure
from ventmap.core.forms import Calibration, Identity
from ventmap.core.logs import Probe
from ventmap.link import wire
from ventmap.standin import garage, mailbox, yard
from ventmap.standin.catalogue import Catalogue
from ventmap.standin.faults import Faults, sizes
from ventmap.standin.habits import HABITS, check_habits, written_by
from ventmap.standin.memory import Memory
from ventmap.standin.optioned import flash_options, not_run
from ventmap.standin.overlay import Overlays, overlay_of, place_of
from ventmap.standin.programs import stock_image, stock_map
from ventmap.standin.route import Leg, blip, fuel_route, pull_route, road_route
from ventmap.standin.sensors import channels_of
from ventmap.standin.spec import StandIn
from ventmap.standin.truth import VehicleTruth
from ventmap.standin.vehicle import (
    DRUM_INERTIA,
    DRUM_RADIUS_M,
    BusVehicle,
    DirectLine,
    PretendVehicle,
)

__all__ = [
    "HABITS",
    "WARM_C",
    "BusVehicle",
    "DirectLine",
    "Faults",
    "Leg",
    "Memory",
    "PretendVehicle",
    "Setup",
    "asked_of",
    "build_vehicle",
    "channels_of",
    "check_habits",
    "fit_boxes",
    "fuel_route_of",
    "has_engine",
    "mailbox_answers",
    "mailbox_waits",
    "new_memory",
    "not_run",
    "place_of",
    "rehearsal_map",
    "rehearsal_vehicle",
    "sizes",
    "start_route",
    "truth_of",
    "written_by",
    "yard",
    "yard_map",
    "yard_vehicle",
]

WARM_C = 86.0
#: Where the sample shop stands [m].
ALTITUDE_M = 1450.0
#: The engine that stands for those that have no file of their own.
BENCH = "corvane-estate-20"
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
        ron: float = 95.0,
        beside: bool = False,
    ) -> None:
        #: Whether the kit is on it, beside the stock computer or over its program.
        self.beside = beside
        self.vehicle_key, self.vehicle, self.device = vehicle_key, vehicle, device
        self.stock_injectors, self.kit_injectors = stock_injectors, kit_injectors
        self.vin, self.altitude_m, self.ethanol, self.ron = vin, altitude_m, ethanol, ron

    def injectors(self, which: str) -> Injector:
        return self.kit_injectors if which == "kit" else self.stock_injectors


def _spec(setup: Setup) -> StandIn:
    """The vehicle's stand-in; a vehicle of the shop's own that the bench engine stands for runs as that."""
    found = yard.spec_of(setup.vehicle_key) or yard.spec_of(BENCH)
    if found is None:
        raise BadInput("No vehicle stands at this bench: its files in demo/standin are missing.", "vehicle")
    return found


def truth_of(setup: Setup, which: str) -> VehicleTruth:
    """The same engine with either set of parts; what is wrong with the kit's injectors is wrong with those
    alone. What is switched on at the bench is wrong once the kit is on it.
    """
    spec = _spec(setup)
    switched = sizes([one for one in settings.FAULTS.split(",") if one.strip()])
    faults = Faults.named({**spec.faults, **switched})
    if which == "stock":
        own = {"ve_error": faults.ve_error, "tyre_error": spec.faults.get("tyre_error", 0.0)}
        faults = Faults.named({**own, **switched} if setup.beside else own)
    return yard.truth_of(
        spec,
        setup.vehicle,
        setup.injectors(which),
        vin=setup.vin,
        faults=faults,
        barometer_kpa=standard_pressure(setup.altitude_m),
        ethanol=setup.ethanol,
        ron=setup.ron,
    )


def new_memory(setup: Setup, which: str) -> Memory:
    """A computer as delivered: the stock one with its own, well-made map; the kit's without one."""
    spec = _spec(setup)
    mine = spec.vehicle == setup.vehicle_key
    if which == "kit":
        assert isinstance(setup.device, Computer)
        identity = {
            "vin": setup.vin,
            "computer": setup.device.computer,
            "calibration": "",
            "firmware": setup.device.firmware or "",
        }
        return Memory(identity, codes=list(spec.kit_codes if mine else ()))
    body = setup.vehicle
    identity = {"vin": setup.vin, "computer": body.stock_computer, "calibration": "", "firmware": "4.0"}
    memory = Memory(
        identity,
        codes=list(spec.stock_codes if mine else ()),
        pending=list(spec.stock_pending if mine else ()),
        stock=True,
    )
    named = Identity(body.engine, body.stock_computer, body.stock_calibration)
    memory.flash[:] = stock_image(truth_of(setup, "stock"), named, body.boost_kpa or 0.0, wire.FLASH_SIZE)
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
    truth = truth_of(setup, which)
    vehicle = PretendVehicle(truth, memory, WARM_C if warm else None, remember)
    # The truth is the seed's; the noise of this very run is its own.
    vehicle.engine.random.seed(truth.seed * SEEDS + run)
    return vehicle


@lru_cache(maxsize=1)
def catalogue() -> Catalogue:
    """The supplier's catalogue, simulated."""
    return Catalogue(settings.BASE / "demo" / "catalogue")


def fuel_route_of(truth: VehicleTruth) -> list[Leg]:
    """The fuel route of this vehicle."""
    return fuel_route(truth.top_rpm, truth.idle_rpm, len(truth.build.body.gears))


def mailbox_waits(package: bytes) -> float:
    """How long a package waits in the simulated tuner's mailbox [s]."""
    return mailbox.waits(package)


def mailbox_answers(package: bytes) -> bytes:
    """What the simulated tuner sends back: what the fault `wrong_file` says, else a competent answer."""
    switched = Faults.named(sizes([one for one in settings.FAULTS.split(",") if one.strip()]))
    wrong = ("", *mailbox.WRONG)[round(switched.wrong_file)]
    return mailbox.answer(package, wrong)


def standin_schema() -> dict[str, Any]:
    """Schema of the files in demo/standin/."""
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "A pretend vehicle",
        **StandIn.model_json_schema(),
    }


def has_engine(vehicle_key: str) -> bool:
    """Whether a vehicle has an engine of its own to run here."""
    return yard.spec_of(vehicle_key) is not None


def fit_boxes(vehicle: PretendVehicle, maps: Sequence[Calibration]) -> None:
    """Write options over the stock program, and put boxes between it and its sensors and injectors, each with
    its map.
    """
    flashed = [flash_options(vehicle.engine, one) for one in maps if one.form == "options"]
    boxes = [overlay_of(one, vehicle.truth) for one in maps if one.form != "options"]
    vehicle.engine.overlay = Overlays([*flashed, *boxes])


def route_of(truth: VehicleTruth, route: str, minutes: float, gear: int = 0) -> list[Leg]:
    """Legs of a drive without a job: road, pulls on a drum, idle, or a cold start and the road after it."""
    top, idle, gears = truth.top_rpm, truth.idle_rpm, len(truth.build.body.gears)
    if route == "idle":
        return [Leg("start", 5.0), Leg("idle", 60.0 * minutes), blip(idle)]
    if route == "drum":
        return [*pull_route(top, gear or min(3, gears), idle), Leg("idle", 20.0)] * max(1, round(minutes))
    if route == "cold":
        return [Leg("start", 6.0), Leg("idle", 45.0), *road_route(top, idle, gears, minutes=minutes)[2:]]
    return road_route(top, idle, gears, minutes=minutes)


def probe_on(key: str | None) -> Probe:
    """What a mixture probe reads in the exhaust of a vehicle of the sample shelf."""
    return Probe.of(yard.stock_parts(key)[0]) if key else Probe()


def drum_inertia(vehicle: PretendVehicle) -> float:
    """Inertia of the drum at the engine in the gear of a pull [kg·m²]."""
    body = vehicle.truth.build.body
    ratio = body.gears[vehicle.drum_gear - 1] * DRUM_RADIUS_M / body.wheel_radius_m
    return DRUM_INERTIA / ratio**2


def device_computer(key: str) -> str:
    """What a device of the sample shelf answers as; a box without a computer, its own key.

    Raises
    ------
    BadInput
        If the shelf has no such device.
    """
    found = yard.devices()
    if key not in found:
        raise BadInput(f"No device is called “{key}”. There are: {', '.join(sorted(found))}.", "device")
    return found[key]


def asked_of(car: PretendVehicle) -> list[str]:
    """What a logger asks this vehicle for now: global trim too, where one is on."""
    return [*channels_of(car.truth), *(["global_trim"] if car.memory.global_trim else [])]


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


def yard_vehicle(
    key: str,
    *,
    seed: int,
    faults: Mapping[str, float],
    stock: bool,
    warm: bool = True,
    ethanol: float = 0.0,
    altitude_m: float = ALTITUDE_M,
) -> PretendVehicle:
    """A vehicle of the sample shop without a job: its stock computer, or an empty one of the kit's.

    Raises
    ------
    BadInput
        Where no such vehicle or fault is known.
    """
    if (spec := yard.spec_of(key)) is None:
        raise BadInput(
            f"No vehicle here is called “{key}”. There are: {', '.join(yard.vehicles())}.", "vehicle"
        )
    body, fitted = yard.stock_parts(key)
    truth = yard.truth_of(
        spec,
        body,
        fitted,
        faults=Faults.named(dict(faults)),
        seed=seed,
        barometer_kpa=standard_pressure(altitude_m),
        ethanol=ethanol,
    )
    memory = Memory({"vin": "", "computer": "VM-P4", "calibration": "", "firmware": "2.1"}, stock=stock)
    if stock:
        named = Identity(body.engine, body.stock_computer, body.stock_calibration)
        sound = replace(truth, faults=Faults(stacked_maps=truth.faults.stacked_maps))
        memory.flash[:] = stock_image(sound, named, body.boost_kpa or 0.0, wire.FLASH_SIZE)
        memory.whole, memory.pedal_learned = True, True
    return PretendVehicle(truth, memory, WARM_C if warm else None)


def yard_map(key: str, seed: int) -> Calibration:
    """A base map of a vehicle of the sample shop, by its sheet's figures and its honest filling."""
    spec = yard.spec_of(key)
    assert spec is not None
    body, fitted = yard.stock_parts(key)
    truth = yard.truth_of(spec, body, fitted, faults=Faults(), seed=seed)
    named = Identity(body.engine, "VM-P4", "rehearsal")
    return stock_map(truth, named, body.boost_kpa or 0.0, computer="kit")


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
    truth = replace(truth, faults=Faults.named(dict(faults)))
    return PretendVehicle(
        truth,
        Memory({"vin": "", "computer": "VM-P4", "calibration": "", "firmware": "2.1"}),
        coolant_c=WARM_C,
    )
