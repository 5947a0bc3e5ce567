"""Sums about injectors: need, pressure, window, matching, care, spacers."""

from __future__ import annotations

from typing import Any

from ..basics import Evidence, Sum
from ..fuel import (
    NEVER,
    best_set,
    blend,
    care_paths,
    duty,
    duty_call,
    flow_at_pressure,
    flow_on_petrol,
    flow_spread,
    flow_spread_call,
    plan_stack,
    required_flow,
    window_limit_ms,
)
from .model import Field, ResultTable, SumKind, SumResult


def _need(v: dict[str, Any]) -> SumResult:
    fuel = blend(v["ethanol"])
    limit = v["duty"] / 100
    need = required_flow(v["power"], v["bsfc"], int(v["count"]), limit, fuel)
    rated = flow_at_pressure(need, v["pressure"], v["rated"])
    inputs = (
        Evidence("P, goal power at the crank", v["power"], unit="kW"), Evidence("BSFC on petrol", v["bsfc"], unit="g/kWh"),
        Evidence("AFR of the fuel", round(fuel.stoichiometric, 2)), Evidence("ρ of the fuel", round(fuel.density, 4), unit="kg/l"),
        Evidence("n, injectors", v["count"]), Evidence("d, allowed duty", v["duty"], unit="%"),
    )  # fmt: skip
    return SumResult((
        Sum("Flow each injector must give", "Q = P · BSFC · 14.70/AFR ÷ (60 · ρ · n · d)", inputs,
            Evidence("Q at the pressure across it", round(need, 1), unit="cm³/min"), "mass balance; BSFC 300 g/kWh natural, 365 boosted (330–400)"),
        Sum("The same at its rated pressure", "Q₂ = Q₁ · √(Δp₂/Δp₁)",
            (Evidence("Δp here", v["pressure"], unit="kPa"), Evidence("Δp rated", v["rated"], unit="kPa")),
            Evidence("look for a rated flow of", round(rated, 1), unit="cm³/min"), "orifice law; SAE J1832"),
    ))  # fmt: skip


def _pressure(v: dict[str, Any]) -> SumResult:
    boost = max(v["manifold"] - v["barometer"], 0.0)
    across = v["rail"] if v["referenced"] else v["rail"] + v["barometer"] - v["manifold"]
    flow = flow_at_pressure(v["flow"], v["rated"], across)
    sums = [
        Sum("Pressure across the injector", "Δp = rail gauge, held by the regulator" if v["referenced"] else "Δp = rail gauge + barometer − manifold",
            (Evidence("rail, gauge", v["rail"], unit="kPa"), Evidence("barometer", v["barometer"], unit="kPa"),
             Evidence("manifold, absolute", v["manifold"], unit="kPa"), Evidence("boost", round(boost, 1), unit="kPa")),
            Evidence("Δp", round(across, 1), unit="kPa"), "rail absolute minus manifold absolute"),
        Sum("Flow there", "Q₂ = Q₁ · √(Δp₂/Δp₁)",
            (Evidence("Q₁, rated", v["flow"], unit="cm³/min"), Evidence("Δp₁, rated", v["rated"], unit="kPa")),
            Evidence("Q₂", round(flow, 1), unit="cm³/min"), "orifice law; SAE J1832"),
    ]  # fmt: skip
    if v["fluid"] == "n-heptane":
        sums.append(
            Sum("As petrol passes it", "Q · √(0.745/0.684)", (Evidence("Q₂ on n-heptane", round(flow, 1), unit="cm³/min"),),
                Evidence("mass-equivalent petrol flow", round(flow_on_petrol(flow), 1), unit="cm³/min"), "orifice law, density of the test fluid")
        )  # fmt: skip
    return SumResult(tuple(sums))


def _window(v: dict[str, Any]) -> SumResult:
    longest = window_limit_ms(v["window"], v["rpm"])
    share = v["pulse"] / longest
    return SumResult(
        (Sum("Longest pulse", "t = window ÷ (0.006 · rpm)", (Evidence("window", v["window"], unit="°"), Evidence("engine speed", v["rpm"], unit="rpm")),
             Evidence("longest pulse", round(longest, 2), unit="ms"), "crank degrees a millisecond: 0.006 · rpm"),
         Sum("Share of the window used", "pulse ÷ longest", (Evidence("pulse", v["pulse"], unit="ms"),),
             Evidence("used", round(100 * share, 1), unit="%"), "a direct injector is limited by its window, not by the cycle")),
        (duty_call(share),),
    )  # fmt: skip


def _duty(v: dict[str, Any]) -> SumResult:
    value = float(duty(v["pulse"], v["rpm"], int(v["stroke"])))
    divisor = "120 000" if v["stroke"] == "4" else "60 000"
    return SumResult(
        (Sum("Duty", f"pulse · rpm ÷ {divisor}", (Evidence("pulse", v["pulse"], unit="ms"), Evidence("engine speed", v["rpm"], unit="rpm")),
             Evidence("duty", round(100 * value, 1), unit="%"), "one pulse a cycle"),),
        (duty_call(value),),
    )  # fmt: skip


def _match(v: dict[str, Any]) -> SumResult:
    flows, count = v["flows"], int(v["count"])
    chosen = best_set(flows, count)
    picked = [flows[index] for index in chosen]
    rows = tuple((f"{index + 1}", flow, "in the set" if index in chosen else "left out") for index, flow in enumerate(flows))
    return SumResult(
        (Sum("Spread of the best set", "(max − min) ÷ mean", (Evidence("injectors at hand", len(flows)), Evidence("wanted", count)),
             Evidence("spread", round(100 * flow_spread(picked), 2), unit="%"), "≤ 2 % good, ≤ 4 % usable, above hold"),),
        (flow_spread_call(picked, v["good"] / 100, v["usable"] / 100),), (ResultTable("Which to take", ("injector", "flow, cm³/min", "set"), rows),),
    )  # fmt: skip


