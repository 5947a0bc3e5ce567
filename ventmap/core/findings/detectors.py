"""What a log shows: one rule of the trade a detector, each with numbers, causes and the check that tells them
apart.
"""

from __future__ import annotations

from collections.abc import Sequence

from ..logs import Log
from . import (
    another_engine,
    boost,
    ethanol,
    fuel_supply,
    idle,
    knock,
    misfire,
    mixture,
    plausible,
    sampling,
    temperatures,
    torque_cut,
    trims,
    voltage,
)
from .advice import advised
from .model import Detector, Finding, NotCheckable, Review, ReviewContext, View

DETECTORS: tuple[Detector, ...] = (
    another_engine.ANOTHER,
    boost.FALLS,
    boost.PLATEAU,
    torque_cut.DETECTOR,
    trims.HUNTING,
    trims.OFFSET,
    trims.BANKS,
    mixture.LEAN,
    mixture.RICH,
    mixture.SMOKE,
    mixture.HOLE,
    knock.DETECTOR,
    fuel_supply.LIMIT,
    fuel_supply.DROP,
    temperatures.SOAK,
    voltage.VOLTAGE,
    temperatures.COLD,
    temperatures.HOT,
    plausible.IMPLAUSIBLE,
    idle.HIGH_AIR,
    idle.UNSTABLE,
    idle.SLOW,
    misfire.MISFIRE,
    temperatures.EXHAUST,
    ethanol.ETHANOL,
    sampling.SAMPLING,
)


def _perhaps(log: Log, lacking: Sequence[Sequence[str]]) -> tuple[str, ...]:
    """Columns that nobody has named and that may be what a rule lacks."""
    wanted = {name for choice in lacking for name in choice}
    return tuple(
        read.column
        for read in log.reads
        if read.status == "asked" and wanted & {name for name, _ in read.best}
    )


def review(log: Log, context: ReviewContext | None = None) -> Review:
    """Judge a log by every rule that its channels allow.

    Parameters
    ----------
    log : Log
    context : ReviewContext, optional
        Induction, ethanol, house rules.

    Returns
    -------
    Review
        Findings, heaviest first; the kinds that were checked; those that could not be, with what is missing.
    """
    view = View(log, context or ReviewContext())
    findings: list[Finding] = []
    checked, not_checkable = [], []
    for detector in DETECTORS:
        if not detector.applies(view.context):
            continue
        lacking = [choice for choice in detector.needs if not any(view.has(name) for name in choice)]
        missing = tuple(" or ".join(choice) for choice in lacking)
        if not missing and (lack := detector.lacks(view)):
            missing = (lack,)
        if missing:
            not_checkable.append(NotCheckable(detector.kind, missing, _perhaps(log, lacking)))
            continue
        checked.append(detector.kind)
        findings += [advised(finding, view.context) for finding in detector.look(view)]
    findings.sort(key=lambda finding: (-finding.verdict.weight, finding.from_s))
    return Review(
        tuple(findings), tuple(checked), not_checkable=tuple(not_checkable), windows=tuple(view.windows)
    )
