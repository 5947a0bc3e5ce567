"""What a computer does with a full map: fuel, spark, boost, idle, trims."""

from __future__ import annotations

from dataclasses import dataclass, field

from ventmap.core.basics import ZERO_C, Curve
from ventmap.core.forms import Calibration
from ventmap.core.fuel import cylinder_air, cylinder_constant, fuel_for, fuel_rate

from .lookup import Line, Lookup

CLOSED_LOOP_FROM_C = 55.0
OPEN_LOOP_TARGET = 0.985  # richer targets than this run open loop
TRIM_LIMIT = 0.25
LONG_LIMIT = 0.20
#: More of the film on the wall that the program makes good for each kelvin below 80 °C.
WALL_COLD = 0.003
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
    #: The cylinder that is heard to knock, 1 the first; 0 none does.
    knock: int
    charge_kpa: float = 0.0
    rail_kpa: float = 0.0


@dataclass
class Command:
    """What the computer does now: injector pulse [ms], spark [°], throttle [%], wastegate open 0–1, rail
    pressure asked [kPa], demand [%], and what it tells a logger.
    """

    pulse_ms: float = 0.0
    spark: float = 10.0
    throttle: float = 5.0
    target: float = 1.0
    short_trim: float = 0.0
    long_trim: float = 0.0
    knock_retard: float = 0.0
    gate: float = 0.0
    boost_target: float = 0.0
    rail_kpa: float = 0.0
    demand: float = 0.0
    dead_ms: float = 0.0
    global_trim: float = 0.0
    #: What each cylinder's spark was taken back by [°].
    retards: list[float] = field(default_factory=list)


@dataclass(frozen=True)
class Wiring:
    """What of the engine the program is told beside its map."""

    #: The regulator follows the manifold, or a rail is kept at its pressure.
    referenced: bool = True
    #: A sensor on the rail tells the pressure.
    measured: bool = False
    #: "narrow" trims near lambda 1, "wide" at every load, "none" has no sensor to trim by.
    loop: str = "narrow"
    #: Share of a pulse that lands on the port's wall, and how long it stays [s]: as its works measured
    # it warm at
    #: middle load, whatever the load and the temperature are now.
    wall_share: float = 0.12
    wall_s: float = 0.2
    #: Load is the manifold's pressure, or the throttle against the barometer.
    load: str = "manifold"


