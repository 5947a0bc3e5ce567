"""Steps from the base map to hand-over."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from ..basics import STAGE_KEYS, HouseRules, kinds_with
from .asked import GroundsAsked
from .besides import proven_besides
from .by_hand import by_hand, corrected_by_hand, set_by_hand
from .cautions import before_log, before_runs, before_start
from .complaints import asked_again
from .first_start import STANDALONE, asked_by_kind, base_timing, not_controlled, oil, output_tests
from .leaving import what_leaves
from .model import Kit, SheetVehicle, Step


def after(vehicle: SheetVehicle, kits: Sequence[Kit], rules: HouseRules) -> list[Step]:
    """Base map to hand-over: over the link where this kit's map is written here, else by hand."""
    computer = any(kit.device in WRITTEN for kit in kits)
    linked = vehicle.prepared and (computer or not (kits or vehicle.besides))
    injectors = vehicle.petrol and (not kits or computer or any(kit.injectors for kit in kits))
    beside = [(n, kit) for n, kit in enumerate(kits, 1) if kit.device not in WRITTEN]
    # What stands beside the computer that is written here has settings of its own.
    steps = (
        _linked(injectors, vehicle, kits, rules) + set_by_hand(beside, rules)
        if linked
        else by_hand(vehicle, kits, rules)
    )
    if any(kit.device and not kit.port_only for kit in kits):
        cranking = _cranking(kits, rules["fit.ground_cranking"], vehicle.kind)
        # It is measured at the first crank, before the engine runs.
        runs = ("first-start.running", "first-start.start")
        at = next((n for n, step in enumerate(steps) if step.key in runs), len(steps))
        steps.insert(at, cranking)
    steps += proven_besides(vehicle.besides)
    steps += _log_to_end(vehicle, kits, None if linked else corrected_by_hand(kits))
    return sorted(_leaks_first(steps), key=lambda step: STAGE_KEYS.index(step.stage))


def _leaks_first(steps: Sequence[Step]) -> list[Step]:
    """Leaks are looked for as soon as it runs, before it is left to warm."""
    rest = [step for step in steps if step.key != "first-start.leaks"]
    runs = ("first-start.running", "first-start.start")
    at = next((n for n, step in enumerate(rest, 1) if step.key in runs), len(rest))
    # Under pressure it shows, and under pressure is what runs.
    needs = tuple(step.key for step in rest if step.key in runs)
    leaks = [replace(step, needs=needs) for step in steps if step.key == "first-start.leaks"]
    return [*rest[:at], *leaks, *rest[at:]]


#: Kinds whose map is chosen, set and written here, where the engine can be run.
WRITTEN = kinds_with(lambda record: record.written_here)


def _cranking(kits: Sequence[Kit], limit: float, kind: str) -> Step:
    names = tuple(dict.fromkeys(name for kit in kits if kit.about for name in kit.about.grounds or ()))
    return Step(
        "first-start.ground_cranking",
        "first-start",
        title="Measure the grounds while it cranks",
        do="Meter from each ring to the battery's negative post, helper at the key, five seconds each.",
        know=f"{limit:g} V or less each.",
        wrong="A ground that fails under the starter resets the computer.",
        evidence="grid",
        grid="grounds",
        about=GroundsAsked(grounds=names or ("computer to battery negative lead",), cranking=True),
        caution=f"It cranks and may start: out of gear, meter leads clear. {before_start(kind)}",
        tools=("multimeter",),
        minutes=2 + len(names),
    )


def _linked(injectors: bool, vehicle: SheetVehicle, kits: Sequence[Kit], rules: HouseRules) -> list[Step]:
    """Over the link: the map is chosen, set, written and proved here."""
    kinds = {kit.device for kit in kits}
    computer = bool(kinds & set(WRITTEN))
    beside = [(n, kit) for n, kit in enumerate(kits, 1) if kit.device not in WRITTEN]
    steps = [
        Step("base-map.choose", "base-map", title="Choose the map to start from", evidence="auto"),
        Step(
            "base-map.flow", "base-map", title="Set injector flow at this vehicle's pressure", evidence="auto"
        ),
    ]
    if injectors:
        steps.append(Step("base-map.dead_time", "base-map", title="Set the dead-time table", evidence="auto"))
    return [
        *steps,
        Step("load.save", "load", title="Save what is in the computer", evidence="auto"),
        Step("load.write", "load", title="Write and verify", evidence="auto"),
        Step("load.cycle", "load", title="Ignition off, wait, on", evidence="auto"),
        Step("load.codes", "load", title="Read, record and clear codes", evidence="auto"),
        Step(
            "first-start.key_on",
            "first-start",
            title="Key on: sensors against the barometer",
            do="Key on, engine still, after a cold soak. Manifold pressure must read the barometer of this"
            " altitude; temperatures must agree.",
            evidence="auto",
        ),
        _ends(vehicle.throttle),
        *([output_tests(vehicle, linked=True), oil(vehicle)] if computer else []),
        *([again] if (again := not_controlled(kits)) else []),
        *asked_by_kind(beside, vehicle.cylinders, running=False),
        Step(
            "first-start.start",
            "first-start",
            title="Start and judge idle",
            do="It starts, idle settles; idle, charging, mixture and codes are judged.",
            evidence="auto",
            caution=before_start(vehicle.kind),
        ),
        *([base_timing(vehicle, rules, linked=True)] if STANDALONE in kinds and vehicle.petrol else []),
        *asked_by_kind(beside, vehicle.cylinders, running=True),
    ]


def _ends(throttle: str) -> Step:
    """Closed and open of what the foot or the hand moves."""
    if throttle == "cable":
        title = "Learn the throttle"
        do = "Cable free of slack. Throttle shut, by hand to its stop, shut: its sensor's ends are learned."
    else:
        title, do = "Learn the pedal", "Foot off, then flat, then off. Both tracks are read and compared."
    return Step("first-start.pedal", "first-start", title=title, do=do, evidence="auto")


def _log_to_end(vehicle: SheetVehicle, kits: Sequence[Kit], corrected: Step | None) -> list[Step]:
    """Leaks, log, correction, proof, hand-over; `corrected` where the device is changed by hand."""
    kind = vehicle.kind
    again = [*asked_again(vehicle.complaints), *what_leaves(kits)]
    return [
        Step(
            "first-start.leaks",
            "first-start",
            title="Look for leaks with the engine running",
            do=f"Fuel first, then {'' if vehicle.air_cooled else 'coolant, '}oil, exhaust.",
            know="Dry after five minutes at idle.",
            wrong="A weep under pressure opens when hot.",
        ),
        Step(
            "log.review",
            "log",
            title="Capture a log and read it",
            evidence="auto",
            caution=before_log(kind),
        ),
        corrected or Step("correct.done", "correct", title="Correct until the targets hold", evidence="auto"),
        Step(
            "prove.runs",
            "prove",
            title="Runs after, as the runs before",
            evidence="auto",
            caution=before_runs(kind),
        ),
        Step("prove.claim", "prove", title="Hold the gain against the baseline", evidence="auto"),
        *again,
        Step("hand-over.report", "hand-over", title="Print the report", evidence="auto"),
        Step(
            "hand-over.told",
            "hand-over",
            title="Tell the owner",
            do="What to feed it, what lights to expect, how to go back, when to come again.",
            know="The owner says it back.",
            wrong="What was not said comes back as a complaint.",
            needs=tuple(step.key for step in again),
        ),
    ]
