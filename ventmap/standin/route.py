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
        ``"start"``, ``"idle"``, ``"hold"``, ``"pull"``, ``"lift"``, ``"blip"`` (standing), ``"stop"``.
    seconds : float
    gear : int
    rpm : float
        Engine speed to hold (hold), to begin from (pull), or to fall to (lift).
    to_rpm : float
        Engine speed at which a pull or a blip ends.
    pedal : float
        Pedal at which a hold runs while the drum's brake keeps the speed, or to which a blip goes [%].
    hang_s : float
        How long a pull goes on, against the limiter, once it is there [s].
    """

    kind: str
    seconds: float = 10.0
    gear: int = 0
    rpm: float = 0.0
    to_rpm: float = 0.0
    pedal: float = 0.0
    hang_s: float = 0.0


#: Speeds of the fuel route, as shares of the way from idle to four fifths of top speed.
SHARES = (0.09, 0.19, 0.3, 0.41, 0.54, 0.69, 0.85, 1.0)
PEDALS = (8.0, 13.0, 20.0, 32.0, 55.0)
#: A shift takes this long; the foot is off and the engine meets the next gear's speed [s].
SHIFT_S = 0.35


def fuel_route(top_rpm: float, idle_rpm: float = 820.0, gears: int = 5) -> list[Leg]:
    """A route that visits the cells an engine is driven in: idle, part load at rising speeds, pulls, overrun.

    The drum's brake holds the speed while the pedal is held, as for any steady-state map.
    """
    span = 0.8 * top_rpm - idle_rpm

    def rpm(share: float) -> float:
        return round(idle_rpm + share * span)

    high, low = min(4, gears), min(2, gears)
    legs = [Leg("start", 5.0), Leg("idle", 22.0)]
    for share in SHARES:
        for pedal in PEDALS:
            # More air is asked for at speed: the same foot gives less pressure there.
            asked = min(100.0, pedal * (0.6 + 1.36 * rpm(share) / top_rpm))
            legs.append(Leg("hold", 4.0, gear=high, rpm=rpm(share), pedal=asked))
    legs.append(Leg("lift", 6.0, gear=high, rpm=rpm(0.26)))
    for _ in range(2):
        legs += [
            Leg("hold", 4.0, gear=low, rpm=rpm(0.22), pedal=15.0),
            Leg("pull", 15.0, gear=low, rpm=rpm(0.22), to_rpm=0.955 * top_rpm),
            Leg("lift", 6.0, gear=low, rpm=rpm(0.3)),
            Leg("hold", 6.0, gear=high, rpm=rpm(0.26), pedal=18.0),
        ]
    return [*legs, Leg("lift", 8.0, gear=min(3, gears), rpm=rpm(0.15)), Leg("stop", 6.0), Leg("idle", 25.0)]


def pull_route(top_rpm: float, gear: int = 3, idle_rpm: float = 820.0) -> list[Leg]:
    """One drum pull from a rolling start, and the lift after it."""
    low = round(idle_rpm + 0.2 * (0.8 * top_rpm - idle_rpm))
    return [
        Leg("start", 4.0),
        Leg("hold", 4.0, gear=gear, rpm=low, pedal=18.0),
        Leg("pull", 25.0, gear=gear, rpm=low, to_rpm=top_rpm - 250),
        Leg("lift", 5.0, gear=gear, rpm=round(1.5 * low)),
    ]


def road_route(top_rpm: float, idle_rpm: float, gears: int, minutes: float) -> list[Leg]:
    """Roads until the time is over: towns, a climb, a pull, and the lifts between."""
    span = 0.8 * top_rpm - idle_rpm
    legs: list[Leg] = [Leg("start", 5.0), Leg("idle", 20.0)]
    drive = [
        (0.15, 9.0, 1),
        (0.3, 16.0, 2),
        (0.25, 14.0, 3),
        (0.35, 30.0, 3),
        (0.3, 18.0, 4),
        (0.55, 45.0, 4),
    ]
    used, turn = 25.0, 0
    while used < 60.0 * minutes:
        share, pedal, gear = drive[turn % len(drive)]
        legs.append(Leg("hold", 8.0, gear=min(gear, gears), rpm=round(idle_rpm + share * span), pedal=pedal))
        used += 8.0
        turn += 1
        if turn % len(drive) == 0:
            low = round(idle_rpm + 0.22 * span)
            gear = min(2, gears)
            legs += [
                Leg("hold", 4.0, gear=gear, rpm=low, pedal=15.0),
                Leg("pull", 15.0, gear=gear, rpm=low, to_rpm=0.955 * top_rpm),
                Leg("lift", 8.0, gear=gear, rpm=round(idle_rpm + 0.2 * span)),
                Leg("idle", 15.0),
                blip(idle_rpm),
            ]
            used += 48.0
    return legs


def blip(idle_rpm: float) -> Leg:
    """The foot's short push while standing: a throttle that sticks shows as the speed comes down."""
    return Leg("blip", 14.0, to_rpm=max(3400.0, idle_rpm + 1700.0), pedal=30.0)


