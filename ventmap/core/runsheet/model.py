"""What a run sheet is made of."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from ..basics import SEA_LEVEL_KPA, AccessItem, Device, HouseRules, Injector, kinds_with
from .asked import Asked


@dataclass(frozen=True)
class ReadingWanted:
    """A reading that a step asks for, and the limits it must keep.

    `protects`: a reading outside its limits is then a stop that nobody overrules, not a hold.
    `judge`: a rule of its own instead of limits: ``"can"``, ``"write"`` for the battery of a write, or
    ``"key on"`` for a pressure sensor against the barometer.
    """

    label: str
    quantity: str
    unit: str
    low: float | None = None
    high: float | None = None
    protects: str = ""
    judge: str = ""


#: What shows that a step was done. *Words* are what a device reads back, typed; *auto* is done by the work on
#: the screen itself.
EvidenceKind = Literal["tick", "reading", "answer", "photo", "timer", "grid", "words", "auto"]


@dataclass(frozen=True)
class Answer:
    """One possible answer to a step that asks what is seen; its verdict is a word of `Verdict`."""

    key: str
    label: str
    verdict: str = "go"
    advice: str = "Noted."


#: Steps without a caution of their own that protect all the same.
SAFETY = (
    "fit.grounds",
    "fit.ground_drop",
    "fit.torque",
    "fit.shift_rod",
    "first-start.leaks",
    "first-start.both_sensors",
    "first-start.all_injectors",
    "first-start.gear_display",
    "intake.leaks",
)


#: Whatever the reason: the owner is told, and what lies open is shut.
NEVER_ASIDE = ("hand-over.told", "fit.earlier")
#: Steps of a screen that need a logger or a drum.
WITH_MEANS = ("baseline.log", "baseline.runs", "log.review", "correct.done", "prove.runs", "prove.claim")


@dataclass(frozen=True)
class Step:
    """One step.

    Parameters
    ----------
    key : str
        ``"<stage>.<name>"``, stable over revisions.
    stage : str
    title, do, know, wrong : str
        What to do, how you know it is right, what goes wrong.
    evidence : EvidenceKind
    caution : str
        Shown before the step, where it can hurt someone.
    reading : ReadingWanted, optional
    answers : tuple of Answer
    grid : str
        Name of the grid that is its evidence.
    about : Asked, optional
        What the grid needs to know: plugs, fasteners, codes.
    seconds : float
        Length of a timer.
    needs : tuple of str
        Keys of steps that must be done before.
    beware : str
        A look-alike partner or a plug that goes on both ways: shown before it is touched.
    tools, consumables : tuple of str
    minutes : float
        A person's time.
    shows : str
        Key of a step whose result is needed here, and shown.
    hint : str
        What words are to hold, where words are the evidence.
    firm : bool
        A wait that nothing is read after: the clock is what protects, and nobody ends it early.
    because : str
        The fact of this job that brings it in; empty where every job asks it.
    opens : str
        What it opens beside fuel, which its needs tell: ``"coolant"``, ``"oil"``.
    shuts : str
        What it shuts again that an earlier step opened: ``"fuel"``.
    begun : bool
        Work of it has begun, by the memory of the job: what it leaves open is open until it is done.
    """

    key: str
    stage: str
    title: str
    do: str = ""
    know: str = ""
    wrong: str = ""
    evidence: EvidenceKind = "tick"
    caution: str = ""
    reading: ReadingWanted | None = None
    answers: tuple[Answer, ...] = ()
    grid: str = ""
    about: Asked | None = None
    seconds: float = 0.0
    needs: tuple[str, ...] = ()
    beware: str = ""
    tools: tuple[str, ...] = ()
    consumables: tuple[str, ...] = ()
    minutes: float = 5.0
    shows: str = ""
    hint: str = "each setting: old, new"
    firm: bool = False
    because: str = ""
    opens: str = ""
    shuts: str = ""
    begun: bool = False

    @property
    def aside(self) -> bool:
        """A person may say that it does not apply; of what its own screen does, only where a shop may lack
        the means: a logger, a drum.
        """
        return self.key not in NEVER_ASIDE and (self.evidence != "auto" or self.key in WITH_MEANS)

    @property
    def safety(self) -> bool:
        """It protects people or the computer: open, or set aside with a reason, but never passed over."""
        return bool(self.caution) or self.stage == "make-safe" or self.key in SAFETY


@dataclass(frozen=True)
class Beside:
    """A part that is fitted beside the kit: its kind, what it is called here, what is opened for it, and its
    number on this job, which no other part gets after it.
    """

    kind: str
    name: str = ""
    opens: str = ""
    number: int = 1


@dataclass(frozen=True)
class Begun:
    """Work on the vehicle that somebody began: the step that asked it, whether it opens fuel, and the stop
    that was found at it.
    """

    key: str
    title: str
    fuel: bool = False
    found: str = ""


@dataclass(frozen=True)
class SheetVehicle:
    """What the sheet needs of a vehicle; what is None is not known yet, and the cautious way is written."""

    cylinders: int
    injection: str = "port"
    stroke: int = 4
    rotary: bool = False
    air_cooled: bool = False  # no coolant: its head is read in its place
    automatic: bool | None = None  # gearbox; None: nobody said it
    kind: str = "car"
    two_batteries: bool | None = None
    hybrid: bool | None = None
    airbag_near: bool | None = None
    feed_kpa: float | None = None
    fuel_wait_s: float | None = None  # the maker's wait before the high-pressure side is opened
    sleep_s: float | None = None  # until its modules sleep
    compression_kpa: tuple[float, float] | None = None
    compression_spread: float = 0.15
    power_rise: float | None = None  # fraction by which the goal exceeds stock power
    variants: bool = False
    ron: float | None = None  # octane in the tank
    banks: int | None = None
    throttle: str = "electronic"  # or a cable's
    prepared: bool = True  # its engine can be run here: maps are written and logs captured on the link
    idle_rpm: float | None = None
    barometer_kpa: float = SEA_LEVEL_KPA
    complaint: bool = False
    complaints: tuple[str, ...] = ()  # what somebody complains of, each by itself
    more_power: bool = False  # a goal above stock power, or above one that nobody knows
    access: tuple[AccessItem, ...] | None = None  # what comes off to reach the work; None: nobody said it
    besides: tuple[Beside, ...] = ()
    found: tuple[str, ...] = ()  # steps at which something was found that is not put right
    begun: tuple[Begun, ...] = ()  # work that was begun on it
    off: tuple[AccessItem, ...] = ()  # what came off it, by what was entered
    earlier: tuple[Begun, ...] = ()  # of what was begun, what its sheet does not ask: `build` finds it
    rail_bolt_nm: float | None = None
    stock_injectors: Injector | None = None  # the set that is on it, where its sheet is known
    look_alike_parts: tuple[str, ...] | None = None  # "line of cylinder 6: longer than the others"

    @property
    def high_pressure(self) -> bool:
        return self.injection in ("direct", "both", "diesel")

    @property
    def oil_in_fuel(self) -> bool:
        """A two-stroke: oil feeds, and has no pressure; a rotary has a sump and a pump."""
        return self.stroke == 2 and not self.rotary

    @property
    def warmth(self) -> str:
        """What is read to know how warm the engine is."""
        return "head" if self.air_cooled else "coolant"

    @property
    def petrol(self) -> bool:
        return self.injection != "diesel"


@dataclass(frozen=True)
class Kit:
    """A device and what is fitted with it.

    Parameters
    ----------
    device : str
        Its kind, a `DeviceKind`; empty where fuel parts go on alone.
    injectors : str, optional
        New injectors; None where those on the engine stay.
    name : str
    hose : bool
        It needs a manifold-pressure hose.
    off_s : float
        Its own ignition-off time [s]; None where nobody knows it yet.
    about : Device, optional
        Its record on the shelf: twin and reversible plugs, look-alikes, grounds, torque list.
    injector_about : Injector, optional
        Record of the new injectors.
    injector_work : tuple of str
        What they need to go in: adapters, spacers, collars, leads.
    """

    device: str
    injectors: str | None = None
    hose: bool = True
    off_s: float | None = None
    rail_bolt_nm: float | None = None
    name: str = ""
    about: Device | None = None
    injector_about: Injector | None = None
    injector_work: tuple[str, ...] = ()
    pump: str | None = None

    @property
    def opens_fuel(self) -> bool:
        return bool(self.injectors or self.pump or (self.about and self.about.ethanol_sensor))

    @property
    def port_only(self) -> bool:
        """It opens nothing: it works through the diagnostic port, and needs the battery for that."""
        return self.device in PORT_ONLY and not self.opens_fuel


#: Kinds that open no connector of the engine: no grounds to measure, nothing to route.
PORT_ONLY = kinds_with(lambda record: record.rewrites_stock)


@dataclass(frozen=True)
class RunSheet:
    steps: tuple[Step, ...]

    def of(self, stage: str) -> list[Step]:
        return [step for step in self.steps if step.stage == stage]

    def next_open(self, done: Sequence[str]) -> Step | None:
        """The first step that is not done and can be done: what it needs is done before it."""
        ended = set(done)
        keys = {step.key for step in self.steps}
        still = [step for step in self.steps if step.key not in ended]
        ready = (step for step in still if not any(n in keys and n not in ended for n in step.needs))
        return next(ready, still[0] if still else None)


@dataclass(frozen=True)
class Change:
    """A new kit, and the keys of the steps that are already done."""

    vehicle: SheetVehicle
    kits: tuple[Kit, ...]
    goal: str
    house_rules: HouseRules
    done: tuple[str, ...] = ()
