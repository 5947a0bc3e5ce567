"""The air path: throttle, plenum, charger, intercooler; every leak by the pressure across it."""

from __future__ import annotations

from math import exp, sqrt

from ventmap.core.basics import GAS_CONSTANT_AIR, ZERO_C, Table2D

from .lookup import Lookup
from .spec import Blower, Turbo
from .truth import VehicleTruth

STANDARD_KPA, STANDARD_K = 101.325, 288.15
#: Below this share of the pressure before it a throttle passes no more: sound speed in its throat.
CRITICAL = 0.528
SHAPE = 1.42  # of the throttle's area over its opening
CLOSED = 0.6  # opening at which it still leaks nothing [%]
#: Below this a cylinder's rest gas takes room of the fresh charge [kPa].
RESIDUAL_KPA = 18.0
#: Compressors: γ/(γ−1) of air, and its heat [J/(g·K)].
ISENTROPIC, HEAT = 0.286, 1.006
#: How fast a belt's slip follows what it cannot carry, in a second.
SLIPS = 2.5
#: What of its hold a wholly sliding belt has lost.
FADES = 0.8
#: A blower's boost over its speed, by its leakage.
BLOWER_LAW = 1.2


def passes(ratio: float) -> float:
    """Share of the choked flow that an orifice passes at a pressure ratio, below 1 (elliptic law)."""
    if ratio <= CRITICAL:
        return 1.0
    if ratio >= 1.0:
        return 0.0
    return sqrt(1.0 - ((ratio - CRITICAL) / (1.0 - CRITICAL)) ** 2)


def settle(before: float, upstream: float, gain: float, loss: float) -> float:
    """Pressure behind an orifice after one step, by implicit Euler: stable however stiff.

    Parameters
    ----------
    before : float
        Pressure now [kPa].
    upstream : float
        Before the orifice [kPa].
    gain : float
        Rise of pressure in the step, were the orifice choked [kPa].
    loss : float
        Share of the pressure that the engine draws in the step.

    Notes
    -----
    p·(1 + loss) = before + gain·√(1 − s²), with p = upstream·(c + (1 − c)·s): a quadratic in s.
    """
    whole = 1.0 + loss
    a = upstream * CRITICAL * whole - before
    if a >= gain:  # choked
        return (before + gain) / whole
    b = upstream * (1.0 - CRITICAL) * whole
    under = b * b + gain * gain - a * a
    if under <= 0.0 or before / whole >= upstream:  # nothing comes in: the engine draws it down
        return before / whole
    s = (gain * sqrt(under) - a * b) / (b * b + gain * gain)
    if s < 0.0:
        return (before + gain) / whole
    return upstream * (CRITICAL + (1.0 - CRITICAL) * min(s, 1.0))


class Cooler:
    """An intercooler: its core soaks, and is cooled by road or fan; `blocked` of its face lets no wind in."""

    def __init__(self, effectiveness: float, seconds: float, ambient_c: float, blocked: float) -> None:
        self.effectiveness, self.seconds, self.open = effectiveness, seconds, 1.0 - blocked
        self.core = ambient_c

    def step(self, hot_c: float, flow: float, speed_kmh: float, ambient_c: float, dt: float) -> float:
        """Air behind it [°C]."""
        given = self.effectiveness * (hot_c - self.core)
        # Heat in by the air that it cools, out by the wind: warm for a minute on the road, for five standing.
        wind = (0.15 + speed_kmh / 60.0) * 1.35 / self.seconds * self.open
        self.core += dt * (given * flow / 8000.0 - (self.core - ambient_c) * wind)
        return hot_c - given


class Charger:
    """No charger: the throttle breathes the barometer."""

    boost = 0.0
    slip = 0.0

    def step(self, e: Pneumatics, opening: float, dt: float) -> tuple[float, float, float]:
        """Pressure [kPa] and temperature [°C] before the throttle, torque taken at the crank [N·m]."""
        return e.barometer, e.ambient, 0.0


