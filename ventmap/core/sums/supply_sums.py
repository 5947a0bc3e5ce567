"""Sums about fuel supply and current."""

from __future__ import annotations

from typing import Any

from ..basics import Evidence, Sum
from ..electrics import SERVED_BY
from ..fuel import plan_wire, pump_check, relay_call
from .feed_sums import feed
from .fields import KPA, LEN, A, V, rows
from .fitting_sums import io, rod
from .model import Field, SumKind, SumResult
from .running_sums import content, cost


def _pump(v: dict[str, Any]) -> SumResult:
    curve = [(row["kpa"], row["lph"]) for row in v["curve"]]
    found = pump_check(
        curve,
        v["flow"],
        int(v["count"]),
        v["rail"],
        v["boost"],
        v["referenced"],
        v["volts"],
        v["nominal"],
        1 + v["reserve"] / 100,
        v["rated"] or None,
    )
    return SumResult(
        (
            Sum(
                "What the pump must give",
                formula="V = n · Q · 0.06 · (1 + reserve)",
                inputs=(
                    Evidence("n, injectors", v["count"]),
                    Evidence("Q, each, as rated", v["flow"], unit="cm³/min"),
                    Evidence("Q, each, at the pressure there", round(found.flow, 1), unit="cm³/min"),
                    Evidence("reserve", v["reserve"], unit="%"),
                ),
                result=Evidence("need", round(found.need, 1), unit="l/h"),
                source="Σ flow; reserve for age, a warm tank, a weak battery",
            ),
            Sum(
                "What it gives there",
                formula="curve at rail gauge" + (" + boost" if v["referenced"] else "") + " · U ÷ U nominal",
                inputs=(
                    Evidence("rail, gauge", v["rail"], unit="kPa"),
                    Evidence("boost", v["boost"], unit="kPa"),
                    Evidence("voltage", v["volts"], unit="V"),
                    Evidence("curve measured at", v["nominal"], unit="V"),
                ),
                result=Evidence("gives", round(found.gives, 1), unit="l/h"),
                source="straight between points of the curve; flow ∝ voltage near nominal",
            ),
        ),
        (found.call,),
    )


def _wire(v: dict[str, Any]) -> SumResult:
    area = v["area"] or None
    plan = plan_wire(v["current"], v["length"] / 1000.0, area, v["allowed"] / 100, margin=v["margin"])
    return SumResult(
        (
            Sum(
                "Voltage lost",
                formula="U = 2 · I · ρ · L ÷ A",
                inputs=(
                    Evidence("I", v["current"], unit="A"),
                    Evidence("L, one way", v["length"], unit="mm"),
                    Evidence("A", plan.area_mm2, unit="mm²"),
                    Evidence("ρ of copper", 0.0172, unit="Ω·mm²/m"),
                ),
                result=Evidence("drop", round(plan.drop_v, 3), unit="V"),
                source="Ohm's law; copper at 20 °C",
            ),
            Sum(
                "Fuse",
                formula=f"next standard size ≥ {v['margin']:g} · I",
                inputs=(Evidence("I", v["current"], unit="A"),),
                result=Evidence("fuse", plan.fuse_a, unit="A"),
                source="and not above the wire's rating",
            ),
        ),
        (plan.call, relay_call(v["current"], v["driver"], v["relay"])),
    )


