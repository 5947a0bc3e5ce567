"""Sums about injectors: need, pressure, window, matching, care, spacers."""

from __future__ import annotations

from typing import Any

from ..basics import Evidence, Sum
from ..fuel import (
    PETROL,
    TEST_FLUIDS,
    blend,
    duty,
    duty_call,
    flow_at_pressure,
    flow_on,
    pressure_across,
    required_flow,
    window_limit_ms,
)
from .injector_set_sums import care, match, spacers
from .model import Field, SumKind, SumResult


def _need(v: dict[str, Any]) -> SumResult:
    fuel = blend(v["ethanol"])
    limit = v["duty"] / 100
    need = required_flow(v["power"], v["bsfc"], int(v["count"]), limit, fuel)
    petrol = flow_on(need, fuel.density, PETROL.density)
    rated = flow_at_pressure(petrol, v["pressure"], v["rated"])
    inputs = (
        Evidence("P, goal power at the crank", v["power"], unit="kW"),
        Evidence("BSFC, planned on petrol", v["bsfc"], unit="g/kWh"),
        Evidence("AFR of the fuel", round(fuel.stoichiometric, 2)),
        Evidence("ρ of the fuel", round(fuel.density, 4), unit="kg/l"),
        Evidence("n, injectors", v["count"]),
        Evidence("d, allowed duty", v["duty"], unit="%"),
    )
    return SumResult(
        (
            Sum(
                "Flow each injector must give",
                formula="Q = P · BSFC · 14.70/AFR ÷ (60 · ρ · n · d)",
                inputs=inputs,
                result=Evidence("Q at the pressure across it", round(need, 1), unit="cm³/min"),
                source="mass balance; BSFC by kind of engine is a house rule",
            ),
            Sum(
                "The same as a sheet on petrol has it, at its rated pressure",
                formula="Q₂ = Q₁ · √(ρ/0.745) · √(Δp₂/Δp₁)",
                inputs=(
                    Evidence("Q of this fuel as petrol", round(petrol, 1), unit="cm³/min"),
                    Evidence("Δp here", v["pressure"], unit="kPa"),
                    Evidence("Δp rated", v["rated"], unit="kPa"),
                ),
                result=Evidence("look for a rated flow of", round(rated, 1), unit="cm³/min"),
                source="orifice law in pressure and density; SAE J1832",
            ),
        )
    )


def _pressure(v: dict[str, Any]) -> SumResult:
    boost = max(v["manifold"] - v["barometer"], 0.0)
    across = pressure_across(v["rail"], v["manifold"] - v["barometer"], v["referenced"])
    flow = flow_at_pressure(v["flow"], v["rated"], across)
    sums = [
        Sum(
            "Pressure across the injector",
            formula=(
                "Δp = rail gauge, held by the regulator"
                if v["referenced"]
                else "Δp = rail gauge + barometer − manifold"
            ),
            inputs=(
                Evidence("rail, gauge", v["rail"], unit="kPa"),
                Evidence("barometer", v["barometer"], unit="kPa"),
                Evidence("manifold, absolute", v["manifold"], unit="kPa"),
                Evidence("boost", round(boost, 1), unit="kPa"),
            ),
            result=Evidence("Δp", round(across, 1), unit="kPa"),
            source="rail absolute minus manifold absolute",
        ),
        Sum(
            "Flow there",
            formula="Q₂ = Q₁ · √(Δp₂/Δp₁)",
            inputs=(
                Evidence("Q₁, rated", v["flow"], unit="cm³/min"),
                Evidence("Δp₁, rated", v["rated"], unit="kPa"),
            ),
            result=Evidence("Q₂", round(flow, 1), unit="cm³/min"),
            source="orifice law; SAE J1832",
        ),
    ]
    if v["fluid"] != "petrol":
        test, petrol = TEST_FLUIDS[v["fluid"]], PETROL.density
        sums.append(
            Sum(
                "As petrol passes it",
                formula=f"Q · √({test:g}/{petrol:g})",
                inputs=(Evidence(f"Q₂ on {v['fluid']}", round(flow, 1), unit="cm³/min"),),
                result=Evidence("volume of petrol", round(flow_on(flow, test, petrol), 1), unit="cm³/min"),
                source="orifice law, density of the test fluid: by volume less, by mass more",
            )
        )
    return SumResult(tuple(sums))


def _window(v: dict[str, Any]) -> SumResult:
    longest = window_limit_ms(v["window"], v["rpm"])
    share = (v["pulse"] + v["dead"]) / longest
    return SumResult(
        (
            Sum(
                "Longest pulse",
                formula="t = window ÷ (0.006 · rpm)",
                inputs=(
                    Evidence("window", v["window"], unit="°"),
                    Evidence("engine speed", v["rpm"], unit="rpm"),
                ),
                result=Evidence("longest pulse", round(longest, 2), unit="ms"),
                source="crank degrees a millisecond: 0.006 · rpm",
            ),
            Sum(
                "Share of the window used",
                formula="(pulse + dead time) ÷ longest",
                inputs=(
                    Evidence("pulse that gives fuel", v["pulse"], unit="ms"),
                    Evidence("dead time", v["dead"], unit="ms"),
                ),
                result=Evidence("used", round(100 * share, 1), unit="%"),
                source="a direct injector is limited by its window, not by the cycle",
            ),
        ),
        (duty_call(share),),
    )


