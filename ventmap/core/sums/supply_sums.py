"""Sums about fuel supply, current, running cost and the spare pins of a device."""

from __future__ import annotations

from typing import Any

from ..basics import Evidence, Sum
from ..electrics import SERVED_BY, Demand, Pin, allot_io
from ..fuel import (
    Fitting,
    Gap,
    blend,
    ethanol_from_frequency,
    plan_feed_line,
    plan_wire,
    pump_check,
    relay_call,
    running_cost,
    volume_multiplier,
)
from ..runsheet import CAUTION as ROD_CAUTION
from ..runsheet import plan_rod
from .model import Field, ResultTable, SumKind, SumResult


def _pump(v: dict[str, Any]) -> SumResult:
    curve = [(row["kpa"], row["lph"]) for row in v["curve"]]
    found = pump_check(
        curve, v["flow"], int(v["count"]), v["rail"], v["boost"], v["referenced"], v["volts"], v["nominal"], 1 + v["reserve"] / 100
    )
    return SumResult((
        Sum("What the pump must give", "V = n · Q · 0.06 · (1 + reserve)",
            (Evidence("n, injectors", v["count"]), Evidence("Q, each", v["flow"], unit="cm³/min"), Evidence("reserve", v["reserve"], unit="%")),
            Evidence("need", round(found.need, 1), unit="l/h"), "Σ flow; reserve for age, a warm tank, a weak battery"),
        Sum("What it gives there", "curve at rail gauge" + (" + boost" if v["referenced"] else "") + " · U ÷ U nominal",
            (Evidence("rail, gauge", v["rail"], unit="kPa"), Evidence("boost", v["boost"], unit="kPa"), Evidence("voltage", v["volts"], unit="V"),
             Evidence("curve measured at", v["nominal"], unit="V")),
            Evidence("gives", round(found.gives, 1), unit="l/h"), "straight between points of the curve; flow ∝ voltage near nominal"),
    ), (found.call,))  # fmt: skip


def _wire(v: dict[str, Any]) -> SumResult:
    area = v["area"] or None
    plan = plan_wire(v["current"], v["length"] / 1000.0, area, v["allowed"] / 100, margin=v["margin"])
    return SumResult((
        Sum("Voltage lost", "U = 2 · I · ρ · L ÷ A",
            (Evidence("I", v["current"], unit="A"), Evidence("L, one way", v["length"], unit="mm"), Evidence("A", plan.area_mm2, unit="mm²"),
             Evidence("ρ of copper", 0.0172, unit="Ω·mm²/m")),
            Evidence("drop", round(plan.drop_v, 3), unit="V"), "Ohm's law; copper at 20 °C"),
        Sum("Fuse", f"next standard size ≥ {v['margin']:g} · I", (Evidence("I", v["current"], unit="A"),), Evidence("fuse", plan.fuse_a, unit="A"),
            "and not above the wire's rating"),
    ), (plan.call, relay_call(v["current"], v["driver"], v["relay"])))  # fmt: skip


def _feed(v: dict[str, Any]) -> SumResult:
    gaps = [
        Gap(row["name"], row["gap"], Fitting(row["from"], row["from_takes"], row["from_in"]), Fitting(row["to"], row["to_takes"], row["to_in"]), row["bend"])
        for row in v["gaps"]
    ]  # fmt: skip
    line = plan_feed_line(gaps, v["outer"], v["sensor"], v["slack"] / 100, v["bend_factor"])
    cuts = ResultTable("Cut list", ("piece", "cut to, mm", "upstream fitting", "downstream fitting"),
                tuple((c.name, round(c.length_mm), c.start, c.end) for c in line.cuts))  # fmt: skip
    fittings = ResultTable("Fittings to lay out", ("fitting", "goes to"), line.fittings)
    total = Sum("Hose in all", "Σ (gap − take-up) · (1 + slack) + insertion", (Evidence("pieces", len(line.cuts)), Evidence("slack", v["slack"], unit="%")),
                Evidence("hose", round(line.hose_mm), unit="mm"), "measured along the route; keep the original line for the way back")  # fmt: skip
    return SumResult((total,), line.calls, (cuts, fittings), line.drawing,
                     ("The feed line carries fuel under pressure: relieve it first, and look for weeps at first prime.",))  # fmt: skip


def _rod(v: dict[str, Any]) -> SumResult:
    rod = plan_rod(v["length"], v["sensor"], v["coupler"], v["stock_rod"], v["thread"], v["sensor_overlap"], v["coupler_overlap"],
                   v["sensor_material"], v["coupler_material"])  # fmt: skip
    words = {"cut": f"cut the stock rod by {rod.change_mm:.1f} mm", "extend": f"{rod.change_mm:.1f} mm longer than the stock rod: make one or add a coupler",
             "keep": "the stock rod serves", "cannot": "cannot be made"}  # fmt: skip
    sums = (
        Sum("Rod", "rod = L − sensor − coupler + overlaps",
            (Evidence("L, joint to joint", v["length"], unit="mm"), Evidence("sensor", v["sensor"], unit="mm"), Evidence("coupler", v["coupler"], unit="mm"),
             Evidence("overlaps", v["sensor_overlap"] + v["coupler_overlap"], unit="mm")),
            Evidence("rod", round(rod.rod_mm, 1), unit="mm"), "the pedal keeps its height when L stays"),
        Sum("What to do", "stock rod − rod", (Evidence("stock rod", v["stock_rod"], unit="mm"),), Evidence("then", words[rod.change]), "0.5 mm is adjusted at the joint"),
    )  # fmt: skip
    return SumResult(sums, rod.calls, (), rod.drawing, (ROD_CAUTION,))


