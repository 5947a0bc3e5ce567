"""The sum of a feed line with an ethanol sensor."""

from __future__ import annotations

from typing import Any

from ..basics import Evidence, Sum
from ..fuel import Fitting, Gap, plan_feed_line
from .model import ResultTable, SumResult


def feed(v: dict[str, Any]) -> SumResult:
    """The sum of a feed line."""
    gaps = [
        Gap(
            row["name"],
            row["gap"],
            Fitting(row["from"], row["from_takes"], row["from_in"]),
            Fitting(row["to"], row["to_takes"], row["to_in"]),
            row["bend"],
        )
        for row in v["gaps"]
    ]
    line = plan_feed_line(gaps, v["outer"], v["sensor"], v["slack"] / 100, v["bend_factor"])
    cuts = ResultTable(
        "Cut list",
        ("piece", "cut to, mm", "upstream fitting", "downstream fitting"),
        tuple((c.name, round(c.length_mm), c.start, c.end) for c in line.cuts),
    )
    fittings = ResultTable("Fittings to lay out", ("fitting", "goes to"), line.fittings)
    total = Sum(
        "Hose in all",
        formula="Σ (gap − take-up) · (1 + slack) + insertion",
        inputs=(Evidence("pieces", len(line.cuts)), Evidence("slack", v["slack"], unit="%")),
        result=Evidence("hose", round(line.hose_mm), unit="mm"),
        source="measured along the route; keep the original line for the way back",
    )
    return SumResult(
        (total,),
        calls=line.calls,
        tables=(cuts, fittings),
        drawing=line.drawing,
        cautions=(
            "The feed line carries fuel under pressure: relieve it first, and look for weeps at first prime.",
        ),
    )
