"""The run sheet: the ordered steps of this job, computed from vehicle, kit, goal and house rules."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from .house_rules import HouseRules


@dataclass(frozen=True)
class ReadingWanted:
    """A reading that a step asks for, and the limits it must keep."""

    label: str
    quantity: str
    unit: str
    low: float | None = None
    high: float | None = None


@dataclass(frozen=True)
class Step:
    """One step.

    Parameters
    ----------
    key : str
        ``"<stage>.<name>"``, stable over revisions.
    stage : str
    title, do, know, wrong : str
        What to do, how you know it is right, what goes wrong.
    evidence : str
        ``"tick"``, ``"reading"``, ``"timer"``, or ``"auto"``: done by the work on the screen itself.
    caution : str
        Shown before the step, where it can hurt someone.
    reading : ReadingWanted, optional
    seconds : float
        Length of a timer.
    """

    key: str
    stage: str
    title: str
    do: str = ""
    know: str = ""
    wrong: str = ""
    evidence: str = "tick"
    caution: str = ""
    reading: ReadingWanted | None = None
    seconds: float = 0.0


@dataclass(frozen=True)
class SheetVehicle:
    """What the sheet needs of a vehicle."""

    cylinders: int
    injection: str = "port"
    referenced_regulator: bool = True


@dataclass(frozen=True)
class Kit:
    """What is fitted. `hose`: the device needs a manifold-pressure hose; `off_s`: its own ignition-off time."""

    device: str
    injectors: str | None = None
    hose: bool = True
    off_s: float = 8.0
    rail_bolt_nm: float = 9.0


@dataclass(frozen=True)
class RunSheet:
    steps: tuple[Step, ...]

    def of(self, stage: str) -> list[Step]:
        return [step for step in self.steps if step.stage == stage]

    def next_open(self, done: Sequence[str]) -> Step | None:
        ended = set(done)
        return next((step for step in self.steps if step.key not in ended), None)


@dataclass(frozen=True)
class Change:
    """A new kit, and the keys of the steps that are already done."""

    vehicle: SheetVehicle
    kits: tuple[Kit, ...]
    goal: str
    house_rules: HouseRules
    done: tuple[str, ...] = ()


def build(vehicle: SheetVehicle, kits: Sequence[Kit], goal: str, house_rules: HouseRules) -> RunSheet:
    """The steps of a job, in the order in which practitioners work."""
    injectors = any(kit.injectors for kit in kits)
    hose = any(kit.hose for kit in kits)
    steps = _before(injectors) + _make_safe(injectors, house_rules) + _fit(vehicle, kits, injectors, hose) + _after()
    if not injectors:
        steps = [step for step in steps if step.key not in ("plan.injectors", "base-map.dead_time")]
    return RunSheet(tuple(steps))


def revise(run_sheet: RunSheet, change: Change) -> tuple[RunSheet, Mapping[str, tuple[str, ...]]]:
    """The sheet after a change, keeping what is done; and what was ``"added"``, ``"dropped"`` and ``"kept"``."""
    fresh = build(change.vehicle, change.kits, change.goal, change.house_rules)
    old, new = {s.key: s for s in run_sheet.steps}, {s.key: s for s in fresh.steps}
    done = set(change.done)
    kept = [key for key in old if key in done and key not in new]
    steps = list(fresh.steps)
    for key in kept:
        # What was done stays on the record even where the new kit would not ask for it.
        place = max((k for k, step in enumerate(steps) if step.stage == old[key].stage), default=len(steps) - 1)
        steps.insert(place + 1, replace(old[key], title=f"{old[key].title} (done before the change)"))
    difference = {
        "added": tuple(k for k in new if k not in old),
        "dropped": tuple(k for k in old if k not in new and k not in done),
        "kept": tuple(kept),
    }
    return RunSheet(tuple(steps)), difference


def _before(injectors: bool) -> list[Step]:
    return [
        Step("intake.identity", "intake", "Record who, which vehicle and what for", "Read the VIN from the plate, not from papers.", evidence="auto"),
        Step("intake.leaks", "intake", "Look for leaks and the state of coolant and oil",
             "Lamp along fuel, coolant and oil; dip the oil; look into the coolant.", "Dry, full and clean.",
             "A vehicle with a fault is repaired first: tuned over, the fault comes back as yours."),
        Step("intake.battery", "intake", "Measure the battery at rest", "Ignition off for a quarter of an hour, meter at the posts.",
             "12.4 V or more.", "A weak battery turns the write into a recovery.", "reading",
             reading=ReadingWanted("battery at rest", "voltage", "V", low=12.4, high=13.4)),
        Step("plan.injectors", "plan", "Choose the injectors for the goal", "See the sum, choose the smallest that serves.", evidence="auto"),
        Step("plan.parts", "plan", "Lay out parts and tools", "Seals, kit, meter, wrench, rags, extinguisher on the trolley.",
             "Everything on the list lies there.", "A missing seal is found with the rail in your hand."),
        Step("baseline.codes", "baseline", "Read codes and identity", evidence="auto"),
        Step("baseline.runs", "baseline", "Three stock runs on the drum", evidence="auto"),
    ]  # fmt: skip


def _make_safe(injectors: bool, rules: HouseRules) -> list[Step]:
    fuel_caution = (
        "Fuel burns and sprays. Eye protection, gloves, rag, extinguisher at hand; no flame, spark or lamp with a filament; "
        "doors open to the air. Residual fuel stays in the line. The maker's procedure and local rules come first."
    )
    steps = [
        Step("make-safe.cool", "make-safe", "Let the engine cool", "Bonnet open, fan on. The wait runs in the strip below on every screen.",
             "The next reading decides, not the clock.", "Fuel on a hot manifold lights.", "timer", seconds=1200.0,
             caution="Hot coolant and exhaust burn. Open nothing until the reading says so."),
        Step("make-safe.coolant", "make-safe", "Read the coolant temperature", "From the tester, or a probe at the housing.",
             "Below the limit.", "A probe on plastic reads low.", "reading",
             reading=ReadingWanted("coolant", "temperature", "°C", low=-30.0, high=rules["safe.coolant"]), caution=fuel_caution if injectors else ""),
    ]  # fmt: skip
    if injectors:
        steps += [
            Step("make-safe.fuse", "make-safe", "Pull the pump fuse and run it dry", "Engine at idle, pull the fuse, wait until it dies.",
                 "It dies within a minute.", "The wrong fuse: it keeps running.", caution=fuel_caution),
            Step("make-safe.crank", "make-safe", "Crank again until it no longer fires", "Two attempts of five seconds.",
                 "Neither attempt fires.", "One attempt leaves pressure behind a check valve.", "reading",
                 reading=ReadingWanted("rail pressure left", "pressure", "kPa", low=0.0, high=30.0), caution=fuel_caution),
        ]  # fmt: skip
    steps.append(
        Step("make-safe.battery", "make-safe", "Take the battery's negative off", "Key out and away; nobody opens a door: many cars prime the pump.",
             "No lamp lights.", "A second battery keeps it live: both off.",
             caution="Airbag wiring and high-voltage parts are for licensed practice and the maker's procedure only.")
    )  # fmt: skip
    return steps


def _fit(vehicle: SheetVehicle, kits: Sequence[Kit], injectors: bool, hose: bool) -> list[Step]:
    steps = []
    nm = kits[0].rail_bolt_nm
    if injectors:
        steps += [
            Step("fit.blow", "fit", "Blow the injector bores clean, then lift the rail", "Air first, then pull: straight up, both ends together.",
                 "Every old lower seal came out with its injector.", "Dirt pushed down lies on the valve.",
                 caution="Fuel runs out of the rail: rag under it, eyes covered."),
            Step("fit.ohms", "fit", "Measure the new injectors' resistance", "Each one; enter the lowest.", "Saturated injectors: 10 Ω or more.",
                 "1–4 Ω burns a driver that expects more.", "reading", reading=ReadingWanted("lowest resistance", "resistance", "Ω", low=10.0, high=18.0)),
            Step("fit.seals", "fit", f"Seat {vehicle.cylinders} injectors with new seals", "New upper and lower seals, oiled; press, do not twist in.",
                 "Each turns by hand under light force.", "A pinched lower seal leaks air: high idle later."),
            Step("fit.rail", "fit", "Torque the rail bolts", f"Maker's figure; here {nm:g} N·m unless the book says otherwise.", "Clicks on each bolt, twice round.",
                 "Uneven bolts tilt the rail.", "reading", reading=ReadingWanted("torque used", "torque", "N·m", low=0.8 * nm, high=1.25 * nm)),
        ]  # fmt: skip
    steps += [
        Step("fit.grounds", "fit", "Measure the main ground", "Bare metal, meter from computer ground to battery negative lead, consumer on.",
             "0.05 V or less.", "A missing main ground can destroy the computer at power-up.", "reading",
             reading=ReadingWanted("voltage drop", "voltage", "V", low=0.0, high=0.05)),
        Step("fit.plugs", "fit", "Swap the computer, plug by plug", "Click, then tug. The stock computer goes on the shelf, labelled.",
             "No plug moves under a tug.", "A half-seated plug reads like ten faults."),
    ]  # fmt: skip
    if hose:
        steps.append(
            Step("fit.hose", "fit", "Run the manifold-pressure hose", "From a port that sees the whole plenum; short, no kink, away from heat, tee secured.",
                 "Blow: no leak, no kink.", "A kink reads as a slow sensor.")
        )  # fmt: skip
    steps.append(
        Step("fit.power", "fit", "Battery on, key on, look before tidying", "Prime the pump twice; look at every joint with a lamp.",
             "Dry joints, no smoke, lamp goes out.", "A weep now is a fire later.",
             caution="First pressure after opening fuel: keep clear of joints, extinguisher at hand.")
    )  # fmt: skip
    return steps


def _after() -> list[Step]:
    return [
        Step("base-map.choose", "base-map", "Choose the map to start from", evidence="auto"),
        Step("base-map.flow", "base-map", "Set injector flow at this vehicle's pressure", evidence="auto"),
        Step("base-map.dead_time", "base-map", "Set the dead-time table", evidence="auto"),
        Step("load.save", "load", "Save what is in the computer", evidence="auto"),
        Step("load.write", "load", "Write and verify", evidence="auto"),
        Step("load.cycle", "load", "Ignition off, wait, on", evidence="auto"),
        Step("load.codes", "load", "Read, record and clear codes", evidence="auto"),
        Step("first-start.key_on", "first-start", "Key on: sensors against the barometer", evidence="auto"),
        Step("first-start.pedal", "first-start", "Learn the pedal", evidence="auto"),
        Step("first-start.start", "first-start", "Start and judge idle", evidence="auto",
             caution="Hands, hair and sleeves clear of belts and fans. Somebody watches for leaks with the extinguisher."),
        Step("first-start.leaks", "first-start", "Look for leaks with the engine running", "Fuel first, then coolant, oil, exhaust.",
             "Dry after five minutes at idle.", "A weep under pressure opens when hot."),
        Step("log.review", "log", "Capture a log and read it", evidence="auto",
             caution="Within the law; on the road a second person minds the laptop. On the drum: straps, extraction, nobody in line with the tyres."),
        Step("correct.done", "correct", "Correct until the targets hold", evidence="auto"),
        Step("prove.runs", "prove", "Three runs after, as the runs before", evidence="auto",
             caution="Straps, extraction for carbon monoxide, hearing, nobody in line with the tyres, extinguisher, fan; tyre rating above the speed reached."),
        Step("prove.claim", "prove", "Hold after against before", evidence="auto"),
        Step("hand-over.report", "hand-over", "Print the report", evidence="auto"),
        Step("hand-over.told", "hand-over", "Tell the owner", "What to feed it, what lights to expect, how to go back, when to come again.",
             "The owner says it back.", "What was not said comes back as a complaint."),
    ]  # fmt: skip