class Turbocharger(Charger):
    """Boost b follows ḃ = (b∞ − b)/τ; b∞ = most · f(flow) · (1 − wastegate)."""

    def __init__(self, spec: Turbo, truth: VehicleTruth) -> None:
        self.spec, self.faults = spec, truth.faults
        self.top = truth.top_rpm
        self.cooler = Cooler(spec.cooler, spec.cooler_s, truth.ambient_c, truth.faults.blocked_core)

    def step(self, e: Pneumatics, opening: float, dt: float) -> tuple[float, float, float]:
        spec, flow = self.spec, e.flow
        share = min(1.0, (flow / spec.knee_gs) ** 1.4) if flow > 0 else 0.0
        if flow > spec.choke_gs:
            share = max(0.2, 1.0 - 1.6 * (flow - spec.choke_gs) / spec.choke_gs)
        gate = max(opening, self.faults.wastegate_stuck)
        aim = spec.most_kpa * share * (1.0 - gate)
        lag = spec.slow_s - (spec.slow_s - spec.fast_s) * min(1.0, e.rpm / self.top)
        self.boost += (aim - self.boost) * min(1.0, dt / lag)
        kept = max(0.0, self.boost - self.faults.boost_leak * sqrt(max(self.boost, 0.0)))
        ratio = 1.0 + kept / e.barometer
        hot = (e.ambient + ZERO_C) * (1.0 + (ratio**ISENTROPIC - 1.0) / spec.efficiency) - ZERO_C
        return e.barometer + kept, self.cooler.step(hot, flow, e.speed_kmh, e.ambient, dt), 0.0


class BeltBlower(Charger):
    """Boost by the blower's speed, less what the belt slips and the bypass lets go at part throttle."""

    def __init__(self, spec: Blower, truth: VehicleTruth) -> None:
        self.spec = spec
        self.holds = spec.belt_nm * (1.0 - truth.faults.drive_slip)
        self.cooler = Cooler(spec.cooler, spec.cooler_s, truth.ambient_c, truth.faults.blocked_core)

    def step(self, e: Pneumatics, opening: float, dt: float) -> tuple[float, float, float]:
        spec = self.spec
        bypass = max(0.0, min(1.0, (62.0 - e.throttle) / 40.0))
        speed = e.rpm / 1000.0 * spec.pulley * (1.0 - self.slip)
        # Volume moved grows with speed; the pressure it makes, with the density of the air it takes in.
        aim = spec.kpa_at_1000 * speed**BLOWER_LAW * e.barometer / STANDARD_KPA * (1.0 - bypass)
        self.boost += (aim - self.boost) * min(1.0, dt / 0.08)
        ratio = 1.0 + self.boost / e.barometer
        kelvin = e.ambient + ZERO_C
        rise = kelvin * (ratio**ISENTROPIC - 1.0) / spec.efficiency
        torque = 0.0
        if e.rpm > 300:
            torque = e.flow * HEAT * rise / (e.rpm * 0.10472)
        # No slip below the belt's torque; beyond it, slip grows with the excess.
        # A belt that slides gets hot and holds less, so that it never finds its grip again in that pull.
        over = torque / max(self.holds * (1.0 - FADES * self.slip), 0.1) - 1.0
        self.slip = max(0.0, min(0.7, self.slip + SLIPS * (over if over > 0 else max(over, -0.3)) * dt))
        hot = e.ambient + rise
        return e.barometer + self.boost, self.cooler.step(hot, e.flow, e.speed_kmh, e.ambient, dt), torque


