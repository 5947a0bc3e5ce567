"""An injector on the shelf."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from .common import Record, unit
from .told import Grown

TestFluid = Literal["petrol", "n-heptane", "diesel test oil"]


class DeadTimeFigures(Record):
    """Opening delay [ms] as a sheet lists it: a row for each voltage, a column for each pressure."""

    voltages: tuple[float, ...] = Field(title="voltages, V")
    pressures_kpa: tuple[float, ...] = Field(title="pressures, kPa")
    ms: tuple[tuple[float, ...], ...] = Field(title="ms")


class CodeField(Record):
    """One field of the code on a body: value to enter = code·scale + offset, kept in steps of `step`."""

    name: str = Field(title="field")
    scale: float = Field(title="scale")
    offset: float = Field(0.0, title="offset")
    step: float = Field(title="storage step", gt=0)


class Injector(Grown):
    """An injector as its maker's sheet describes it; what is None is not known yet, and asked."""

    family: str = Field("", title="family")
    kind: Literal["port", "direct", "diesel"] | None = Field(None, title="kind")
    flow: float = unit("cm³/min", "static flow", gt=0)
    rated_kpa: float = unit("kPa", "rated at", gt=0)
    test_fluid: TestFluid = Field("petrol", title="test fluid")
    ohms: float | None = unit("Ω", "resistance", default=None, gt=0, le=400_000)
    revision: str = Field("", title="revision")
    source: str = Field("", title="where its figures come from")
    price: float | None = unit("money", "price", default=None, ge=0)
    stock: float | None = Field(None, title="on the shelf", ge=0)
    dead_time_14v: float | None = unit("ms", "dead time at 14 V", default=None, gt=0, le=6)
    dead_time: DeadTimeFigures | None = Field(None, title="dead time")
    seat_within_s: float = unit("s", "seal: seat within", default=60.0)
    codes: tuple[CodeField, ...] = Field((), title="body codes")
    plug: str = Field("", title="plug")
    upper_oring_mm: float | None = unit("mm", "upper O-ring, outer", default=None, gt=0)
    adapter_mm: float | None = unit(
        "mm", "ring of the top adapter that is made for it, outer", default=None, gt=0
    )
    seat_to_rail_mm: float | None = unit("mm", "lower seat to rail seat", default=None, gt=0)
    lower_land_mm: float | None = unit("mm", "lower seal land", default=None, gt=0)
    neck_mm: float | None = unit("mm", "neck under the lower seal", default=None, gt=0)