def _cost(v: dict[str, Any]) -> SumResult:
    fuel = blend(v["ethanol"])
    cost = running_cost(v["litres"], v["price_old"], v["price_new"], fuel, tank_l=v["tank"], kit_cost=v["kit"])
    km = cost.break_even_km
    return SumResult((
        Sum("Consumption", "l/100 km ÷ ratio of heating value per litre", (Evidence("on petrol", v["litres"], unit="l/100 km"), Evidence("ethanol", 100 * v["ethanol"], unit="%"),
            Evidence("heating value per litre, ratio", round(cost.break_even_price_ratio, 3)), Evidence("fuel for equal lambda", round(volume_multiplier(fuel), 3), unit="×")),
            Evidence("on this fuel", round(cost.consumption, 2), unit="l/100 km"), "in service the increase is usually 25–40 % for E85"),
        Sum("Cost of 100 km", "consumption · price", (Evidence("before", round(cost.cost_old, 2), unit="money"),), Evidence("after", round(cost.cost_new, 2), unit="money"),
            "cost per distance is the comparison that counts"),
        Sum("Price of a tank: the comparison that misleads", "tank · (old price − new price)", (Evidence("tank", v["tank"], unit="l"),),
            Evidence("seems to save", round(cost.per_fill_saving, 2), unit="money"), "a tank of the new fuel goes less far"),
        Sum("Break-even", "price ratio; kit ÷ saving per km", (Evidence("price ratio now", round(v["price_new"] / v["price_old"], 3)), Evidence("pays below a ratio of", round(cost.break_even_price_ratio, 3)),
            Evidence("kit", v["kit"], unit="money")), Evidence("kit is paid after", "never at these prices" if km is None else round(km), unit="" if km is None else "km"),
            "saving per distance against the kit's price"),
    ))  # fmt: skip


def _content(v: dict[str, Any]) -> SumResult:
    share = ethanol_from_frequency(v["hz"])
    temp = -40.0 + (v["pulse"] - 1.0) * 165.0 / 4.0
    return SumResult((
        Sum("Ethanol content", "(f − 50) ÷ 100", (Evidence("sensor frequency", v["hz"], unit="Hz"),), Evidence("content", round(100 * share, 1), unit="%"),
            "50 Hz at none, 150 Hz at all; from about 180 Hz water or dirt"),
        Sum("Fuel temperature", "−40 + (t − 1) · 165 ÷ 4", (Evidence("sensor pulse", v["pulse"], unit="ms"),), Evidence("fuel", round(temp, 1), unit="°C"),
            "1 ms is −40 °C, 5 ms is 125 °C"),
    ))  # fmt: skip


def _io(v: dict[str, Any]) -> SumResult:
    demands = [Demand(row["name"], row["type"], row["high"], row["current"]) for row in v["demands"]]
    pins = [
        Pin(row["name"], tuple(part.strip() for part in row["types"].split(",")), row["max_v"], row["max_a"], row["jumper"])
        for row in v["pins"]
    ]
    found = allot_io(demands, pins)
    rows = tuple((d.name, found.placed.get(d.name, "not placed"), found.because[d.name]) for d in demands)
    return SumResult((), found.calls, (ResultTable("Allotment", ("demand", "pin", "because"), rows),))


def _rows(*columns: str, **rows: str) -> list[dict[str, str]]:
    """Default rows: a name and the other columns' texts, apart by bars."""
    return [dict(zip(columns, (name.replace("_", " "), *text.split("|")), strict=True)) for name, text in rows.items()]


