"""Sums about a set of injectors: matching, used or new, spacers."""

from __future__ import annotations

from typing import Any

from ..basics import Evidence, Sum
from ..fuel import NEVER, best_set, care_paths, flow_spread, flow_spread_call, plan_stack
from .model import ResultTable, SumResult


def match(v: dict[str, Any]) -> SumResult:
    """The sum that matches a set by its flows."""
    flows, count = v["flows"], int(v["count"])
    chosen = best_set(flows, count)
    picked = [flows[index] for index in chosen]
    rows = tuple(
        (f"{index + 1}", flow, "in the set" if index in chosen else "left out")
        for index, flow in enumerate(flows)
    )
    return SumResult(
        (
            Sum(
                "Spread of the best set",
                formula="(max − min) ÷ mean",
                inputs=(Evidence("injectors at hand", len(flows)), Evidence("wanted", count)),
                result=Evidence("spread", round(100 * flow_spread(picked), 2), unit="%"),
                source="≤ 2 % good, ≤ 4 % usable, above hold",
            ),
        ),
        (flow_spread_call(picked, v["good"] / 100, v["usable"] / 100),),
        (ResultTable("Which to take", ("injector", "flow, cm³/min", "set"), rows),),
    )


def care(v: dict[str, Any]) -> SumResult:
    """The sum of used, cleaned or new."""
    direct = v["kind"] == "direct"
    found = care_paths(
        int(v["count"]),
        used_each=v["used"],
        clean_each=v["clean"],
        new_each=v["new"],
        seals_each=v["seals"],
        rework=v["rework"],
        direct=direct,
        used_fails=v["used_fails"] / 100,
        cleaned_fails=v["cleaned_fails"] / 100,
        new_fails=v["new_fails"] / 100,
    )
    rows = tuple(
        (
            p.name,
            round(p.outlay, 2),
            round(p.expected_rework, 2),
            round(p.total, 2),
            p.risk,
            ", ".join(p.renew),
        )
        for p in found.paths
    )
    table = ResultTable(
        "Three paths",
        ("path", "outlay", "rework, on average", "together", "risk", "renewed regardless"),
        rows,
    )
    return SumResult((), (found.call,), (table,), cautions=NEVER if direct else NEVER[1:])


def spacers(v: dict[str, Any]) -> SumResult:
    """The sum of a spacer stack."""
    stack = plan_stack(v["old"], v["new"], v["stock"])
    return SumResult(
        (
            Sum(
                "Change in seat-to-rail distance",
                formula="new − old",
                inputs=(Evidence("old", v["old"], unit="mm"), Evidence("new", v["new"], unit="mm")),
                result=Evidence("stack", round(stack.wanted, 2), unit="mm"),
                source="measured, lower seat to rail seat",
            ),
        ),
        (stack.call,),
        (
            (
                ResultTable(
                    "Lay under every foot", ("shim, mm",), tuple((f"{shim:g}",) for shim in stack.shims)
                ),
            )
            if stack.shims
            else ()
        ),
    )