class Pneumatics:
    """Air from outside to the valves. `step` gives the air of one cylinder in one cycle [g].

    Attributes: `manifold` [kPa], `charge` (before the throttle) [kPa], `charge_c` [°C], `flow` [g/s],
    `torque` that a blower takes [N·m].
    """

    def __init__(self, truth: VehicleTruth) -> None:
        spec = truth.build.air
        self.spec, self.leak = spec, truth.faults.air_leak
        self.barometer, self.ambient = truth.barometer_kpa, truth.ambient_c
        self.manifold = self.charge = truth.barometer_kpa
        self.charge_c = truth.ambient_c
        self.rpm = self.throttle = self.flow = self.torque = self.speed_kmh = 0.0
        self.cylinders = truth.cylinders
        self.per_second = truth.cylinders / (120.0 if truth.stroke == 4 else 60.0)
        self.constant = truth.displacement_cc / truth.cylinders / GAS_CONSTANT_AIR
        self.gain = GAS_CONSTANT_AIR / (1000.0 * spec.plenum_l)  # kPa/(g·K)
        self.filling = Lookup(truth.true_filling())
        charger = truth.build.charger
        self.charger = (
            Turbocharger(charger, truth)
            if isinstance(charger, Turbo)
            else BeltBlower(charger, truth)
            if isinstance(charger, Blower)
            else Charger()
        )

    def step(
        self, rpm: float, throttle: float, soak: float, speed_kmh: float, gate: float, dt: float
    ) -> float:
        """One step; `soak` is how much warmer the air arrives at the port [K], `gate` the wastegate, 0–1."""
        self.rpm, self.throttle, self.speed_kmh = rpm, throttle, speed_kmh
        if rpm < 30.0:
            self.manifold += (self.barometer - self.manifold) * min(1.0, dt / 0.05)
            self.flow = self.torque = 0.0
            self.charge, self.charge_c, _ = self.charger.step(self, gate, dt)
            return 0.0
        self.charge, self.charge_c, self.torque = self.charger.step(self, gate, dt)
        kelvin = self.charge_c + soak + ZERO_C
        filling = self.filling(rpm, self.manifold) / 100.0
        hole = self.spec.resonance
        if hole is not None and throttle < hole.throttle + 15.0:
            # In a band of speeds the ports' own pipes fill it better than its works know.
            off = (rpm - hole.rpm) / hole.width_rpm
            fade = 1.0 if throttle < hole.throttle else (hole.throttle + 15.0 - throttle) / 15.0
            filling *= 1.0 + hole.depth * fade * exp(-off * off * off * off)
        if self.manifold < RESIDUAL_KPA:
            # Against the exhaust's pressure a nearly empty charge is mostly what was left.
            filling *= max(0.1, 1.0 - ((RESIDUAL_KPA - self.manifold) / RESIDUAL_KPA) ** 2)
        drawn = filling * self.constant / kelvin * self.per_second * rpm  # g/s per kPa
        area = max(throttle - CLOSED, 0.05) / (100.0 - CLOSED)
        through = self.spec.throttle_gs * area**SHAPE * self.charge / STANDARD_KPA
        through *= sqrt(STANDARD_K / (self.charge_c + ZERO_C))
        rise = self.gain * kelvin * dt
        leaked = self._leaked()
        self.manifold = settle(
            self.manifold + leaked * rise, self.charge, gain=through * rise, loss=drawn * rise
        )
        air = filling * self.manifold * self.constant / kelvin
        self.flow = air * self.per_second * rpm
        if self.leak > 0.0:
            # Past a lower seal most air spreads into the plenum and is measured; a little goes straight down
            # the port.
            air += max(0.0, 0.06 * leaked / (self.per_second * rpm))
        return air

    def _leaked(self) -> float:
        """Air past the seal [g/s]: in under vacuum, out under boost."""
        if self.leak <= 0.0:
            return 0.0
        if self.manifold <= self.barometer:
            return self.leak * passes(self.manifold / self.barometer)
        return -self.leak * passes(self.barometer / self.manifold) * self.manifold / self.barometer


def settled(truth: VehicleTruth, filling: Table2D, rpm: float, throttle: float) -> float:
    """Pressure behind a still throttle without a charger, where as much comes in as the engine draws
    [kPa].
    """
    spec, barometer, kelvin = truth.build.air, truth.barometer_kpa, truth.ambient_c + ZERO_C
    turns = rpm * truth.cylinders / (120.0 if truth.stroke == 4 else 60.0)
    drawn = truth.displacement_cc / truth.cylinders / GAS_CONSTANT_AIR / kelvin * turns
    area = max(throttle - CLOSED, 0.05) / (100.0 - CLOSED)
    choked = spec.throttle_gs * area**SHAPE * barometer / STANDARD_KPA * sqrt(STANDARD_K / kelvin)
    low, high = 1.0, barometer
    for _ in range(40):
        middle = 0.5 * (low + high)
        if filling.one(rpm, middle) / 100.0 * middle * drawn < choked * passes(middle / barometer):
            low = middle
        else:
            high = middle
    return 0.5 * (low + high)
