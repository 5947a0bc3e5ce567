"""What is opened on the way to the work: fuel, coolant, oil, refrigerant; each brings what it asks before."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from ..basics import DEVICES, AccessItem, Flasher
from .model import Answer, Kit, SheetVehicle, Step

CAUTIONS: Mapping[str, str] = {
    "fuel": "Fuel is opened: relieved first, no flame or spark, rag and extinguisher at hand, caps on.",
    "coolant": "Hot coolant scalds: open nothing of it before the reading below its limit.",
    "oil": "Hot oil burns and lights on an exhaust: tray beneath, wiped off before the engine runs.",
    "refrigerant": (
        "Refrigerant freezes skin and may only be opened by who is licensed for it: its lines stay closed."
    ),
}


def retunes(kit: Kit) -> bool:
    """Whether a device runs the engine otherwise; one that may only set tyres and lamps says so on its sheet,
    and not by a guess.
    """
    record = DEVICES.get(kit.device)
    if record is None:
        return False
    about = kit.about
    if isinstance(about, Flasher) and about.changes_engine is False and not about.guessed("changes_engine"):
        return False
    return record.retunes


def at_engine(kit: Kit) -> bool:
    """The work lies at the engine: neither at the diagnostic port alone nor behind a panel of the cabin."""
    return not kit.port_only and (retunes(kit) or kit.opens_fuel)


def comes_off(vehicle: SheetVehicle, kits: Sequence[Kit]) -> tuple[AccessItem, ...]:
    """What comes off for this kit, and what is off already whatever the kit is now; nothing where nothing is
    reached, or where nobody has said it yet.
    """
    asked = (vehicle.access or ()) if any(map(at_engine, kits)) else ()
    names = {item.name for item in asked}
    return (*asked, *(item for item in vehicle.off if item.name not in names))


def opened(vehicle: SheetVehicle, kits: Sequence[Kit]) -> frozenset[str]:
    """What is opened on the way to the work, or by it: fuel, coolant, oil, refrigerant."""
    on_the_way = {item.opens for item in comes_off(vehicle, kits)}
    return frozenset((on_the_way | {part.opens for part in vehicle.besides}) - {""})


def opens_fuel(vehicle: SheetVehicle, kits: Sequence[Kit]) -> bool:
    """By what is fitted, by what comes off for it, or by what was begun and is no part of the kit now."""
    begun = any(one.fuel for one in vehicle.earlier)
    return begun or any(kit.opens_fuel for kit in kits) or "fuel" in opened(vehicle, kits)


def before_it_opens(vehicle: SheetVehicle, kits: Sequence[Kit]) -> list[Step]:
    """What Make safe asks because something on the way is opened; fuel has steps of its own there."""
    found = opened(vehicle, kits)
    steps = []
    if "coolant" in found:
        steps.append(
            Step(
                "make-safe.drain",
                "make-safe",
                title="Drain the coolant below what is opened",
                do="Cap off slowly, drain cock or lower hose, a clean tray: it goes back if it is good.",
                know="Nothing runs when the highest joint that comes apart is loosened a turn.",
                wrong="What is opened above its level empties over the belt and the person.",
                caution=CAUTIONS["coolant"],
                needs=("make-safe.coolant",),
                tools=("coolant tray",),
                minutes=12,
            )
        )
    if "refrigerant" in found:
        steps.append(
            Step(
                "make-safe.refrigerant",
                "make-safe",
                title="Refrigerant lines stay closed",
                do="See whether the lines can be laid aside as they are, their parts hung from straps.",
                know="No union of theirs is touched.",
                wrong="An opened line empties into the face and the air.",
                caution=CAUTIONS["refrigerant"],
                evidence="answer",
                answers=(
                    Answer("aside", "They are laid aside closed"),
                    Answer(
                        "open",
                        "One has to be opened",
                        "stop",
                        "Have it recovered by who is licensed for it, and filled again by them. It is never"
                        " opened here.",
                    ),
                ),
                minutes=5,
            )
        )
    return steps
