"""What a review is told, and what it finds."""

from __future__ import annotations

from dataclasses import dataclass, field
from hashlib import sha256

from ..basics import Evidence, HouseRules, Verdict
from ..logs import Window


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
    window_deg : float, optional
        Window of direct injection [° of crank].
    device : str
        Kind of the device that is fitted, for what to do next.
    ethanol : float, optional
        Fraction in the tank.
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
    concerns : tuple of str
        What the job is about, of `CONCERNS`: a log in which that could not be checked is no *go*.
    rules : HouseRules
    """

    induction: str = "none"
    injection: str = "port"
    stroke: int = 4
    window_deg: float | None = None
    device: str = ""
    ethanol: float | None = None
    idle_target: float | None = None
    altitude_m: float | None = None
    baseline_boost_kpa: float | None = None
    rev_limit: float | None = None
    cylinders: int | None = None
    banks: int | None = None
    added_boost_kpa: float | None = None
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
    def spark(self) -> bool:
        return self.injection != "diesel"


#: What a job may be about, and the kinds of finding of which one at least tells of it.
CONCERNS: dict[str, tuple[str, ...]] = {
    "boost": ("boost_plateau_low",),
    "mixture": ("lean_under_load",),
    "pressure": ("fuel_pressure_drop",),
    "knock": ("knock",),
    "smoke": ("smoke", "exhaust_hot"),
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
