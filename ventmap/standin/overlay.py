"""Boxes between the stock computer and its sensors or injectors, as they act while an engine runs."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ventmap.core.basics import BadInput, Curve, Table2D
from ventmap.core.forms import Calibration

from .faults import Faults
from .lookup import Lookup
from .runtime import Command, Sensed
from .truth import VehicleTruth

#: At which a box's maker set its dead time [V].
BOX_VOLTS = 13.5
#: What a reversed sensor plug reads: the sensor's supply, far above any boost [kPa].
RAIL_READING = 380.0


class Overlay:
    """No box: what the computer sees and asks is what there is."""

    def sense(self, now: Sensed) -> Sensed:
        return now

    def act(self, command: Command, now: Sensed) -> Command:
        return command


class Overlays(Overlay):
    """Boxes one after the other, in the kit's order."""

    def __init__(self, boxes: Sequence[Overlay]) -> None:
        self.boxes = tuple(boxes)

    def sense(self, now: Sensed) -> Sensed:
        for box in self.boxes:
            now = box.sense(now)
        return now

    def act(self, command: Command, now: Sensed) -> Command:
        for box in self.boxes:
            command = box.act(command, now)
        return command


class SensorBox(Overlay):
    """Lowers what the stock computer sees of the charge pressure, so that it makes more boost.

    Parameters
    ----------
    added : Curve
        Added boost of the level that is in, over speed [kPa].
    """

    def __init__(self, added: Curve, faults: Faults, warm_up_s: float = 0.0) -> None:
        self.added, self.faults, self.warm_up_s = added, faults, warm_up_s
        self.ran = 0.0

    def sense(self, now: Sensed) -> Sensed:
        if self.faults.reversed_plug:
            now.charge_kpa = RAIL_READING
            return now
        self.ran = self.ran + 0.01 if now.rpm > 400 else 0.0
        boost = now.charge_kpa - now.barometer_kpa
        if boost < 15.0 or self.ran < self.warm_up_s:
            return now
        # It works up with boost, so that part load stays as it was.
        added = self.added.at(now.rpm) * min(1.0, (boost - 15.0) / 20.0)
        if self.faults.wrong_sensor:
            # On the look-alike at the manifold it is the fuel that is fooled, not the boost.
            now.manifold_kpa -= added
        else:
            now.charge_kpa -= added
        return now


class InjectorBox(Overlay):
    """Lengthens each pulse by its factor for the ethanol content.

    Parameters
    ----------
    factor : Curve
        Over ethanol content [%].
    content : float
        What its sensor reads, 0–1.
    dead_ms : float
        Dead time of the injectors that it was made for, which it does not lengthen [ms].
    """

    def __init__(
        self,
        factor: Curve,
        content: float,
        faults: Faults,
        start: Curve | None = None,
        dead_ms: float = 0.0,
    ) -> None:
        self.dead_ms = dead_ms
        self.factor = factor.at(100.0 * content)
        self.start, self.faults = start, faults
        self.ran = 0.0

    def act(self, command: Command, now: Sensed) -> Command:
        # On the wrong side it never sees an injector switch, and passes pulses on as they are.
        if command.pulse_ms <= 0.0 or self.faults.wrong_side:
            return command
        self.ran = self.ran + 0.01 if now.rpm > 400 else 0.0
        factor = self.factor
        if self.start is not None and self.ran < 20.0:
            factor *= 1.0 + self.start.at(now.coolant_c) / 100.0 * (1.0 - self.ran / 20.0)
        command.pulse_ms += (factor - 1.0) * max(command.pulse_ms - self.dead_ms, 0.0)
        return command


class InlineBox(Overlay):
    """Multiplies pulse and shifts spark over speed × throttle; a rev limit of its own.

    Parameters
    ----------
    fuel, spark : Table2D
        Trims of the position that is set [%, °].
    """

    def __init__(self, fuel: Table2D, spark: Table2D | None, rev_limit: float) -> None:
        self.fuel = Lookup(fuel)
        self.spark = Lookup(spark) if spark is not None else None
        self.rev_limit = rev_limit

    def act(self, command: Command, now: Sensed) -> Command:
        if now.rpm > self.rev_limit:
            command.pulse_ms = 0.0
        if command.pulse_ms <= 0.0:
            return command
        command.pulse_ms *= 1.0 + self.fuel(now.rpm, command.throttle) / 100.0
        if self.spark is not None:
            command.spark += self.spark(now.rpm, command.throttle)
        return command


class DriverBox(Overlay):
    """A diesel's injector driver: the pulse by its own table over demand × speed.

    Parameters
    ----------
    pulse_us : Table2D
        Over speed and demand [µs].
    """

    def __init__(self, pulse_us: Table2D) -> None:
        self.pulse = Lookup(pulse_us)

    def act(self, command: Command, now: Sensed) -> Command:
        if command.pulse_ms > 0.0:
            command.pulse_ms = self.pulse(now.rpm, command.demand) / 1000.0
        return command


def _position(calibration: Calibration) -> str:
    """The first position of a selector that can be written."""
    return next(name.split(".")[1] for name in sorted(calibration.tables) if name.startswith("fuel_trim."))


def place_of(calibration: Calibration) -> str:
    """Which level, preset or position of its map a box runs here, in words."""
    if calibration.form == "trim":
        return f", position {_position(calibration)}"
    for name in ("level", "preset"):
        if name in calibration.scalars:
            return f", {name} {calibration.scalars[name]:g}"
    return ""


def overlay_of(calibration: Calibration, truth: VehicleTruth) -> Overlay:
    """The box that runs this map, on this vehicle.

    Raises
    ------
    BadInput
        If the form is not one that a box between computer and engine runs.
    """
    tables, scalars = calibration.tables, calibration.scalars
    if calibration.form == "level":
        levels = tables["added_boost"]
        level = scalars.get("level", 1.0)
        row = int(np.argmin(np.abs(levels.y - level)))
        added = levels.values[row] if level >= levels.y[0] else np.zeros(len(levels.x))
        return SensorBox(Curve(levels.x, added), truth.faults, scalars.get("warm_up_s", 0.0))
    if calibration.form == "blend":
        factor = tables["pulse_factor"]
        row = int(np.argmin(np.abs(factor.y - scalars.get("preset", factor.y[0]))))
        start = tables.get("start_addition")
        return InjectorBox(
            Curve(factor.x, factor.values[row]),
            truth.fuel.ethanol,
            truth.faults,
            start=Curve(start.x, start.values[0]) if start is not None else None,
            dead_ms=truth.dead_time.at(BOX_VOLTS, truth.injector_rated_kpa),
        )
    if calibration.form == "trim":
        position = _position(calibration)
        limits = {str(int(row["number"])): row["rev_limit"] for row in calibration.lists.get("positions", ())}
        return InlineBox(
            tables[f"fuel_trim.{position}"],
            tables.get(f"spark_trim.{position}"),
            rev_limit=float(limits.get(position, truth.top_rpm)),
        )
    if calibration.form == "driver":
        return DriverBox(tables["pulse_us"])
    raise BadInput(f"A map of the form “{calibration.form}” does not run between computer and engine.", "map")
