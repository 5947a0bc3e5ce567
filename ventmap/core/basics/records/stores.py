"""What lies in the stores: pumps, sensors, fuels, connectors, tools, consumables."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from .common import Pair, Record, unit
from .told import Grown


class Priced(Record):
    """A thing with a price, in the shop's currency, and how many lie there; None where nobody counted."""

    price: float | None = unit("money", "price", default=None, ge=0)
    stock: float | None = Field(None, title="on the shelf", ge=0)
    source: str = Field("", title="where its figures come from")


class Pump(Priced, Grown):
    """A fuel pump by its curve; what is None is not known yet, and asked."""

    curve: Annotated[tuple[Pair, ...], Field(min_length=2)] | None = Field(
        None, title="curve: gauge kPa, l/h"
    )
    volts: float | None = unit("V", "curve at", default=None, gt=0)
    current_a: float | None = unit("A", "current", default=None, gt=0)
    fuels: tuple[str, ...] = Field((), title="fuels")


class Sensor(Priced):
    """A sensor by its transfer."""

    measures: str = Field(title="measures")
    signal: str = Field(title="signal")
    low_v: float | None = unit("V", "lowest signal", default=None)
    high_v: float | None = unit("V", "highest signal", default=None)
    points: tuple[Pair, ...] = Field((), title="points: signal, value")
    value_unit: str = Field("", title="unit of the value")


class SoldFuel(Record):
    """A fuel as it is sold."""

    ron: float | None = unit("RON", "octane", default=None)
    ethanol: float = Field(title="ethanol", ge=0, le=1)
    price: float | None = unit("money", "price a litre", default=None, ge=0)
    season: str = Field("", title="season")
    sold: str = Field("", title="where it is sold")
    source: str = Field("", title="where its figures come from")


class ShelfConnector(Priced):
    """A connector and how it locks."""

    family: str = Field(title="family")
    pins: int = Field(title="pins", ge=1)
    gender: Literal["male", "female"] | None = Field(None, title="gender")
    lock: Literal["slide", "lever", "squeeze", "twist"] = Field(title="lock")
    reversible: bool = Field(False, title="goes on both ways")
    look_alike: str = Field("", title="look-alike")


class Tool(Record):
    """A tool on the wall."""

    torque_high_nm: float | None = unit("N·m", "top of its torque range", default=None, gt=0)
    place: str = Field("", title="where it hangs")
    note: str = Field("", title="note")
    source: str = Field("", title="where its figures come from")


class Consumable(Priced):
    """What is used up."""

    unit: str = Field("", title="sold by")
    always_new: bool = Field(False, title="always new")