class Runtime:
    """The control program around one map."""

    def __init__(self, calibration: Calibration, learned: float = 0.0, wiring: Wiring | None = None) -> None:
        self.calibration = calibration
        self.wiring = wiring or Wiring()
        self.by_throttle = self.wiring.load == "throttle"
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
        self.warm_up = Line(Curve(warm_up.x, warm_up.values[0])) if warm_up is not None else None
        boost = calibration.tables.get("boost_target")
        self.boost_target = Line(Curve(boost.x, boost.values[0])) if boost is not None else None
        duty = calibration.tables.get("wastegate_duty")
        self.base_duty = Line(Curve(duty.x, duty.values[0])) if duty is not None else None
        self.gate_sum = self.gate = self.boost_aim = self.charge_before = 0.0
        self.throttle = 6.0
        self.short, self.long = 0.0, learned
        self.global_trim = 0.0
        self.idle_air, self.retard = 0.0, 0.0
        self.retards = [0.0] * round(scalars["cylinders"])
        self.cut = False
        self.running_for = self.wall = 0.0

    def step(self, now: Sensed, dt: float) -> Command:
        """One step of control, `dt` seconds long."""
        if now.rpm < 50:
            self.running_for = 0.0
            return Command(throttle=6.0, long_trim=100 * self.long)
        self.running_for += dt
        load = self.throttle if self.by_throttle else now.manifold_kpa
        target = self.target(now.rpm, load)
        closed_throttle = now.pedal < 1.0
        if closed_throttle and now.rpm > self.cut_above:
            self.cut = True
        elif not closed_throttle or now.rpm < self.back_below:
            self.cut = False
        closed_loop = (
            now.coolant_c > CLOSED_LOOP_FROM_C
            and self.wiring.loop != "none"
            and (target > OPEN_LOOP_TARGET or self.wiring.loop == "wide")
            and not self.cut
            and self.running_for > 4.0
        )
        self._trims(now.mixture - target, closed_loop, dt)
        if self.warm_up is not None:
            warm_up = 1.0 + self.warm_up.at(now.coolant_c) / 100.0
        else:
            warm_up = 1.0 + max(0.0, 60.0 - now.coolant_c) * 0.004
        filling = self.filling(now.rpm, load)
        against = now.barometer_kpa if self.by_throttle else now.manifold_kpa
        air = cylinder_air(filling, against, now.intake_c + ZERO_C, self.cylinder)
        short = self.short if closed_loop else 0.0
        # Open loop runs on the map alone, so that a wrong map shows.
        long = self.long if closed_loop else 0.0
        fuel = fuel_for(air, self.stoichiometric, target) * warm_up * (1.0 + short + long)
        fuel *= 1.0 + self.global_trim
        # A share of each pulse lands on the port's wall and follows later: new load gets its share at once.
        share = self.wiring.wall_share + WALL_COLD * max(0.0, 80.0 - now.coolant_c)
        fuel += share * (fuel - self.wall)
        self.wall += (fuel - self.wall) * min(1.0, dt / self.wiring.wall_s)
        across, grams_per_ms = self.across(now)
        dead = self.dead_time(across, now.volts)
        pulse = fuel / grams_per_ms + dead
        if self.cut or now.rpm > self.rev_limit:
            pulse = 0.0
        throttle = self._idle(now, dt) if closed_throttle else 4.5 + now.pedal * 0.955
        self.throttle = throttle = min(throttle, 100.0)
        self._knock(now, dt)
        self._boost(now, dt)
        spark = self.spark(now.rpm, load) - self.retard
        if closed_throttle and now.rpm < self.idle_target + 400:
            spark += max(-8.0, min(8.0, (self.idle_target - now.rpm) * 0.05))
        return Command(
            pulse,
            spark,
            throttle=throttle,
            target=target,
            short_trim=100 * short,
            long_trim=100 * long,
            knock_retard=max(self.retards),
            gate=self.gate,
            boost_target=self.boost_aim,
            rail_kpa=self.across_kpa,
            dead_ms=dead,
            global_trim=self.global_trim,
            retards=self.retards,
        )

    def across(self, now: Sensed) -> tuple[float, float]:
        """Pressure across the injectors as it believes [kPa], and the fuel they then pass [g/ms]."""
        if self.wiring.measured:
            across = max(now.rail_kpa + now.barometer_kpa - now.manifold_kpa, 500.0)
            return self.across_kpa, self.grams_per_ms * (across / self.across_kpa) ** 0.5
        if self.wiring.referenced:
            return self.across_kpa, self.grams_per_ms
        across = max(self.across_kpa + now.barometer_kpa - now.manifold_kpa, 50.0)
        return across, self.grams_per_ms * (across / self.across_kpa) ** 0.5

    def _boost(self, now: Sensed, dt: float) -> None:
        """Wastegate: base duty and a PI on target less measured; duty holds the gate shut."""
        if self.boost_target is None:
            return
        self.boost_aim = self.boost_target.at(now.rpm)
        if now.pedal < 60.0:
            self.gate_sum *= max(0.0, 1.0 - 3.0 * dt)
        error = self.boost_aim * min(1.0, now.pedal / 60.0) - (now.charge_kpa - now.barometer_kpa)
        if -25.0 < error < 25.0:
            self.gate_sum = max(-0.3, min(0.3, self.gate_sum + 0.008 * error * dt))
        base = self.base_duty.at(now.rpm) / 100.0 if self.base_duty is not None else 0.5
        # It eases off as boost comes up, so that it does not shoot past.
        rising = (now.charge_kpa - self.charge_before) / dt
        self.charge_before = now.charge_kpa
        wanted = base + self.gate_sum + 0.02 * error - 0.0012 * rising
        self.gate = max(0.0, min(1.0, 1.0 - wanted))

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
        if abs(error) < 900 and not self.cut:
            step = 0.0035 * max(-400.0, min(400.0, error)) * dt
            self.idle_air = max(-2.6, min(6.0, self.idle_air + step))
        # Above idle the throttle follows down, so that the cylinders never pull on a shut manifold.
        follow = 0.0024 * max(0.0, -error - 250.0)
        return 4.5 + self.idle_air + follow + max(-1.5, min(1.5, 0.003 * error))

    def _knock(self, now: Sensed, dt: float) -> None:
        """A cylinder that knocks gets its spark later at once, and back by half a degree a second."""
        if not now.knock and self.retard == 0.0:
            return
        retards = self.retards
        for n in range(len(retards)):
            if n + 1 == now.knock:
                retards[n] = min(12.0, retards[n] + 1.5)
            else:
                retards[n] = max(0.0, retards[n] - 0.5 * dt)
        self.retard = sum(retards) / len(retards)
