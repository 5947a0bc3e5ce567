"""What else is fitted beside the kit: what each needs, and the two points at which it proves itself."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from pydantic import Field

from ..basics import Record
from .asked import CheckRow, ChecksAsked
from .make_safe import FUEL_GATE
from .model import Beside, Step
from .opening import CAUTIONS

_POWER = (
    "power",
    "Power from a fused feed that the key switches",
    "Find a switched feed; fuse it by its wire.",
)
_GROUND = ("ground", "Ground on bare metal, not shared with coils or pumps", "Give it a ground of its own.")
_SIGNAL = ("signal", "Its signal on the pin that the plan names", "Put the pin right, and the plan with it.")
_CURVE = (
    "curve",
    "Its curve is in the device: its type, by its maker's table",
    "Enter the table of its type.",
)
_TIGHT = ("tight", "Tight, clear of heat and of what moves", "Set it right before the engine runs.")
_PORT = ("port", "In a port that sees what it is to read", "Move it: a dead leg reads late or not at all.")


@dataclass(frozen=True)
class BesideKind:
    """A kind of part.

    Parameters
    ----------
    title : str
    needs : tuple of (key, what has to be so, cure)
    points : tuple of (what is done, what it has to show)
        Two, apart from each other: one alone is right by chance.
    opens : str
        What is opened for it, always.
    """

    title: str
    needs: tuple[tuple[str, str, str], ...]
    points: tuple[tuple[str, str], ...]
    opens: str = ""


#: The set that is on the engine comes out and goes in again; its steps are those of a new set.
SERVICE = "injectors"

KINDS: Mapping[str, BesideKind] = {
    "wideband": BesideKind(
        "Wideband probe and its controller",
        (
            _POWER,
            _GROUND,
            _SIGNAL,
            _CURVE,
            ("heat", "Never powered cold in a running exhaust", "Heater on first."),
        ),
        (
            ("In free air, heater warm", "It reads its lean end"),
            ("On the overrun, fuel cut", "It goes to its lean end at once, and comes back with the pedal"),
        ),
    ),
    "pressure": BesideKind(
        "Pressure sensor",
        (_POWER, _GROUND, _SIGNAL, _CURVE, _PORT),
        (
            ("Key on, engine off", "It reads the barometer; a gauge type nought"),
            ("By a hand pump, or at idle", "It follows the pump's gauge; at idle well below the barometer"),
        ),
    ),
    "temperature": BesideKind(
        "Temperature sensor",
        (_SIGNAL, _GROUND, _CURVE, _PORT),
        (
            ("After a night's soak", "Within 5 °C of the air"),
            ("Warm", "Within 5 °C of a probe beside it"),
        ),
    ),
    "bus": BesideKind(
        "Module on the bus",
        (
            _POWER,
            _GROUND,
            ("address", "Its address is free, and noted", "Give it another: two on one answer both."),
        ),
        (
            ("Key on, asked by its address", "It answers"),
            ("Power off, across the pair", "60 Ω, as before it was fitted"),
        ),
    ),
    "relay": BesideKind(
        "Relay",
        (
            _POWER,
            _GROUND,
            ("fuse", "Fuse at the battery end, by its wire", "Put the fuse where the wire begins."),
        ),
        (
            ("Driven", "It clicks, and the battery's voltage stands at what it feeds, within 0.3 V"),
            ("Let go", "No voltage there"),
        ),
    ),
    "switch": BesideKind(
        "Switch or input",
        (_SIGNAL, _GROUND, _TIGHT),
        (("On", "The device shows on"), ("Off", "The device shows off")),
    ),
    "air": BesideKind(
        "Filter, trumpet or pipe of the intake",
        (
            _TIGHT,
            ("sealed", "Seals seated, clamps turned, nothing left in the duct", "Open it, look, close it."),
        ),
        (
            ("At idle, sprayed or smoked at each joint", "Idle and trims do not move"),
            ("After the first warm run", "No joint has moved or whistles"),
        ),
    ),
    "exhaust": BesideKind(
        "Exhaust part",
        (
            _TIGHT,
            ("gasket", "New gaskets, probes back in their own bungs", "Put new ones in; probes by label."),
        ),
        (
            ("Cold, at each joint", "No puff at a hand's breadth"),
            ("After the first warm run", "Tight still; nothing beside it is scorched"),
        ),
    ),
    SERVICE: BesideKind(
        "Injectors, out and in again",
        (),
        (
            ("Key on, primed, five minutes standing", "Rail pressure stays, and no injector drips"),
            ("Warm idle", "Even: no cylinder misses, trims within their limit"),
        ),
        opens="fuel",
    ),
    "fuel": BesideKind(
        "Filter, line, regulator or sensor of the fuel",
        (
            _TIGHT,
            ("flow", "The right way round, by its arrow", "Turn it."),
            ("seals", "New seals, unions counter-held, clips locked", "Open it once more; new seals."),
        ),
        (
            ("Key on, primed twice, every joint in the lamp", "Dry"),
            ("Warm, at idle, a gauge on it", "The pressure that belongs there, and it stays"),
        ),
        opens="fuel",
    ),
    "cooling": BesideKind(
        "Thermostat, cooler, hose or sensor of the cooling",
        (_TIGHT, ("seals", "New seals, faces clean", "Open it once more; new seals.")),
        (
            ("Cold, filled and bled", "Dry at every joint"),
            ("Warm, fan on and off again", "At its own temperature; the level has not fallen"),
        ),
        opens="coolant",
    ),
    "oil": BesideKind(
        "Cooler, feed, adapter or sender of the oil",
        (_TIGHT, ("seals", "New seals, threads clean", "Open it once more; new seals.")),
        (
            ("While it cranks", "Pressure builds, and every joint is dry"),
            ("Warm", "Pressure as before; dry still"),
        ),
        opens="oil",
    ),
}


class BesideTyped(Record):
    """A part as it is typed in Plan; one without a number is new."""

    kind: Literal[
        "wideband",
        "pressure",
        "temperature",
        "bus",
        "relay",
        "switch",
        "air",
        "exhaust",
        "injectors",
        "fuel",
        "cooling",
        "oil",
    ]
    name: str = Field("", max_length=60)
    opens: Literal["", "fuel", "coolant", "oil"] = ""
    number: int = Field(0, ge=0)


def _named(part: Beside) -> str:
    return part.name or KINDS[part.kind].title


def numbered(
    typed: Sequence[BesideTyped], stood: Sequence[BesideTyped], last: int
) -> tuple[tuple[BesideTyped, ...], int]:
    """Parts with their numbers, and the last that was given: what was answered of a part is never another's.

    Parameters
    ----------
    typed, stood : sequence of BesideTyped
        As they are typed now, and as they stood.
    last : int
        The last number that was given on this job.
    """
    kinds = {part.number: part.kind for part in stood}
    found: list[BesideTyped] = []
    for part in typed:
        same = kinds.pop(part.number, None) == part.kind
        last = last if same else last + 1
        found.append(part if same else part.model_copy(update={"number": last}))
    return tuple(found), last


def opened_for(part: Beside) -> Beside:
    """A part with what is opened for it: by its kind, else what was said."""
    return replace(part, opens=KINDS[part.kind].opens or part.opens)


def fitted_besides(parts: Sequence[Beside]) -> list[Step]:
    """One step a part: what it needs, before there is power."""
    steps = []
    for part in parts:
        if part.kind == SERVICE:
            continue
        rows = tuple(
            CheckRow(key=key, title=what, why="", answers={"yes": "It is so", "no": "Not so"}, do_next=cure)
            for key, what, cure in KINDS[part.kind].needs
        )
        steps.append(
            Step(
                f"fit.besides_{part.number}",
                "fit",
                title=f"Fit {_named(part)}"[:72],
                do="As its sheet has it; then answer what it needs.",
                know="Every point is so.",
                wrong="A part that is fed or grounded wrong reads wrong, and the map is blamed.",
                evidence="grid",
                grid="checks",
                about=ChecksAsked(rows=rows),
                caution=CAUTIONS.get(part.opens, ""),
                needs={"fuel": FUEL_GATE, "coolant": ("make-safe.drain",)}.get(part.opens, ()),
                opens="" if part.opens == "fuel" else part.opens,
                minutes=20.0,
            )
        )
    return steps


def proven_besides(parts: Sequence[Beside]) -> list[Step]:
    """One step a part: it reads right at two points that lie apart."""
    steps = []
    for part in parts:
        rows = tuple(
            CheckRow(
                key=f"{n}",
                title=done,
                why=shows,
                answers={"yes": "It does", "no": "It does not"},
                do_next="Feed, ground, pin and curve again: nothing is judged by it before it reads right.",
            )
            for n, (done, shows) in enumerate(KINDS[part.kind].points, 1)
        )
        steps.append(
            Step(
                f"first-start.besides_{part.number}",
                "first-start",
                title=f"{_named(part)}: right at two points"[:72],
                do="Both, with its reading in view; one alone is right by chance.",
                know="Right at both.",
                wrong="What reads wrong here is believed in every log after.",
                evidence="grid",
                grid="checks",
                about=ChecksAsked(rows=rows),
                needs=("fit.blow",) if part.kind == SERVICE else (f"fit.besides_{part.number}",),
                minutes=6.0,
            )
        )
    return steps
