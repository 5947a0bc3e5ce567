"""Fit: which steps each kind of device asks for."""

from __future__ import annotations

from collections.abc import Callable

from ..basics import HouseRules
from .fit_computers import adapted_harness, plug_in, stock_case, swapped_computer
from .fit_modules import body_network, driver_module, flasher, remote_flasher
from .fit_piggybacks import injector_piggyback, inline_controller, sensor_piggyback
from .model import KINDS, Kit, SheetVehicle, Step

BY_KIND: dict[str, Callable[[SheetVehicle, Kit, HouseRules], list[Step]]] = dict(
    zip(
        KINDS,
        (
            plug_in,
            stock_case,
            adapted_harness,
            sensor_piggyback,
            injector_piggyback,
            inline_controller,
            flasher,
            remote_flasher,
            swapped_computer,
            driver_module,
            body_network,
        ),
        strict=True,
    )
)
