"""A device on the shelf: what all kinds share, and a record of its own for each kind."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, ClassVar, Literal

from pydantic import Field

from ..device_kinds import DeviceKind
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


#: What shows what is set in a device: by its own sheet, never by its kind.
ShowsOn = Literal["lamp", "dial", "display", "screen of its tool", "page of a phone", "nothing"]


class Device(Grown):
    """What every kind of device has. What is None is not known yet, and asked where a step needs it; what its
    maker has no list of (engines, gearboxes, a harness) is judged by hand.

    What a kind does is a trait of its record, so that a new kind says each of them once and every rule reads
    the same.
    """

    #: Takes the place of the stock computer.
    replaces_stock: ClassVar[bool] = False
    #: Writes into the stock computer's memory through the diagnostic port: without what was in it there is no
    #: way back, and it opens no connector of the engine.
    rewrites_stock: ClassVar[bool] = False
    #: Its full map is chosen, set, written and proved here, where the engine can be run.
    written_here: ClassVar[bool] = False
    #: It can be told of other injectors; else the stock computer goes on feeding the ones it knows.
    rescales_injectors: ClassVar[bool] = False
    #: The engine runs otherwise with it: other fuel, spark, boost or limits.
    retunes: ClassVar[bool] = True
    #: A factory computer itself: a flasher rewrites it as it would the stock one.
    factory: ClassVar[bool] = False
    #: Once it is in, nothing takes the vehicle back to what it was.
    no_way_back: ClassVar[bool] = False
    #: How it is out of the way within a minute, the engine as stock; empty where it takes work.
    stock_by: ClassVar[str] = ""
    #: Comes with its program: nothing writes it by a cable of its own.
    comes_written: ClassVar[bool] = False
    #: Sits between the stock computer and something that it measures or drives.
    sits_between: ClassVar[bool] = False
    #: Sits on the wires of the injectors.
    on_injector_wires: ClassVar[bool] = False
    #: Its harness is made or cut into on the bench.
    cut_into: ClassVar[bool] = False
    #: Its user chooses among option sets over the stock program.
    option_sets: ClassVar[bool] = False
    #: Shows what the manifold pressure sensor reads at key on.
    shows_pressure: ClassVar[bool] = False
    #: The step by which it is on the vehicle.
    on_by: ClassVar[str] = "fit.plugs"

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
    fixed_slots: tuple[int, ...] = Field((), title="slots that its maker keeps")
    shows_on: ShowsOn | None = Field(None, title="what shows what is set in it")
    set_by: str = Field("", title="set by", max_length=60)
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
    ethanol_max: float | None = Field(None, title="most ethanol it is made for, fraction", gt=0, le=1)
    sums: dict[str, dict[str, Any]] = Field({}, title="figures for the sums, by sum")


class Computer(Device):
    """Takes the place of the stock computer, and answers to a name of its own."""

    replaces_stock: ClassVar[bool] = True
    rescales_injectors: ClassVar[bool] = True
    shows_pressure: ClassVar[bool] = True

    computer: str = Field("", title="computer it presents as")
    spare_pins: int = Field(0, title="spare pins")


class PlugIn(Computer):
    """A computer on the stock connectors."""

    written_here: ClassVar[bool] = True

    kind: Literal[DeviceKind.plug_in] = Field(title="kind")


class StockCaseBoard(Computer):
    """A board that goes into the stock computer's case."""

    written_here: ClassVar[bool] = True

    kind: Literal[DeviceKind.stock_case] = Field(title="kind")


class Standalone(Computer):
    """A full computer on a harness made for another car."""

    written_here: ClassVar[bool] = True
    cut_into: ClassVar[bool] = True

    kind: Literal[DeviceKind.standalone] = Field(title="kind")
    functions: tuple[str, ...] | None = Field(None, title="functions it needs")


