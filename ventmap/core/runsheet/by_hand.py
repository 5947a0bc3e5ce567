"""Base map to Correct where nothing is written over the link: by hand, with what its owner reads back."""

from __future__ import annotations

from collections.abc import Sequence

from ..basics import DeviceKind, HouseRules, InlineController, kinds_with, written_by_cable
from .asked import BoardAsked
from .first_start import by_hand_start
from .model import Answer, Kit, ReadingWanted, SheetVehicle, Step

#: What is set on each kind of device, and what it reads back.
SET: dict[str, tuple[str, str]] = {
    DeviceKind.sensor_piggyback: ("level, mode and warm-up delay", "the level its display or lamp shows"),
    DeviceKind.injector_piggyback: (
        "preset and pairing",
        "live page: injectors active, content, temperature",
    ),
    DeviceKind.inline_controller: ("map of each selector position", "position and lamp colour"),
    DeviceKind.flasher: (
        "options over the stock image",
        "identity and options as it reads them back",
    ),
    DeviceKind.remote_flasher: ("the tuner's file", "identity and the file's checksum"),
    DeviceKind.swapped: ("VIN and calibration, copied beforehand", "identity, equal to the old one's"),
    DeviceKind.swap_harness: (
        "what its programmer changed: immobiliser, tyre, fans, rear sensors, and for which engine",
        "VIN, calibration identity, and who programmed it",
    ),
    DeviceKind.driver_module: ("its map, of the matched set", "its label, and the set of engine and gearbox"),
    DeviceKind.body_network: ("entries for this engine", "each entry read back after a power cycle"),
}
_COMPUTER = (
    "base map, injector and sensor figures, by the maker's software",
    "identity, map name and checksum",
)


def by_hand(vehicle: SheetVehicle, kits: Sequence[Kit], rules: HouseRules) -> list[Step]:
    """What was set, how it was proved and the first start: in words or as readings, so that a job ends
    truthfully.
    """
    return [
        *set_by_hand(list(enumerate(kits, 1)), rules),
        _codes_read(),
        *by_hand_start(vehicle, kits, rules),
    ]


def set_by_hand(numbered: Sequence[tuple[int, Kit]], rules: HouseRules) -> list[Step]:
    """What is set on each device, and what it reads back, typed; by its number in the kit."""
    steps: list[Step] = []
    for number, kit in numbered:
        if not kit.device:
            continue
        what, back = SET.get(kit.device, _COMPUTER)
        tail = "" if number == 1 else f"-{number}"
        name = kit.name or kit.device
        before = _before_a_write(tail, name, kit.device, rules)
        steps += [
            Step(
                f"base-map.settings{tail}",
                "base-map",
                title=f"Write down what goes onto {name}"[:72],
                do=(
                    f"By its maker's sheet for this engine: {what}.{_bounds(kit)} Type each setting, old and"
                    " new."
                ),
                know="Somebody else could set it again from these words.",
                wrong="A setting nobody wrote down cannot be put back.",
                evidence="words",
                minutes=10,
            ),
            *before,
            Step(
                f"load.read_back{tail}",
                "load",
                title=f"Set it and read it back: {name}"[:72],
                do=(
                    f"By the maker's procedure, battery at {rules['load.battery_go']:g} V or more."
                    f"{_off(kit)} Screen by screen where its map stands in Base map; else type {back}."
                ),
                know="What it reads back is what was wanted, again after its power was off.",
                hint=f"as it reads back: {back}",
                wrong="What was sent is not always what is in.",
                evidence="words",
                needs=tuple(step.key for step in before),
                caution=(
                    "The maker's procedure first. No cable is pulled and nothing is started while it writes."
                ),
                minutes=15,
            ),
        ]
    order = {"base-map": 0, "load": 1}
    return sorted(steps, key=lambda step: order[step.stage])


def _bounds(kit: Kit) -> str:
    """Bounds of its fuel trim, where they are known."""
    bounds = kit.about.trim_bounds if isinstance(kit.about, InlineController) else None
    return f" Trims stay within {100 * bounds[0]:+g} and {100 * bounds[1]:+g} %." if bounds else ""


