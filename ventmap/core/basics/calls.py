"""The one shape of every judgement: go, hold or stop, with its numbers and what to do next."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum
from math import floor, isfinite, isnan, log10


class Verdict(StrEnum):
    """How a judgement ends. Order of weight: go < hold < stop."""

    go = "go"
    hold = "hold"
    stop = "stop"

    @property
    def weight(self) -> int:
        return ("go", "hold", "stop").index(self.value)


#: No instrument of the trade shows more significant digits; what lies beyond is a computer's own.
DIGITS = 6


def tidy(value: float | str | None) -> float | str | None:
    """A figure without the digits that only its sum made: 57.300000000000004 is 57.3.

    Examples
    --------
    >>> tidy(833.1199999999999), tidy(57.300000000000004), tidy(1450000.0), tidy("yes")
    (833.12, 57.3, 1450000.0, 'yes')
    """
    if not isinstance(value, float) or not isfinite(value) or value == 0.0:
        return value
    return round(float(value), max(0, DIGITS - 1 - floor(log10(abs(value)))))


@dataclass(frozen=True)
class Evidence:
    """One number (or word) of a judgement, against its limit.

    Parameters
    ----------
    label : str
        What was looked at.
    value : float or str
        What was found, in `unit`.
    limit : float or str, optional
        What it was held against, in `unit`.
    unit : str
        Unit of both; empty for words and counts.
    """

    label: str
    value: float | str
    limit: float | str | None = None
    unit: str = ""

    @property
    def lacks(self) -> bool:
        """Nothing was found: a figure that is no number, or neither figure nor word."""
        return self.value is None or (isinstance(self.value, float) and not isfinite(self.value))

    def __post_init__(self) -> None:
        # numpy scalars, and digits that only a sum made, would leak into files and messages.
        for name in ("value", "limit"):
            object.__setattr__(self, name, tidy(getattr(self, name)))


@dataclass(frozen=True)
class Call:
    """A judgement.

    Parameters
    ----------
    rule : str
        Stable name of the rule, e.g. ``"load.battery"``.
    verdict : Verdict
    because : tuple of Evidence
        The numbers against their limits.
    do_next : str
        One plain sentence.
    source : str
        Where the rule comes from.
    title : str
        The judgement in a few words.
    protects : str
        ``"people"`` or ``"computer"`` where a stop protects them: such a stop cannot be overruled.
    row : str
        The line of a grid or a list that it is about; empty where it is about the whole.
    """

    rule: str
    verdict: Verdict
    because: tuple[Evidence, ...]
    do_next: str
    source: str
    title: str = ""
    protects: str = ""
    row: str = ""

    def __post_init__(self) -> None:
        # A judgement cannot be better than its figures: one that is missing is no go, whatever was
        # computed from it.
        if self.verdict is Verdict.go and any(item.lacks for item in self.because):
            lacking = next(item.label for item in self.because if item.lacks)
            object.__setattr__(self, "verdict", Verdict.hold)
            object.__setattr__(
                self, "do_next", f"There is no figure for {lacking}: read it, then judge again."
            )

    @property
    def may_be_overruled(self) -> bool:
        """A hold may be overruled with a reason; so may a stop that protects neither people nor computer."""
        return self.verdict is Verdict.hold or (self.verdict is Verdict.stop and not self.protects)


def worst(calls: Iterable[Call]) -> Verdict:
    """Heaviest verdict among `calls`; `Verdict.go` where there are none."""
    return max((call.verdict for call in calls), key=lambda verdict: verdict.weight, default=Verdict.go)


def grade_above(value: float, hold_at: float, stop_at: float) -> Verdict:
    """Verdict of a value that is worse the higher it is; a limit itself already counts, and no value is a
    stop."""
    if isnan(value):
        return Verdict.stop
    if value >= stop_at:
        return Verdict.stop
    return Verdict.hold if value >= hold_at else Verdict.go


def grade_below(value: float, hold_below: float, stop_below: float) -> Verdict:
    """Verdict of a value that is worse the lower it is; a limit itself is still good, and no value is a
    stop."""
    if isnan(value):
        return Verdict.stop
    if value < stop_below:
        return Verdict.stop
    return Verdict.hold if value < hold_below else Verdict.go
