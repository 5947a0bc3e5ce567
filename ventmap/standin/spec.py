"""A pretend vehicle as data: what its file in `demo/standin/` holds, and the parts that it plugs together."""

from __future__ import annotations

from typing import Literal

import numpy as np
from pydantic import Field

from ventmap.core.basics import Record, Table2D

Figures = tuple[float, ...]


class Grid(Record):
    """A table as its file holds it: values by row of y, column of x."""

    x: Figures
    y: Figures
    values: tuple[Figures, ...]

    def table(self) -> Table2D:
        return Table2D(np.array(self.x), np.array(self.y), np.array(self.values))


class Resonance(Record):
    """A band of speeds in which the engine breathes better than its stock computer believes: a lean hole."""

    rpm: float = Field(gt=0, description="middle of the band [rpm]")
    width_rpm: float = Field(gt=0, description="half-width of the band [rpm]")
    depth: float = Field(ge=0, le=0.2, description="peak of the air that the computer misses, fraction")
    throttle: float = Field(35.0, description="throttle above which it fades [%]")


class Air(Record):
    """How air reaches the cylinders."""

    path: Literal["plenum", "throttle bodies"] = Field(
        "plenum", description="one throttle before a plenum, or a throttle to each cylinder"
    )
    throttle_gs: float = Field(
        500.0, gt=0, description="air that the open throttle passes, choked, at 101.325 kPa and 15 °C [g/s]"
    )
    plenum_l: float = Field(3.2, gt=0, description="volume between throttle and valves [l]")
    resonance: Resonance | None = None


class Film(Record):
    """Fuel on the wall of a port: what lands there, and how long it stays. Shares of what is injected."""

    share: float = Field(0.10, ge=0.05, le=0.45, description="warm, at 40 kPa")
    share_kpa: float = Field(0.0012, ge=0, description="more for each kPa above: hot air holds less vapour")
    share_cold: float = Field(0.006, ge=0, description="more for each kelvin that the port is below 80 °C")
    seconds: float = Field(0.16, ge=0.1, le=0.6, description="until two thirds have gone, warm, at 40 kPa")
    seconds_kpa: float = Field(0.0012, ge=0, description="more for each kPa above")
    seconds_cold: float = Field(0.006, ge=0, description="more for each kelvin below 80 °C")


class Turbo(Record):
    """A turbocharger with its wastegate, and the cooler behind it."""

    kind: Literal["turbo"] = "turbo"
    most_kpa: float = Field(gt=0, description="boost with the wastegate shut, at the knee [kPa]")
    knee_gs: float = Field(gt=0, description="air flow at which it gives its most [g/s]")
    choke_gs: float = Field(gt=0, description="air flow above which it gives less [g/s]")
    slow_s: float = Field(0.9, description="time constant at idle speed [s]")
    fast_s: float = Field(0.25, description="time constant at top speed [s]")
    efficiency: float = Field(0.68, ge=0.5, le=0.8)
    cooler: float = Field(0.82, ge=0, le=0.95, description="effectiveness of the intercooler")
    cooler_s: float = Field(70.0, gt=0, description="time constant of its core standing still [s]")


class Blower(Record):
    """A belt-driven blower."""

    kind: Literal["blower"] = "blower"
    kpa_at_1000: float = Field(gt=0, description="boost at 1 000 rpm of the blower [kPa]")
    pulley: float = Field(gt=0, description="blower speed over engine speed")
    belt_nm: float = Field(gt=0, description="torque at the crank that the belt carries without slip [N·m]")
    efficiency: float = Field(0.62, ge=0.4, le=0.8)
    cooler: float = Field(0.8, ge=0, le=0.95)
    cooler_s: float = Field(50.0, gt=0)


class Feed(Record):
    """How fuel reaches the injectors."""

    kind: Literal["port", "direct", "diesel"] = "port"
    referenced: bool = Field(True, description="the regulator follows the manifold (port)")
    pump_gs: float = Field(12.0, gt=0, description="what the pump can give at its pressure [g/s]")
    window_deg: float = Field(720.0, gt=0, description="crank angle in which fuel may be injected [°]")
    bulk_kpa_g: float = Field(9000.0, gt=0, description="rise of rail pressure with fuel in it [kPa/g]")
    spread: float = Field(0.012, ge=0, description="flow of one injector against the others, fraction")
    film: Film = Film()


class Burn(Record):
    """What the burning mixture does."""

    kind: Literal["spark", "diesel"] = "spark"
    efficiency: float = Field(0.392, gt=0.1, lt=0.6, description="of the fuel's heat, at its best")
    best_spark: float = Field(33.0, description="best torque at 40 kPa and 44 % of top speed [°]")
    margin: float = Field(3.0, description="knock limit above best torque, 95 RON, 60 kPa, cold [°]")
    boost_margin: float = Field(0.05, description="margin lost for each kPa above 60 [°/kPa]")
    stock_retard: float = Field(2.0, ge=0, description="what its works keep of best torque to be safe [°]")
    friction: tuple[float, float, float] = Field(
        (19.0, 0.0024, 0.0), description="N·m of two litres: at rest, for each rpm, for each rpm²"
    )
    smoke_lambda: float = Field(1.2, description="leanest mixture that smokes (diesel)")
    full_mg: float = Field(60.0, gt=0, description="fuel of one injection at full demand (diesel) [mg]")
    trims: bool = Field(True, description="a lambda sensor and trims of its own")
    tuned_rpm: float | None = Field(
        None,
        gt=0,
        description="speed at which a two-stroke's pipe keeps most fresh air in the cylinder [rpm]",
    )


class Body(Record):
    """What the engine moves."""

    kind: Literal["road", "belt", "water"] = "road"
    mass_kg: float = Field(1480.0, gt=0)
    wheel_radius_m: float = Field(0.312, gt=0)
    gears: Figures = (13.1, 7.4, 5.1, 3.9, 3.15)
    drag: tuple[float, float] = Field((170.0, 0.41), description="N, N/(m/s)²")
    engine_inertia: float = Field(0.16, gt=0, description="kg·m²")
    impeller_nm: float = Field(0.0, ge=0, description="torque of the impeller at top speed [N·m] (water)")
    loss: float = Field(0.15, ge=0.0, le=0.3, description="torque lost between engine and wheel, fraction")


class Sheet(Record):
    """What its sheet claims at the crank, at standard air."""

    power_kw: float
    power_rpm: float
    torque_nm: float
    torque_rpm: float


class Build(Record):
    """The parts of one engine and vehicle."""

    air: Air = Air()
    charger: Turbo | Blower | None = Field(None, discriminator="kind")
    feed: Feed = Feed()
    burn: Burn = Burn()
    body: Body = Body()


class StandIn(Record):
    """A vehicle of the stand-in: `vehicle` names its sheet on the shelf; here is what that does not say."""

    vehicle: str
    seed: int = 7
    sheet: Sheet
    filling: Grid = Field(description="honest filling [%] over speed and manifold pressure, or throttle")
    build: Build
    stock_codes: tuple[str, ...] = ()
    stock_pending: tuple[str, ...] = ()
    kit_codes: tuple[str, ...] = ()
    faults: dict[str, float] = Field(default_factory=dict, description="what is wrong with it, by size")
    off_s: float = Field(10.0, ge=1, description="ignition off until its computer has closed down [s]")
