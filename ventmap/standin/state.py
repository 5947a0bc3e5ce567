"""What changes while a pretend vehicle runs, as its parts share it."""

from __future__ import annotations

import random

from .air import Pneumatics
from .burn import Burning
from .feed import Feed
from .runtime import Command
from .truth import VehicleTruth

#: Wind of the fan before a vehicle on the drum [km/h].
FAN_KMH = 60.0


class State:
    """Engine and vehicle at one moment."""

    def __init__(self, truth: VehicleTruth) -> None:
        self.truth = truth
        self.random = random.Random(truth.seed)
        self.time = 0.0
        self.rpm = 0.0
        self.mixture = 1.0  # at the exhaust port
        self.measured = 1.0  # at the sensor
        self.pedal = 0.0
        self.gear = 0
        self.speed_kmh = 0.0
        self.cranking = False
        self.load_torque = 0.0  # N·m at the engine, from a drum or a hill
        self.drum_inertia: float | None = None  # kg·m² at the engine; None is the road
        self.coolant = truth.ambient_c
        self.soak = 4.0  # K that air gains between cooler and port
        self.volts = 12.66
        self.probe_c = truth.ambient_c + 4.0  # what the intake's thermistor has come to
        self.fan = False
        self.command = Command()
        self.knocking = 0  # cylinder that knocks, 1 the first
        self.misfires = 0.0  # charges that did not burn
        self.brake = False
        self.sag = 0.0  # volts that the battery has fallen by in a write
        self.late = 0.0  # spark later than asked [°]
        self.offset_off = 0.0  # trigger offset as set, less where the edge passes by its works [°]
        self.locked: float | None = None  # spark held for a timing light [°]
        self.torque = 0.0
        self.air = Pneumatics(truth)
        self.feed = Feed(truth)
        self.burn = Burning(truth)

    @property
    def manifold(self) -> float:
        return self.air.manifold

    @property
    def intake(self) -> float:
        """Air at the port [°C]."""
        return self.air.charge_c + self.soak

    @property
    def wind_kmh(self) -> float:
        """Air over the coolers: by the road; on a drum the fan's."""
        return max(self.speed_kmh, FAN_KMH) if self.drum_inertia is not None else self.speed_kmh

    @property
    def rail_gauge(self) -> float:
        return self.feed.rail

    @property
    def duty(self) -> float:
        return self.feed.duty
