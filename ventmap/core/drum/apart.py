"""What sets two groups of runs apart although nothing was changed: the day, and the air that no standard
brings to one.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import exp, hypot, log, sqrt

from ..basics import HouseRules, dry_pressure
from .run_conditions import RunConditions

#: Power goes with dry pressure ÷ √temperature to this power, and how sure that is: the standards for what
#: breathes freely lie between 1.0 and 1.2, boost that is held follows by anything from nothing to all.
FREE, HELD = (1.1, 0.1), (0.5, 0.3)
#: Pairs of days of a shop's own from which its scatter between days is known.
OWN_PAIRS = 5


@dataclass(frozen=True)
class Apart:
    """Standard deviations of one group against another besides the scatter of their runs, as shares of power.

    Parameters
    ----------
    days : float
        Between two days on this drum; nought where all was run on one.
    air : float
        Left by air that was brought to one by the ratio of densities.
    source : str
        In words, for the sentence of a claim.
    """

    days: float = 0.0
    air: float = 0.0
    source: str = ""

    @property
    def share(self) -> float:
        """Both together [fraction of power]."""
        return hypot(self.days, self.air)

    @property
    def of_difference(self) -> float:
        """Of one group less the other: each side has a day of its own [fraction of power]."""
        return hypot(sqrt(2.0) * self.days, self.air)


#: Groups of one day and one air.
SCATTER_ALONE = Apart()


def to_one_air(
    before: Sequence[RunConditions], after: Sequence[RunConditions], boosted: bool
) -> tuple[list[float], list[float], float]:
    """Factors that bring runs as measured to the air of those before, and what is unsure of it.

    Returns
    -------
    before, after : list of float
        A factor for each run.
    unsure : float
        Standard deviation of the difference of the groups [fraction of power].
    """
    if not before or not after:
        return [1.0] * len(before), [1.0] * len(after), 0.0
    power, sure = HELD if boosted else FREE
    first, second = [_log_density(run) for run in before], [_log_density(run) for run in after]
    zero = sum(first) / len(first)
    unsure = sure * abs(sum(second) / len(second) - zero)
    return [exp(power * (zero - x)) for x in first], [exp(power * (zero - x)) for x in second], unsure


def _log_density(run: RunConditions) -> float:
    dry = dry_pressure(run.barometer_kpa, run.intake_c, run.humidity)
    return log(dry / sqrt(run.intake_c + 273.15))


def between_days(pairs: Sequence[Mapping[str, Sequence[float]]], house: HouseRules) -> tuple[float, str]:
    """Scatter of one vehicle between days on a shop's drum, and where it is from.

    Parameters
    ----------
    pairs : sequence of mapping
        Of each vehicle that was run unchanged on several days: day → mean power of each of its runs [kW].

    Returns
    -------
    sd : float
        Of one day [fraction of power].
    source : str
    """
    squares, freedom = 0.0, 0
    for days in pairs:
        groups = [list(runs) for runs in days.values() if runs]
        if len(groups) < 2:
            continue
        means = [sum(runs) / len(runs) for runs in groups]
        zero = sum(means) / len(means)
        within = [
            sum((run - mean) ** 2 for run in runs) / (len(runs) - 1) / len(runs) if len(runs) > 1 else 0.0
            for runs, mean in zip(groups, means, strict=True)
        ]
        # What the runs scatter by in a day is told by themselves: only the rest is the days'.
        spread = sum((mean - zero) ** 2 for mean in means) - sum(within) * (len(groups) - 1) / len(groups)
        squares += spread / zero**2
        freedom += len(groups) - 1
    if freedom < OWN_PAIRS:
        return house["dyno.between_days"] / 100, "house rule"
    return sqrt(max(squares / freedom, 0.0)), f"this shop's own {freedom} pairs of days"


def apart_of(day_sd: float, source: str, one_day: bool, air: float) -> Apart:
    """What sets the groups of a claim apart, with its words."""
    days = 0.0 if one_day else day_sd
    told = "runs of one day" if one_day else f"{100 * days:.2g} % between days, {source}"
    return Apart(days, air, told + (f"; {100 * air:.2g} % for air of another density" if air > 1e-4 else ""))
