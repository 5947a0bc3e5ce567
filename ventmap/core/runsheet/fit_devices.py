"""Fit: which steps each kind of device asks for."""

from __future__ import annotations

from collections.abc import Callable

from ..basics import DeviceKind, HouseRules
from .fit_computers import adapted_harness, plug_in, stock_case, swapped_computer
from .fit_modules import body_network, driver_module, flasher, remote_flasher
from .fit_piggybacks import injector_piggyback, inline_controller, sensor_piggyback
from .fit_swap_harness import swap_harness
from .model import Kit, SheetVehicle, Step

#: A kind that has no steps of its own yet goes by those that every device has.
BY_KIND: dict[str, Callable[[SheetVehicle, Kit, HouseRules], list[Step]]] = {
    DeviceKind.plug_in: plug_in,
    DeviceKind.stock_case: stock_case,
    DeviceKind.standalone: adapted_harness,
    DeviceKind.sensor_piggyback: sensor_piggyback,
    DeviceKind.injector_piggyback: injector_piggyback,
    DeviceKind.inline_controller: inline_controller,
    DeviceKind.flasher: flasher,
    DeviceKind.remote_flasher: remote_flasher,
    DeviceKind.swapped: swapped_computer,
    DeviceKind.swap_harness: swap_harness,
    DeviceKind.driver_module: driver_module,
    DeviceKind.body_network: body_network,
}
