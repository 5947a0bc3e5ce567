"""How to take a vehicle back to stock: what was fitted, by what is on record of it."""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Sequence
from dataclasses import dataclass

from ..basics import DEVICES, Device, DeviceKind
from .model import Kit

#: Kind of device → how it is undone. What lies where, and what was saved, is told from the record alone.
BY_KIND: dict[str, str] = {
    DeviceKind.plug_in: "plug the stock computer in again, ignition on, clear codes.",
    DeviceKind.stock_case: (
        "the stock board back into its case, new bead of sealant, plug it in, clear codes. The hole for the"
        " hose stays."
    ),
    DeviceKind.standalone: ("move the pins back by the pin plan, then plug the stock computer in."),
    DeviceKind.sensor_piggyback: "the bypass plug in place of the module, codes read.",
    DeviceKind.injector_piggyback: "unplug the module at every injector and push the stock plugs back on.",
    DeviceKind.inline_controller: (
        "position 0, then unplug the controller pair by pair and join the stock plugs."
    ),
    DeviceKind.flasher: (
        "write the stock image back through the port, verify, ignition off and on, clear codes."
    ),
    DeviceKind.remote_flasher: (
        "write the stock image back through the port, verify, ignition off and on, clear codes."
    ),
    DeviceKind.swapped: "plug the first computer in again, its ground strap with it, clear codes.",
    DeviceKind.swap_harness: (
        "none: engine and harness are this vehicle's own, as was said before the first wire."
    ),
    DeviceKind.driver_module: "the stock driver module back in, with the stock maps of the same matched set.",
    DeviceKind.body_network: "set its entries to their defaults, take it out, join the stock plugs.",
}
#: Of a kind that has no line of its own: said, so that nobody takes silence for a way back.
NOT_WRITTEN = "how it is undone is not written down here: ask its maker before it is taken off."


def stock_again(kits: Sequence[Kit], besides: int = 0) -> str:
    """How the engine is as stock for a run within a minute; empty where it takes work.

    Parameters
    ----------
    kits : sequence of Kit
    besides : int
        Parts fitted besides, which stay on.
    """
    ways = [kit.about.stock_by if kit.about and not kit.opens_fuel else "" for kit in kits]
    return ", ".join(dict.fromkeys(ways)) if ways and all(ways) and not besides else ""


@dataclass(frozen=True)
class Undone:
    """What is on record of a job.

    Parameters
    ----------
    fitted : tuple of (name, kind)
        Devices in the order in which they were fitted.
    done : frozenset of str
        Keys of steps done; what was only set aside is not among them.
    injectors, pump : bool
        Whether others than stock were fitted.
    saved : str
        What was read out of the computer and kept; empty where nothing was.
    saved_first : bool
        Whether that was before the first write.
    will_not_control : tuple of str
        What the fitted device does not run.
    kept_by_hand : bool
        Whether somebody answered that the stock image was read with the device and kept.
    """

    fitted: tuple[tuple[str, str], ...] = ()
    done: frozenset[str] = frozenset()
    injectors: bool = False
    pump: bool = False
    saved: str = ""
    saved_first: bool = False
    will_not_control: tuple[str, ...] = ()
    kept_by_hand: bool = False


def way_back(record: Undone) -> list[str]:
    """The way back, last fitted first; and what cannot be undone, for it was cut or drilled."""
    told = [f"{name}: {BY_KIND.get(kind, NOT_WRITTEN)}" for name, kind in reversed(record.fitted)]
    if "fit.bypass" in record.done:
        told.append("The bypass plug was stowed with the vehicle.")
    if record.injectors:
        told.append(
            "Stock injectors go back with new seals before the stock computer runs: its map is made for them."
        )
    if record.pump:
        told.append("The stock pump and its fuse go back; with stock injectors the fitted pump may stay.")
    if "fit.feed_line" in record.done:
        told.append("The feed line was cut for the ethanol sensor: the original line goes back in its place.")
    if "fit.case_hole" in record.done:
        told.append("The stock case was drilled for the hose: that stays, closed with a grommet.")
    if "fit.shift_rod" in record.done:
        told.append("The shift rod was made for the sensor: the stock rod goes back with it.")
    if "fit.move_pins" in record.done:
        told.append("Pins were moved in the stock harness: the pin plan is kept with the job.")
    if record.saved:
        when = "before the first write" if record.saved_first else "after a write had been made"
        told.append(f"Read out of the computer and kept, {when}: {record.saved}.")
    elif record.kept_by_hand:
        told.append("The stock image was read twice with the device and kept.")
    elif any(_record(kind).rewrites_stock for _, kind in record.fitted):
        told.append("No stock image is on record here: ask who wrote it before anything is written back.")
    if record.will_not_control:
        told.append(f"While it is fitted it does not control: {', '.join(record.will_not_control)}.")
    return told or ["Nothing was fitted that has to be taken back."]


def _record(kind: str) -> type[Device]:
    """The record of a kind; what every device has where it is no kind of ours."""
    return DEVICES.get(kind, Device)


def fitted(kinds: Sequence[str], done: Collection[str]) -> list[bool]:
    """Whether each device of a kit is on the vehicle, by the steps that are on record as done.

    Parameters
    ----------
    kinds : sequence of str
        In the order in which they are fitted: the second of two that share a step has a key of its own.
    done : collection of str

    Examples
    --------
    >>> fitted(["plug-in ECU", "body-network module"], {"fit.wont", "fit.plugs"})
    [True, False]
    """
    seen: Counter[str] = Counter()
    told = []
    for number, kind in enumerate(kinds, 1):
        key = _record(kind).on_by
        seen[key] += 1
        # What is read back is asked by the device's number in the kit.
        count = number if key == "load.read_back" else seen[key]
        told.append((f"{key}-{count}" if count > 1 else key) in done)
    # A map that was written here went into a computer that is plugged in.
    return [
        there or (_record(kind).written_here and "load.write" in done)
        for there, kind in zip(told, kinds, strict=True)
    ]
