"""Fit: what each kind of device asks for on its own connectors."""

from __future__ import annotations

from collections.abc import Callable

from ..basics import HouseRules
from .make_safe import FUEL_GATE
from .model import KINDS, Answer, Kit, ReadingWanted, SheetVehicle, Step

STATIC = "Boards die of a spark you do not feel: wrist strap on, lay it on the bag it came in."


def _label_twins(kit: Kit) -> list[Step]:
    pairs = kit.about.get("twin_plugs", ())
    if not pairs:
        return []
    told = "; ".join(" and ".join(pair) for pair in pairs)
    return [
        Step("fit.twins", "fit", "Label the twin plugs before pulling", f"{told[:1].upper()}{told[1:]}: same shape, other bank. Tape with bank and number on both halves, then a picture.",
             "Label on plug and on socket.", "Crossed, the engine never fires, and nothing shows why.", "photo",
             beware=f"Look-alikes: {told}. They go into each other's place.", consumables=("label tape",), minutes=4)
    ]  # fmt: skip


def _swap(kit: Kit, title: str, do: str) -> Step:
    reversible = kit.about.get("reversible_plugs", ())
    beware = f"Goes on both ways: {', '.join(reversible)}. Look at the mark, not at the fit." if reversible else ""
    locks = kit.about.get("locks", "")
    return Step("fit.plugs", "fit", title, f"{do}{' Locks: ' + locks + '.' if locks else ''}", "No plug moves under a tug.",
                "A half-seated plug reads like ten faults.", beware=beware, minutes=12)  # fmt: skip


def _row(kit: Kit) -> list[Step]:
    """Which of two rows of injectors the device names."""
    pair = kit.about.get("rows")
    if not pair:
        return []
    return [
        Step("fit.row", "fit", f"Take the {pair['name']} row of injectors", f"The device names this one: {pair['tell']}.", f"The picture shows {pair['tell']}.",
             f"On the {pair['other']} row only half the fuel is moved.", "photo", beware=f"Look-alike: the {pair['other']} row has the same plugs.", minutes=4)
    ]  # fmt: skip


def _hose(kit: Kit) -> list[Step]:
    if not kit.hose:
        return []
    return [
        Step("fit.hose", "fit", "Run the manifold-pressure hose", "From a port that sees the whole plenum; short, no kink, away from heat, tee secured.",
             "Blow: no leak, no kink.", "A kink reads as a slow sensor.", consumables=("4 mm hose", "tee"), minutes=12)
    ]  # fmt: skip


def plug_in(vehicle: SheetVehicle, kit: Kit, rules: HouseRules) -> list[Step]:
    """On the stock connectors: twins labelled, stock computer shelved, hose from the whole plenum."""
    return [
        *_label_twins(kit),
        _swap(kit, "Swap the computer, plug by plug", "Click, then tug. The stock computer goes on the shelf, labelled."),
        *_hose(kit),
    ]


def stock_case(vehicle: SheetVehicle, kit: Kit, rules: HouseRules) -> list[Step]:
    """Its board goes into the stock case: opened without a mark, hole without a chip, sealed all round."""
    return [
        Step("fit.open_case", "fit", "Open the factory case and lift its board out", "Warm the sealant, pry evenly, note each screw. The board goes on the shelf, bagged and labelled.",
             "Board and case are unmarked.", "A slipped blade cuts a track.", "photo", caution=STATIC, tools=("wrist strap", "plastic wedge", "heat gun"), minutes=25),
        Step("fit.case_hole", "fit", "Make the hole for the hose", "Before the new board goes in; deburr, blow out every chip, grommet in.",
             "No chip rattles.", "A chip under a board is a short in a year.", tools=("step drill", "air gun"), consumables=("grommet",), minutes=12),
        Step("fit.close_case", "fit", "New board in, screws in order, seal the lid", "Even bead, all round, let it skin.", "No gap in the bead.",
             "Water finds the gap.", caution=STATIC, consumables=("case sealant",), minutes=12),
        *_label_twins(kit), _swap(kit, "Plug the case in again", "Click, then tug."), *_hose(kit),
    ]  # fmt: skip


def adapted_harness(vehicle: SheetVehicle, kit: Kit, rules: HouseRules) -> list[Step]:
    """A harness made for another car: what it will not control is told first, then the pin plan, then the pins."""
    wont = kit.about.get("will_not_control", ())
    steps = []
    if wont:
        steps.append(
            Step("fit.wont", "fit", "Tell the owner what it will not control", f"It does not run: {', '.join(wont)}. Say it before the first wire moves.",
                 "The owner agrees, in a note.", "Found out later it is a fault of yours.", minutes=3)
        )  # fmt: skip
    return steps + [
        Step("fit.pin_plan", "fit", "Make the pin plan", "Every pin of both connectors: keep, pull, move, join or insulate, with its label.",
             "Every function the computer needs has exactly one pin.", "A pin used twice burns one of its owners.", "grid", grid="pin_plan",
             about={"needs": list(kit.about.get("functions", ()))}, tools=("terminal tool", "multimeter"), minutes=60),
        Step("fit.move_pins", "fit", "Move the pins by the plan", "One at a time, label first, tug each; cover every pulled end.", "The list is ticked to its end.",
             "Two pins out at once is one pin wrong.", needs=("fit.pin_plan",), tools=("terminal tool",), consumables=("heat-shrink", "label tape"), minutes=90),
        *_label_twins(kit), _swap(kit, "Plug the computer in", "Click, then tug."), *_hose(kit),
    ]  # fmt: skip


