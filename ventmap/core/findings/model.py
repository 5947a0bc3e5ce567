"""What a review is told, and what it finds."""

from __future__ import annotations

from dataclasses import dataclass, field
from hashlib import sha256

from ..basics import Evidence, HouseRules, Verdict
from ..fuel import blend, pulse_multiplier
from ..logs import Probe, Window


@dataclass(frozen=True)
class ReviewContext:
    """What is known of the vehicle beside its log.

    Parameters
    ----------
    induction : str
        ``"turbo"``, ``"blower"``, ``"none"``; ``"unknown"`` judges pressure above the barometer as boost.
    injection : str
        ``"port"``, ``"direct"``, ``"both"``, ``"diesel"``; a diesel has no mixture target, spark or knock
        sensor.
    stroke : int
        4 or 2.
    rotary : bool
        Rotors in place of pistons: fed at each turn of the shaft, and broken by the first knock.
    air_cooled : bool
        No coolant flows: the head, or the oil, tells whether it is warm.
    belt : bool
        It drives through a belt: speed of the engine is no road speed, and nothing shifts.
    manual : bool
        Whether a foot changes its gears, through a clutch; nobody knows it of a log without a vehicle.
    probe : Probe
        What a mixture probe reads in this exhaust.
    window_deg : float, optional
        Window of direct injection [° of crank].
    device : str
        Kind of the device that is fitted, for what to do next.
    ethanol : float, optional
        Fraction in the tank.
    most_ethanol : float, optional
        Most that this kit will run [fraction].
    box_lengthens : bool
        Whether a box lengthens the pulses behind the computer that wrote the log.
    idle_target : float, optional
        The vehicle's own idle speed [rpm].
    altitude_m : float, optional
        Of the place, where the log holds no barometer [m].
    baseline_boost_kpa : float, optional
        Peak manifold pressure of the healthy vehicle [kPa].
    rev_limit : float, optional
        Of the map that is in, or the vehicle's own [rpm].
    cylinders, banks : int, optional
        Of the vehicle: a log that shows others is not of it.
    added_boost_kpa : float, optional
        What a sensor piggyback may add to the stock computer's target [kPa].
    level_adds : tuple of (float, float)
        Boost that the level that is set adds: speed [rpm], pressure [kPa]; empty where no level is in.
    level_warm_up_s : float, optional
        Its delay after a start [s].
    concerns : tuple of str
        What the job is about, of `CONCERNS`: a log in which that could not be checked is no *go*.
    rules : HouseRules
    """

    induction: str = "none"
    injection: str = "port"
    stroke: int = 4
    rotary: bool = False
    air_cooled: bool = False
    belt: bool = False
    manual: bool = False
    probe: Probe = Probe()
    window_deg: float | None = None
    device: str = ""
    ethanol: float | None = None
    most_ethanol: float | None = None
    box_lengthens: bool = False
    idle_target: float | None = None
    altitude_m: float | None = None
    baseline_boost_kpa: float | None = None
    rev_limit: float | None = None
    cylinders: int | None = None
    banks: int | None = None
    added_boost_kpa: float | None = None
    level_adds: tuple[tuple[float, float], ...] = ()
    level_warm_up_s: float | None = None
    concerns: tuple[str, ...] = ()
    rules: HouseRules = field(default_factory=HouseRules)

    @property
    def mark(self) -> str:
        """The same for the same context: of another variant, limit or rule the same log means something
        else.
        """
        told = {**vars(self), "rules": sorted(self.rules.changed.items())}
        return sha256(repr(sorted(told.items())).encode()).hexdigest()[:16]

    @property
    def oil_in_fuel(self) -> bool:
        """A two-stroke: oil feeds, and has no pressure; a rotary has a sump and a pump."""
        return self.stroke == 2 and not self.rotary

    @property
    def injection_stroke(self) -> int:
        """Stroke cycle by an injector's period: a rotor, like a two-stroke, is fed at each turn."""
        return 2 if self.rotary else self.stroke

    @property
    def pulse_now(self) -> float:
        """True pulse over the logged one."""
        return pulse_multiplier(blend(self.ethanol or 0.0)) if self.box_lengthens and self.spark else 1.0

    @property
    def pulse_at_most(self) -> float:
        """Pulse on the most ethanol that this kit runs over the true one of this log."""
        if self.most_ethanol is None or not self.spark:
            return 1.0
        most, now = max(self.most_ethanol, self.ethanol or 0.0), self.ethanol or 0.0
        return pulse_multiplier(blend(most)) / pulse_multiplier(blend(now))

    @property
    def spark(self) -> bool:
        return self.injection != "diesel"


#: What a job may be about, and the kinds of finding of which one at least tells of it.
CONCERNS: dict[str, tuple[str, ...]] = {
    "boost": ("boost_plateau_low",),
    "mixture": ("lean_under_load",),
    "pressure": ("fuel_pressure_drop",),
    "knock": ("knock",),
    "smoke": ("smoke", "exhaust_hot"),
    "level": ("level_asleep",),
}


@dataclass(frozen=True)
class Finding:
    """Something a log shows: where, with which numbers, from what, and what to do."""

    kind: str
    verdict: Verdict
    title: str
    from_s: float
    to_s: float
    evidence: tuple[Evidence, ...]
    causes: tuple[str, ...]
    check: str
    next: str


@dataclass(frozen=True)
class NotCheckable:
    """A kind that this log cannot show, the channels it lacks, and columns that may be these: say what they
    are.
    """

    kind: str
    missing: tuple[str, ...]
    perhaps: tuple[str, ...] = ()


@dataclass(frozen=True)
class Review:
    """What a log shows, what was looked for, and what could not be."""

    findings: tuple[Finding, ...]
    checked: tuple[str, ...]
    not_checkable: tuple[NotCheckable, ...]
    windows: tuple[Window, ...]
    judged_by: str = ""
