"""What the computer does with the map that was loaded: fuel, spark, idle, trims."""

from __future__ import annotations

from dataclasses import dataclass

from ventmap.core.basics import ZERO_C, Curve
from ventmap.core.forms import Calibration
from ventmap.core.fuel import cylinder_air, cylinder_constant, fuel_for, fuel_rate

from .lookup import Lookup

CLOSED_LOOP_FROM_C = 55.0
OPEN_LOOP_TARGET = 0.985  # richer targets than this run open loop
TRIM_LIMIT = 0.25
LONG_LIMIT = 0.20
CUT_ABOVE_IDLE = 700.0
BACK_ABOVE_IDLE = 350.0


@dataclass
class Sensed:
    """What the computer's sensors tell it now."""

    rpm: float
    pedal: float
    manifold_kpa: float
    barometer_kpa: float
    intake_c: float
    coolant_c: float
    volts: float
    mixture: float
    knock: bool


@dataclass
class Command:
    """What the computer does now: injector pulse [ms], spark [°], throttle [%], and what it tells a
    logger.
    """

    pulse_ms: float = 0.0
    spark: float = 10.0
    throttle: float = 5.0
    target: float = 1.0
    short_trim: float = 0.0
    long_trim: float = 0.0
    knock_retard: float = 0.0


class Runtime:
    """The control program around one map."""

    def __init__(self, calibration: Calibration, learned: float = 0.0) -> None:
        self.calibration = calibration
        scalars = calibration.scalars
        self.filling = Lookup(calibration.tables["ve"])
        self.target = Lookup(calibration.tables["lambda_target"])
        self.spark = Lookup(calibration.tables["spark"])
        self.dead_time = Lookup(calibration.tables["dead_time"])
        pressure = scalars["fuel_pressure_kpa"]
        self.across_kpa = pressure
        flow = scalars["injector_flow"] * (pressure / scalars["injector_rated_kpa"]) ** 0.5
        self.grams_per_ms = fuel_rate(flow, scalars["fuel_density"])
        self.cylinder = cylinder_constant(scalars["displacement_cc"], scalars["cylinders"])
        self.stoichiometric = scalars["stoichiometric"]
        self.idle_target, self.rev_limit = scalars["idle_target"], scalars["rev_limit"]
        self.cut_above = scalars.get("overrun_on_rpm", self.idle_target + CUT_ABOVE_IDLE)
        self.back_below = scalars.get("overrun_off_rpm", self.idle_target + BACK_ABOVE_IDLE)
        warm_up = calibration.tables.get("warm_up")
        self.warm_up = Curve(warm_up.x, warm_up.values[0]) if warm_up is not None else None
        self.short, self.long = 0.0, learned
        self.idle_air, self.retard = 0.0, 0.0
        self.cut = False
        self.running_for = 0.0

    def step(self, now: Sensed, dt: float) -> Command:
        """One step of control, `dt` seconds long."""
        if now.rpm < 50:
            self.running_for = 0.0
            return Command(throttle=6.0, long_trim=100 * self.long)
        self.running_for += dt
        target = self.target(now.rpm, now.manifold_kpa)
        closed_throttle = now.pedal < 1.0
        if closed_throttle and now.rpm > self.cut_above:
            self.cut = True
        elif not closed_throttle or now.rpm < self.back_below:
            self.cut = False
        closed_loop = (
            now.coolant_c > CLOSED_LOOP_FROM_C
            and target > OPEN_LOOP_TARGET
            and not self.cut
            and self.running_for > 4.0
        )
        self._trims(now.mixture - target, closed_loop, dt)
        if self.warm_up is not None:
            warm_up = 1.0 + self.warm_up.at(now.coolant_c) / 100.0
        else:
            warm_up = 1.0 + max(0.0, 60.0 - now.coolant_c) * 0.004
        filling = self.filling(now.rpm, now.manifold_kpa)
        air = cylinder_air(filling, now.manifold_kpa, now.intake_c + ZERO_C, self.cylinder)
        short = self.short if closed_loop else 0.0
        # Open loop runs on the map alone, so that a wrong map shows.
        long = self.long if closed_loop else 0.0
        fuel = fuel_for(air, self.stoichiometric, target) * warm_up * (1.0 + short + long)
        pulse = fuel / self.grams_per_ms + self.dead_time(self.across_kpa, now.volts)
        if self.cut or now.rpm > self.rev_limit:
            pulse = 0.0
        throttle = self._idle(now, dt) if closed_throttle else 4.5 + now.pedal * 0.955
        self._knock(now, dt)
        spark = self.spark(now.rpm, now.manifold_kpa) - self.retard
        if closed_throttle and now.rpm < self.idle_target + 400:
            spark += max(-8.0, min(8.0, (self.idle_target - now.rpm) * 0.05))
        return Command(
            pulse,
            spark,
            throttle=min(throttle, 100.0),
            target=target,
            short_trim=100 * short,
            long_trim=100 * long,
            knock_retard=self.retard,
        )

    def _trims(self, error: float, closed_loop: bool, dt: float) -> None:
        if not closed_loop:
            self.short *= max(0.0, 1.0 - 2.0 * dt)
            return
        self.short = max(-TRIM_LIMIT, min(TRIM_LIMIT, self.short + 0.55 * error * dt))
        # The long trim takes over slowly, a hundredth of the short one a second.
        moved = 0.01 * self.short * dt
        self.long = max(-LONG_LIMIT, min(LONG_LIMIT, self.long + moved))

    def _idle(self, now: Sensed, dt: float) -> float:
        error = self.idle_target - now.rpm
        if abs(error) < 400:
            self.idle_air = max(-2.6, min(6.0, self.idle_air + 0.0035 * error * dt))
        return 4.5 + self.idle_air + max(-1.5, min(1.5, 0.003 * error))

    def _knock(self, now: Sensed, dt: float) -> None:
        if now.knock:
            self.retard = min(12.0, self.retard + 1.5)
        else:
            self.retard = max(0.0, self.retard - 0.5 * dt)
