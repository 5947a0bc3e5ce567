"""Fit: the steps of every kit in one order: fuel side, taps and plugs, grounds, torque, routing, test before
tidying.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from ..basics import Computer, Fastening, HouseRules
from .access import put_back, take_off
from .asked import GroundsAsked, TorqueAsked
from .begun import earlier
from .besides import SERVICE, fitted_besides
from .connectors import connectors
from .fit_devices import BY_KIND
from .fit_injectors import injectors
from .fit_piggybacks import ethanol_sensor
from .joints import CUT_INTO, joints, with_joints
from .make_safe import FUEL_GATE
from .model import PORT_ONLY, Answer, Kit, SheetVehicle, Step
from .mounting import mounting
from .opening import opens_fuel

#: A level is set, and a code is entered, with the battery on: with it off nothing answers.
BY_POWER = ("fit.level", "fit.warm_delay", "fit.codes")


def fit(vehicle: SheetVehicle, kits: Sequence[Kit], rules: HouseRules) -> list[Step]:
    """Every kit in one order: injectors and pump first, then grounds, each device, torque, routing, power,
    tidying.
    """
    steps: list[Step] = []
    wired = [kit for kit in kits if not kit.port_only]
    boxes = [kit for kit in wired if kit.device and kit.device not in PORT_ONLY]
    new = next((kit for kit in kits if kit.injectors), None)
    steps += take_off(vehicle, kits)
    if new is None and any(part.kind == SERVICE for part in vehicle.besides):
        about = vehicle.stock_injectors
        new = Kit("", injectors=SERVICE, rail_bolt_nm=vehicle.rail_bolt_nm, injector_about=about)
    if new is not None:
        steps += injectors(vehicle, new, rules)
    if any(kit.pump for kit in kits):
        steps.append(_pump())
    for kit in kits:
        # A device may be one that only a shop's own shelf knows: then the common steps stand alone.
        make = BY_KIND.get(kit.device)
        steps += mounting(vehicle, kit)
        if make:
            made = make(vehicle, kit, rules)
            steps += with_joints(made, rules) if kit.device in CUT_INTO else made
        steps += ethanol_sensor(vehicle, kit, rules)
    if any(kit.pump for kit in kits) and not any(kit.device in CUT_INTO for kit in kits):
        steps += joints(rules)
    # After the devices: a strap that came off with the old computer is back by now.
    grounded = [kit for kit in boxes if _grounds_of(kit)]
    if grounded:
        steps.append(_grounds(grounded))
    fasteners = [line for kit in kits if kit.about for line in kit.about.torque or () if not line.closes_case]
    # A list that nobody has looked up yet is asked for, not passed over.
    if fasteners or any(kit.about is not None and kit.about.torque is None for kit in boxes):
        steps.append(_torque(fasteners, rules))
    steps += fitted_besides(vehicle.besides)
    steps += connectors(boxes)
    shut_first = earlier(vehicle)
    steps += shut_first
    back, covers = put_back(vehicle, kits, rules)
    # Power that nobody took off is not put on: unless something lies open that this sheet knows nothing of.
    if wired or back or covers or shut_first or vehicle.besides:
        first = tuple(step.key for step in _once(steps) if step.key.startswith("fit.map_first"))
        power = _power(vehicle, opens_fuel(vehicle, kits), bool(grounded))
        shut = tuple(step.key for step in (*shut_first, *back))
        steps += back
        steps += [_routing()] if wired or vehicle.besides else []
        steps.append(replace(power, needs=(*power.needs, *first, *shut)))
        steps += [_ground_drop(grounded, rules)] if grounded else []
        by_power = [step for step in steps if step.key in BY_POWER]
        steps = [step for step in steps if step.key not in BY_POWER]
        steps += [replace(step, needs=(*step.needs, "fit.power")) for step in by_power]
        steps += [*covers, _tidy()]
    return _once(steps)


def _once(steps: Sequence[Step]) -> list[Step]:
    """Two kits may ask for the same kind of step: the second gets a key of its own."""
    seen: dict[str, int] = {}
    fresh = []
    for step in steps:
        count = seen[step.key] = seen.get(step.key, 0) + 1
        if count > 1:
            step = replace(step, key=f"{step.key}-{count}")
        fresh.append(step)
    return fresh


def _pump() -> Step:
    return Step(
        "fit.pump",
        "fit",
        title="Fit the pump, its relay and its wire",
        do="Relay, fuse and wire as the sums in Plan say; sock and seal new.",
        know="Pump runs on the relay; no drop above the limit.",
        wrong="On the old wire it starves under boost.",
        needs=FUEL_GATE,
        caution=(
            "The tank is opened: fuel is relieved, the bay open to the air, no spark, extinguisher at hand."
        ),
        tools=("tank ring spanner", "crimp tool"),
        consumables=("pump seal", "fuel hose"),
        minutes=60,
    )


def _grounds_of(kit: Kit) -> tuple[str, ...]:
    grounds = kit.about.grounds if kit.about else None
    if grounds is None:
        return ("each that its maker lists",)
    # A computer hangs on its main ground, whatever its list says.
    return grounds or (("computer to battery negative lead",) if isinstance(kit.about, Computer) else ())


def _grounds(kits: Sequence[Kit]) -> Step:
    names = list(dict.fromkeys(name for kit in kits for name in _grounds_of(kit)))
    return Step(
        "fit.grounds",
        "fit",
        title="See every ground on bare metal before power",
        do=f"Battery still off. On bare metal, tight, every strap that came off back on: {'; '.join(names)}.",
        know="None turns under a finger; paint is off under each ring.",
        wrong="A missing main ground can destroy the computer at power-up.",
        evidence="answer",
        answers=(
            Answer("all", "All on bare metal, tight"),
            Answer("one", "One is painted, loose or missing", "stop", "No power before it is right."),
        ),
        tools=("inspection lamp",),
        minutes=2 + len(names),
    )


def _ground_drop(kits: Sequence[Kit], rules: HouseRules) -> Step:
    names = list(dict.fromkeys(name for kit in kits for name in _grounds_of(kit)))
    return Step(
        "fit.ground_drop",
        "fit",
        title="Measure every ground with power on",
        do="Battery on, a large consumer on. Meter from the ring to the battery's negative post.",
        know=f"{rules['fit.ground']:g} V or less each. While cranking they are measured at First start.",
        wrong="More moves every sensor, and grows hot.",
        evidence="grid",
        grid="grounds",
        about=GroundsAsked(grounds=tuple(names)),
        needs=("fit.power",),
        tools=("multimeter",),
        minutes=3 + 2 * len(names),
    )


def _torque(fasteners: Sequence[Fastening], rules: HouseRules) -> Step:
    return Step(
        "fit.torque",
        "fit",
        title="Torque list",
        do="The maker's figure wins. Choose the wrench by its range; counter-hold unions.",
        know="Every line is done, with its wrench.",
        wrong=f"Outside {rules['fit.wrench_low']:g}–100 % of its range a wrench clicks where it likes.",
        evidence="grid",
        grid="torque",
        about=TorqueAsked(
            fasteners=tuple(fasteners), snug_allowed=rules.school("fit.torque_school") == "snug allowed"
        ),
        minutes=4 + 2 * len(fasteners),
    )


def _routing() -> Step:
    return Step(
        "fit.routing",
        "fit",
        title="Route and strap",
        do=(
            "Away from hot, sharp and rotating; steering lock to lock, suspension through its travel; a strap"
            " every 200 mm."
        ),
        know="Nothing touches, nothing pulls, in any position.",
        wrong="A cable on an exhaust shield fails in a month.",
        evidence="photo",
        consumables=("cable straps",),
        minutes=15,
    )


def _power(vehicle: SheetVehicle, fuel: bool, boxes: bool) -> Step:
    caution = (
        "First pressure after opening fuel: keep clear of joints, extinguisher at hand."
        if fuel
        else "Hands clear of fans: they may start with the key."
    )
    return Step(
        "fit.power",
        "fit",
        title="Battery on, key on, look before tidying",
        do=(
            "Prime twice and look at every joint with a lamp; see that every injector shows activity."
            if fuel
            else "Power up; see that every lead shows activity."
        ),
        know="Dry joints, no smoke, lamp goes out.",
        wrong=(
            "A weep now is a fire later."
            if fuel
            else "Found now it is one plug; found later it is all covers off again."
        ),
        needs=("fit.grounds",) if boxes else (),
        caution=caution,
        tools=("inspection lamp",),
        minutes=8,
    )


def _tidy() -> Step:
    return Step(
        "fit.tidy",
        "fit",
        title="Strap, refit covers, count the tools",
        do="Covers, undertray, every screw; the stock parts boxed and labelled for the way back.",
        know="No screw is left, no tool is missing.",
        wrong="A forgotten rag is a fire.",
        needs=("fit.power",),
        minutes=15,
    )
