"""What the owner is told at hand-over: what to feed it, and what the law has to say."""

from __future__ import annotations

from collections.abc import Sequence

from ..fuel import blend

#: Ethanol beyond what the map was made for that trims still carry [fraction of volume].
ETHANOL_MARGIN = 0.10
EMISSION_PARTS = ("exhaust", "catalyst")
LAW = (
    "A change may affect warranty whether or not it leaves a trace.",
    (
        "Removing or disabling emission equipment, monitoring sensors or limiters is unlawful on the road in"
        " many places; local rules and licensed inspection decide."
    ),
)


def in_the_tank(injection: str, ron: float, ethanol: float) -> str:
    """What a job's vehicle runs on, in words; `ethanol` as a fraction of volume.

    Examples
    --------
    >>> in_the_tank("port", 95.0, 0.1), in_the_tank("diesel", 95.0, 0.0)
    ('95 RON, 10 % ethanol', 'diesel')
    """
    return "diesel" if injection == "diesel" else f"{ron:g} RON, {100 * ethanol:g} % ethanol"


def what_to_feed(injection: str, ron: float, ethanol: float) -> list[str]:
    """What it may be filled with after this job.

    Examples
    --------
    >>> what_to_feed("diesel", 95.0, 0.0)
    ['diesel as the maker of the vehicle names it, winter grade in the cold']
    """
    if injection == "diesel":
        return ["diesel as the maker of the vehicle names it, winter grade in the cold"]
    most = min(ethanol + ETHANOL_MARGIN, 1.0)
    return [
        f"{ron:g} RON or better",
        (
            f"ethanol up to {100 * most:g} % (made for {100 * ethanol:g} %, stoichiometric"
            f" {blend(ethanol).stoichiometric:.2f})"
        ),
    ]


def law(changes: Sequence[str], rev_limit: tuple[float, float] | None = None) -> list[str]:
    """What is said about warranty and law, with what this job has on record of it.

    Parameters
    ----------
    changes : sequence of str
        Existing changes from Intake.
    rev_limit : (float, float), optional
        The vehicle's own and the loaded map's [rpm].
    """
    told = list(LAW)
    parts = [part for part in EMISSION_PARTS if part in changes]
    if parts:
        told.append(
            f"It came with another {' and '.join(parts)}: whether that may be driven on the road was not"
            " judged here."
        )
    if rev_limit is not None and rev_limit[1] > rev_limit[0]:
        told.append(f"The rev limit is {rev_limit[1]:g} rpm; the maker's is {rev_limit[0]:g} rpm.")
    if len(told) == len(LAW):
        told.append("Nothing of that kind is on record in this job.")
    return told