_LEN: dict[str, Any] = {"kind": "figure", "quantity": "length"}
_V: dict[str, Any] = {"kind": "figure", "quantity": "voltage"}
_A: dict[str, Any] = {"kind": "figure", "quantity": "current"}
_KPA: dict[str, Any] = {"kind": "figure", "quantity": "pressure"}
SUPPLY_SUMS = (
    SumKind("fuel-pump", "Fuel pump", "Whether a pump gives enough at full load and boost.", (
        Field("flow", "Flow of each injector", "figure", "injector_flow", default="440"), Field("count", "Injectors", default="4"),
        Field("rail", "Rail, gauge", default="300", **_KPA), Field("boost", "Boost above the barometer", default="0", **_KPA),
        Field("referenced", "Regulator follows the manifold", "flag", default="yes"), Field("volts", "Voltage at the pump", default="13.2", **_V),
        Field("nominal", "Curve measured at", default="13.5", **_V), Field("reserve", "Reserve", unit="%", default="15"),
        Field("curve", "Pump curve", "rows", columns=(Field("kpa", "gauge", default="300", **_KPA), Field("lph", "flow", "figure", "pump_flow", default="200")),
              default=[{"kpa": "300", "lph": "190"}, {"kpa": "400", "lph": "165"}, {"kpa": "500", "lph": "135"}])), _pump),
    SumKind("wire-and-fuse", "Wire, fuse and relay", "The thinnest wire that keeps its voltage, its fuse, and whether a relay is needed.", (
        Field("current", "Current", default="12", **_A), Field("length", "Length, one way", "figure", "length", "m", default="4 m"),
        Field("area", "Cross-section; 0 chooses", unit="mm²", default="0"), Field("allowed", "Drop allowed", unit="%", default="3"),
        Field("margin", "Fuse, at least", unit="× current", default="1.25"),
        Field("driver", "Rating of the computer's driver", default="3", **_A), Field("relay", "A relay is planned", "flag", default="yes")), _wire),
    SumKind("feed-line", "Feed line for an ethanol sensor", "Cuts, fittings and a dry layout to scale.", (
        Field("outer", "Hose, outer diameter", default="14", **_LEN), Field("sensor", "Sensor between faces", default="86", **_LEN), Field("slack", "Slack", unit="%", default="5"),
        Field("bend_factor", "Least bend radius, outer diameters", unit="×", default="4"),
        Field("gaps", "Gaps, in the direction of flow", "rows", columns=(
            Field("name", "piece", "text"), Field("gap", "gap", default="200", **_LEN), Field("bend", "bend, °", default="0"),
            Field("from", "upstream fitting", "text"), Field("from_takes", "takes up", default="18", **_LEN), Field("from_in", "goes in", default="22", **_LEN),
            Field("to", "downstream fitting", "text"), Field("to_takes", "takes up", default="18", **_LEN), Field("to_in", "goes in", default="22", **_LEN)),
            default=_rows("name", "gap", "bend", "from", "from_takes", "from_in", "to", "to_takes", "to_in",
                          tank_side="310|0|8 mm quick, straight|18|22|sensor inlet, straight|16|20", rail_side="240|90|sensor outlet, 90°|24|20|8 mm quick, straight|18|22"))), _feed),
    SumKind("shift-rod", "Shift rod", "Length of the rod with a shift sensor in it.", (
        Field("length", "Joint to joint, stock", default="245", **_LEN), Field("sensor", "Sensor, joint to end face", default="68", **_LEN),
        Field("coupler", "Coupler, end face to joint", default="30", **_LEN), Field("stock_rod", "Stock rod", default="205", **_LEN),
        Field("thread", "Thread diameter", default="6", **_LEN), Field("sensor_overlap", "Thread in the sensor", default="11", **_LEN),
        Field("coupler_overlap", "Thread in the coupler", default="9", **_LEN),
        Field("sensor_material", "Sensor thread in", "choice", default="aluminium", choices=("steel", "aluminium")),
        Field("coupler_material", "Coupler thread in", "choice", default="steel", choices=("steel", "aluminium"))), _rod),
    SumKind("ethanol-cost", "Running on ethanol: cost", "Cost per distance beside price per tank, and when a kit pays.", (
        Field("litres", "Consumption on petrol", unit="l/100 km", default="8"), Field("price_old", "Petrol", unit="money/l", default="1.80"),
        Field("price_new", "Ethanol blend", unit="money/l", default="1.05"), Field("ethanol", "Ethanol in it", "figure", "fraction", "%", default="75 %"),
        Field("tank", "Tank", unit="l", default="50"), Field("kit", "Kit, fitted", unit="money", default="640")), _cost),
    SumKind("ethanol-content", "Ethanol sensor reading", "Content and fuel temperature from frequency and pulse.", (
        Field("hz", "Frequency", unit="Hz", default="118"), Field("pulse", "Pulse", "figure", "pulse", default="2.4")), _content),
    SumKind("inputs-outputs", "Inputs and outputs", "Which spare pin serves which demand, and what would make the rest possible.", (
        Field("demands", "Demands", "rows", columns=(
            Field("name", "what", "text"), Field("type", "type", "choice", default="analog in", choices=tuple(SERVED_BY)),
            Field("high", "up to", default="0", **_V), Field("current", "draws", default="0", **_A)),
            default=_rows("name", "type", "high", "current", oil_pressure="analog in|4.5|0", boost_solenoid="pwm out|0|1", fan_relay="switched out|0|0.2", wideband="can|0|0")),
        Field("pins", "Spare pins", "rows", columns=(
            Field("name", "pin", "text"), Field("types", "types", "text", default="analog in"), Field("max_v", "takes", default="5", **_V),
            Field("max_a", "carries", default="0", **_A), Field("jumper", "needs", "text")),
            default=_rows("name", "types", "max_v", "max_a", "jumper", A12="analog in|5|0|", B3="pwm out, switched out|16|2|", B4="switched out|16|0.5|", CAN1="can|5|0|"))), _io),
)  # fmt: skip
