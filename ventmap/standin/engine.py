"""A mean-value engine in its vehicle: air, fuel, mixture, torque, heat and motion, ten milliseconds at a
time.
"""

from __future__ import annotations

from collections import deque
from typing import Protocol

from ventmap.core.basics import RPM_PER_RAD_S
from ventmap.core.fuel import mixture_of

from .heat import Heat
from .motion import Motion
from .overlay import Overlay
from .runtime import Command, Sensed
from .sensors import Sensors
from .state import State
from .truth import VehicleTruth
from .watch import Watch

DT = 0.01
CRANK_RPM = 230.0
SENSOR_LAG_S = 0.04
#: The computer looks at itself every so many steps.
WATCH_EVERY = 10
#: Traction control: when in a pull it cuts, and for how long [s].
CUT_AFTER_S, CUT_FOR_S = 1.4, 0.6
#: Share of a two-stroke's air that runs through unburnt: where its pipe is in tune, and far from there.
SHORT = (0.05, 0.20)
#: How much of the oxygen of a missed charge the probe sees; degrees nearer to knock for each share leaner.
MISSED, PRONE = 0.8, 40.0


class Program(Protocol):
    """What runs in a computer."""

    idle_target: float
    rev_limit: float
    long: float

    def step(self, now: Sensed, dt: float) -> Command: ...


