"""Steps before anything is touched: Intake, Plan, Baseline."""

from __future__ import annotations

from collections.abc import Sequence

from ..basics import SEA_LEVEL_KPA, HouseRules
from .asked import CompressionAsked
from .cautions import before_log, before_runs
from .model import Answer, Kit, ReadingWanted, SheetVehicle, Step


def intake(vehicle: SheetVehicle, rules: HouseRules) -> list[Step]:
    """Identity, variant, and the health gate: a vehicle with a fault is repaired first."""
    steps = [
        Step(
            "intake.identity",
            "intake",
            title="Record who, which vehicle and what for",
            do="Read the VIN from the plate, not from papers.",
            evidence="auto",
            minutes=6,
        ),
    ]
    if vehicle.variants:
        steps.append(
            Step(
                "intake.variant",
                "intake",
                title="Tell which variant it is",
                do="Look at the tell-tales asked, in their order.",
                evidence="auto",
                minutes=4,
            )
        )
    steps += [
        Step(
            "intake.leaks",
            "intake",
            title="Look for leaks",
            do="Lamp along fuel, coolant, oil and exhaust; under it as well.",
            know="Dry everywhere.",
            wrong="A vehicle with a fault is repaired first: tuned over, the fault comes back as yours.",
            evidence="answer",
            answers=(
                Answer("dry", "Dry"),
                Answer(
                    "weeps", "Something weeps", verdict="hold", advice="Repair it first, then look again."
                ),
                Answer(
                    "fuel",
                    "Fuel leaks",
                    verdict="stop",
                    advice="Nothing is started near it: repair the fuel leak first.",
                ),
            ),
            tools=("inspection lamp",),
            minutes=6,
        ),
        Step(
            "intake.fluids",
            "intake",
            title="Dip the oil, look at coolant",
            do="Level between marks, no emulsion, no rainbow in the coolant.",
            know="Full and clean.",
            wrong="Oil in coolant is a head gasket: more power ends it.",
            evidence="answer",
            answers=(
                Answer("full", "Full and clean"),
                Answer("low", "Low", verdict="hold", advice="Fill it, find where it went, then look again."),
                Answer(
                    "mixed",
                    "Oil and coolant mixed",
                    verdict="hold",
                    advice="Leak-down test first: repaired before tuned.",
                ),
            ),
            minutes=4,
        ),
    ]
    if vehicle.petrol:
        steps.append(
            Step(
                "intake.plugs",
                "intake",
                title="Read the plugs",
                do="All out, in order of cylinders, side by side.",
                know="One colour, light tan, edges sharp.",
                wrong="One that differs names the cylinder.",
                evidence="answer",
                answers=(
                    Answer("even", "Even, light tan"),
                    Answer(
                        "one",
                        "One differs",
                        verdict="hold",
                        advice="Use the symptom helper on that cylinder first.",
                    ),
                    Answer(
                        "worn",
                        "All worn or sooty",
                        verdict="hold",
                        advice="Fit new ones of the right heat range, drive, read again.",
                    ),
                    Answer(
                        "not_pulled",
                        "Not pulled",
                        verdict="hold",
                        advice="Pull them, or overrule with the reason.",
                    ),
                ),
                tools=("plug socket",),
                minutes=15 + 5 * vehicle.cylinders,
            )
        )
    limit = rules["intake.power_rise"] / 100
    if vehicle.power_rise is None or vehicle.power_rise > limit:
        low, high, limits = _compression_limits(vehicle)
        steps.append(
            Step(
                "intake.compression",
                "intake",
                title="Measure compression on every cylinder",
                do=(f"{_turned(vehicle)}; or leak-down at top dead centre. Asked because {_rise(vehicle)}."),
                know=(
                    f"{limits}, no cylinder more than {100 * vehicle.compression_spread:g} % below the best."
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
                ),
                caution=(
                    f"{NO_START[vehicle.petrol]} Keep clear of belts and fans, and of the open holes: what is"
                    " in them comes out."
                ),
                tools=("compression gauge", "plug socket" if vehicle.petrol else "glow-plug socket"),
                minutes=10 + 4 * vehicle.cylinders,
            )
        )
    steps.append(
        Step(
            "intake.battery",
            "intake",
            title="Measure the battery at rest",
            do="Ignition off for a quarter of an hour, meter at the posts.",
            know=f"{rules['intake.battery']:g} V or more.",
            wrong="A weak battery turns the write into a recovery.",
            evidence="reading",
            reading=ReadingWanted(
                "battery at rest",
                "voltage",
                "V",
                low=rules["intake.battery"],
                high=13.4 if not vehicle.two_batteries else 13.6,
            ),
            tools=("multimeter",),
            minutes=3,
        )
    )
    return steps


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
            " brought to 250 rpm: each rotor's lowest face (about 590 kPa at least, its faces within 150)"
        )
    turns = "four strokes each" if vehicle.stroke == 4 else "until the needle stands, the same turns each"
    return f"Engine warm, throttle open, all plugs out, {turns}"


