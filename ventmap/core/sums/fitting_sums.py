"""Sums about fitting: a shift rod, and the spare pins of a device."""

from __future__ import annotations

from typing import Any

from ..basics import Evidence, Sum
from ..electrics import Demand, Pin, allot_io
from ..runsheet import CAUTION as ROD_CAUTION
from ..runsheet import plan_rod
from .model import ResultTable, SumResult


def rod(v: dict[str, Any]) -> SumResult:
    """The sum of a shift rod."""
    rod = plan_rod(
        v["length"],
        v["sensor"],
        v["coupler"],
        v["stock_rod"],
        v["thread"],
        v["sensor_overlap"],
        v["coupler_overlap"],
        v["sensor_material"],
        v["coupler_material"],
    )
    words = {
        "cut": f"cut the stock rod by {rod.change_mm:.1f} mm",
        "extend": f"{rod.change_mm:.1f} mm longer than the stock rod: make one or add a coupler",
        "keep": "the stock rod serves",
        "cannot": "cannot be made",
    }
    sums = (
        Sum(
            "Rod",
            formula="rod = L − sensor − coupler + overlaps",
            inputs=(
                Evidence("L, joint to joint", v["length"], unit="mm"),
                Evidence("sensor", v["sensor"], unit="mm"),
                Evidence("coupler", v["coupler"], unit="mm"),
                Evidence("overlaps", v["sensor_overlap"] + v["coupler_overlap"], unit="mm"),
            ),
            result=Evidence("rod", round(rod.rod_mm, 1), unit="mm"),
            source="the pedal keeps its height when L stays",
        ),
        Sum(
            "What to do",
            formula="stock rod − rod",
            inputs=(Evidence("stock rod", v["stock_rod"], unit="mm"),),
            result=Evidence("then", words[rod.change]),
            source="0.5 mm is adjusted at the joint",
        ),
    )
    return SumResult(sums, calls=rod.calls, tables=(), drawing=rod.drawing, cautions=(ROD_CAUTION,))


def io(v: dict[str, Any]) -> SumResult:
    """The sum that allots inputs and outputs."""
    demands = [Demand(row["name"], row["type"], row["high"], row["current"]) for row in v["demands"]]
    pins = [
        Pin(
            row["name"],
            tuple(part.strip() for part in row["types"].split(",")),
            row["max_v"],
            row["max_a"],
            row["jumper"],
        )
        for row in v["pins"]
    ]
    found = allot_io(demands, pins)
    rows = tuple((d.name, found.placed.get(d.name, "not placed"), found.because[d.name]) for d in demands)
    return SumResult((), found.calls, (ResultTable("Allotment", ("demand", "pin", "because"), rows),))
