"""Sums about running on ethanol."""

from __future__ import annotations

from typing import Any

from ..basics import Evidence, Sum
from ..fuel import blend, ethanol_from_frequency, running_cost, volume_multiplier
from .model import SumResult


def cost(v: dict[str, Any]) -> SumResult:
    """The sum of running on ethanol."""
    fuel = blend(v["ethanol"])
    cost = running_cost(
        v["litres"], v["price_old"], v["price_new"], fuel, tank_l=v["tank"], kit_cost=v["kit"]
    )
    km = cost.break_even_km
    return SumResult(
        (
            Sum(
                "Consumption",
                formula="l/100 km ÷ ratio of heating value per litre",
                inputs=(
                    Evidence("on petrol", v["litres"], unit="l/100 km"),
                    Evidence("ethanol", 100 * v["ethanol"], unit="%"),
                    Evidence("heating value per litre, ratio", round(cost.break_even_price_ratio, 3)),
                    Evidence("fuel for equal lambda", round(volume_multiplier(fuel), 3), unit="×"),
                ),
                result=Evidence("on this fuel", round(cost.consumption, 2), unit="l/100 km"),
                source="in service the increase is usually 25–40 % for E85",
            ),
            Sum(
                "Cost of 100 km",
                formula="consumption · price",
                inputs=(Evidence("before", round(cost.cost_old, 2), unit="money"),),
                result=Evidence("after", round(cost.cost_new, 2), unit="money"),
                source="cost per distance is the comparison that counts",
            ),
            Sum(
                "Price of a tank: the comparison that misleads",
                formula="tank · (old price − new price)",
                inputs=(Evidence("tank", v["tank"], unit="l"),),
                result=Evidence("seems to save", round(cost.per_fill_saving, 2), unit="money"),
                source="a tank of the new fuel goes less far",
            ),
            Sum(
                "Break-even",
                formula="price ratio; kit ÷ saving per km",
                inputs=(
                    Evidence("price ratio now", round(v["price_new"] / v["price_old"], 3)),
                    Evidence("pays below a ratio of", round(cost.break_even_price_ratio, 3)),
                    Evidence("kit", v["kit"], unit="money"),
                ),
                result=Evidence(
                    "kit is paid after",
                    "never at these prices" if km is None else round(km),
                    unit="" if km is None else "km",
                ),
                source="saving per distance against the kit's price",
            ),
        )
    )


def content(v: dict[str, Any]) -> SumResult:
    """The sum of an ethanol sensor's reading."""
    share = ethanol_from_frequency(v["hz"])
    temp = -40.0 + (v["pulse"] - 1.0) * 165.0 / 4.0
    return SumResult(
        (
            Sum(
                "Ethanol content",
                formula="(f − 50) ÷ 100",
                inputs=(Evidence("sensor frequency", v["hz"], unit="Hz"),),
                result=Evidence("content", round(100 * share, 1), unit="%"),
                source="50 Hz at none, 150 Hz at all; from about 180 Hz water or dirt",
            ),
            Sum(
                "Fuel temperature",
                formula="−40 + (t − 1) · 165 ÷ 4",
                inputs=(Evidence("sensor pulse", v["pulse"], unit="ms"),),
                result=Evidence("fuel", round(temp, 1), unit="°C"),
                source="1 ms is −40 °C, 5 ms is 125 °C",
            ),
        )
    )
