"""Cool and relieve fuel pressure, by the shop's schools, gated by readings."""

from __future__ import annotations

from collections.abc import Sequence

from ..basics import HouseRules
from .model import Kit, ReadingWanted, SheetVehicle, Step
from .opening import before_it_opens, opens_fuel
from .power_down import ROAD, power_down

FUEL = (
    "Fuel burns and sprays. Eye protection, gloves, rag, extinguisher at hand; no flame, spark or lamp with a"
    " filament; the bay open to the air. Residual fuel stays in the line. The maker's procedure and local"
    " rules come first."
)
DIESEL = (
    "Diesel under rail pressure cuts skin and poisons the wound: never feel for a leak by hand. Eye"
    " protection, gloves, rag. The maker's procedure and waiting time come first."
)
#: What must be done before fuel is opened in Fit.
FUEL_GATE = ("make-safe.coolant", "make-safe.relieved")


#: Least wait at the high-pressure side [s].
LEAST_WAIT_S = 600.0


_HEAT_OUT = {"motorcycle": "Fairing off", "watercraft": "Seat off, hull open", "sled": "Side panels off"}


def _lets_heat_out(vehicle: SheetVehicle) -> str:
    """What lets the heat out, by kind of vehicle."""
    return "Bonnet open" if vehicle.kind in ROAD else _HEAT_OUT.get(vehicle.kind, "Cover off")


def make_safe(vehicle: SheetVehicle, kits: Sequence[Kit], rules: HouseRules) -> list[Step]:
    """Cool, relieve, power down, by the shop's schools; the readings gate what Fit opens."""
    fuel = opens_fuel(vehicle, kits)
    school = rules.school("safe.fuel_school")
    caution = FUEL if vehicle.petrol else DIESEL
    steps: list[Step] = []
    if vehicle.hybrid:
        steps.append(
            Step(
                "make-safe.hybrid",
                "make-safe",
                title="High voltage: have it isolated by a licensed person",
                do="Name who did it in a note.",
                know="Their written word is in the job.",
                wrong="Orange cables stay live for minutes after the key is off.",
                caution=(
                    "Vent Map gives no steps for high-voltage parts. Only a licensed person isolates them, by"
                    " the maker's procedure."
                ),
                minutes=0,
            )
        )
    if vehicle.airbag_near:
        steps.append(
            Step(
                "make-safe.airbag",
                "make-safe",
                title="Airbag wiring in the way: maker's procedure only",
                do="Do not unplug, probe or move it; plan the route round it.",
                know="The route in Fit stays clear of it.",
                wrong="A meter's current can fire it.",
                caution="Work on airbag wiring is for licensed practice and the maker's procedure only.",
                minutes=2,
            )
        )
    if vehicle.kind == "watercraft":
        steps.append(
            Step(
                "make-safe.bilge",
                "make-safe",
                title="Air the hull",
                do="Seat off, hull open, bow up. The wait runs in the strip below.",
                know="No smell of fuel.",
                wrong="Vapour lies in a hull and lights from a relay.",
                evidence="timer",
                seconds=300.0,
                firm=True,
                caution=(
                    "Petrol vapour is heavier than air and gathers in the hull. No switch is touched before"
                    " it is aired."
                ),
                minutes=2,
            )
        )
    if fuel and school not in ("service valve", "crack the union") and vehicle.petrol:
        # It runs the engine: before it cools, so that what is read then is what is opened.
        steps.append(_run_dry(caution))
    steps += [
        Step(
            "make-safe.cool",
            "make-safe",
            title="Let the engine cool",
            do=f"{_lets_heat_out(vehicle)}, fan on. The wait runs in the strip below on every screen.",
            know="The next reading decides, not the clock.",
            wrong="Fuel on a hot manifold lights.",
            evidence="timer",
            seconds=rules["safe.cool_min"] * 60.0,
            caution=f"Hot {'fins' if vehicle.air_cooled else 'coolant'} and exhaust burn. Open nothing until"
            " the reading says so.",
            tools=("fan",),
            minutes=2,
        ),
        Step(
            "make-safe.coolant",
            "make-safe",
            title=f"Read the {vehicle.warmth} temperature",
            do="A probe at the fins between the cylinders, and at the exhaust flange."
            if vehicle.air_cooled
            else "From the tester, or a probe at the housing.",
            know="Below the limit.",
            wrong="A probe on plastic reads low.",
            evidence="reading",
            reading=ReadingWanted(
                vehicle.warmth,
                "temperature",
                "°C",
                low=-30.0,
                high=rules["safe.coolant"],
                # Fuel on a hot engine lights: no word passes over that, a cooler reading does.
                protects="people" if fuel else "",
            ),
            caution=caution if fuel else "",
            needs=("make-safe.fuse",) if any(s.key == "make-safe.fuse" for s in steps) else (),
            tools=("probe thermometer",),
            minutes=2,
        ),
    ]
    steps += before_it_opens(vehicle, kits)
    cracked = fuel and school == "crack the union" and not vehicle.high_pressure
    down = power_down(vehicle, rules, forced=cracked)
    if cracked:
        steps += down + _crack(caution)
    elif fuel:
        steps += _relieve(vehicle, school, caution, rules) + down
    elif not kits or not all(kit.port_only for kit in kits):
        # What is written through the port alone needs the battery: nothing is powered down for it.
        steps += down
    return steps


