"""The one door to the stand-in: everything the server knows of pretend vehicles goes through here."""

from __future__ import annotations

from collections.abc import Mapping

from ventmap.core.calibration import Calibration, Identity
from ventmap.standin import garage
from ventmap.standin.memory import Memory
from ventmap.standin.route import fuel_route
from ventmap.standin.truth import Faults, VehicleTruth
from ventmap.standin.vehicle import BusVehicle, DirectLine, PretendVehicle

__all__ = [
    "BusVehicle", "DirectLine", "Memory", "PretendVehicle", "fuel_route", "rehearsal_map", "rehearsal_vehicle",
]  # fmt: skip

WARM_C = 86.0


def rehearsal_map(identity: Identity) -> Calibration:
    """A base map with the sheet's figures of the injectors fitted."""
    return garage.two_litre_map(
        name="rehearsal", identity=identity, injector_flow=440.0, dead_ms=0.62, full_load_lambda=0.88, spark_retard=2.0
    )


def rehearsal_vehicle(seed: int, faults: Mapping[str, float]) -> PretendVehicle:
    """A warm two-litre four whose truth differs from its map by `faults`."""
    truth = VehicleTruth(
        vin="", displacement_cc=1998.0, cylinders=4, filling=garage.filling(), injector_flow=440.0,
        injector_rated_kpa=300.0, dead_time=garage.dead_time(0.62), seed=seed, faults=Faults(**faults),
    )  # fmt: skip
    identity = {"vin": "", "computer": "VM-P4", "calibration": "", "firmware": "2.1"}
    return PretendVehicle(truth, Memory(identity), coolant_c=WARM_C)
