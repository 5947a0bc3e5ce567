"""What is typed into a grid: cells as they were typed, in the shape of each grid."""

from __future__ import annotations

from pydantic import ConfigDict, Field

from ..basics import Record

#: A cell as it was typed; empty where nothing was.
Cell = str | int | float | None


class Typed(Record):
    """Entries of a grid; what a screen keeps beside them is passed over."""

    model_config = ConfigDict(extra="ignore")


class CompressionData(Typed):
    """`kpa` or, where `how` says leak-down, `leak`: a cell for each cylinder."""

    how: str = ""
    kpa: tuple[Cell, ...] = ()
    leak: tuple[Cell, ...] = ()


class SetData(Typed):
    """Number and revision of each injector, and its measured flow where a sheet came with them."""

    revisions: tuple[Cell, ...] = ()
    flows: tuple[Cell, ...] = ()


class CodesData(Typed):
    """For each cylinder a cell for each field: as read on the body, as the computer held it before, and as it
    says after entry.
    """

    codes: tuple[tuple[Cell, ...], ...] = ()
    before: tuple[tuple[Cell, ...], ...] = ()
    read: tuple[tuple[Cell, ...], ...] = ()


class Seal(Typed):
    """Seconds from the last die to seated; None while open."""

    cylinder: int
    seconds: float | None = None


class SealsData(Typed):
    seals: tuple[Seal, ...] = ()


class Reading(Typed):
    """Two pins, each a plug and a pin, and whether they beep."""

    a: tuple[Cell, Cell]
    b: tuple[Cell, Cell]
    beeps: bool


class SidesData(Typed):
    readings: tuple[Reading, ...] = ()


class PinEntry(Typed):
    """A line of the pin plan."""

    connector: Cell = None
    number: Cell = None
    colour: Cell = None
    function: Cell = None
    action: Cell = None
    to: Cell = None
    insulated: bool | None = None
    damaged: Cell = None
    label: Cell = None


class PinsData(Typed):
    rows: tuple[PinEntry, ...] = ()


class GroundEntry(Typed):
    """Voltage drop of a ground at rest and cranking."""

    name: str
    static: Cell = None
    cranking: Cell = None


class GroundsData(Typed):
    rows: tuple[GroundEntry, ...] = ()


class TorqueEntry(Typed):
    """Torque applied, the wrench by the top of its range, or done by feel."""

    name: str
    applied: Cell = None
    wrench: Cell = None
    snug: bool | None = Field(default=None)


class TorqueData(Typed):
    rows: tuple[TorqueEntry, ...] = ()


class AccessEntry(Typed):
    """Whether a thing is off, and what was found on the way that its list does not say."""

    name: str
    off: bool = False
    found: str = ""


class AccessData(Typed):
    rows: tuple[AccessEntry, ...] = ()


class RefitEntry(TorqueEntry):
    """Whether a thing is back, and what had to be new is."""

    back: bool = False
    renewed: bool = False


class RefitData(Typed):
    """`left`: how many fasteners and clips are left over."""

    rows: tuple[RefitEntry, ...] = ()
    left: Cell = None


class ChecksData(Typed):
    """Point → answer."""

    answers: dict[str, str] = {}


class PlugEntry(Typed):
    """A plug: its place and what it is for, its lock and second lock, which other it looks like, whose it is,
    and how it stands: ``stock``, ``pulled``, ``covered``, ``in line``, ``seated`` or ``tugged``.
    """

    name: str = ""
    place: str = ""
    lock: str = ""
    second: bool = False
    like: str = ""
    labelled: bool = False
    whose: str = "stock"
    state: str = ""


class PlugsData(Typed):
    rows: tuple[PlugEntry, ...] = ()


class OutputEntry(Typed):
    """What one output test showed, the current that was measured [A], and what was confirmed then."""

    key: str
    seen: str = ""
    amps: float | None = None
    confirmed: tuple[str, ...] = ()


class OutputsData(Typed):
    """Tests, and the keys of what is confirmed now."""

    rows: tuple[OutputEntry, ...] = ()
    interlocks: tuple[str, ...] = ()


class TimingData(Typed):
    """Light and offsets in degrees: read first, offset as it was and as set, read again, read faster."""

    read: Cell = None
    old: Cell = None
    new: Cell = None
    again: Cell = None
    high: Cell = None


class BoardRead(Typed):
    """A row of the board as a link read it, and what it read in words."""

    answer: str
    told: str


class BoardData(Typed):
    """Row of the board → answer."""

    answers: dict[str, str] = {}
    #: Rows that a link read: they stand whatever was answered.
    read: dict[str, BoardRead] = {}