def _duty(v: dict[str, Any]) -> SumResult:
    value = float(duty(v["pulse"], v["rpm"], int(v["stroke"])))
    divisor = "120 000" if v["stroke"] == "4" else "60 000"
    return SumResult(
        (
            Sum(
                "Duty",
                formula=f"pulse · rpm ÷ {divisor}",
                inputs=(
                    Evidence("pulse", v["pulse"], unit="ms"),
                    Evidence("engine speed", v["rpm"], unit="rpm"),
                ),
                result=Evidence("duty", round(100 * value, 1), unit="%"),
                source="one pulse a cycle",
            ),
        ),
        (duty_call(value),),
    )


_FLOW: dict[str, Any] = {"kind": "figure", "quantity": "injector_flow"}

_KPA: dict[str, Any] = {"kind": "figure", "quantity": "pressure"}

INJECTOR_SUMS = (
    SumKind(
        "injector-need",
        title="Injector need",
        purpose="What flow a goal power asks of each injector.",
        fields=(
            Field("power", "Goal power at the crank", kind="figure", quantity="power", default="150"),
            Field("bsfc", "BSFC on petrol", unit="g/kWh", default="365"),
            Field("count", "Injectors", default="4"),
            Field("duty", "Allowed duty", unit="%", default="85"),
            Field(
                "ethanol", "Ethanol in the fuel", kind="figure", quantity="fraction", unit="%", default="0 %"
            ),
            Field("pressure", "Pressure across it", default="300", **_KPA),
            Field("rated", "Pressure it is rated at", default="300", **_KPA),
        ),
        compute=_need,
    ),
    SumKind(
        "injector-pressure",
        title="Pressure and density",
        purpose="What an injector flows at another pressure and on another fluid.",
        fields=(
            Field("flow", "Rated flow", default="440", **_FLOW),
            Field("rated", "Rated at", default="300", **_KPA),
            Field("rail", "Rail, gauge", default="350", **_KPA),
            Field("manifold", "Manifold, absolute", default="180", **_KPA),
            Field("barometer", "Barometer", default="101.3", **_KPA),
            Field("referenced", "Regulator follows the manifold", "flag", default="yes"),
            Field("fluid", "Test fluid", "choice", default="petrol", choices=("petrol", "n-heptane")),
        ),
        compute=_pressure,
    ),
    SumKind(
        "injection-window",
        title="Direct-injection window",
        purpose="The longest pulse a direct injector has at a speed.",
        fields=(
            Field("window", "Window", unit="° of crank", default="200"),
            Field("rpm", "Engine speed", kind="figure", quantity="engine_speed", default="6500"),
            Field("pulse", "Pulse that gives fuel", kind="figure", quantity="pulse", default="3.6"),
            Field("dead", "Dead time", kind="figure", quantity="pulse", default="0.4"),
        ),
        compute=_window,
    ),
    SumKind(
        "injector-duty",
        title="Injector duty",
        purpose="How much of the cycle an injector is open.",
        fields=(
            Field("pulse", "Pulse", kind="figure", quantity="pulse", default="14"),
            Field("rpm", "Engine speed", kind="figure", quantity="engine_speed", default="6200"),
            Field("stroke", "Stroke cycle", "choice", default="4", choices=("4", "2")),
        ),
        compute=_duty,
    ),
    SumKind(
        "flow-match",
        title="Flow matching",
        purpose="The best n of m injectors by smallest spread.",
        fields=(
            Field(
                "flows",
                "Measured flows",
                kind="figures",
                quantity="injector_flow",
                default="438 445 441 452 440 447",
            ),
            Field("count", "Wanted", default="4"),
            Field("good", "Good up to", unit="%", default="2"),
            Field("usable", "Usable up to", unit="%", default="4"),
        ),
        compute=match,
    ),
    SumKind(
        "injector-care",
        title="Used, cleaned or new",
        purpose="Cost of each path with its risk counted.",
        fields=(
            Field("kind", "Injection", "choice", default="direct", choices=("port", "direct")),
            Field("count", "Injectors", default="4"),
            Field("used", "Used, each", unit="money", default="45"),
            Field("clean", "Cleaning and test, each", unit="money", default="30"),
            Field("new", "New, each", unit="money", default="140"),
            Field("seals", "Seals, each", unit="money", default="9"),
            Field("rework", "Opening it again", unit="money", default="420"),
            Field("used_fails", "Used that fail in a season", unit="%", default="10"),
            Field("cleaned_fails", "Cleaned that fail", unit="%", default="3"),
            Field("new_fails", "New that fail", unit="%", default="0.5"),
        ),
        compute=care,
    ),
    SumKind(
        "spacer-stack",
        title="Spacer stack",
        purpose="Shims for injectors of another length.",
        fields=(
            Field("old", "Old seat to rail", kind="figure", quantity="length", default="61.0"),
            Field("new", "New seat to rail", kind="figure", quantity="length", default="63.6"),
            Field(
                "stock", "Shims at hand", kind="figures", quantity="length", default="0.5 0.5 1.0 1.0 1.6 2.0"
            ),
        ),
        compute=spacers,
    ),
)
