"""How to take a vehicle back to stock, by what was fitted."""

from __future__ import annotations

from collections.abc import Sequence

COMPUTER = (
    "The stock computer is on the shelf, labelled with the registration: plug it in, ignition on, clear"
    " codes."
)
FLASHED = (
    "The stock image was saved before the first write: write it back through the port, verify, ignition off"
    " and on, clear codes."
)
BY_KIND = {
    "plug-in ECU": COMPUTER,
    "board in the stock case": (
        "The stock board is on the shelf, bagged: back into its case, new bead of sealant, plug it in, clear"
        " codes."
    ),
    "standalone on an adapted harness": (
        "Move the pins back by the pin plan kept with the job, then plug the stock computer in."
    ),
    "sensor piggyback": (
        "The bypass plug is in the glove box: in place of the module, and the vehicle is stock again."
    ),
    "injector piggyback": (
        "Unplug the module at every injector and push the stock plugs back on; the capped feed line is kept"
        " with it."
    ),
    "inline fuel and ignition controller": "Unplug the controller pair by pair and join the stock plugs.",
    "handheld or phone flasher": FLASHED,
    "laptop flasher with a remote tuner": FLASHED,
    "swapped computer": COMPUTER,
    "injector driver module": (
        "The stock driver module is on the shelf: back in, with the stock maps of the same matched set."
    ),
    "body-network module": (
        "Take the module out and join the stock plugs; settings made through it go with it."
    ),
}


def way_back(kinds: Sequence[tuple[str, str]], injectors: bool, pump: bool, saved: str = "") -> list[str]:
    """The way back, a sentence for each thing fitted.

    Parameters
    ----------
    kinds : sequence of (name, kind)
        Devices as fitted; undone in the opposite order.
    injectors, pump : bool
        Whether others than stock were fitted.
    saved : str
        What was read out of a computer and kept, where it was.
    """
    told = [f"{name}: {BY_KIND[kind]}" for name, kind in reversed(kinds) if kind in BY_KIND]
    if injectors:
        told.append(
            "Stock injectors go back with new seals before the stock computer runs: its map is made for them."
        )
    if pump:
        told.append(
            "The stock pump and its fuse are on the shelf; with stock injectors the fitted pump may stay."
        )
    if saved:
        told.append(f"Saved before the first write: {saved}.")
    return told or ["Nothing was fitted that has to be taken back."]