class Engine(State):
    """Physics, step by step. `runtime` is the computer's program; None where no sound map is loaded."""

    def __init__(self, truth: VehicleTruth, runtime: Program | None, coolant_c: float | None = None) -> None:
        super().__init__(truth)
        self.runtime = runtime
        self.key = False
        self.overlay = Overlay()
        self.true_error = 0.0  # fuel short (+) or over (−) of target as the map gives it
        self.air_g = self.fuel_g = 0.0  # in one cylinder, this cycle
        self._delay: deque[float] = deque([1.0] * 120, maxlen=120)
        self.watch = Watch()
        self._ticks = 0
        self._pulling_s = 0.0
        self._plate = 0.0  # where a throttle that sticks has come to [%]
        self.heat = Heat(truth)
        self.motion = Motion(truth)
        self.sensors = Sensors(truth)
        self.volts = self.heat.rest
        if coolant_c is None:
            # It stood overnight: everything is as warm as the air around it.
            self.soak, self.probe_c = 0.3, truth.ambient_c
        else:
            self.coolant = coolant_c
        self._diesel = truth.build.burn.kind == "diesel"
        self._tuned = truth.build.burn.tuned_rpm
        self._wet = 1.0 - truth.faults.water_in_ethanol

    def channels(self) -> dict[str, float]:
        """Live values as the computer reports them, with the sensors' own bias and noise."""
        return self.sensors.channels(self, self.runtime.idle_target if self.runtime else 0.0)

    def live(self, name: str) -> float | None:
        """One of them; None where there is no such probe."""
        return self.sensors.live(name, self, self.runtime.idle_target if self.runtime else 0.0)

    # -- one step -------------------------------------------------------------------------------------

    def step(self) -> None:
        """Advance by `DT`."""
        self.time += DT
        now = self.sensors.sensed(self)
        now = self.overlay.sense(now)
        program = self.runtime if self.key else None
        command = program.step(now, DT) if program else Command(throttle=6.0)
        self.command = command = self.overlay.act(command, now)
        if self.locked is not None:
            command.spark = self.locked
        faults = self.truth.faults
        self.late = faults.trigger_offset + self.offset_off + 0.006 * self.rpm * faults.pickup_delay
        if self.truth.faults.traction_cut:
            self._traction(command)
        if faults.sticking_throttle:
            fallen = self._plate + (command.throttle - self._plate) * DT / faults.sticking_throttle
            command.throttle = self._plate = max(command.throttle, fallen)
        self._ticks += 1
        if self._ticks % WATCH_EVERY == 0 and program:
            self.watch.step(now, command, DT * WATCH_EVERY)
        air, rpm = self.air, self.rpm
        self.speed_kmh = self.motion.speed_kmh(rpm, self.gear)
        self.air_g = air.step(
            rpm, command.throttle, self.soak, speed_kmh=self.wind_kmh, gate=command.gate, dt=DT
        )
        self._burn(command, rpm)
        self._turn(command, rpm)
        self.heat.step(self, DT)

    def _traction(self, command: Command) -> None:
        """A wheel spins in a pull: torque is taken away, and comes back."""
        self._pulling_s = self._pulling_s + DT if self.pedal > 95.0 and self.gear else 0.0
        if CUT_AFTER_S < self._pulling_s < CUT_AFTER_S + CUT_FOR_S:
            left = 1.0 - self.truth.faults.traction_cut
            command.throttle *= left
            if self._diesel:
                command.pulse_ms *= left

    def _burn(self, command: Command, rpm: float) -> None:
        feed = self.feed
        feed.pressure(self.air.manifold, command.rail_kpa, rpm, DT)
        if rpm < 50:
            feed.duty = feed.effective = feed.flow = self.fuel_g = 0.0
            self._delay.append(self.mixture)
            return
        pulse, volts = command.pulse_ms, self.volts
        if self.truth.faults.crossed_plugs:
            pulse = pulse if self.cranking else 0.0
        stoichiometric = self.truth.fuel.stoichiometric
        burnt = feed.inject(pulse, rpm, volts, self.coolant, self.air.manifold, DT)
        self.fuel_g = burnt = burnt * self._wet
        self.mixture = mixture_of(self.air_g, max(burnt, 1e-9), stoichiometric)
        if not self._diesel and self.mixture > 2.0:
            self.mixture = 2.0
        self._delay.append(self._at_the_probe(rpm))
        delay = min(0.9, 0.05 + 4.0 / (rpm * self.air.manifold / 1000.0 + 20.0))
        arriving = self._delay[max(0, len(self._delay) - 1 - int(delay / DT))]
        self.measured += (arriving - self.measured) * min(1.0, DT / SENSOR_LAG_S)
        if command.pulse_ms > 0 and command.target > 0:
            self.true_error = self._map_error(command)

    def _at_the_probe(self, rpm: float) -> float:
        """Mixture as the exhaust shows it: fresh air that ran through a two-stroke, or a charge that did not
        burn, is oxygen that a probe takes for lean.
        """
        mixture, missed = self.mixture, self.truth.faults.misfire
        if self._tuned is not None:
            off = min(1.0, abs(rpm - self._tuned) / (0.5 * self._tuned))
            mixture *= 1.0 + SHORT[0] + (SHORT[1] - SHORT[0]) * off**1.1
        if missed:
            mixture *= 1.0 + MISSED * missed / self.truth.cylinders
        return mixture

    def _map_error(self, command: Command) -> float:
        """Steady fuel short (+) or over (−) of the target, as the map alone gives it: no trims, no film."""
        feed = self.feed
        trims = 1.0 + (command.short_trim + command.long_trim) / 100.0
        trims *= 1.0 + command.global_trim
        effective = (command.pulse_ms - command.dead_ms) / trims + command.dead_ms - feed.dead
        given = max(effective, 1e-3) * feed.grams_per_ms_root * feed.across**0.5
        return mixture_of(self.air_g, given, self.truth.fuel.stoichiometric) / command.target - 1.0

    def _listen(self, command: Command) -> None:
        """The cylinder whose turn it is: the leaner it runs and the earlier its spark, the sooner it
        knocks.
        """
        lean, retards = self.sensors.lean, command.retards
        which = self._ticks % len(lean)
        earlier = PRONE * lean[which]
        if retards:
            earlier += sum(retards) / len(retards) - retards[which % len(retards)]
        chance = self.burn.knock_chance(earlier)
        if chance > 0.0 and self.random.random() < chance:
            self.knocking = which + 1

    def _turn(self, command: Command, rpm: float) -> None:
        truth, burn, air = self.truth, self.burn, self.air
        burns = command.pulse_ms > 0 and rpm > 150 and not truth.faults.crossed_plugs
        torque = 0.0
        self.knocking = 0
        if burns:
            burn.pulse_ms = self.feed.effective
            torque = burn.torque(
                self.air_g,
                self.fuel_g,
                self.mixture,
                command.spark - self.late,
                rpm,
                air.manifold,
                self.intake,
            )
            if truth.faults.crossed_coils and not self._diesel:
                # Two cylinders are lit at the wrong stroke: they give nothing.
                torque *= max(0.0, 1.0 - 2.0 / truth.cylinders)
            # No two cycles burn alike, a light charge least.
            torque *= 1.0 + self.random.gauss(0.0, 0.05 if air.manifold < 50.0 else 0.012)
            if truth.faults.misfire and not self._diesel:
                self.misfires += truth.faults.misfire * rpm * self.feed.per_second / truth.cylinders * DT
                if self.random.random() < truth.faults.misfire:
                    torque *= 1.0 - 1.0 / truth.cylinders
            self._listen(command)
        burn.warm_exhaust(self.mixture, air.flow, torque > 0.0, DT)
        friction = burn.friction(rpm, air.manifold) + air.torque
        if rpm < 5.0 and not self.cranking:
            friction = 0.0
        self.torque = torque - friction
        starter = 0.0
        if self.cranking and rpm < CRANK_RPM:
            starter = 60.0 * burn.size * (1.0 - rpm / CRANK_RPM) + friction
        net, inertia = self.motion.load(self.torque + starter, rpm, self)
        self.rpm = max(0.0, rpm + net / inertia * DT * RPM_PER_RAD_S)
        if not self.cranking and self.rpm < 120 and torque <= 0.0:
            self.rpm = max(0.0, self.rpm - 400 * DT)
