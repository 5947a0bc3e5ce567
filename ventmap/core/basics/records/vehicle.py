"""A vehicle on the shelf."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import Field

from .access import AccessItem
from .common import Pair, Record, Years, unit
from .told import Grown

Kind = Literal["car", "van", "pickup", "motorcycle", "watercraft", "sled", "side-by-side", "quad"]
Injection = Literal["port", "direct", "both", "diesel"]
Induction = Literal["none", "turbo", "blower"]
LoadSensing = Literal["pressure", "airflow"]
GearboxKind = Literal["manual", "automatic", "belt", "none"]


class Connector(Record):
    """One half of a connector."""

    family: str = Field(title="family")
    pins: int = Field(title="pins", ge=1)
    gender: Literal["male", "female"] = Field(title="gender")


class InjectorSeat(Record):
    """Where an injector sits, between rail and manifold or head."""

    rail_bore_mm: float | None = unit("mm", "rail bore", default=None, gt=0)
    seat_to_rail_mm: float | None = unit("mm", "lower seat to rail seat", default=None, gt=0)
    lower_bore_mm: float | None = unit("mm", "lower bore", default=None, gt=0)
    seal_bore_mm: float | None = unit("mm", "lower seal, inner", default=None, gt=0)
    plug: str = Field("", title="injector plug")


class Vehicle(Grown):
    """A vehicle as its maker's sheet describes it; variants of a model share its name.

    What is None is not known yet: it is asked where a step needs it, and never filled by a usual figure.
    """

    maker: str = Field("", title="maker")
    model: str = Field(title="model; its variants share it")
    kind: Kind = Field(title="kind")
    years: Years | None = Field(None, title="years, first and last")
    engine: str = Field("", title="engine")
    cylinders: int = Field(title="cylinders", ge=1, le=16)
    banks: int | None = Field(None, title="banks, each with its own injector feed", ge=1, le=4)
    displacement_cc: float | None = unit("cm³", "displacement", default=None, gt=0)
    stroke: Literal[2, 4] = Field(title="stroke cycle")
    rotary: bool = Field(False, title="rotors in place of pistons; cylinders are rotors then")
    cooling: Literal["coolant", "air"] | None = Field(
        None, title="cooled by coolant, or by air and oil; not known counts as coolant"
    )
    pipe_rpm: float | None = unit("rpm", "two-stroke: its pipe is in tune at", default=None, gt=0, le=20_000)
    lean_in_tune: float | None = unit(
        "fraction", "two-stroke: its exhaust reads leaner than it burns, in tune", default=None, ge=0, le=0.5
    )
    lean_off_tune: float | None = unit(
        "fraction",
        "two-stroke: its exhaust reads leaner than it burns, far from tune",
        default=None,
        ge=0,
        le=0.5,
    )
    injection: Injection = Field(title="injection")
    induction: Induction = Field(title="induction")
    load_sensing: LoadSensing | None = Field(None, title="load sensing")
    throttle: Literal["cable", "electronic"] | None = Field(None, title="throttle")
    gearbox: str = Field("", title="gearbox")
    gearbox_kind: GearboxKind | None = Field(None, title="gearbox, kind")
    gear_ratios: str = Field(
        "", title="gear ratios, first to highest", pattern=r"^(\d+([.,]\d+)?([\s/;]+\d+([.,]\d+)?)*)?$"
    )
    final_drive: float | None = Field(None, title="final drive ratio", ge=0.3, le=12)
    power_kw: float | None = unit("kW", "stock power", default=None, gt=0)
    idle_rpm: float | None = unit("rpm", "idle", default=None, ge=300, le=4000)
    rev_limit: float | None = unit("rpm", "rev limit", default=None, ge=1000, le=20000)
    valve_train_rpm: float | None = unit(
        "rpm", "highest speed of the valve train, by its maker", default=None, ge=1000, le=20000
    )
    boost_kpa: float | None = unit("kPa", "boost above the barometer", default=None, ge=0, le=400)
    fuel_pressure_kpa: float | None = unit(
        "kPa", "pressure across the injector", default=None, gt=0, le=400_000
    )
    feed_kpa: float | None = unit("kPa", "feed pressure, gauge", default=None, gt=0, le=2000)
    injection_window_deg: float | None = unit(
        "° of crank", "window of direct injection", default=None, gt=0, le=720
    )
    referenced_regulator: bool | None = Field(None, title="regulator follows the manifold")
    fuel_wait_s: float | None = unit(
        "s", "maker's wait before the high-pressure side", default=None, ge=0, le=86_400
    )
    sleep_s: float | None = unit("s", "until the modules sleep", default=None, ge=0, le=7200)
    two_batteries: bool | None = Field(None, title="two batteries")
    hybrid: bool | None = Field(None, title="high voltage on board")
    airbag_near: bool | None = Field(None, title="airbag wiring near the work")
    stock_injectors: str = Field("", title="stock injectors, shelf key")
    injector_family: str = Field("", title="injector family")
    injector_seat: InjectorSeat = Field(InjectorSeat(), title="injector seat")
    stock_computer: str = Field("", title="stock computer")
    stock_calibration: str = Field("", title="stock calibration")
    usual_device: str = Field("", title="usual device, shelf key")
    exhaust: str = Field("stock", title="exhaust")
    intake: str = Field("stock", title="intake")
    cams: str = Field("stock", title="cams")
    rail_bolt_nm: float | None = unit("N·m", "rail bolts", default=None, gt=0, le=200)
    access: tuple[AccessItem, ...] | None = Field(None, title="what comes off to reach the work, in order")
    look_alike_parts: tuple[str, ...] | None = Field(None, title="parts that look alike but are not")
    stock_tyre: str = Field("", title="stock tyre")
    compression_kpa: Pair | None = Field(None, title="compression, least and most, kPa")
    compression_spread: float = Field(0.15, title="compression, spread allowed")
    connector: Connector | None = Field(None, title="connector")
    route_mm: float | None = unit("mm", "harness route", default=None)
    mount: str = Field("", title="mount")
    body_network: str = Field("", title="body network")
    bench_engine: bool = Field(False, title="engine at the bench stand-in")
    tell_tales: dict[str, str] = Field({}, title="tell-tales")
    sums: dict[str, dict[str, Any]] = Field({}, title="figures for the sums, by sum")

    @property
    def petrol(self) -> bool:
        """Spark ignition, on petrol or a blend with it."""
        return self.injection != "diesel"

    @property
    def air_cooled(self) -> bool:
        """No coolant flows: its head, or its oil, is read in its place."""
        return self.cooling == "air"

    @property
    def injection_stroke(self) -> Literal[2, 4]:
        """Stroke cycle by an injector's period: a rotor, like a two-stroke, is fed at each turn of the
        shaft.
        """
        return 2 if self.rotary else self.stroke

    @property
    def belt(self) -> bool:
        """It drives through a belt: as its gearbox says, or as is usual for its kind."""
        if self.gearbox_kind is not None:
            return self.gearbox_kind == "belt"
        return self.kind in ("sled", "side-by-side")

    @property
    def boosted(self) -> bool:
        """With a turbo or a blower."""
        return self.induction != "none"
