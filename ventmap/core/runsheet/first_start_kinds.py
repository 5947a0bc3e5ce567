"""What each kind of device asks for at its first start, beside what every engine asks."""

from __future__ import annotations

from collections.abc import Sequence

from ..basics import DeviceKind
from .model import Answer, Kit, Step


def asked_by_kind(numbered: Sequence[tuple[int, Kit]], cylinders: int, *, running: bool) -> list[Step]:
    """What each kind asks for at its first start: before the engine runs, or while it does; by its number in
    the kit.
    """
    steps: list[Step] = []
    for number, kit in numbered:
        tail = "" if number == 1 else f"-{number}"
        for row in BY_KIND_AT_START.get(kit.device, ()):
            if row[0] is not running:
                continue
            _, key, title, do, know, wrong, answers = row
            steps.append(
                Step(
                    f"first-start.{key}{tail}",
                    "first-start",
                    title=title,
                    do=do.format(n=cylinders),
                    know=know.format(n=cylinders),
                    wrong=wrong,
                    evidence="answer",
                    answers=answers,
                    minutes=4,
                )
            )
    return steps


Row = tuple[bool, str, str, str, str, str, tuple[Answer, ...]]


def _answers(good: str, bad: str, advice: str, verdict: str = "hold") -> tuple[Answer, ...]:
    return (Answer("good", good), Answer("bad", bad, verdict, advice))


