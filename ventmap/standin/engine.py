"""A mean-value engine in its vehicle: air, fuel, mixture, torque, heat and motion, ten milliseconds at a
time.
"""

from __future__ import annotations

import random
from collections import deque
from math import exp, pi

from ventmap.core.basics import RPM_PER_RAD_S, ZERO_C
from ventmap.core.fuel import PETROL, cylinder_air, cylinder_constant, fuel_rate, mixture_of

from .lookup import Lookup
from .runtime import Command, Runtime, Sensed
from .truth import VehicleTruth

DT = 0.01
CRANK_RPM = 230.0
MS_PER_CYCLE = 120_000.0  # at 1 rpm, four-stroke
FILM_SHARE, FILM_S = 0.08, 0.22
SENSOR_LAG_S = 0.04
BEST_SPARK = 33.0


class Engine:
    """State and physics. `runtime` is the computer's program; None where no sound map is loaded."""

    def __init__(self, truth: VehicleTruth, runtime: Runtime | None, coolant_c: float | None = None) -> None:
        self.truth, self.runtime = truth, runtime
        self.random = random.Random(truth.seed)
        self.time = 0.0
        self.rpm = 0.0
        self.manifold = truth.barometer_kpa
        self.coolant = truth.ambient_c if coolant_c is None else coolant_c
        self.soak = 4.0
        self.volts = 12.7
        self.mixture = 1.0  # at the exhaust port
        self.measured = 1.0  # at the sensor
        self.film = 0.0
        self.pedal = 0.0
        self.gear = 0
        self.cranking = False
        self.key = False
        self.load_torque = 0.0  # N·m at the engine, from a drum or a hill
        self.drum_inertia: float | None = None  # kg·m² at the engine; None is the road
        self.command = Command()
        self.knocking = False
        self.torque = 0.0
        self.duty = 0.0
        self.effective_pulse = 0.0
        self.true_error = 0.0  # fuel short (+) or over (−) of target as the map gives it
        self._delay: deque[float] = deque([1.0] * 120, maxlen=120)
        faults = truth.faults
        self._filling = Lookup(truth.true_filling())
        self._dead_time = Lookup(truth.dead_time.table)
        flow = truth.injector_flow * (1.0 + faults.flow_error)
        self._grams_per_ms_root = fuel_rate(flow, truth.fuel.density) / truth.injector_rated_kpa**0.5
        self._cylinder = cylinder_constant(truth.displacement_cc, truth.cylinders)

    # -- what is seen ---------------------------------------------------------------------------------

    @property
    def intake(self) -> float:
        return self.truth.ambient_c + self.soak

    @property
    def rail_gauge(self) -> float:
        sag = self.truth.faults.weak_pump * min(1.0, self.duty / 0.6)
        return (self.truth.fuel_pressure_kpa + self.manifold - self.truth.barometer_kpa) * (1.0 - sag)

    @property
    def speed_kmh(self) -> float:
        if not self.gear or self.drum_inertia is not None and not self.gear:
            return 0.0
        return self.rpm / RPM_PER_RAD_S / self.truth.gears[self.gear - 1] * self.truth.wheel_radius_m * 3.6

    def channels(self) -> dict[str, float]:
        """Live values as the computer reports them, with the sensors' own noise."""
        noise, command = self.random.gauss, self.command
        return {
            "rpm": max(0.0, self.rpm + noise(0, 4) * (self.rpm > 50)),
            "pedal": max(0.0, self.pedal + noise(0, 0.08)),
            "throttle": max(0.0, command.throttle + noise(0, 0.1)),
            "map": self.manifold + noise(0, 0.25),
            "baro": self.truth.barometer_kpa + noise(0, 0.04),
            "iat": self.intake + noise(0, 0.08),
            "coolant": self.coolant + noise(0, 0.08),
            "lambda": min(max(self.measured + noise(0, 0.003), 0.6), 1.6),
            "lambda_target": command.target,
            "stft_1": command.short_trim,
            "ltft_1": command.long_trim,
            "spark": command.spark,
            "knock": command.knock_retard,
            "pulse": command.pulse_ms,
            "duty": 100 * self.duty,
            "battery": self.volts + noise(0, 0.02),
            "speed": self.speed_kmh,
            "rail": max(0.0, self.rail_gauge + noise(0, 1.0)),
            "idle_target": self.runtime.idle_target if self.runtime else 0.0,
        }

    # -- one step -------------------------------------------------------------------------------------

    def step(self) -> None:
        """Advance by `DT`."""
        self.time += DT
        truth = self.truth
        now = Sensed(
            self.rpm,
            self.pedal,
            manifold_kpa=self.manifold,
            barometer_kpa=truth.barometer_kpa,
            intake_c=self.intake,
            coolant_c=self.coolant,
            volts=self.volts,
            mixture=self.measured,
            knock=self.knocking,
        )
        program = self.runtime if self.key else None
        self.command = program.step(now, DT) if program else Command(throttle=6.0)
        self._breathe()
        air = self._burn()
        self._turn(air)
        self._warm(air)

    def _breathe(self) -> None:
        truth, throttle = self.truth, self.command.throttle
        if self.rpm < 30:
            self.manifold += (truth.barometer_kpa - self.manifold) * 0.2
            return
        # Quasi-steady manifold pressure: choked at small openings, the barometer at large ones.
        opening = 0.0105 * max(throttle - 0.6, 0.1) ** 1.42 * 2.0
        demand = self.rpm / 1000.0 * truth.displacement_cc / 2000.0
        pull = opening / demand
        settled = truth.barometer_kpa * 0.985 * pull / (1.0 + pull**2.4) ** (1 / 2.4)
        settled += truth.faults.air_leak * 4.0 / max(demand, 0.3)
        settled = max(settled, 19.0)
        self.manifold += (settled - self.manifold) * min(1.0, DT / 0.055)

    def _burn(self) -> float:
        """Air of one cylinder [g]; sets mixture, sensor, duty."""
        truth, faults, rpm = self.truth, self.truth.faults, self.rpm
        pulse = self.command.pulse_ms
        if rpm < 50:
            self.duty = self.effective_pulse = 0.0
            self._delay.append(self.mixture)
            return 0.0
        filling = self._filling(rpm, self.manifold)
        air = cylinder_air(filling, self.manifold, self.intake + ZERO_C, self._cylinder)
        if faults.air_leak:
            # Past a lower seal most air spreads into the plenum and is measured; a little goes straight down
            # the port.
            vacuum = max(0.0, 1.0 - self.manifold / truth.barometer_kpa)
            air += 0.06 * faults.air_leak * vacuum / (rpm / 120.0 * truth.cylinders)
        across = max(self.rail_gauge + truth.barometer_kpa - self.manifold, 20.0)
        dead = self._dead_time(across, self.volts) + faults.dead_time_error_ms
        self.effective_pulse = max(0.0, pulse - dead)
        injected = self.effective_pulse * self._grams_per_ms_root * across**0.5
        self.duty = min(1.0, pulse * rpm / MS_PER_CYCLE)
        # Fuel film: a share lands on the wall and follows with a delay.
        share = FILM_SHARE * (1.0 if self.coolant > 60 else 2.0)
        cycle = 120.0 / rpm
        back = self.film * min(1.0, cycle / FILM_S)
        burnt = injected * (1.0 - share) + back
        self.film += (injected * share - back) * DT / cycle
        self.mixture = min(mixture_of(air, max(burnt, 1e-9), truth.fuel.stoichiometric), 2.0)
        self._delay.append(self.mixture)
        delay = min(0.9, 0.05 + 4.0 / (rpm * self.manifold / 1000.0 + 20.0))
        arriving = self._delay[max(0, len(self._delay) - 1 - int(delay / DT))]
        self.measured += (arriving - self.measured) * min(1.0, DT / SENSOR_LAG_S)
        self.true_error = self._map_error(air, pulse, dead, across) if pulse > 0 else 0.0
        return air

    def _map_error(self, air: float, pulse: float, dead: float, across: float) -> float:
        """Steady fuel short (+) or over (−) of the target, as the map alone gives it: no trims, no film."""
        assert self.runtime is not None
        program, command = self.runtime, self.command
        trims = 1.0 + (command.short_trim + command.long_trim) / 100.0
        dead_set = program.dead_time(program.across_kpa, self.volts)
        effective = (pulse - dead_set) / trims + dead_set - dead
        given = max(effective, 1e-3) * self._grams_per_ms_root * across**0.5
        return mixture_of(air, given, self.truth.fuel.stoichiometric) / command.target - 1.0

    def _turn(self, air: float) -> None:
        truth, command, rpm = self.truth, self.command, self.rpm
        lean = self.mixture
        burns = command.pulse_ms > 0 and 0.55 < lean < 1.55 and rpm > 150
        torque = 0.0
        self.knocking = False
        if burns:
            quality = 1.0 - 0.9 * max(0.0, lean - 0.9) ** 1.3 - 0.8 * max(0.0, 0.86 - lean)
            best = BEST_SPARK - 0.16 * (self.manifold - 40.0) + 0.0016 * (rpm - 3000.0)
            off = command.spark - best
            timing = max(0.3, 1.0 - 0.00042 * off * off)
            heat = air / PETROL.stoichiometric * PETROL.heating_value * 1e3 * min(1.0, 1.0 / max(lean, 0.88))
            torque = 0.392 * heat * quality * timing * truth.cylinders / (4 * pi)
            limit = best + 3.0 - 0.12 * max(0.0, self.intake - 40.0) - truth.faults.poor_fuel
            self.knocking = self.manifold > 70.0 and command.spark > limit and self.random.random() < 0.12
        friction = 19.0 + 0.0024 * rpm + 0.13 * max(0.0, truth.barometer_kpa - self.manifold)
        self.torque = torque - friction
        starter = 60.0 * (1.0 - rpm / CRANK_RPM) + friction if self.cranking and rpm < CRANK_RPM else 0.0
        net = self.torque + starter - self.load_torque
        inertia = truth.engine_inertia
        if self.gear:
            ratio = truth.gears[self.gear - 1]
            if self.drum_inertia is not None:
                inertia += self.drum_inertia
            else:
                metres = rpm / RPM_PER_RAD_S / ratio * truth.wheel_radius_m
                net -= (truth.drag[0] + truth.drag[1] * metres**2) * truth.wheel_radius_m / ratio / 0.92
                inertia += truth.mass_kg * (truth.wheel_radius_m / ratio) ** 2
        self.rpm = max(0.0, rpm + net / inertia * DT * RPM_PER_RAD_S)
        if not self.cranking and self.rpm < 120 and not burns:
            self.rpm = max(0.0, self.rpm - 400 * DT)

    def _warm(self, air: float) -> None:
        truth = self.truth
        flow = air * self.rpm / 120.0 * truth.cylinders  # g/s
        if self.coolant < 88.0:
            self.coolant += (0.02 + 0.02 * flow) * DT * (self.rpm > 300)
        else:
            self.coolant += (88.0 - self.coolant) * DT * 0.05
        # Intake heat soak: rises while standing hot, washed away by flow.
        hot = 4.0 + 0.10 * max(0.0, self.coolant - 60.0)
        self.soak += (hot * exp(-flow / 30.0) + 2.0 - self.soak) * DT / 40.0
        running = self.rpm > 500
        wanted = (14.1 - truth.faults.slow_battery) if running else 12.65 if not self.cranking else 10.9
        self.volts += (wanted - self.volts) * min(1.0, DT / (0.6 if running else 0.15))