class SensorPiggyback(Device):
    """Shifts what the stock computer sees of pressure."""

    stock_by: ClassVar[str] = "the bypass plug in the module's place"
    sits_between: ClassVar[bool] = True
    shows_pressure: ClassVar[bool] = True

    kind: Literal[DeviceKind.sensor_piggyback] = Field(title="kind")
    look_alikes: tuple[LookAlike, ...] | None = Field(None, title="look-alikes")
    warm_up_s: float | None = unit("s", "warm-up delay", default=None, ge=0, le=3600)
    levels: tuple[tuple[int, float], ...] | None = Field(None, title="levels: number, least RON")


class InjectorPiggyback(Device):
    """Lengthens the pulses of the stock computer."""

    sits_between: ClassVar[bool] = True
    on_injector_wires: ClassVar[bool] = True
    on_by: ClassVar[str] = "fit.feed_lead"

    kind: Literal[DeviceKind.injector_piggyback] = Field(title="kind")
    temperature_probe: bool | None = Field(None, title="engine-temperature probe")


class InlineController(Device):
    """Sits between harness and computer of a small vehicle."""

    stock_by: ClassVar[str] = "position 0"
    sits_between: ClassVar[bool] = True
    on_injector_wires: ClassVar[bool] = True

    kind: Literal[DeviceKind.inline_controller] = Field(title="kind")
    shift_sensor: bool | None = Field(None, title="shift sensor")
    trim_bounds: Pair | None = Field(None, title="fuel trim, least and most, fraction")


class Flasher(Device):
    """Rewrites the stock computer through the diagnostic port."""

    rewrites_stock: ClassVar[bool] = True
    rescales_injectors: ClassVar[bool] = True
    option_sets: ClassVar[bool] = True
    on_by: ClassVar[str] = "load.read_back"

    kind: Literal[DeviceKind.flasher] = Field(title="kind")
    changes_engine: bool | None = Field(
        None, title="changes fuel, spark, boost, torque or limits of the engine"
    )


class RemoteFlasher(Device):
    """The same with a file from a tuner elsewhere."""

    rewrites_stock: ClassVar[bool] = True
    rescales_injectors: ClassVar[bool] = True
    on_by: ClassVar[str] = "load.read_back"

    kind: Literal[DeviceKind.remote_flasher] = Field(title="kind")


class SwappedComputer(Computer):
    """A second stock computer, programmed beforehand."""

    option_sets: ClassVar[bool] = True
    shows_pressure: ClassVar[bool] = False
    factory: ClassVar[bool] = True

    kind: Literal[DeviceKind.swapped] = Field(title="kind")


class SwapHarness(Computer):
    """The factory computer of the engine that was swapped in, on a harness made for the swap."""

    rescales_injectors: ClassVar[bool] = False
    factory: ClassVar[bool] = True
    comes_written: ClassVar[bool] = True
    no_way_back: ClassVar[bool] = True

    kind: Literal[DeviceKind.swap_harness] = Field(title="kind")


class DriverModule(Device):
    """A separate box that sets diesel injection."""

    rescales_injectors: ClassVar[bool] = True
    on_injector_wires: ClassVar[bool] = True

    kind: Literal[DeviceKind.driver_module] = Field(title="kind")


class BodyNetworkModule(Device):
    """Sits between engine and body computer."""

    retunes: ClassVar[bool] = False

    kind: Literal[DeviceKind.body_network] = Field(title="kind")
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
        SwapHarness,
        DriverModule,
        BodyNetworkModule,
    )
}


def kinds_with(trait: Callable[[type[Device]], bool]) -> tuple[str, ...]:
    """The kinds whose record has a trait, in the trade's order.

    Examples
    --------
    >>> [kind.name for kind in kinds_with(lambda record: record.rewrites_stock)]
    ['flasher', 'remote_flasher']
    """
    return tuple(kind for kind, record in DEVICES.items() if trait(record))


def written_by_cable(record: type[Device]) -> bool:
    """Whether it browns out in the middle of a write on a weak battery, and half a program is left."""
    return record.rewrites_stock or (record.replaces_stock and not record.comes_written)
