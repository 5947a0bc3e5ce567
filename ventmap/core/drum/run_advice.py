"""The plan of runs in the words of who makes them."""

from __future__ import annotations

from collections.abc import Sequence

from .expected import Expected
from .run_plan import MOST_RUNS, Scatter, SeenBy, runs_for

#: The scatter may be so many times what few runs show before it is told.
UNSURE = 1.5


def run_advice(
    rows: Sequence[SeenBy],
    scatter: Scatter | None,
    expected: Sequence[Expected],
    *,
    before_fixed: bool,
    stock_by: str,
    before: int,
) -> tuple[str, ...]:
    """What to do about runs, most needed first.

    Parameters
    ----------
    rows : sequence of SeenBy
        From `plan_runs`; empty where scatter is not known.
    expected : sequence of Expected
        What is set first, what was asked for after it.
    before_fixed : bool
        Something is fitted that no minute takes out of the way: no more runs before can be made.
    stock_by : str
        How the engine is as stock within a minute; empty where it takes work.
    before : int
        Runs before that count.
    """
    return tuple(
        filter(
            None,
            (
                _missing(before, before_fixed),
                *_how_many(rows, expected[0] if expected else None, before_fixed),
                _short(expected),
                _unsure(scatter) if rows else "",
                _order(before_fixed, stock_by),
            ),
        )
    )


def _missing(before: int, before_fixed: bool) -> str:
    if before == 0 and before_fixed:
        return (
            "There are no runs before, and none can be made without taking the kit out: no gain is claimed."
        )
    if before < 2:
        return (
            "One run tells nothing of scatter, and the kit must come out for more: no gain is claimed."
            if before_fixed
            else "Two runs made alike tell the scatter, three better; then this says how many it takes."
        )
    return ""


def _how_many(rows: Sequence[SeenBy], expected: Expected | None, before_fixed: bool) -> list[str]:
    if not rows or expected is None:
        return []
    if expected.high_kw <= 0:
        return [
            f"The {expected.source} lies no higher than the runs before: no gain is to be expected of it."
        ]
    told = []
    if expected.low_kw <= 0:
        gain, words = expected.high_kw, f"at most {expected.high_kw:.1f} kW"
    else:
        gain, words = expected.low_kw, f"{expected.low_kw:.1f} to {expected.high_kw:.1f} kW"
    one, other = runs_for(gain, rows, one_day=True), runs_for(gain, rows, one_day=False)
    least = "at least " if expected.low_kw <= 0 else ""
    told.append(f"Expected over the band: {words} ({expected.source}; {expected.rests_on}).")
    if one is None:
        told.append(
            f"Not even {MOST_RUNS} runs a side see that in nine jobs of ten: nothing is promised of it."
        )
    elif other is None:
        told.append(
            f"{least}{one} runs a side see it where all are made on one day; from day to day no number of"
            " them does."
        )
    elif one == other:
        told.append(f"{least}{one} runs a side see it, on one day or on two.")
    else:
        told.append(f"{least}{one} runs a side see it where all are made on one day, {other} on two days.")
    told[-1] = told[-1][0].upper() + told[-1][1:]
    if before_fixed:
        told[-1] = told[-1].replace("runs a side", "runs after")
    return told


def _short(expected: Sequence[Expected]) -> str:
    if len(expected) < 2 or expected[0].peak_high_kw >= expected[1].peak_low_kw:
        return ""
    return (
        f"The {expected[0].source} reaches {expected[0].peak_high_kw:.0f} kW at the wheels at most; the"
        f" {expected[1].source} asks {expected[1].peak_low_kw:.0f}: say so before the runs, not after."
    )


def _unsure(scatter: Scatter | None) -> str:
    if scatter is None or scatter.most < UNSURE * scatter.share:
        return ""
    return (
        f"The scatter of {100 * scatter.share:.2g} % is from {scatter.source}: so few may hide"
        f" {100 * scatter.most:.2g} %."
    )


def _order(before_fixed: bool, stock_by: str) -> str:
    if stock_by:
        return (
            f"Before, after, before again ({stock_by}, its maker's waits kept): what drifts with heat and"
            " hours cancels between the two befores."
        )
    return (
        ""
        if before_fixed
        else "Nothing takes this kit out of the way in a minute: make every run before now."
    )
