"""Records for tests, from what matters in a test: the rest of each is plain."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any

from tests.conftest import ROOT
from ventmap.core.basics import (
    Device,
    HouseRules,
    Injector,
    InjectorSeat,
    Vehicle,
    read_body,
    read_device,
    read_record,
)
from ventmap.core.fuel import PETROL, FuelDemand
from ventmap.core.runsheet import InjectorPlan, Kit, ShelfInjector, plan_injectors
from ventmap.core.vehicle import KitMatch, match_kit


def device(kind: str, **more: Any) -> Device:
    return read_device({"fits": [], **more, "kind": kind})


def injector(**more: Any) -> Injector:
    return read_record(Injector, {"family": "F", "flow": 440.0, "rated_kpa": 300.0, "ohms": 12.0, **more})


def seat(**more: Any) -> InjectorSeat:
    return read_record(InjectorSeat, more)


def kit(
    kind: str,
    *,
    about: Device | Mapping[str, Any] | None = None,
    injector_about: Injector | Mapping[str, Any] | None = None,
    **more: Any,
) -> Kit:
    """A kit whose records may be given as the few fields that matter."""
    if isinstance(about, Mapping):
        about = device(
            kind or "plug-in ECU", **{name: value for name, value in about.items() if name != "kind"}
        )
    if isinstance(injector_about, Mapping):
        injector_about = injector(**injector_about)
    return Kit(kind, about=about, injector_about=injector_about, **more)


def fit(vehicle: Vehicle | Mapping[str, Any], box: Device | Mapping[str, Any], name: str = "") -> KitMatch:
    """`match_kit` on records or on bodies as the shelf has them."""
    car = read_record(Vehicle, vehicle)
    return match_kit(car, box if isinstance(box, Device) else read_device(box), name)


def bodies(kind: str) -> dict[str, Any]:
    """Key → body of the sample shelf's file, as a shop would have it."""
    return {
        item["key"]: item["body"]
        for item in json.loads((ROOT / "demo" / "shelf" / f"{kind}.json").read_text())
    }


def records(kind: str) -> dict[str, Any]:
    """Key → record of the sample shelf's file."""
    return {key: read_body(kind.removesuffix("s"), body) for key, body in bodies(kind).items()}


def sized(injectors: tuple[ShelfInjector, ...], rules: HouseRules | None = None, **more: Any) -> InjectorPlan:
    """Injectors for a goal; what is not said is a four of 120 kW on petrol at 300 kPa."""
    rules = rules or HouseRules()
    plan = {name: more.pop(name) for name in ("altitude_m", "stock", "rescaled") if name in more}
    boosted = more.pop("boosted", False)
    asked = {
        "power_kw": 120.0,
        "bsfc": rules["plan.bsfc_boosted" if boosted else "plan.bsfc_natural"],
        "cylinders": 4,
        "fuel": PETROL,
        "rail_kpa": more.pop("fuel_pressure_kpa", 300.0),
        **more,
    }
    return plan_injectors(
        demand=FuelDemand(**asked),
        boosted=boosted,
        injectors=injectors,
        rules=rules,
        **{"altitude_m": 0.0, **plan},
    )
