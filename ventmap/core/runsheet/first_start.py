"""Steps of the first start: key on, outputs, timing, the engine running; and what each kind asks beside."""

from __future__ import annotations

from collections.abc import Sequence

from ..basics import DeviceKind, HouseRules, kinds_with
from ..electrics import INTERLOCKS, SEEN, outputs_of
from .asked import OutputsAsked, TimingAsked
from .cautions import before_start
from .first_start_kinds import asked_by_kind
from .model import Answer, Kit, ReadingWanted, SheetVehicle, Step

STANDALONE = DeviceKind.standalone
#: What is seen of the oil in the first seconds: whether it is fed with the fuel, or stands under pressure.
OIL = {False: "Oil pressure within five seconds", True: "Oil feeds: mixed in the tank, or its pump bled"}


def output_tests(vehicle: SheetVehicle, linked: bool) -> Step:
    """Every output of a computer that is new to this engine, one by one, before it turns."""
    drives = "Run drives each for its time" if linked else "By the maker's software, each for its time"
    outputs = outputs_of(vehicle.cylinders, vehicle.injection, rotary=vehicle.rotary)
    return Step(
        "first-start.outputs",
        "first-start",
        title="Try every output before it turns",
        do=f"{drives}; say what you saw and heard at the vehicle. Spark first, then fuel, the pump last.",
        know="Each answers at its own place and stops again.",
        wrong="Two plugs exchanged fire fuel or spark into the wrong cylinder.",
        evidence="grid",
        grid="outputs",
        about=OutputsAsked(
            outputs=outputs,
            interlocks=tuple(
                one for one in INTERLOCKS if any(one.key in output.interlocks for output in outputs)
            ),
            answers=dict(SEEN),
        ),
        caution=(
            "Fans start, coils give a deadly shock, injectors spray: the maker's procedure first, and each"
            " interlock confirmed before its test is offered."
        ),
        minutes=6 + vehicle.cylinders,
    )


def base_timing(vehicle: SheetVehicle, rules: HouseRules, linked: bool) -> Step:
    """Where the reference edge really passes: by light, at idle and faster."""
    rpm = rules["start.timing_rpm"]
    plug = "the leading plug of rotor 1" if vehicle.rotary else "cylinder 1"
    trailing = (
        " The trailing plug then, 5 to 15° later: never before the leading one." if vehicle.rotary else ""
    )
    locked = "Lock spark" if linked else "Lock spark in the maker's software"
    return Step(
        "first-start.base_timing",
        "first-start",
        title="Set base timing by light, at two speeds",
        do=(
            f"{locked}, light on {plug}, read the mark at idle. Enter the new offset, read again, then"
            f" hold {rpm:g} rpm without load and read once more."
            f"{trailing if vehicle.rotary else ''}"
        ),
        know="The light reads what is locked, and the same at both speeds.",
        wrong="Spark that moves with speed: wrong edge, or a pickup's delay.",
        evidence="grid",
        grid="base_timing",
        about=TimingAsked(hold_deg=rules["start.timing_hold"], stop_deg=rules["start.timing_stop"], rpm=rpm),
        caution="Light leads and sleeves clear of belts and fan: under the light a running belt looks still.",
        tools=("timing light",),
        minutes=10,
    )


def oil(vehicle: SheetVehicle) -> Step:
    """The oil before the engine runs on its own: pressure while it cranks, or a pump that feeds."""
    four = not vehicle.oil_in_fuel
    # A rotary's chambers get theirs from a pump of their own, beside the sump's pressure.
    rotor = " The metering pump's lines to the rotors full, or premix in the tank where it is gone."
    return Step(
        "first-start.oil",
        "first-start",
        title="Oil pressure while it cranks" if four else "Oil feeds before it runs",
        do=(
            "Pump fuse out, crank for up to ten seconds: lamp out, or the gauge rises."
            f"{rotor if vehicle.rotary else ''}"
            if four
            else "Oil mixed in the tank, or its pump bled until no bubble comes."
        ),
        know="The lamp goes out, or the gauge moves." if four else "Oil, and no air, in its lines.",
        wrong="An engine that runs dry for a minute is worn out."
        if four
        else "A two-stroke without oil seizes.",
        evidence="answer",
        answers=(
            Answer("builds", "It builds" if four else "It feeds"),
            Answer(
                "not", "It does not", "stop", "Do not start it: level, filter, pump, sensor, in that order."
            ),
        ),
        caution="Out of gear, hands and leads clear of belts; not longer than ten seconds at a time.",
        minutes=3,
    )


def not_controlled(kits: Sequence[Kit]) -> Step | None:
    """What a standalone does not control, said once more before it runs."""
    if not any(kit.device == STANDALONE for kit in kits):
        return None
    return Step(
        "first-start.not_controlled",
        "first-start",
        title="Say again what this computer does not control",
        do="Automatic gearbox, cruise control, purge, whatever else its pin plan left out.",
        know="Each has another computer, a wire of its own, or the owner knows that it is gone.",
        wrong="A gearbox without its torque signal burns its clutches.",
        evidence="answer",
        answers=(
            Answer("known", "Each is provided for, or the owner knows"),
            Answer("open", "One is not", "hold", "Go back to the pin plan before it moves."),
        ),
        minutes=3,
    )


