"""The kinds of device, by the trade's own names."""

from __future__ import annotations

from enum import StrEnum


class DeviceKind(StrEnum):
    """What a device is, in the order in which the trade lists them; what each does stands on its record
    (`basics.records.device`).
    """

    plug_in = "plug-in ECU"
    stock_case = "board in the stock case"
    standalone = "standalone on an adapted harness"
    sensor_piggyback = "sensor piggyback"
    injector_piggyback = "injector piggyback"
    inline_controller = "inline fuel and ignition controller"
    flasher = "handheld or phone flasher"
    remote_flasher = "laptop flasher with a remote tuner"
    swapped = "swapped computer"
    swap_harness = "factory computer on a swap harness"
    driver_module = "injector driver module"
    body_network = "body-network module"