def sensor_piggyback(vehicle: SheetVehicle, kit: Kit, rules: HouseRules) -> list[Step]:
    """Between sensor and computer: the right one of two look-alikes, the right way round, bypass plug stowed."""
    steps = []
    for index, pair in enumerate(kit.about.get("look_alikes", ())):
        steps.append(
            Step(f"fit.tap_{index + 1}", "fit", f"Find the {pair['name']}", f"The device names this one: {pair['tell']}.", f"The picture shows {pair['tell']}.",
                 f"On the {pair['other']} the computer sees nonsense and goes to limp mode.", "photo",
                 beware=f"Look-alike: the {pair['other']} has the same plug. Label both before pulling either.", minutes=6)
        )  # fmt: skip
    warm = float(kit.about.get("warm_up_s", 0.0))
    steps += [
        _swap(kit, "Put the module between sensor and harness", "Sensor side to sensor, harness side to harness; click, then tug."),
        Step("fit.bypass", "fit", "Stow the bypass plug with the car", "In the bag in the glove box: with it in, the car is stock again.", "It is where the owner was told.",
             "Lost, a limp mode on a Sunday stays one.", minutes=2),
        Step("fit.level", "fit", "Set the power level for the fuel in the tank", "Never above what the octane allows.", "Level and lamp agree with the sheet.",
             "A level for better fuel knocks on this one.", "answer",
             answers=tuple(_level(n, ron, vehicle.ron) for n, ron in kit.about.get("levels", ())) or
             (Answer("lowest", "lowest level"), Answer("higher", "higher", "hold", "Check the octane first.")), minutes=2),
    ]  # fmt: skip
    if warm:
        steps.append(
            Step("fit.warm_delay", "fit", f"Set the warm-up delay: {warm:g} s", "The module stays passive until then.", "The lamp shows passive after a start.",
                 "Boost on cold oil wears the turbo.", minutes=2)
        )  # fmt: skip
    return steps


def _level(number: int, needs: float, tank: float) -> Answer:
    """A power level against the octane in the tank."""
    if needs > tank:
        return Answer(
            f"level_{number}",
            f"level {number}",
            "hold",
            f"Level {number} needs {needs:g} RON and {tank:g} is in the tank: a lower level, or other fuel first.",
        )
    return Answer(f"level_{number}", f"level {number}", "go", f"Level {number} needs {needs:g} RON; {tank:g} is in the tank.")


def injector_piggyback(vehicle: SheetVehicle, kit: Kit, rules: HouseRules) -> list[Step]:
    """Between injectors and harness: the shared feed of every plug by continuity, then its lead."""
    plugs = [str(n + 1) for n in range(vehicle.cylinders)]
    steps = [
        Step("fit.common", "fit", "Find the shared feed of the injector plugs", "All plugs off their injectors, meter on continuity, pin to pin across plugs.",
             "Each plug has exactly one marked side.", "A plug still seated on its injector makes both sides beep.", "grid", grid="common_side",
             about={"plugs": plugs, "pins": ["A", "B"]}, caution="Key out and away from the car, battery off. A meter on a live circuit lies and can blow its fuse.",
             tools=("multimeter",), minutes=12),
        Step("fit.feed_lead", "fit", "Seat the feed lead on the marked side of every plug", "Plug by plug, as the picture above said. Click, then tug.",
             "Every plug, the marked side.", "On the switched side the injector never closes.", needs=("fit.common",), minutes=10),
    ]  # fmt: skip
    steps = [*_row(kit), *steps]
    if kit.about.get("temperature_probe"):
        steps.append(
            Step("fit.probe", "fit", "Fix the engine-temperature probe", "On bare metal of the head, not on a hose; strap and paste.", "It cannot be turned by hand.",
                 "In the air it calls a warm engine cold and overfuels it.", consumables=("thermal paste", "strap"), minutes=6)
        )  # fmt: skip
    return steps


def ethanol_sensor(vehicle: SheetVehicle, kit: Kit, rules: HouseRules) -> list[Step]:
    """The sensor in the feed line, for any device that asks for one."""
    if not kit.about.get("ethanol_sensor"):
        return []
    return [
        Step("fit.feed_line", "fit", "Fit the ethanol sensor into the feed line", "Cuts and fittings from the sum in Plan; arrow with the flow; the original line is kept, capped.",
             "Hose marks at their depth, no kink through full engine movement.", "Against the arrow some sensors read nothing.",
             caution="The feed line is opened: fuel is relieved, rag, eye protection, extinguisher, no flame or spark.", needs=FUEL_GATE,
             tools=("hose cutter",), consumables=("fuel hose", "hose clips", "rag"), minutes=35)
    ]  # fmt: skip