def _compression_limits(vehicle: SheetVehicle) -> tuple[int | None, int | None, str]:
    """Least and most in this air [kPa], and both in words."""
    if vehicle.compression_kpa is None:
        return None, None, "The maker's limits are not known yet: cylinders are held against each other"
    share = vehicle.barometer_kpa / SEA_LEVEL_KPA
    least, most = vehicle.compression_kpa
    low, high = round(least * share), round(most * share)
    told = f"{low:g}–{high:g} kPa in this air (the maker's {least:g}–{most:g} kPa are for sea level)"
    return low, high, told


def _rise(vehicle: SheetVehicle) -> str:
    """Why compression is asked for."""
    if vehicle.power_rise is None:
        return "nobody knows yet by how much power rises"
    return f"power rises by {100 * vehicle.power_rise:.0f} %"


def plan(vehicle: SheetVehicle, kits: Sequence[Kit]) -> list[Step]:
    """Fit of the kit, injectors for the goal, pump, parts on the trolley."""
    steps = [
        Step("plan.fit", "plan", title="Check that the kit fits this vehicle", evidence="auto", minutes=5)
    ]
    if vehicle.petrol:
        steps.append(
            Step(
                "plan.injectors",
                "plan",
                title="Choose the injectors for the goal",
                do="See the sum, choose the smallest that serves.",
                evidence="auto",
                minutes=6,
            )
        )
    if any(kit.pump for kit in kits):
        steps.append(
            Step(
                "plan.pump",
                "plan",
                title="Hold the pump against the need at full load",
                evidence="auto",
                minutes=4,
            )
        )
    steps.append(
        Step(
            "plan.parts",
            "plan",
            title="Lay out parts and tools",
            do="Seals, kit, meter, wrench, rags, extinguisher on the trolley.",
            know="Everything on the list lies there.",
            wrong="A missing seal is found with the rail in your hand.",
            minutes=12,
        )
    )
    return steps


def baseline(vehicle: SheetVehicle, kits: Sequence[Kit]) -> list[Step]:
    """Codes, stock log and stock runs: without them no gain is claimed."""
    return [
        Step(
            "baseline.codes",
            "baseline",
            title="Read codes and identity",
            do="Codes with their status; computer, calibration and VIN as the computer says them.",
            evidence="auto",
            minutes=5,
        ),
        Step(
            "baseline.log",
            "baseline",
            title="Log it stock",
            do="Idle, cruise and one pull, as it came.",
            know="Idle, cruise and a pull show in the window strip.",
            wrong="Without it nobody knows later what was there before.",
            evidence="auto",
            minutes=20,
            caution=before_log(vehicle.kind),
        ),
        Step(
            "baseline.runs",
            "baseline",
            title="Stock runs on the drum",
            do=("As many as the house asks for, all made alike, with the air of each run."),
            know="The repeats lie on each other.",
            wrong="A run made otherwise is no before.",
            evidence="auto",
            minutes=25,
            caution=before_runs(vehicle.kind),
        ),
    ]
