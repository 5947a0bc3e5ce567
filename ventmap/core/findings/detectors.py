"""What a log shows: one rule of the trade a detector, each with numbers, causes and the check that tells them
apart.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from ..logs import BLIND, Log
from . import (
    another_engine,
    boost,
    driveline,
    ethanol,
    extremes,
    fuel_supply,
    holes,
    idle,
    knock,
    level,
    misfire,
    mixture,
    other_vehicle,
    plausible,
    sampling,
    temperatures,
    torque_cut,
    trims,
    voltage,
)
from .advice import advised
from .model import Finding, NotCheckable, Review, ReviewContext
from .seen import not_seen
from .view import Detector, View

DETECTORS: tuple[Detector, ...] = (
    other_vehicle.OTHER,
    another_engine.ANOTHER,
    boost.FALLS,
    boost.PLATEAU,
    torque_cut.DETECTOR,
    driveline.SHUT,
    driveline.SLIPS,
    trims.HUNTING,
    trims.OFFSET,
    trims.BANKS,
    mixture.LEAN,
    mixture.RICH,
    mixture.SMOKE,
    holes.HOLE,
    knock.DETECTOR,
    fuel_supply.LIMIT,
    fuel_supply.DROP,
    temperatures.SOAK,
    voltage.VOLTAGE,
    temperatures.COLD,
    temperatures.COLD_IN_THE_WIND,
    temperatures.HOT,
    plausible.IMPLAUSIBLE,
    idle.HIGH_AIR,
    idle.UNSTABLE,
    idle.SLOW,
    misfire.MISFIRE,
    temperatures.EXHAUST,
    ethanol.ETHANOL,
    extremes.OVERBOOST,
    extremes.OIL,
    extremes.EXHAUST_HOT,
    extremes.INTAKE,
    extremes.VOLTAGE_HIGH,
    extremes.OVERSPEED,
    level.ASLEEP,
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
    context = context or ReviewContext()
    view, other = _views(log, context)
    findings: list[Finding] = []
    checked, not_checkable = [], []
    for detector in DETECTORS:
        if not detector.applies(view.context):
            continue
        lacking = [choice for choice in detector.needs if not any(view.has(name) for name in choice)]
        missing = tuple(
            " or ".join(choice) if len(choice) < 5 else f"{choice[0]} or its like" for choice in lacking
        )
        if not missing and (lack := detector.lacks(view)):
            missing = (lack,)
        if missing:
            not_checkable.append(NotCheckable(detector.kind, missing, _perhaps(log, lacking)))
            continue
        found = detector.look(view)
        mixture = other is not None and any("lambda" in choice for choice in detector.needs)
        if found and mixture and other is not None and not detector.look(other):
            found = []
        findings += [advised(finding, view.context) for finding in found]
        # What was found was seen, whatever else was not.
        why = detector.partly(view) or not_seen(view, detector) or (BLIND if mixture else "")
        if not found and why:
            not_checkable.append(NotCheckable(detector.kind, (why,)))
            continue
        checked.append(detector.kind)
    if any(finding.kind == other_vehicle.OTHER.kind for finding in findings):
        # Of a wrong file nothing is sound: what it shows is told, what it does not show is not checked.
        not_checkable += [NotCheckable(kind, ("a log of this vehicle",)) for kind in checked]
        checked = []
    findings.sort(key=lambda finding: (-finding.verdict.weight, finding.from_s))
    return Review(
        tuple(findings),
        tuple(checked),
        not_checkable=tuple(not_checkable),
        windows=tuple(view.windows),
        judged_by=context.mark,
    )


def _views(log: Log, context: ReviewContext) -> tuple[View, View | None]:
    """The log as it is judged; where nobody knows what the exhaust hides, by the least and by the most
    that it may: what is found by both is there, and what is not found by both is not cleared.
    """
    if not (context.probe.blind and log.has("lambda")):
        return View(log, context), None
    least, most = (View(log, replace(context, probe=probe)) for probe in context.probe.extremes)
    return least, most
