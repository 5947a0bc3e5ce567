"""Steps before anything is touched: Intake, Plan, Baseline."""

from __future__ import annotations

from collections.abc import Sequence

from ..basics import HouseRules
from .cautions import before_log, before_runs
from .compression import compression
from .fit_swap_harness import no_way_back
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
            do=f"Lamp along fuel, {'' if vehicle.air_cooled else 'coolant, '}oil, exhaust; from below too.",
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
            title="Dip the oil" if vehicle.air_cooled else "Dip the oil, look at coolant",
            do="Level between marks; no emulsion, no fuel smell, no glitter."
            if vehicle.air_cooled
            else "Level between marks, no emulsion, no rainbow in the coolant.",
            know="Full and clean.",
            wrong="Oil is what cools it: low or thinned, it seizes."
            if vehicle.air_cooled
            else "Oil in coolant is a head gasket: more power ends it.",
            evidence="answer",
            answers=(
                Answer("full", "Full and clean"),
                Answer("low", "Low", verdict="hold", advice="Fill it, find where it went, then look again."),
                _mixed(vehicle.air_cooled),
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
    steps += compression(vehicle, rules)
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


def _mixed(air_cooled: bool) -> Answer:
    if air_cooled:
        return Answer("mixed", "Fuel or metal in it", verdict="hold", advice="Find out from where first.")
    advice = "Leak-down test first: repaired before tuned."
    return Answer("mixed", "Oil and coolant mixed", verdict="hold", advice=advice)


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
    if vehicle.automatic and any(kit.about is not None and kit.about.replaces_stock for kit in kits):
        steps.append(_gearbox())
    if any(kit.about is not None and kit.about.no_way_back for kit in kits):
        steps.append(no_way_back())
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


def _gearbox() -> Step:
    """What shifts by itself shifts by what the engine's computer tells it."""
    return Step(
        "plan.gearbox",
        "plan",
        title="See what the automatic gearbox is told by this computer",
        do="Its maker's list of functions: torque, pedal and speed to the gearbox, torque cut from it, limp"
        " mode.",
        know="Each message has its sender, on the bus or on a wire.",
        wrong="A gearbox that is told nothing shifts hard, slips, and burns its clutches without a word.",
        evidence="answer",
        answers=(
            Answer("speaks", "It speaks to it: torque, pedal and speed"),
            Answer("own", "The gearbox gets a computer of its own"),
            Answer(
                "mute",
                "It does not speak to it",
                "hold",
                "Shift quality and limp protection are lost: tell the owner before anything is ordered, or"
                " take a computer that speaks to it.",
            ),
        ),
        minutes=4,
    )


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