def _off(kit: Kit) -> str:
    """The device's own ignition-off time, where it is known."""
    return f" Ignition off for {kit.off_s:g} s where it asks for it." if kit.off_s else ""


def _before_a_write(tail: str, name: str, kind: str, rules: HouseRules) -> tuple[Step, ...]:
    """The stock image kept and read again, and the battery, before a device is written by its own cable."""
    if kind not in kinds_with(written_by_cable):
        return ()
    kept = (_stock_kept(tail, name),) if kind in kinds_with(lambda record: record.rewrites_stock) else ()
    asked = _board(tail, name)
    return (*kept, asked, _battery(tail, tuple(step.key for step in (*kept, asked)), rules))


def _board(tail: str, name: str) -> Step:
    """What has to be true before a write, asked where its own tool writes."""
    return Step(
        f"load.board{tail}",
        "load",
        title=f"Before {name} writes"[:72],
        do="Every row as it is now, at the vehicle; its own tool shows identity and file.",
        know="Every row is go.",
        wrong="A laptop that sleeps or a cable that is pulled leaves half a program.",
        evidence="grid",
        grid="board",
        about=BoardAsked(
            keys=("loads_off", "kept_awake", "in_park", "laptop", "cable_seated", "identity", "newest")
        ),
        caution="Nobody starts, unplugs or sleeps anything from here until it is read back.",
        minutes=3,
    )


def _stock_kept(tail: str, name: str) -> Step:
    return Step(
        f"load.stock_kept{tail}",
        "load",
        title=f"Save the stock image with {name} and read it again"[:72],
        do="With the device's own software; keep the file with the job as well as with its maker.",
        know="Read twice, both alike.",
        wrong="What was not saved cannot be written back.",
        evidence="answer",
        answers=(
            Answer("kept", "Saved, read again, alike"),
            Answer(
                "cannot",
                "This device cannot read it",
                "hold",
                "Ask its maker for the stock file of this calibration first; write down who has it.",
            ),
            Answer("not", "Not saved, or not alike", "stop", "Nothing is written before it is."),
        ),
        minutes=10,
    )


def _battery(tail: str, needs: tuple[str, ...], rules: HouseRules) -> Step:
    least, most = rules["load.battery_go"], rules["start.charging_high"]
    return Step(
        f"load.battery{tail}",
        "load",
        title="Measure the battery before the write",
        do="Key on, everything off that takes current, a supply where it sags.",
        know=f"{least:g} V or more, and it stays there.",
        wrong="A voltage that falls in a write leaves half a program.",
        evidence="reading",
        reading=ReadingWanted("battery, key on", "voltage", "V", low=least, high=most, judge="write"),
        needs=needs,
        tools=("multimeter",),
        minutes=2,
    )


def _codes_read() -> Step:
    return Step(
        "load.codes_read",
        "load",
        title="Read the codes and lamps after setting",
        do="Key on: wait for every lamp, read all modules, clear, read again.",
        know="No code comes back.",
        wrong="A code that comes back is a plug or a setting.",
        evidence="answer",
        answers=(
            Answer("none", "None comes back"),
            Answer(
                "some",
                "One comes back",
                "hold",
                "Find its cause: plugs, setting, sensor; then read again.",
            ),
        ),
        tools=("tester",),
        minutes=6,
    )


def corrected_by_hand(kits: Sequence[Kit]) -> Step:
    """What was changed on the device after the log."""
    names = " and ".join(kit.name or kit.device for kit in kits if kit.device) or "it"
    return Step(
        "correct.changed",
        "correct",
        title="Write down what was changed after the log",
        do=(
            f"Each setting of {names} that was changed because of the log: old, new, why, and what it reads"
            " back now. Nothing changed is an answer too."
        ),
        know="The last log after the last change shows nothing that holds.",
        wrong="A change without a log after it was never tried.",
        evidence="words",
        minutes=8,
    )