def inline_controller(vehicle: SheetVehicle, kit: Kit, rules: HouseRules) -> list[Step]:
    """Between harness and computer on small vehicles: selector, and the shift sensor with its rod."""
    steps = [
        *_row(kit),
        *_label_twins(kit),
        _swap(kit, "Put the controller between harness and computer", "Pair by pair, its plug into theirs; click, then tug."),
        Step("fit.selector", "fit", "Mount the selector where a glove finds it", "Position, lamp colour and rev limit as the legend says; learner position is the lowest.",
             "Each position shows its own colour.", "A selector that turns by itself changes the map in a bend.", minutes=12),
    ]  # fmt: skip
    if kit.about.get("shift_sensor"):
        steps.append(
            Step("fit.shift_rod", "fit", "Fit the shift sensor and its rod", "Length from the sum in Plan. Count the threads, locknuts tight, paint marks.",
                 "Pedal height as before; it moves freely to both stops.", "A rod that lets go leaves the rider in the wrong gear.",
                 caution="The rod is a safety part: thread engaged at least 1 diameter in steel, 1.5 in aluminium, at each end.",
                 tools=("thread gauge",), consumables=("paint marker",), minutes=20)
        )  # fmt: skip
    return steps


def flasher(vehicle: SheetVehicle, kit: Kit, rules: HouseRules) -> list[Step]:
    """Through the diagnostic port: nothing may pull the cable, and the parts of the map must be there."""
    return [
        Step("fit.port", "fit", "Find the diagnostic port and the cable's route", "Nothing will pull it; bonnet and doors can stay shut.", "The plug sits to its stop.",
             "A cable that is pulled in a write costs a computer.", "photo", minutes=3),
        Step("fit.filter", "fit", "Fit the parts the map was made for", "Intake, exhaust, sensors: as the map's sheet lists them.", "List and car agree.",
             "A map for parts that are not there runs rich or lean.", minutes=20),
    ]  # fmt: skip


def remote_flasher(vehicle: SheetVehicle, kit: Kit, rules: HouseRules) -> list[Step]:
    """As a flasher, with the sensor that the tuner reads by."""
    return [
        *flasher(vehicle, kit, rules),
        Step("fit.wideband", "fit", "Fit the wideband sensor the tuner asks for", "Upright, cable clear of the exhaust, away from a leak.", "It reads lambda 20+ in air.",
             "Before a leaking joint it reads lean.", consumables=("sensor paste",), tools=("sensor socket",), minutes=25),
    ]  # fmt: skip


def swapped_computer(vehicle: SheetVehicle, kit: Kit, rules: HouseRules) -> list[Step]:
    """A second stock computer: plugs, and the ground strap that came off with the first."""
    return [
        *_label_twins(kit), _swap(kit, "Swap the computers, plug by plug", "Click, then tug. VIN and calibration identity were copied: see Baseline."),
        Step("fit.strap", "fit", "Put the ground strap back", "The strap that came off with the old computer, bare metal both ends.", "It does not turn under a finger.",
             "Left off, the computer grounds itself through a sensor.", "photo", minutes=4),
    ]  # fmt: skip


def driver_module(vehicle: SheetVehicle, kit: Kit, rules: HouseRules) -> list[Step]:
    """A separate injector driver: its map, the engine's and the gearbox's are one matched set."""
    return [
        Step("fit.set_of_maps", "fit", "Check that module, engine and gearbox maps are one set", "Set number on all three.", "One number.",
             "Stacked maps add up: an over-fuelled diesel melts pistons.", "answer",
             answers=(Answer("one", "One matched set"), Answer("mixed", "Not one set", "stop", "Do not fit it: ask for the matched set.")), minutes=4),
        *_label_twins(kit), _swap(kit, "Plug the driver module in", "Old module off its bracket, new one on, plug by plug. Click, then tug."),
    ]  # fmt: skip


def body_network(vehicle: SheetVehicle, kit: Kit, rules: HouseRules) -> list[Step]:
    """Between engine and body computer: the bus measured without power, the settings of this engine."""
    return [
        _swap(kit, "Put the module between engine and body computer", "Power off; pair by pair. Click, then tug."),
        Step("fit.can", "fit", "Measure the bus with power off", "Between the two wires, both ends plugged.", "60 Ω: two terminators.",
             "120 is one missing, 40 one too many.", "reading", reading=ReadingWanted("between the wires", "resistance", "Ω", judge="can"),
             tools=("multimeter",), minutes=4),
        Step("fit.numbers", "fit", "Take the settings list of this engine", "Numbers differ by engine: the sheet for this one, printed.", "Engine on the sheet and on the plate agree.",
             "A number for another engine switches another thing.", minutes=3),
    ]  # fmt: skip


BY_KIND: dict[str, Callable[[SheetVehicle, Kit, HouseRules], list[Step]]] = dict(
    zip(KINDS, (plug_in, stock_case, adapted_harness, sensor_piggyback, injector_piggyback, inline_controller, flasher, remote_flasher,
                swapped_computer, driver_module, body_network), strict=True)
)  # fmt: skip