class Driver:
    """Drives an engine over legs, one physics step at a time."""

    def __init__(self, engine: Engine) -> None:
        self.engine = engine
        self.integral = 0.0  # of the brake [N·m]

    def drive(self, legs: list[Leg], lifted: Callable[[], bool] = lambda: False) -> Iterator[Leg]:
        """Yield after every physics step, with the leg being driven; once `lifted` says so the foot comes
        off, and the drive ends where it has come to rest.
        """
        for leg in legs:
            if lifted():
                break
            start = self.engine.time
            for _ in self._leg(leg):
                yield leg
                if lifted() or self.engine.time - start >= leg.seconds:
                    break
        else:
            return
        yield from self.drive([Leg("lift", 6.0, rpm=1.5 * self.engine.truth.idle_rpm), Leg("stop", 4.0)])

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
            yield from self._into_gear(leg)
            while True:
                self._hold(leg)
                engine.step()
                yield
        elif leg.kind == "pull":
            yield from self._into_gear(leg)
            while engine.rpm < leg.to_rpm:
                engine.pedal = min(100.0, engine.pedal + 400.0 * DT)
                engine.step()
                yield
            for _ in range(round(leg.hang_s / DT)):
                engine.step()
                yield
            engine.pedal = 0.0
        elif leg.kind == "blip":
            engine.gear, engine.pedal = 0, 0.0
            while engine.rpm < leg.to_rpm:
                engine.pedal = min(leg.pedal, engine.pedal + 60.0 * DT)
                engine.step()
                yield
            engine.pedal = 0.0
            while True:
                engine.step()
                yield
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
        while engine.rpm < 0.7 * engine.truth.idle_rpm:
            engine.step()
            yield
        engine.cranking = False
        while True:
            engine.step()
            yield

    def _into_gear(self, leg: Leg) -> Iterator[None]:
        """A shift: foot off, clutch in, and the speed of the next gear met."""
        engine = self.engine
        if engine.gear == leg.gear:
            return
        engine.gear, engine.pedal, engine.load_torque = 0, 0.0, 0.0
        aim = max(leg.rpm * 0.97, 1.08 * engine.truth.idle_rpm)
        for left in range(round(SHIFT_S / DT), 0, -1):
            engine.step()
            engine.rpm += (aim - engine.rpm) / left
            yield
        engine.gear = leg.gear

    def _hold(self, leg: Leg) -> None:
        """Foot still, brake on: the brake's controller keeps the speed, with a slow wander as real ones
        have.
        """
        engine = self.engine
        engine.pedal += max(-20.0 * DT, min(20.0 * DT, leg.pedal - engine.pedal))
        error = engine.rpm - leg.rpm * (1.0 + 0.03 * sin(engine.time * 1.3))
        self.integral = max(-200.0, min(200.0, self.integral + 0.25 * error * DT))
        engine.load_torque = 0.25 * error + self.integral
