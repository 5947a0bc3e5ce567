"""Combustion: torque by mixture and spark, knock, exhaust heat; a diesel's torque by mass and lateness."""

from __future__ import annotations

from math import pi

from ventmap.core.fuel import PETROL

from .truth import VehicleTruth

#: Mixtures outside which a spark lights nothing.
LIGHTS = (0.55, 1.55)
#: Exhaust of a diesel: the heat of its fuel is shared by all its air, 45 + 790/λ [°C].
DIESEL_BASE_C, DIESEL_RISE_C = 45.0, 790.0
#: Gas at the port of a spark engine: with hardly any flow, what a full stream brings more [°C], and the
# share of
#: the full stream that brings half of it: the port's wall takes the same watts of little gas and of much.
FOUR_STROKE_C, TWO_STROKE_C = (270.0, 750.0, 0.25), (190.0, 570.0, 0.18)
#: Hottest mixture, what it loses by its square on either side [°C], and what each late degree adds [°C].
HOTTEST_LAMBDA, TWO_STROKE_LAMBDA, MIXTURE_C, LATE_C = 1.0, 0.95, 3000.0, 4.5
#: Air of a full cylinder [g/l].
FULL_G_L = 1.18
#: Knock that a sensor hears where there is none: chance in a step under load.
HEARS = 1.0e-4


class Burning:
    """Torque of the engine, its friction, and what the exhaust shows."""

    def __init__(self, truth: VehicleTruth) -> None:
        spec = truth.build.burn
        self.spec, self.truth = spec, truth
        two = truth.stroke == 2
        self.per_turn = truth.cylinders / (
            (2.0 if two else 4.0) * pi
        )  # work of one cycle [J] to torque [N·m]
        self.size = truth.displacement_cc / 2000.0 * (0.55 if two else 1.0)
        self.two = two
        #: Torque lost for each kPa below a charge that burns whole: a two-stroke keeps more of its rest gas.
        self.dilution = 0.027 if two else 0.019
        self.heat = truth.fuel.heating_value * 1e3  # J/g
        octane = 0.55 * (truth.ron - 95.0) + 9.0 * truth.fuel.ethanol
        self.margin = spec.margin + octane - truth.faults.poor_fuel
        self.mid_rpm = 0.44 * truth.top_rpm
        #: Spark beyond the knock limit [°], and whether the charge is dense enough to knock.
        self.over, self.loaded = 0.0, False
        self.full_gs = truth.displacement_cc / 1000.0 * FULL_G_L * truth.top_rpm / (60.0 if two else 120.0)
        self.late = 0.0
        self.egt = truth.ambient_c
        self.best = 0.0

    def torque(
        self, air: float, fuel: float, mixture: float, spark: float, rpm: float, kpa: float, intake_c: float
    ) -> float:
        """Indicated torque [N·m]; sets `best`, `over` and `late`."""
        spec = self.spec
        self.loaded = False
        if spec.kind == "diesel":
            return self._diesel(air, fuel, mixture, rpm)
        if not LIGHTS[0] < mixture < LIGHTS[1] or fuel <= 0.0 or rpm < 150:
            return 0.0
        quality = 1.0 - 0.9 * max(0.0, mixture - 0.9) ** 1.3 - 0.8 * max(0.0, 0.86 - mixture)
        # What is left of the last cycle dilutes a light charge: it burns slower and wastes more.
        quality *= max(0.25, 1.0 - self.dilution * max(0.0, 48.0 - kpa))
        self.best = best = self.best_spark(rpm, kpa, mixture)
        off = spark - best
        self.late = max(0.0, -off)
        timing = max(0.3, 1.0 - 0.00042 * off * off)
        # What burns is limited by the air: rich fuel leaves unburnt.
        burnt = air / PETROL.stoichiometric * PETROL.heating_value * 1e3 * min(1.0, 1.0 / max(mixture, 0.88))
        limit = best + self.margin - spec.boost_margin * max(0.0, kpa - 60.0)
        limit -= 0.12 * max(0.0, intake_c - 40.0) + 12.0 * max(0.0, mixture - 0.95) * (kpa > 90)
        if self.two:
            # Squish heat: a two-stroke's edge comes down with its exhaust.
            limit -= 0.02 * max(0.0, self.egt - 620.0)
        self.over = spark - limit
        self.loaded = kpa > 70.0
        return spec.efficiency * burnt * quality * timing * self.per_turn

    def knock_chance(self, earlier: float) -> float:
        """Of a step, in a cylinder whose spark lies so many degrees before the mean."""
        if not self.loaded:
            return 0.0
        over = self.over + earlier
        return min(0.5, 0.10 + 0.03 * over) if over > 0.0 else HEARS

    def best_spark(self, rpm: float, kpa: float, mixture: float) -> float:
        """Best torque: earlier with speed, later with load, earlier again lean."""
        speed = 4.8 * (rpm - self.mid_rpm) / self.mid_rpm
        dense = 0.16 * (kpa - 40.0) if kpa < 100.0 else 9.6 + 0.09 * (kpa - 100.0)
        return self.spec.best_spark - dense + speed + 14.0 * max(0.0, mixture - 1.0)

    def _diesel(self, air: float, fuel: float, mixture: float, rpm: float) -> float:
        """By mass, less what burns late: a long pulse is still burning far down the stroke."""
        if fuel <= 0.0 or rpm < 120:
            return 0.0
        late = self.late_deg(rpm)
        share = 1.0 - 0.00016 * max(0.0, late - 14.0) ** 2
        smoky = 1.0 - 0.55 * max(0.0, self.spec.smoke_lambda - mixture)
        return self.spec.efficiency * fuel * self.heat * max(share, 0.5) * max(smoky, 0.3) * self.per_turn

    #: Set by the engine: the pulse of this cycle [ms].
    pulse_ms = 0.0

    def late_deg(self, rpm: float) -> float:
        return self.pulse_ms * 0.006 * rpm

    def smoke(self, mixture: float) -> float:
        """Opacity, 0–1: none above the limit, dense a tenth below it."""
        return max(0.0, min(1.0, (self.spec.smoke_lambda + 0.05 - mixture) / 0.15))

    def friction(self, rpm: float, manifold: float) -> float:
        a, b, c = self.spec.friction
        pumping = 0.13 * max(0.0, self.truth.barometer_kpa - manifold)
        return self.size * (a + b * rpm + c * rpm * rpm + (pumping if self.spec.kind == "spark" else 0.0))

    def warm_exhaust(self, mixture: float, flow: float, burns: bool, dt: float) -> None:
        """The exhaust follows mixture, air flow [g/s] and spark with a lag."""
        if self.spec.kind == "diesel":
            aim = DIESEL_BASE_C + DIESEL_RISE_C / max(mixture, 1.0) if burns else 120.0
        elif burns:
            least, more, half = TWO_STROKE_C if self.two else FOUR_STROKE_C
            share = flow / self.full_gs
            off = mixture - (TWO_STROKE_LAMBDA if self.two else HOTTEST_LAMBDA)
            aim = least + more * share / (share + half) - min(MIXTURE_C * off * off, 250.0)
            aim += LATE_C * min(self.late, 30.0)
        else:
            aim = 150.0
        self.egt += (aim - self.egt) * min(1.0, dt / 1.8)

    def egt_of(self, cylinder: int, deviation: float) -> float:
        """One cylinder's exhaust [°C], from how much leaner it runs than the mean."""
        if self.spec.kind == "diesel":
            return self.egt * (1.0 - 0.8 * deviation)
        return self.egt + (620.0 if self.two else 260.0) * deviation
