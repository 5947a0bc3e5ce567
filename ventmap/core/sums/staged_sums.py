"""The sum of two stages of injectors: what each is asked for, and where the second has to come in."""

from __future__ import annotations

from typing import Any

from ..basics import Evidence, Sum, require_positive
from ..fuel import PETROL, blend, duty_call, flow_on, required_flow
from .model import Field, SumKind, SumResult


def _staged(v: dict[str, Any]) -> SumResult:
    fuel, limit, share = blend(v["ethanol"]), v["duty"] / 100, v["share"] / 100
    # One injector that were open all the time: the whole engine's fuel.
    whole = required_flow(v["power"], v["bsfc"], 1, 1.0, fuel)
    given = {name: v[name] for name in ("first", "second", "first_count", "second_count", "share", "rpm")}
    require_positive(**given)
    thinner = flow_on(1.0, PETROL.density, fuel.density)
    first, second = (v[f"{one}_count"] * v[one] * thinner for one in ("first", "second"))
    alone, together, full = share * whole / first, share * whole / (first + second), whole / (first + second)
    latest = min(limit * first / whole, 1.0)
    cycle_ms = (120_000 if v["cycle"] == "four-stroke" else 60_000) / v["rpm"]
    flows = (
        Evidence("first stage, all", round(first, 1), unit="cm³/min"),
        Evidence("second stage, all", round(second, 1), unit="cm³/min"),
    )
    need = Evidence("V, the engine's fuel at its goal power", round(whole, 1), unit="cm³/min")
    return SumResult(
        (
            Sum(
                "Fuel of the whole engine",
                formula="V = P · BSFC · 14.70/AFR ÷ (60 · ρ)",
                inputs=(
                    Evidence("P, goal power at the crank", v["power"], unit="kW"),
                    Evidence("BSFC, planned on petrol", v["bsfc"], unit="g/kWh"),
                    Evidence("AFR of the fuel", round(fuel.stoichiometric, 2)),
                    Evidence("ρ of the fuel", round(fuel.density, 4), unit="kg/l"),
                ),
                result=need,
                source="mass balance; BSFC by kind of engine is a house rule",
            ),
            Sum(
                "First stage alone, just before the second comes in",
                formula="d₁ = s · V ÷ (n₁ · Q₁)",
                inputs=(need, Evidence("s, share of it at the change-over", v["share"], unit="%"), flows[0]),
                result=Evidence("duty, first stage", round(100 * alone, 1), unit="%"),
                source="each stage is judged by itself",
            ),
            Sum(
                "Both stages with one pulse, just after",
                formula="d = s · V ÷ (n₁ · Q₁ + n₂ · Q₂); pulse = d · cycle",
                inputs=(*flows, Evidence("cycle at this speed", round(cycle_ms, 2), unit="ms")),
                result=Evidence("pulse that gives fuel", round(together * cycle_ms, 2), unit="ms"),
                source="a second stage that opens too briefly gives by chance: its sheet says its least",
            ),
            Sum(
                "Both stages at the goal power",
                formula="d = V ÷ (n₁ · Q₁ + n₂ · Q₂)",
                inputs=(need, *flows),
                result=Evidence("duty, both stages", round(100 * full, 1), unit="%"),
                source="one pulse a cycle; a rotor's cycle is one turn of the shaft",
            ),
            Sum(
                "Latest change-over",
                formula="s = d · n₁ · Q₁ ÷ V",
                inputs=(Evidence("d, allowed duty", v["duty"], unit="%"), flows[0], need),
                result=Evidence(
                    "share of the fuel at goal power, at the latest", round(100 * latest, 1), unit="%"
                ),
                source="the first stage at its limit",
            ),
        ),
        (duty_call(alone), duty_call(full)),
    )


_FLOW: dict[str, Any] = {"kind": "figure", "quantity": "injector_flow"}

STAGED_SUMS = (
    SumKind(
        "staged-injection",
        title="Two stages of injectors",
        purpose="Duty of each stage of a rotary or a staged four, and where the second has to come in.",
        fields=(
            Field("power", "Goal power at the crank", kind="figure", quantity="power", default="220"),
            Field("bsfc", "BSFC on petrol", unit="g/kWh", default="365"),
            Field(
                "ethanol", "Ethanol in the fuel", kind="figure", quantity="fraction", unit="%", default="0 %"
            ),
            Field("first", "First stage, each, petrol, at its pressure", default="550", **_FLOW),
            Field("first_count", "First stage, injectors", default="2"),
            Field("second", "Second stage, each, petrol, at its pressure", default="850", **_FLOW),
            Field("second_count", "Second stage, injectors", default="2"),
            Field("share", "Fuel at the change-over, of that at goal power", unit="%", default="35"),
            Field("duty", "Allowed duty", unit="%", default="85"),
            Field(
                "rpm",
                "Engine speed at the change-over",
                kind="figure",
                quantity="engine_speed",
                default="3800",
            ),
            Field(
                "cycle",
                "Cycle",
                "choice",
                default="two-stroke or rotary",
                choices=("four-stroke", "two-stroke or rotary"),
            ),
        ),
        compute=_staged,
    ),
)
