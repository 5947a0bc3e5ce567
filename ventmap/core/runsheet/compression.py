"""Compression, before more is asked of an engine: on every cylinder, or on every face of each rotor."""

from __future__ import annotations

from ..basics import SEA_LEVEL_KPA, HouseRules
from .asked import FACES, CompressionAsked, RotorAsked
from .model import SheetVehicle, Step


def compression(vehicle: SheetVehicle, rules: HouseRules) -> list[Step]:
    """Asked where power rises by more than the rule allows, or by nobody knows how much."""
    limit = rules["intake.power_rise"] / 100
    if vehicle.power_rise is not None and vehicle.power_rise <= limit:
        return []
    low, high, limits = _limits(vehicle, rules)
    return [
        Step(
            "intake.compression",
            "intake",
            title="Measure compression on every face of each rotor"
            if vehicle.rotary
            else "Measure compression on every cylinder",
            do=(f"{_turned(vehicle)}; or leak-down at top dead centre. Asked because {_rise(vehicle)}."),
            know=(
                f"{limits}, faces of a rotor within {rules['intake.face_spread']:g} kPa, rotors within"
                f" {rules['intake.rotor_spread']:g} kPa."
                if vehicle.rotary
                else f"{limits}, no cylinder more than {100 * vehicle.compression_spread:g} % below the best."
            ),
            wrong="A weak cylinder fails first under more load.",
            evidence="grid",
            grid="compression",
            about=CompressionAsked(
                cylinders=vehicle.cylinders,
                low=low,
                high=high,
                spread=vehicle.compression_spread,
                leak_most=rules["intake.leak_down"] / 100,
                rotor=RotorAsked(face_kpa=rules["intake.face_spread"], rotor_kpa=rules["intake.rotor_spread"])
                if vehicle.rotary
                else None,
                places=_faces(vehicle.cylinders) if vehicle.rotary else (),
            ),
            caution=(
                f"{NO_START[vehicle.petrol]} Keep clear of belts and fans, and of the open holes: what is"
                " in them comes out."
            ),
            tools=("compression gauge", "plug socket" if vehicle.petrol else "glow-plug socket"),
            minutes=10 + 4 * vehicle.cylinders,
        )
    ]


#: What keeps an engine from starting while it is cranked with its holes open, with spark ignition or without.
NO_START = {
    True: "Fuel and ignition off while cranking: pull the pump fuse and the coil plugs.",
    False: "No fuel while cranking: injector plugs off, as the maker says. Nothing is sprayed in.",
}


def _turned(vehicle: SheetVehicle) -> str:
    """How compression is taken, by ignition and stroke."""
    if not vehicle.petrol:
        return "Engine warm, all glow plugs out, the gauge on its adapter, five turns each"
    if vehicle.rotary:
        return (
            "Engine warm, throttle open, all plugs out, a tester that reads three faces a rotor, its figures"
            " brought to 250 rpm"
        )
    turns = "four strokes each" if vehicle.stroke == 4 else "until the needle stands, the same turns each"
    return f"Engine warm, throttle open, all plugs out, {turns}"


def _faces(rotors: int) -> tuple[str, ...]:
    return tuple(f"rotor {n}, face {face}" for n in range(1, rotors + 1) for face in range(1, FACES + 1))


def _limits(vehicle: SheetVehicle, rules: HouseRules) -> tuple[float | None, float | None, str]:
    """Least and most in this air [kPa], and both in words; a rotor's least is a house rule."""
    if vehicle.rotary and vehicle.compression_kpa is None:
        rule = rules["intake.rotor_least"]
        least = float(round(rule * vehicle.barometer_kpa / SEA_LEVEL_KPA))
        told = f"{least:g} kPa at least in this air ({rule:g} kPa at sea level)"
        return least, None, told
    if vehicle.compression_kpa is None:
        return None, None, "The maker's limits are not known yet: cylinders are held against each other"
    share = vehicle.barometer_kpa / SEA_LEVEL_KPA
    least, most = vehicle.compression_kpa
    low, high = float(round(least * share)), float(round(most * share))
    told = f"{low:g}–{high:g} kPa in this air (the maker's {least:g}–{most:g} kPa are for sea level)"
    return low, high, told


def _rise(vehicle: SheetVehicle) -> str:
    """Why compression is asked for."""
    if vehicle.power_rise is None:
        return "nobody knows yet by how much power rises"
    return f"power rises by {100 * vehicle.power_rise:.0f} %"