def by_hand_key_on(vehicle: SheetVehicle, rules: HouseRules, computer: bool) -> list[Step]:
    """Key on, engine still, read from the tester's screen: the pressure sensor, and a soak's temperatures."""
    steps = [
        Step(
            "first-start.map_key_on",
            "first-start",
            title="Key on: manifold pressure against the barometer",
            do="Key on, engine still: manifold pressure from the tester or the device's own live page.",
            know=f"The barometer of this altitude, {vehicle.barometer_kpa:.1f} kPa.",
            wrong="A sensor that reads wrong makes every fuel sum wrong.",
            evidence="reading",
            reading=ReadingWanted(
                "manifold pressure, key on",
                "pressure",
                "kPa",
                low=round(vehicle.barometer_kpa - rules["key_on.hold_kpa"], 2),
                high=round(vehicle.barometer_kpa + rules["key_on.hold_kpa"], 2),
                judge="key on",
            ),
            minutes=2,
        ),
        Step(
            "first-start.soak",
            "first-start",
            title=f"Key on: {vehicle.warmth} against intake air",
            do="Before the first start of the day: both temperatures from the tester.",
            know=f"Within {rules['key_on.soak_k']:g} K of each other, and neither at −40 nor above 130 °C.",
            wrong="A thermistor that is open or short rails, and fuel follows it.",
            evidence="answer",
            answers=(
                Answer("agree", f"Within {rules['key_on.soak_k']:g} K"),
                Answer("apart", "Further apart", "hold", "Find the one that is out, or wait."),
                Answer("rails", "One at −40 or above 130 °C", "stop", "Open or short: plug and wire."),
            ),
            minutes=2,
        ),
        Step(
            "first-start.pedal_learned",
            "first-start",
            title="Learn the throttle" if vehicle.throttle == "cable" else "Learn the pedal",
            do="By the maker's software: shut, open, shut; what each track reads, and half way.",
            know="0.3 to 4.7 V, 2 V of travel, both tracks within 5 % where there are two.",
            wrong="A track that is out is a limp mode at full throttle.",
            evidence="answer",
            answers=(
                Answer("learned", "Learned, within those limits"),
                Answer("out", "One is out", "hold", "Linkage, plug or sensor first, then learn again."),
            ),
            minutes=3,
        ),
    ]
    return steps if computer else steps[:1]


def by_hand_start(vehicle: SheetVehicle, kits: Sequence[Kit], rules: HouseRules) -> list[Step]:
    """The first start where nothing is written from here: answers and readings."""
    kinds = {kit.device for kit in kits}
    computer = bool(kinds & set(kinds_with(lambda record: record.written_here)))
    pressure = bool(kinds & set(kinds_with(lambda record: record.shows_pressure)))
    least, most, near = rules["start.charging_low"], rules["start.charging_high"], rules["start.idle"]
    idle = vehicle.idle_rpm
    steps = by_hand_key_on(vehicle, rules, computer) if pressure else []
    steps += [output_tests(vehicle, linked=False), oil(vehicle)] if computer else []
    steps += asked_by_kind(list(enumerate(kits, 1)), vehicle.cylinders, running=False)
    again = not_controlled(kits)
    steps += [again] if again else []
    steps += [
        Step(
            "first-start.running",
            "first-start",
            title="Start it and see that it runs true",
            do=f"{OIL[vehicle.oil_in_fuel]}; no smoke, no knock, every lamp out.",
            know="It idles by itself and answers the throttle.",
            wrong="A start that needs throttle to live is a fault.",
            evidence="answer",
            answers=(
                Answer("true", "Runs true"),
                Answer(
                    "rough",
                    "Runs, not true",
                    "hold",
                    "Find the cause before it is loaded: plugs, leaks, setting.",
                ),
                Answer("not", "Does not run", "hold", "Go back to stock settings and find the cause."),
            ),
            caution=before_start(vehicle.kind),
            minutes=5,
        ),
        *([base_timing(vehicle, rules, linked=False)] if STANDALONE in kinds and vehicle.petrol else []),
        Step(
            "first-start.charging",
            "first-start",
            title="Measure charging with the engine running",
            do="Meter at the battery's posts, at idle.",
            know=f"{least:g} to {most:g} V.",
            wrong="Injectors open later on a weak battery.",
            evidence="reading",
            reading=ReadingWanted("battery, running", "voltage", "V", low=least, high=most),
            tools=("multimeter",),
            minutes=3,
        ),
    ]
    # What nobody knows is no figure that could be met: the step asks for it first.
    low, high = (idle - near, idle + near) if idle else (0.0, 0.0)
    steps.append(
        Step(
            "first-start.idle",
            "first-start",
            title="Read the warm idle",
            do="Warm, everything off, from the tester or the dial.",
            know=f"Within {near:g} rpm of {f'{idle:g} rpm' if idle else 'its own idle, not known yet'}.",
            wrong="High: air past a seal. Low: mixture or spark.",
            evidence="reading",
            reading=ReadingWanted("warm idle", "engine_speed", "rpm", low=low, high=high),
            minutes=5,
        )
    )
    steps += asked_by_kind(list(enumerate(kits, 1)), vehicle.cylinders, running=True)
    if DeviceKind.injector_piggyback in kinds:
        steps.append(_trims(rules))
    return steps


def _trims(rules: HouseRules) -> Step:
    """Trims at this content; the other content is Correct's own check."""
    most = rules["trim.offset"]
    return Step(
        "first-start.trims",
        "first-start",
        title="Read the trims on what is in the tank",
        do="Warm idle, long and short trim together, from the tester.",
        know=f"Within {most:g} % either way; on the other content as well, which Correct asks for.",
        wrong="Trims that move with content are the curve's error.",
        evidence="reading",
        reading=ReadingWanted("long and short trim", "fraction", "%", low=-most, high=most),
        minutes=4,
    )
