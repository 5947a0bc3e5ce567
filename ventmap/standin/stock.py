"""What the stock computer of a diesel does: demand to pulse, rail and boost by target, idle by demand."""

from __future__ import annotations

from ventmap.core.basics import Curve
from ventmap.core.fuel import DIESEL

from .lookup import Line, Lookup
from .runtime import Command, Sensed
from .spec import Turbo
from .truth import VehicleTruth


class DieselProgram:
    """Demand × speed to a pulse; no target of mixture, a smoke limit instead; boost and rail by target.

    Parameters
    ----------
    truth : VehicleTruth
        Its sheet's figures alone are used: flow, dead time, displacement.
    full_mg : float
        Fuel of one injection at full demand [mg].
    boost_kpa : float
        Boost at full demand [kPa].
    """

    calibration = None
    long = 0.0

    def __init__(self, truth: VehicleTruth, full_mg: float, boost_kpa: float, smoke_lambda: float) -> None:
        self.idle_target, self.rev_limit = truth.idle_rpm, truth.top_rpm
        self.full_mg, self.smoke_lambda = full_mg, smoke_lambda
        self.top_rail = truth.fuel_pressure_kpa
        self.flow = truth.injector_flow * truth.fuel.density / 60_000.0 / truth.injector_rated_kpa**0.5
        self.dead = Lookup(truth.dead_time.table)
        top = truth.top_rpm
        # Full fuel falls away at both ends of the speeds; boost needs air before it can be asked.
        self.limit = Line(Curve((0.0, 0.2 * top, 0.42 * top, 0.8 * top, top), (0.5, 0.62, 1.0, 0.98, 0.72)))
        self.boost = Line(Curve((0.2 * top, 0.4 * top, 0.85 * top, top), (0.25, 1.0, 1.0, 1.0)))
        self.boost_kpa = boost_kpa
        charger = truth.build.charger
        #: What its works know of the turbocharger: its boost with the vanes shut.
        self.most_kpa = charger.most_kpa if isinstance(charger, Turbo) else 1.5 * boost_kpa
        self.idle_sum, self.gate_sum, self.gate, self.charge_before = 8.0, 0.0, 0.0, 0.0
        self.cylinder_cc = truth.displacement_cc / truth.cylinders
        self.cut = False

    def step(self, now: Sensed, dt: float) -> Command:
        """One step of control, `dt` seconds long."""
        if now.rpm < 50:
            return Command(throttle=100.0, rail_kpa=0.0)
        demand = now.pedal
        error = self.idle_target - now.rpm
        if now.pedal < 1.0 and error > -300:
            self.idle_sum = max(0.0, min(45.0, self.idle_sum + 0.02 * error * dt))
            demand = max(0.0, min(60.0, self.idle_sum + 0.02 * error))
        self.cut = now.pedal < 1.0 and error < -300
        if now.rpm < 500:  # cranking and the first turns
            demand = max(demand, 38.0)
        if self.cut or now.rpm > self.rev_limit:
            demand = 0.0
        rail = self.top_rail * (
            0.2 + 0.8 * min(1.0, demand / 70.0) * min(1.0, now.rpm / (0.5 * self.rev_limit))
        )
        wanted = demand / 100.0 * self.full_mg * self.limit.at(now.rpm) / 1000.0
        # Air by its own estimate: what the charge holds, less what a warm engine loses.
        air = 0.93 * now.charge_kpa * self.cylinder_cc / (287.05 * (now.intake_c + 273.15))
        fuel = min(wanted, air / (DIESEL.stoichiometric * self.smoke_lambda))
        # What goes on to an injector driver is what the smoke limit left of it.
        asked = demand * fuel / wanted if wanted > 0.0 else 0.0
        across = max(now.rail_kpa + now.barometer_kpa, 2000.0)
        pulse = fuel / (self.flow * across**0.5) + self.dead(across, now.volts) if fuel > 0 else 0.0
        aim = self.boost_kpa * self.boost.at(now.rpm) * min(1.0, demand / 80.0)
        short = aim - (now.charge_kpa - now.barometer_kpa)
        if -30 < short < 30:
            self.gate_sum = max(-0.6, min(0.6, self.gate_sum + 0.05 * short * dt))
        # It opens before the aim is reached, so that boost does not shoot past.
        rising = (now.charge_kpa - self.charge_before) / dt
        self.charge_before = now.charge_kpa
        wanted = aim / self.most_kpa + self.gate_sum + 0.025 * short - 0.0012 * rising
        self.gate = max(0.0, min(1.0, 1.0 - wanted))
        return Command(
            pulse,
            spark=0.0,
            throttle=100.0,
            target=0.0,
            gate=self.gate,
            boost_target=aim,
            rail_kpa=rail,
            demand=asked,
        )
