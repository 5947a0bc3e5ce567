"""Gears: which one a drive is made in, and how fast that is on the road."""

from __future__ import annotations

import re
from dataclasses import dataclass
from math import log, pi

from ..basics import BadInput, Vehicle
from .tyres import RATINGS, diameter_mm, letter_for

#: A pull is made in this gear, or the highest that there is: long enough to see, not too fast.
PULL_GEAR = 3
#: Slower than this an engine is not driven steadily [km/h].
CREEP_KMH = 15.0
_ORDINALS = {1: "1st", 2: "2nd", 3: "3rd"}


@dataclass(frozen=True)
class DrumGear:
    """A gear for runs on a drum.

    Parameters
    ----------
    gear : int
    ratio : float
        Of the gearbox alone.
    kmh : float
        At the limiter [km/h].
    letter : str
        The least speed rating that the tyres must have; empty where none allows it.
    too_fast : bool
        Even so it is faster than drum or tyres may turn.
    lower : bool
        A gear nearer to 1:1 is there and too fast.
    """

    gear: int
    ratio: float
    kmh: float
    letter: str
    too_fast: bool
    lower: bool

    @property
    def told(self) -> str:
        """``4th``"""
        return _ORDINALS.get(self.gear, f"{self.gear}th")


@dataclass(frozen=True)
class Gearing:
    """What lies between engine and road.

    Parameters
    ----------
    overall : tuple of float
        Turns of the engine for one of the wheel, first gear first.
    tyre_mm : float
        Diameter of the driven tyre [mm].
    final : float
        Final drive, part of `overall`.
    """

    overall: tuple[float, ...]
    tyre_mm: float
    final: float = 1.0

    def kmh(self, gear: int, rpm: float) -> float:
        """Road speed in a gear [km/h]; nothing slips."""
        return rpm / self.overall[gear - 1] * pi * self.tyre_mm * 60.0 / 1e6

    def pull(self) -> int:
        """The gear of a pull."""
        return min(PULL_GEAR, len(self.overall))

    def on_drum(self, rev_limit: float, most_kmh: float, made_in: int | None = None) -> DrumGear:
        """The gear for runs on a drum: nearest to 1:1, where least is lost and the ratio is known best, and
        no faster at the limiter than drum and tyres may turn; the first where every gear is.

        Parameters
        ----------
        rev_limit : float
            To which it is pulled [rpm].
        most_kmh : float
            That the drum may turn [km/h].
        made_in : int, optional
            The gear of the runs that there are: the others are made in it.
        """
        gears = range(1, len(self.overall) + 1)
        most = min(most_kmh, float(max(RATINGS.values())))
        slow = [gear for gear in gears if self.kmh(gear, rev_limit) <= most] or [1]
        gear = min(slow, key=lambda one: abs(log(self.overall[one - 1] / self.final)))
        if made_in is not None and made_in in gears:
            gear = made_in
        nearest = min(gears, key=lambda one: abs(log(self.overall[one - 1] / self.final)))
        kmh = self.kmh(gear, rev_limit)
        return DrumGear(
            gear,
            self.overall[gear - 1] / self.final,
            kmh,
            letter_for(kmh),
            kmh > most,
            gear < nearest and gear != made_in,
        )

    def steady(self, from_rpm: float, to_rpm: float, most_kmh: float) -> int:
        """The highest gear in which it does not creep and stays within `most_kmh`; the lowest that does not
        creep where none stays within it.
        """
        rolls = [n for n in range(1, len(self.overall) + 1) if self.kmh(n, from_rpm) >= CREEP_KMH]
        within = [n for n in rolls if self.kmh(n, to_rpm) <= most_kmh]
        return max(within) if within else min(rolls, default=1)

    def told(self, gear: int, from_rpm: float, to_rpm: float) -> str:
        """A gear with its speeds: ``3rd gear, 43 to 76 km/h``."""
        name = _ORDINALS.get(gear, f"{gear}th")
        low, high = (f"{self.kmh(gear, rpm):.0f}" for rpm in (from_rpm, to_rpm))
        return f"{name} gear, {low} km/h" if low == high else f"{name} gear, {low} to {high} km/h"


def ratios_of(text: str) -> tuple[float, ...]:
    """Gear ratios as they are typed, first gear first: ``3.45 2.05 1.38`` or ``3,45 / 2,05 / 1,38``.

    Raises
    ------
    BadInput
        Where a part is no ratio, or a gear is not higher than the one before.

    Examples
    --------
    >>> ratios_of("3,45 / 2,05 / 1,38")
    (3.45, 2.05, 1.38)
    """
    found = []
    for part in re.split(r"[\s/;]+", text.strip()):
        try:
            ratio = float(part.replace(",", "."))
        except ValueError:
            ratio = 0.0
        if not 0.2 <= ratio <= 20.0:
            raise BadInput(f"“{part}” is no gear ratio: write them as 3.45 2.05 1.38.", "gear_ratios")
        found.append(ratio)
    if any(after >= before for before, after in zip(found, found[1:], strict=False)):
        raise BadInput("Gear ratios fall from the first to the highest.", "gear_ratios")
    return tuple(found)


def gearing_of(vehicle: Vehicle, tyre_mm: float | None = None) -> Gearing | None:
    """What is known of a vehicle's gears; None where ratios, final drive or tyre are not on record, or a belt
    turns in their place.

    Parameters
    ----------
    vehicle : Vehicle
    tyre_mm : float, optional
        Of the tyre that is on it, where that is not the stock one [mm].
    """
    if vehicle.belt or not (vehicle.gear_ratios and vehicle.final_drive and vehicle.stock_tyre):
        return None
    try:
        overall = tuple(ratio * vehicle.final_drive for ratio in ratios_of(vehicle.gear_ratios))
        return Gearing(overall, tyre_mm or diameter_mm(vehicle.stock_tyre), vehicle.final_drive)
    except BadInput:
        return None