#: For each kind: while it runs or before, key, title, what to do, how one knows, what goes wrong, answers.
BY_KIND_AT_START: dict[str, tuple[Row, ...]] = {
    DeviceKind.sensor_piggyback: (
        (
            False,
            "both_sensors",
            "Key on: both pressure sensors move together",
            "Key on, engine still, device off, then at its lowest level. Both pressures on the tester.",
            "Both read the barometer, and both move when the throttle is opened after the start.",
            "A reversed plug or the look-alike sensor shows here, before boost does.",
            _answers(
                "Both read the barometer",
                "One reads otherwise",
                "Do not start it: key off, bypass plug in. A reversed plug, or the look-alike sensor.",
                "stop",
            ),
        ),
    ),
    DeviceKind.injector_piggyback: (
        (
            False,
            "live_page",
            "Live page: content and probe plausible",
            "Key on: ethanol content against what was filled in, probe temperature against the air.",
            "Content within 10 points of the pump's sheet, temperature that of the engine.",
            "A content of 0 or above 100 is a sensor, not a fuel.",
            _answers(
                "Both plausible",
                "One is not",
                "Find its plug or its wire first: it lengthens every pulse by this figure.",
            ),
        ),
        (
            True,
            "all_injectors",
            "Live page: every injector active",
            "At idle: the live page shows each of the {n} injectors, and duty moves with the throttle.",
            "{n} of {n} active.",
            "A lead on the wrong side leaves its injector as it was: lean on ethanol.",
            _answers(
                "All active",
                "One is not",
                "Engine off: feed lead on the wrong side of that plug, or not seated.",
                "stop",
            ),
        ),
        (
            True,
            "cold_start",
            "The first start, cold, at this content",
            "Cold, as it stood for the work: crank without the throttle, count until it runs by itself.",
            "It fires within five seconds and holds its idle.",
            "Too little added for the cold: it needs the throttle to live.",
            _answers(
                "Within five seconds",
                "Longer, or it needs the throttle",
                "Raise the addition for the cold by its own steps; try the next morning.",
            ),
        ),
    ),
    DeviceKind.inline_controller: (
        (
            False,
            "throttle_signal",
            "Throttle signal spans from shut to open",
            "Key on, engine still: throttle slowly from shut to open and back, device's own live page.",
            "0 to 100 %, evenly, and back to 0.",
            "A signal that ends early never reaches the last column of the map.",
            _answers(
                "Shut to open, evenly",
                "It jumps, or ends early",
                "Plug and wire of the throttle signal; learn its ends by the maker's procedure.",
            ),
        ),
        (
            False,
            "lamp_code",
            "Lamp shows the position that is selected",
            "Each writable position in turn: the lamp against the legend.",
            "Lamp and legend agree at every position.",
            "A position that shows another's lamp is another's map.",
            _answers("They agree", "One does not", "Read the position back and write its map again."),
        ),
    ),
    DeviceKind.flasher: (
        (
            True,
            "lights",
            "Lamps: only those that were named beforehand",
            "Engine running, every lamp out after its test.",
            "None but what was named before the write.",
            "Another lamp is a module that lost its partner.",
            _answers("Only those", "Another one", "Read every module before it is driven."),
        ),
    ),
    DeviceKind.driver_module: (
        (
            False,
            "tug_test",
            "Tug at every injector plug",
            "Each of the {n} plugs: clicked, then pulled by its body.",
            "None moves.",
            "A plug that comes off in a pull leaves one cylinder without fuel.",
            _answers("None moves", "One moves", "Seat it until it clicks; look at its lock."),
        ),
        (
            True,
            "cold_idle",
            "Cold idle without roughness",
            "From cold, five minutes: smooth, no smoke after the first puff.",
            "Even, as it was on the stock box.",
            "Rough cold: a map for another injector size.",
            _answers(
                "Even and clear",
                "Rough, or it smokes",
                "Engine off: look whether its map is of the matched set, for these injectors.",
            ),
        ),
    ),
    DeviceKind.swapped: (
        (
            True,
            "immobiliser",
            "Immobiliser and lamps",
            "Start, off, lock, wait a minute, start again.",
            "It starts both times and the key lamp goes out.",
            "It starts once and then never: identity was not copied whole.",
            _answers(
                "Starts both times",
                "It does not, or the lamp stays",
                "First computer back; copy VIN and calibration again.",
            ),
        ),
        (
            True,
            "gear_display",
            "Gear display right in every position",
            "Wheels held, foot on the brake: each position of the lever against the display.",
            "They agree.",
            "A gearbox that is told the wrong engine shifts into harm.",
            _answers(
                "They agree",
                "One does not",
                "Do not drive it: calibration of engine and gearbox belong together.",
                "stop",
            ),
        ),
    ),
    DeviceKind.swap_harness: (
        (
            False,
            "immobiliser_out",
            "Key on: immobiliser out, VIN answers",
            "Tester on the port: VIN, calibration, no immobiliser code; the key lamp after its test.",
            "VIN and calibration are those that were written down, the lamp is out.",
            "It starts once and then never, or cuts out on the road.",
            _answers("Both as written down", "Another, or the lamp stays", "Its programmer first."),
        ),
        (
            False,
            "inputs_live",
            "Pedal, brake, clutch and lever on the live page",
            "Key on, engine still: each one moved by hand, and seen to move on the tester.",
            "Pedal tracks agree from shut to open; brake, clutch or park read as they are.",
            "An input that never changes cranks in gear or never lets the throttle shut.",
            _answers(
                "Each as it is",
                "One does not move, or the wrong way",
                "Do not crank it: wire and plug of that input, by the harness maker's list.",
                "stop",
            ),
        ),
        (
            False,
            "bus_bridge",
            "Bus bridge: dash and modules answer",
            "Every module read; dash shows temperature, speed of the engine and the lamps' test.",
            "Each answers, none waits for a partner.",
            "A dash without its partner shows no heat and no lamp when it matters.",
            _answers("All answer", "One does not", "Bridge: supply, ends of the bus, its program."),
        ),
        (
            True,
            "fans_run",
            "Fans and charging by this computer",
            "Warm it, or command them: both speeds of the fan, then volts at idle.",
            "The fan runs before the middle of the gauge is passed, on both speeds.",
            "A fan that no wire leads to costs the head gasket.",
            (
                *_answers(
                    "On both speeds",
                    "It does not",
                    "Engine off: fan wire, relay, and which output this program gives it.",
                    "stop",
                ),
                Answer("none", "This engine has no electric fan"),
            ),
        ),
        (
            True,
            "banks_right",
            "Each bank's oxygen sensor answers its own bank",
            "Warm, closed loop: follow the front sensor of bank 1 from its pipe to its plug, part that plug.",
            "On the tester that sensor of bank 1 stands still, and no other; one bank: its only one.",
            "Exchanged, one bank goes rich until its catalyst glows and the other lean.",
            (
                *_answers(
                    "Its own",
                    "The other bank's",
                    "Engine off: exchange the front sensors' plugs, then again.",
                    "stop",
                ),
                Answer("none", "This engine has no such sensor"),
            ),
        ),
    ),
    DeviceKind.body_network: (
        (
            True,
            "body_lights",
            "Lamps and stop-start behave",
            "Engine on, off, on: lamps after their test, stop-start as its entry has it.",
            "No lamp stays; stop-start does what was entered.",
            "An entry of another engine shows as a lamp.",
            _answers("They behave", "One does not", "Back to its default entry, then read it again."),
        ),
        (
            True,
            "speedometer",
            "Speedometer against GPS or the drum",
            "A steady 80 km/h by GPS or on the drum, within the law.",
            "It shows 80 to 82 km/h, never less.",
            "A speedometer that shows less than the truth is unlawful in most places.",
            _answers(
                "80 to 82 km/h",
                "Less, or more",
                "Measure the tyre and enter it again, whole, then tenths.",
            ),
        ),
    ),
}
BY_KIND_AT_START[DeviceKind.remote_flasher] = BY_KIND_AT_START[DeviceKind.flasher]