def _care(v: dict[str, Any]) -> SumResult:
    direct = v["kind"] == "direct"
    found = care_paths(
        int(v["count"]), used_each=v["used"], clean_each=v["clean"], new_each=v["new"], seals_each=v["seals"], rework=v["rework"], direct=direct,
        used_fails=v["used_fails"] / 100, cleaned_fails=v["cleaned_fails"] / 100, new_fails=v["new_fails"] / 100,
    )  # fmt: skip
    rows = tuple(
        (p.name, round(p.outlay, 2), round(p.expected_rework, 2), round(p.total, 2), p.risk, ", ".join(p.renew)) for p in found.paths
    )
    table = ResultTable("Three paths", ("path", "outlay", "rework, on average", "together", "risk", "renewed regardless"), rows)
    return SumResult((), (found.call,), (table,), cautions=NEVER if direct else NEVER[1:])


def _spacers(v: dict[str, Any]) -> SumResult:
    stack = plan_stack(v["old"], v["new"], v["stock"])
    return SumResult(
        (Sum("Change in seat-to-rail distance", "new − old", (Evidence("old", v["old"], unit="mm"), Evidence("new", v["new"], unit="mm")),
             Evidence("stack", round(stack.wanted, 2), unit="mm"), "measured, lower seat to rail seat"),),
        (stack.call,), (ResultTable("Lay under every foot", ("shim, mm",), tuple((f"{shim:g}",) for shim in stack.shims)),) if stack.shims else (),
    )  # fmt: skip


_FLOW: dict[str, Any] = {"kind": "figure", "quantity": "injector_flow"}
_KPA: dict[str, Any] = {"kind": "figure", "quantity": "pressure"}
INJECTOR_SUMS = (
    SumKind("injector-need", "Injector need", "What flow a goal power asks of each injector.", (
        Field("power", "Goal power at the crank", "figure", "power", default="150"), Field("bsfc", "BSFC on petrol", unit="g/kWh", default="365"),
        Field("count", "Injectors", default="4"), Field("duty", "Allowed duty", unit="%", default="85"),
        Field("ethanol", "Ethanol in the fuel", "figure", "fraction", "%", default="0 %"),
        Field("pressure", "Pressure across it", default="300", **_KPA), Field("rated", "Pressure it is rated at", default="300", **_KPA)), _need),
    SumKind("injector-pressure", "Pressure and density", "What an injector flows at another pressure and on another fluid.", (
        Field("flow", "Rated flow", default="440", **_FLOW), Field("rated", "Rated at", default="300", **_KPA),
        Field("rail", "Rail, gauge", default="350", **_KPA), Field("manifold", "Manifold, absolute", default="180", **_KPA),
        Field("barometer", "Barometer", default="101.3", **_KPA), Field("referenced", "Regulator follows the manifold", "flag", default="yes"),
        Field("fluid", "Test fluid", "choice", default="petrol", choices=("petrol", "n-heptane"))), _pressure),
    SumKind("injection-window", "Direct-injection window", "The longest pulse a direct injector has at a speed.", (
        Field("window", "Window", unit="° of crank", default="200"), Field("rpm", "Engine speed", "figure", "engine_speed", default="6500"),
        Field("pulse", "Pulse wanted", "figure", "pulse", default="3.6")), _window),
    SumKind("injector-duty", "Injector duty", "How much of the cycle an injector is open.", (
        Field("pulse", "Pulse", "figure", "pulse", default="14"), Field("rpm", "Engine speed", "figure", "engine_speed", default="6200"),
        Field("stroke", "Stroke cycle", "choice", default="4", choices=("4", "2"))), _duty),
    SumKind("flow-match", "Flow matching", "The best n of m injectors by smallest spread.", (
        Field("flows", "Measured flows", "figures", "injector_flow", default="438 445 441 452 440 447"), Field("count", "Wanted", default="4"),
        Field("good", "Good up to", unit="%", default="2"), Field("usable", "Usable up to", unit="%", default="4")), _match),
    SumKind("injector-care", "Used, cleaned or new", "Cost of each path with its risk counted.", (
        Field("kind", "Injection", "choice", default="direct", choices=("port", "direct")), Field("count", "Injectors", default="4"),
        Field("used", "Used, each", unit="money", default="45"), Field("clean", "Cleaning and test, each", unit="money", default="30"),
        Field("new", "New, each", unit="money", default="140"), Field("seals", "Seals, each", unit="money", default="9"),
        Field("rework", "Opening it again", unit="money", default="420"), Field("used_fails", "Used that fail in a season", unit="%", default="10"),
        Field("cleaned_fails", "Cleaned that fail", unit="%", default="3"), Field("new_fails", "New that fail", unit="%", default="0.5")), _care),
    SumKind("spacer-stack", "Spacer stack", "Shims for injectors of another length.", (
        Field("old", "Old seat to rail", "figure", "length", default="61.0"), Field("new", "New seat to rail", "figure", "length", default="63.6"),
        Field("stock", "Shims at hand", "figures", "length", default="0.5 0.5 1.0 1.0 1.6 2.0")), _spacers),
)  # fmt: skip