SUPPLY_SUMS = (
    SumKind(
        "fuel-pump",
        title="Fuel pump",
        purpose="Whether a pump gives enough at full load and boost.",
        fields=(
            Field("flow", "Flow of each injector", kind="figure", quantity="injector_flow", default="440"),
            Field("count", "Injectors", default="4"),
            Field("rated", "Flow is rated at; 0 is at the rail's own", default="0", **KPA),
            Field("rail", "Rail, gauge", default="300", **KPA),
            Field("boost", "Boost above the barometer", default="0", **KPA),
            Field("referenced", "Regulator follows the manifold", "flag", default="yes"),
            Field("volts", "Voltage at the pump", default="13.2", **V),
            Field("nominal", "Curve measured at", default="13.5", **V),
            Field("reserve", "Reserve", unit="%", default="15"),
            Field(
                "curve",
                "Pump curve",
                "rows",
                columns=(
                    Field("kpa", "gauge", default="300", **KPA),
                    Field("lph", "flow", kind="figure", quantity="pump_flow", default="200"),
                ),
                default=[
                    {"kpa": "300", "lph": "190"},
                    {"kpa": "400", "lph": "165"},
                    {"kpa": "500", "lph": "135"},
                ],
            ),
        ),
        compute=_pump,
    ),
    SumKind(
        "wire-and-fuse",
        title="Wire, fuse and relay",
        purpose="The thinnest wire that keeps its voltage, its fuse, and whether a relay is needed.",
        fields=(
            Field("current", "Current", default="12", **A),
            Field("length", "Length, one way", kind="figure", quantity="length", unit="m", default="4 m"),
            Field("area", "Cross-section; 0 chooses", unit="mm²", default="0"),
            Field("allowed", "Drop allowed", unit="%", default="3"),
            Field("margin", "Fuse, at least", unit="× current", default="1.25"),
            Field("driver", "Rating of the computer's driver", default="3", **A),
            Field("relay", "A relay is planned", "flag", default="yes"),
        ),
        compute=_wire,
    ),
    SumKind(
        "feed-line",
        title="Feed line for an ethanol sensor",
        purpose="Cuts, fittings and a dry layout to scale.",
        fields=(
            Field("outer", "Hose, outer diameter", default="14", **LEN),
            Field("sensor", "Sensor between faces", default="86", **LEN),
            Field("slack", "Slack", unit="%", default="5"),
            Field("bend_factor", "Least bend radius, outer diameters", unit="×", default="4"),
            Field(
                "gaps",
                "Gaps, in the direction of flow",
                "rows",
                columns=(
                    Field("name", "piece", "text"),
                    Field("gap", "gap", default="200", **LEN),
                    Field("bend", "bend, °", default="0"),
                    Field("from", "upstream fitting", "text"),
                    Field("from_takes", "takes up", default="18", **LEN),
                    Field("from_in", "goes in", default="22", **LEN),
                    Field("to", "downstream fitting", "text"),
                    Field("to_takes", "takes up", default="18", **LEN),
                    Field("to_in", "goes in", default="22", **LEN),
                ),
                default=rows(
                    "name",
                    "gap",
                    "bend",
                    "from",
                    "from_takes",
                    "from_in",
                    "to",
                    "to_takes",
                    "to_in",
                    tank_side="310|0|8 mm quick, straight|18|22|sensor inlet, straight|16|20",
                    rail_side="240|90|sensor outlet, 90°|24|20|8 mm quick, straight|18|22",
                ),
            ),
        ),
        compute=feed,
    ),
    SumKind(
        "shift-rod",
        title="Shift rod",
        purpose="Length of the rod with a shift sensor in it.",
        fields=(
            Field("length", "Joint to joint, stock", default="245", **LEN),
            Field("sensor", "Sensor, joint to end face", default="68", **LEN),
            Field("coupler", "Coupler, end face to joint", default="30", **LEN),
            Field("stock_rod", "Stock rod", default="205", **LEN),
            Field("thread", "Thread diameter", default="6", **LEN),
            Field("sensor_overlap", "Thread in the sensor", default="11", **LEN),
            Field("coupler_overlap", "Thread in the coupler", default="9", **LEN),
            Field(
                "sensor_material",
                "Sensor thread in",
                "choice",
                default="aluminium",
                choices=("steel", "aluminium"),
            ),
            Field(
                "coupler_material",
                "Coupler thread in",
                "choice",
                default="steel",
                choices=("steel", "aluminium"),
            ),
        ),
        compute=rod,
    ),
    SumKind(
        "ethanol-cost",
        title="Running on ethanol: cost",
        purpose="Cost per distance beside price per tank, and when a kit pays.",
        fields=(
            Field("litres", "Consumption on petrol", unit="l/100 km", default="8"),
            Field("price_old", "Petrol", unit="money/l", default="1.80"),
            Field("price_new", "Ethanol blend", unit="money/l", default="1.05"),
            Field("ethanol", "Ethanol in it", kind="figure", quantity="fraction", unit="%", default="75 %"),
            Field("tank", "Tank", unit="l", default="50"),
            Field("kit", "Kit, fitted", unit="money", default="640"),
        ),
        compute=cost,
    ),
    SumKind(
        "ethanol-content",
        title="Ethanol sensor reading",
        purpose="Content and fuel temperature from frequency and pulse.",
        fields=(
            Field("hz", "Frequency", unit="Hz", default="118"),
            Field("pulse", "Pulse", kind="figure", quantity="pulse", default="2.4"),
        ),
        compute=content,
    ),
    SumKind(
        "inputs-outputs",
        title="Inputs and outputs",
        purpose="Which spare pin serves which demand, and what would make the rest possible.",
        fields=(
            Field(
                "demands",
                "Demands",
                "rows",
                columns=(
                    Field("name", "what", "text"),
                    Field("type", "type", "choice", default="analog in", choices=tuple(SERVED_BY)),
                    Field("high", "up to", default="0", **V),
                    Field("current", "draws", default="0", **A),
                ),
                default=rows(
                    "name",
                    "type",
                    "high",
                    "current",
                    oil_pressure="analog in|4.5|0",
                    boost_solenoid="pwm out|0|1",
                    fan_relay="switched out|0|0.2",
                    wideband="can|0|0",
                ),
            ),
            Field(
                "pins",
                "Spare pins",
                "rows",
                columns=(
                    Field("name", "pin", "text"),
                    Field("types", "types", "text", default="analog in"),
                    Field("max_v", "takes", default="5", **V),
                    Field("max_a", "carries", default="0", **A),
                    Field("jumper", "needs", "text"),
                ),
                default=rows(
                    "name",
                    "types",
                    "max_v",
                    "max_a",
                    "jumper",
                    A12="analog in|5|0|",
                    B3="pwm out, switched out|16|2|",
                    B4="switched out|16|0.5|",
                    CAN1="can|5|0|",
                ),
            ),
        ),
        compute=io,
    ),
)
