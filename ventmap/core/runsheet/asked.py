"""What a step's grid needs to know of the vehicle, the kit and the house: one record for each kind of
grid.
"""

from __future__ import annotations

from ..basics import AccessItem, CodeField, Fastening, Record
from ..electrics import Interlock, Output

#: Faces of a rotor.
FACES = 3


class Asked(Record):
    """What a grid is told."""


class RotorAsked(Asked):
    """How far the faces of one rotor, and the weakest faces of two, may lie apart [kPa]."""

    face_kpa: float
    rotor_kpa: float


class CompressionAsked(Asked):
    """Least and most of the maker [kPa], None where nobody knows them; spread allowed, and air a cylinder may
    lose (fractions). `rotor`: cylinders are rotors, each read on three faces; `places`: what is read, one
    after the other, where that is no cylinder.
    """

    cylinders: int
    low: float | None
    high: float | None
    spread: float
    leak_most: float
    rotor: RotorAsked | None = None
    places: tuple[str, ...] = ()


class SetAsked(Asked):
    """How many injectors make the set; flow spread that is good and that is usable (fractions)."""

    count: int
    good: float = 0.02
    usable: float = 0.04


class CodesAsked(Asked):
    """Fields of the code on each body."""

    cylinders: int
    fields: tuple[CodeField, ...]


class SealsAsked(Asked):
    """Time from the last die to seated [s]."""

    cylinders: int
    seconds: float


class SidesAsked(Asked):
    """Injector plugs, and the pins of each."""

    plugs: tuple[str, ...]
    pins: tuple[str, ...]
    banks: int = 1


class PinsAsked(Asked):
    """Functions that the device needs, each on exactly one pin."""

    needs: tuple[str, ...] = ()


class GroundsAsked(Asked):
    """Grounds to measure, at rest or while `cranking`, and the drop allowed [V]."""

    grounds: tuple[str, ...]
    cranking: bool = False
    static_v: float = 0.05
    cranking_v: float = 0.2


class WrenchAtHand(Asked):
    """A torque wrench by the top of its range [N·m]."""

    name: str
    high_nm: float


class TorqueAsked(Asked):
    """The maker's list, the school, and the wrenches on the wall; `wrench_low` is the share of a range
    from which it is true.
    """

    fasteners: tuple[Fastening, ...]
    snug_allowed: bool = False
    wrenches: tuple[WrenchAtHand, ...] = ()
    wrench_low: float = 0.2


class AccessAsked(Asked):
    """What comes off, in its order."""

    items: tuple[AccessItem, ...]


class RefitAsked(Asked):
    """What goes back, in its order; whether what is left over is `counted` here; school and wrenches as in a
    torque list.
    """

    items: tuple[AccessItem, ...]
    counted: bool = True
    snug_allowed: bool = False
    wrenches: tuple[WrenchAtHand, ...] = ()
    wrench_low: float = 0.2


class CheckRow(Asked):
    """One point: what is looked at, why, the words of each answer, which of them are good, and its cure.
    `protects`: any other answer is then a stop that nobody overrules.
    """

    key: str
    title: str
    why: str
    answers: dict[str, str]
    good: tuple[str, ...] = ("yes",)
    do_next: str
    protects: str = ""


class ChecksAsked(Asked):
    """Points that are answered one by one."""

    rows: tuple[CheckRow, ...]


class PlugAsked(Asked):
    """A plug that a sheet names: which other it looks like, what to mind."""

    name: str
    like: str = ""
    note: str = ""
    whose: str = "stock"


class PlugsAsked(Asked):
    """Plugs to begin the list with, and the usual lock."""

    begin: tuple[PlugAsked, ...] = ()
    locks: str = ""


class OutputsAsked(Asked):
    """What is tried, what has to be so first, and what a person may answer."""

    outputs: tuple[Output, ...]
    interlocks: tuple[Interlock, ...]
    answers: dict[str, str]


class TimingAsked(Asked):
    """Spark locked for the light [°], what holds and stops [°], and the speed of the second reading [rpm]."""

    locked_deg: float = 10.0
    hold_deg: float = 1.0
    stop_deg: float = 5.0
    rpm: float = 3000.0


class BoardRow(Asked):
    """A row of the board before a write: what it asks, and the words of each answer."""

    key: str
    title: str
    answers: dict[str, str]


class BoardAsked(Asked):
    """Rows that a person answers where a device's own tool writes; titles and words come with them."""

    keys: tuple[str, ...]
    rows: tuple[BoardRow, ...] = ()
    #: Kind of vehicle, in whose words it asks.
    vehicle: str = ""
    #: Rows that a link reads here.
    reads: tuple[str, ...] = ()
