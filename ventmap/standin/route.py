"""Driving: a script of idle, cruise, hills, pulls and overrun, with a foot that behaves like a foot."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from math import sin

from .engine import DT, Engine

Tick = Callable[[], None]


@dataclass(frozen=True)
class Leg:
    """A stretch of driving.

    Parameters
    ----------
    kind : str
        ``"start"``, ``"idle"``, ``"hold"``, ``"pull"``, ``"lift"``, ``"stop"``.
    seconds : float
    gear : int
    rpm : float
        Engine speed to hold (hold), to begin from (pull), or to fall to (lift).
    to_rpm : float
        Engine speed at which a pull ends.
    pedal : float
        Pedal at which a hold runs while the drum's brake keeps the speed [%].
    """

    kind: str
    seconds: float = 10.0
    gear: int = 0
    rpm: float = 0.0
    to_rpm: float = 0.0
    pedal: float = 0.0


def fuel_route(top_rpm: float) -> list[Leg]:
    """A route that visits the cells a car is driven in: idle, part load at rising speeds, pulls, overrun.

    The drum's brake holds the speed while the pedal is held, as for any steady-state map.
    """
    legs = [Leg("start", 5.0), Leg("idle", 22.0)]
    for rpm in (1250, 1700, 2200, 2700, 3300, 4000, 4700, 5400):
        for pedal in (8.0, 13.0, 20.0, 32.0, 55.0):
            # More air is asked for at speed: the same foot gives less pressure there.
            legs.append(Leg("hold", 4.0, gear=4, rpm=rpm, pedal=pedal * (0.6 + rpm / 5000.0)))
    legs.append(Leg("lift", 6.0, gear=4, rpm=2000))
    for _ in range(2):
        legs += [
            Leg("hold", 4.0, gear=2, rpm=1800, pedal=15.0),
            Leg("pull", 15.0, gear=2, rpm=1800, to_rpm=top_rpm - 300),
            Leg("lift", 6.0, gear=2, rpm=2200),
            Leg("hold", 6.0, gear=4, rpm=2000, pedal=18.0),
        ]
    return [*legs, Leg("lift", 8.0, gear=3, rpm=1500), Leg("stop", 6.0), Leg("idle", 25.0)]


def pull_route(top_rpm: float, gear: int = 3) -> list[Leg]:
    """One drum pull from a rolling start, and the lift after it."""
    return [
        Leg("start", 4.0),
        Leg("hold", 4.0, gear=gear, rpm=1700, pedal=18.0),
        Leg("pull", 25.0, gear=gear, rpm=1700, to_rpm=top_rpm - 250),
        Leg("lift", 5.0, gear=gear, rpm=2500),
    ]


class Driver:
    """Drives an engine over legs, one physics step at a time."""

    def __init__(self, engine: Engine) -> None:
        self.engine = engine
        self.integral = 0.0  # of the brake [N·m]

    def drive(self, legs: list[Leg]) -> Iterator[Leg]:
        """Yield after every physics step, with the leg being driven."""
        for leg in legs:
            start = self.engine.time
            for _ in self._leg(leg):
                yield leg
                if self.engine.time - start >= leg.seconds:
                    break

    def _leg(self, leg: Leg) -> Iterator[None]:
        engine = self.engine
        engine.cranking = False
        engine.load_torque = 0.0
        if leg.kind == "start":
            yield from self._start()
        elif leg.kind == "idle":
            engine.gear, engine.pedal = 0, 0.0
            while True:
                engine.step()
                yield
        elif leg.kind == "hold":
            self._into_gear(leg)
            while True:
                self._hold(leg)
                engine.step()
                yield
        elif leg.kind == "pull":
            self._into_gear(leg)
            while engine.rpm < leg.to_rpm:
                engine.pedal = min(100.0, engine.pedal + 400.0 * DT)
                engine.step()
                yield
            engine.pedal = 0.0
        elif leg.kind == "lift":
            engine.pedal = 0.0
            while engine.rpm > leg.rpm:
                engine.step()
                yield
        else:
            engine.gear, engine.pedal = 0, 0.0
            while True:
                engine.step()
                yield

    def _start(self) -> Iterator[None]:
        engine = self.engine
        engine.key, engine.gear, engine.pedal = True, 0, 0.0
        for _ in range(int(1.0 / DT)):
            engine.step()
            yield
        engine.cranking = True
        while engine.rpm < 600:
            engine.step()
            yield
        engine.cranking = False
        while True:
            engine.step()
            yield

    def _into_gear(self, leg: Leg) -> None:
        engine = self.engine
        if engine.gear != leg.gear:
            # A shift: the new gear's speed is reached with the clutch, out of the log's resolution.
            engine.gear = leg.gear
            engine.rpm = max(leg.rpm * 0.97, 900.0)

    def _hold(self, leg: Leg) -> None:
        """Foot still, brake on: the brake's controller keeps the speed, with a slow wander as real ones
        have.
        """
        engine = self.engine
        engine.pedal += max(-20.0 * DT, min(20.0 * DT, leg.pedal - engine.pedal))
        error = engine.rpm - leg.rpm * (1.0 + 0.03 * sin(engine.time * 1.3))
        self.integral = max(-200.0, min(200.0, self.integral + 0.25 * error * DT))
        engine.load_torque = 0.25 * error + self.integral
