"""Records: what stands on the shelf, typed once; units, bounds and defaults stand here and nowhere else."""

from .access import AccessItem, AccessList
from .common import Record, read_record, told
from .device import (
    DEVICES,
    BodyNetworkModule,
    Computer,
    Device,
    DriverModule,
    Fastening,
    Flasher,
    InjectorPiggyback,
    InlineController,
    LookAlike,
    MadeFor,
    PlugIn,
    RemoteFlasher,
    SensorPiggyback,
    ShowsOn,
    Standalone,
    StockCaseBoard,
    SwappedComputer,
    kinds_with,
    written_by_cable,
)
from .injector import CodeField, DeadTimeFigures, Injector
from .layout import EngineLayout
from .schema import plain_schema
from .shelf import KEY_PATTERN, NAME_LENGTH, RECORDS, read_body, read_device, shelf_schema
from .source import CLOCK, ColumnHint, LogSource
from .stores import Consumable, Pump, Sensor, ShelfConnector, SoldFuel, Tool
from .told import SOURCES, Grown, Told
from .vehicle import Connector, Induction, InjectorSeat, Vehicle

__all__ = [
    "CLOCK",
    "DEVICES",
    "KEY_PATTERN",
    "NAME_LENGTH",
    "RECORDS",
    "SOURCES",
    "AccessItem",
    "AccessList",
    "BodyNetworkModule",
    "CodeField",
    "ColumnHint",
    "Computer",
    "Connector",
    "Consumable",
    "DeadTimeFigures",
    "Device",
    "DriverModule",
    "EngineLayout",
    "Fastening",
    "Flasher",
    "Grown",
    "Induction",
    "Injector",
    "InjectorPiggyback",
    "InjectorSeat",
    "InlineController",
    "LogSource",
    "LookAlike",
    "MadeFor",
    "PlugIn",
    "Pump",
    "Record",
    "RemoteFlasher",
    "Sensor",
    "SensorPiggyback",
    "ShelfConnector",
    "ShowsOn",
    "SoldFuel",
    "Standalone",
    "StockCaseBoard",
    "SwappedComputer",
    "Told",
    "Tool",
    "Vehicle",
    "kinds_with",
    "plain_schema",
    "read_body",
    "read_device",
    "read_record",
    "shelf_schema",
    "told",
    "written_by_cable",
]
