"""A feed line with an ethanol sensor in it: the cuts, the fittings, and a dry layout to scale."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import pi

from ..basics import (
    BadInput,
    Call,
    Drawing,
    Evidence,
    Shape,
    Verdict,
    measure,
    require_between,
    require_positive,
)


@dataclass(frozen=True)
class Fitting:
    """An end of a hose.

    Parameters
    ----------
    name : str
        Size and form, e.g. ``"3/8 in quick, 90°"``.
    take_up_mm : float
        How much of the measured gap the fitting itself fills.
    insertion_mm : float
        How far the hose goes onto it.
    """

    name: str
    take_up_mm: float
    insertion_mm: float


@dataclass(frozen=True)
class Gap:
    """A way to be bridged by hose, measured along its route between the two faces [mm], with the bend in it
    [°].
    """

    name: str
    length_mm: float
    start: Fitting
    end: Fitting
    bend_deg: float = 0.0


@dataclass(frozen=True)
class Cut:
    """A hose to be cut: `length_mm` of hose for a gap; `bend_mm` is the shortest way round its bend."""

    name: str
    length_mm: float
    start: str
    end: str
    bend_mm: float


@dataclass(frozen=True)
class FeedLine:
    """Cuts in flow order, fittings to lay out with their ends, hose in all, judgement, and a drawing."""

    cuts: tuple[Cut, ...]
    fittings: tuple[tuple[str, str], ...]
    hose_mm: float
    calls: tuple[Call, ...]
    drawing: Drawing


def plan_feed_line(
    gaps: Sequence[Gap], outer_mm: float, sensor_mm: float, slack: float = 0.05, bend_factor: float = 4.0
) -> FeedLine:
    """Cut list for a feed line: gap − take-up + insertion, plus slack.

    Parameters
    ----------
    gaps : sequence of Gap
        In the direction of flow; the sensor sits between the first and the second.
    outer_mm : float
        Outer diameter of the hose [mm]; a bend's radius is at least `bend_factor` times it.
    sensor_mm : float
        Length of the sensor between its faces [mm], for the drawing.
    slack : float
        Fraction added to the free hose, so that the engine may move.
    """
    if not gaps:
        raise BadInput("Measure at least one gap.", "gaps")
    require_positive(outer_mm=outer_mm, sensor_mm=sensor_mm)
    require_between(0.0, 0.3, slack=slack)
    cuts, calls, fittings = [], [], []
    radius = bend_factor * outer_mm
    for gap in gaps:
        require_positive(length_mm=gap.length_mm)
        require_between(0.0, 360.0, bend_deg=gap.bend_deg)
        free = gap.length_mm - gap.start.take_up_mm - gap.end.take_up_mm
        if free <= 0:
            raise BadInput(
                f"{gap.name}: the two fittings take up {gap.start.take_up_mm + gap.end.take_up_mm:g} mm of a"
                f" gap of {gap.length_mm:g} mm. Join them without hose, or move the sensor.",
                "gaps",
            )
        length = free * (1 + slack) + gap.start.insertion_mm + gap.end.insertion_mm
        bend = pi * radius * gap.bend_deg / 180.0
        cuts.append(Cut(gap.name, length, gap.start.name, gap.end.name, bend))
        fittings += [
            (gap.start.name, f"{gap.name}, upstream end"),
            (gap.end.name, f"{gap.name}, downstream end"),
        ]
        tight = gap.bend_deg > 0 and free < bend
        calls.append(
            Call(
                "supply.bend",
                verdict=Verdict.hold if tight else Verdict.go,
                because=(
                    Evidence("free hose", round(free), round(bend) if gap.bend_deg else None, unit="mm"),
                    Evidence("least bend radius", round(radius), unit="mm"),
                ),
                do_next=(
                    "Too tight a bend closes the hose: use a 90° fitting at one end."
                    if tight
                    else "The hose lies without closing."
                ),
                source="Bend radius at least 4 outer diameters",
                title=f"Bend: {gap.name}",
            )
        )
    return FeedLine(
        tuple(cuts),
        tuple(fittings),
        hose_mm=sum(cut.length_mm for cut in cuts),
        calls=tuple(calls),
        drawing=_layout(cuts, outer_mm, sensor_mm),
    )


def _layout(cuts: Sequence[Cut], outer: float, sensor: float) -> Drawing:
    """Everything in one row, flow from left to right."""
    shapes, x, y = [], 20.0, 60.0
    for index, cut in enumerate(cuts):
        if index == 1:
            shapes += [
                Shape("box", x, y - 22, x + sensor, y + 22),
                Shape("text", x + sensor / 2, y - 30, text="ethanol sensor", tone="note"),
                Shape("arrow", x + 6, y, x + sensor - 6, y, tone="cut"),
            ]
            x += sensor
        shapes += [
            Shape("box", x, y - outer / 2, x + cut.length_mm, y + outer / 2, tone="hose"),
            Shape("text", x + cut.length_mm / 2, y - outer / 2 - 8, text=cut.name, tone="note"),
            Shape("text", x, y + 62, text=f"▲ {cut.start}", tone="note"),
            Shape("text", x + cut.length_mm, y + 80, text=f"{cut.end} ▲", tone="note"),
            measure(x, x + cut.length_mm, y + 38, f"cut {cut.length_mm:.0f} mm"),
        ]
        x += cut.length_mm
    shapes.append(Shape("arrow", 20.0, 14.0, 120.0, 14.0, text="flow", tone="cut"))
    return Drawing("Dry layout, to scale, in the direction of flow", x + 20, 150.0, tuple(shapes))
