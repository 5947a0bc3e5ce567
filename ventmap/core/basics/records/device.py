"""A device on the shelf: what all kinds share, and a record of its own for each of the eleven."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import Field

from .common import Firmware, Pair, Record, Years, unit
from .told import Grown
from .vehicle import Connector


class MadeFor(Record):
    """An engine that a device is made for."""

    engine: str = Field(title="engine")
    years: Years | None = Field(None, title="years, first and last")
    firmware: Firmware | None = Field(None, title="least firmware")


class LookAlike(Record):
    """One of two that look alike: the one the device names, and how to tell."""

    name: str = Field(title="the one meant")
    other: str = Field(title="its look-alike")
    tell: str = Field(title="how to tell")


class Fastening(Record):
    """A line of the maker's torque list."""

    name: str = Field(title="fastener")
    nm: float = unit("N·m", "torque", gt=0)
    count: int = Field(1, title="count", ge=1)
    critical: bool = Field(True, title="critical")
    closes_case: bool = Field(False, title="closes the computer's case")


class Device(Grown):
    """What every kind of device has. What is None is not known yet, and asked where a step needs it; what its
    maker has no list of (engines, gearboxes, a harness) is judged by hand.
    """

    kind: str = Field(title="kind")
    price: float | None = unit("money", "price", default=None, ge=0)
    stock: float | None = Field(None, title="on the shelf", ge=0)
    firmware: Firmware | None = Field(None, title="firmware")
    fits: tuple[MadeFor, ...] = Field((), title="made for")
    not_for: tuple[str, ...] = Field((), title="engines that its maker's list does not name")
    injections: tuple[str, ...] = Field((), title="injections")
    inductions: tuple[str, ...] = Field((), title="inductions")
    gearboxes: tuple[str, ...] = Field((), title="gearboxes it runs with")
    gearbox_module: str = Field("", title="module for other gearboxes")
    load_sensing: tuple[str, ...] = Field((), title="load sensing")
    connector: Connector | None = Field(None, title="connector")
    adapter_for: str = Field("", title="adapter harness for connector family")
    harness_mm: float | None = unit("mm", "harness", default=None)
    longer_harness_mm: float | None = unit("mm", "longer harness on offer", default=None)
    mount: str = Field("", title="mount")
    hose: bool | None = Field(None, title="manifold-pressure hose")
    off_s: float | None = unit("s", "ignition-off time", default=None, ge=0, le=600)
    map_before_power: bool | None = Field(None, title="firmware and map before first power-up")
    slots: int | None = Field(None, title="map slots", ge=1, le=4)
    flash_bytes: int | None = Field(None, title="flash, bytes")
    readable: bool | None = Field(None, title="image can be read")
    not_in_box: tuple[str, ...] | None = Field(None, title="not in the box")
    options: tuple[str, ...] | None = Field(None, title="options worth having")
    will_not_control: tuple[str, ...] | None = Field(None, title="will not control")
    twin_plugs: tuple[tuple[str, ...], ...] | None = Field(None, title="twin plugs, pair by pair")
    reversible_plugs: tuple[str, ...] | None = Field(None, title="plugs that go on both ways")
    rows: LookAlike | None = Field(None, title="injector row")
    locks: str | None = Field(None, title="locks")
    grounds: tuple[str, ...] | None = Field(None, title="grounds")
    torque: tuple[Fastening, ...] | None = Field(None, title="torque list")
    added_boost_kpa: float | None = unit("kPa", "boost it adds, most", default=None, ge=0)
    ethanol_sensor: bool | None = Field(None, title="ethanol sensor in the feed line")
    sums: dict[str, dict[str, Any]] = Field({}, title="figures for the sums, by sum")

    @property
    def rescales_injectors(self) -> bool:
        """It can be told of other injectors; else the stock computer goes on feeding the ones it knows."""
        return False


class Computer(Device):
    """Takes the place of the stock computer, and answers to a name of its own."""

    computer: str = Field("", title="computer it presents as")
    spare_pins: int = Field(0, title="spare pins")

    @property
    def rescales_injectors(self) -> bool:
        return True


class PlugIn(Computer):
    """A computer on the stock connectors."""

    kind: Literal["plug-in ECU"] = Field(title="kind")


class StockCaseBoard(Computer):
    """A board that goes into the stock computer's case."""

    kind: Literal["board in the stock case"] = Field(title="kind")


class Standalone(Computer):
    """A full computer on a harness made for another car."""

    kind: Literal["standalone on an adapted harness"] = Field(title="kind")
    functions: tuple[str, ...] | None = Field(None, title="functions it needs")


class SensorPiggyback(Device):
    """Shifts what the stock computer sees of pressure."""

    kind: Literal["sensor piggyback"] = Field(title="kind")
    look_alikes: tuple[LookAlike, ...] | None = Field(None, title="look-alikes")
    warm_up_s: float | None = unit("s", "warm-up delay", default=None, ge=0, le=3600)
    levels: tuple[tuple[int, float], ...] | None = Field(None, title="levels: number, least RON")


class InjectorPiggyback(Device):
    """Lengthens the pulses of the stock computer."""

    kind: Literal["injector piggyback"] = Field(title="kind")
    temperature_probe: bool | None = Field(None, title="engine-temperature probe")


class InlineController(Device):
    """Sits between harness and computer of a small vehicle."""

    kind: Literal["inline fuel and ignition controller"] = Field(title="kind")
    shift_sensor: bool | None = Field(None, title="shift sensor")
    trim_bounds: Pair | None = Field(None, title="fuel trim, least and most, fraction")


class Flasher(Device):
    """Rewrites the stock computer through the diagnostic port."""

    kind: Literal["handheld or phone flasher"] = Field(title="kind")

    @property
    def rescales_injectors(self) -> bool:
        return True


class RemoteFlasher(Device):
    """The same with a file from a tuner elsewhere."""

    kind: Literal["laptop flasher with a remote tuner"] = Field(title="kind")

    @property
    def rescales_injectors(self) -> bool:
        return True


class SwappedComputer(Computer):
    """A second stock computer, programmed beforehand."""

    kind: Literal["swapped computer"] = Field(title="kind")


class DriverModule(Device):
    """A separate box that sets diesel injection."""

    kind: Literal["injector driver module"] = Field(title="kind")

    @property
    def rescales_injectors(self) -> bool:
        return True


class BodyNetworkModule(Device):
    """Sits between engine and body computer."""

    kind: Literal["body-network module"] = Field(title="kind")
    body_network: str = Field("", title="body network")


#: Kind of device → its record, in the order in which the trade lists them.
DEVICES: dict[str, type[Device]] = {
    record.model_fields["kind"].annotation.__args__[0]: record  # type: ignore[union-attr]
    for record in (
        PlugIn,
        StockCaseBoard,
        Standalone,
        SensorPiggyback,
        InjectorPiggyback,
        InlineController,
        Flasher,
        RemoteFlasher,
        SwappedComputer,
        DriverModule,
        BodyNetworkModule,
    )
}