def _run_dry(caution: str) -> Step:
    return Step(
        "make-safe.fuse",
        "make-safe",
        title="Pull the pump fuse and run it dry",
        do="Engine at idle, pull the fuse, wait until it dies.",
        know="It dies within a minute.",
        wrong="The wrong fuse: it keeps running.",
        caution=caution,
        minutes=4,
    )


def _relieve(vehicle: SheetVehicle, school: str, caution: str, rules: HouseRules) -> list[Step]:
    steps: list[Step] = []
    if school == "service valve" and vehicle.petrol:
        steps.append(
            Step(
                "make-safe.valve",
                "make-safe",
                title="Bleed at the service valve",
                do="Gauge with a catch hose on the valve, hose end in a can, open slowly.",
                know="The gauge falls to nothing and stays there.",
                wrong="A valve core that sticks holds pressure behind it.",
                caution=caution,
                tools=("fuel gauge with catch hose", "fuel can"),
                consumables=("rag",),
                minutes=6,
            )
        )
    if vehicle.high_pressure:
        steps.append(
            Step(
                "make-safe.maker_wait",
                "make-safe",
                title="Wait as long as the maker says for the high-pressure side",
                do=(
                    "Engine off. The maker's waiting time first; it is not known yet."
                    if vehicle.fuel_wait_s is None
                    else "Engine off. The maker's waiting time first; here as the vehicle's sheet gives it."
                ),
                know="The reading after it decides.",
                wrong="The rail holds hundreds of bar behind a closed valve.",
                evidence="timer",
                seconds=vehicle.fuel_wait_s or LEAST_WAIT_S,
                caution=caution,
                minutes=1,
            )
        )
        # At feed pressure the high side has come down; what is left of the feed still sprays.
        # No sheet widens the limit at which fuel is opened.
        most = rules["safe.rail_left"]
        reading = ReadingWanted("rail pressure", "pressure", "kPa", low=0.0, high=most, protects="people")
        feed = (
            "The feed pressure is not known yet"
            if vehicle.feed_kpa is None
            else f"It comes down to the feed's {vehicle.feed_kpa:g} kPa by itself; then let the feed down too"
        )
        title, do = "Read the rail: high side and feed let down", f"By the tester. {feed}."
    else:
        reading = ReadingWanted(
            "rail pressure left", "pressure", "kPa", low=0.0, high=rules["safe.rail_left"], protects="people"
        )
        title, do = (
            ("Read the gauge at the valve", "Wait a minute; it must not climb again.")
            if school == "service valve"
            else (
                "Crank again until it no longer fires",
                (
                    f"At least {rules['safe.crank_tries']:g} attempts of five seconds. Then read the pressure"
                    " that is left."
                ),
            )
        )
    steps.append(
        Step(
            "make-safe.relieved",
            "make-safe",
            title=title,
            do=do,
            know="Within the limit, and it stays there.",
            wrong="One attempt leaves pressure behind a check valve.",
            evidence="reading",
            reading=reading,
            caution=caution,
            tools=("tester",) if vehicle.high_pressure else ("fuel gauge",),
            consumables=("rag", "gloves"),
            minutes=5,
        )
    )
    return steps


def _crack(caution: str) -> list[Step]:
    return [
        Step(
            "make-safe.relieved",
            "make-safe",
            title="Crack the union under a rag",
            do="Battery is off. Rag round the union, counter-hold, a quarter turn, let it weep out.",
            know="It stops weeping and stays dry.",
            wrong="A union spun without counter-holding twists its pipe.",
            caution=caution,
            needs=("make-safe.battery",),
            tools=("flare spanner", "counter-hold spanner"),
            consumables=("rag", "gloves"),
            minutes=5,
        )
    ]
