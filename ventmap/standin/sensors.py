"""What the computer's sensors say: a bias each, noise, and the faults of wires and probes."""

from __future__ import annotations

import random
from collections.abc import Callable
from math import pi, sin

from .runtime import Sensed
from .state import State
from .truth import VehicleTruth

#: Period of a rear sensor that hunts [s].
HUNT_S = 4.0
OPEN_C, SHORT_C = -40.0, 140.0
#: One standard deviation of a sensor's lasting error: kPa, K, K, share of lambda.
BIAS = {"map": 0.35, "iat": 0.5, "coolant": 0.6, "lambda": 0.003}


#: What a logger asks any engine for; a spark-ignition one; one that trims; a turbocharged one.
BASE = ("rpm", "map", "pedal", "pulse", "throttle", "speed", "battery", "rail", "iat", "coolant", "baro")
SPARK = ("lambda", "lambda_target", "spark", "knock", "idle_target")
TRIMS = ("stft_1", "ltft_1", "rear_o2_1", "misfire")
BOOST = ("map_target", "wastegate")


def channels_of(truth: VehicleTruth) -> list[str]:
    """What a logger asks this engine for."""
    build = truth.build
    diesel = build.burn.kind == "diesel"
    names = [name if name != "rail" or build.feed.kind == "port" else "rail_high" for name in BASE]
    names += ["lambda", "idle_target"] if diesel else SPARK
    # Duty is of the whole cycle: an engine that injects into a window has no use for it.
    names += ["duty"] if build.feed.kind == "port" else []
    names += TRIMS if build.burn.trims and not diesel else ()
    names += BOOST if build.charger is not None and build.charger.kind == "turbo" else ()
    names += ["ethanol"] if truth.fuel.ethanol > 0.2 or truth.faults.water_in_ethanol else []
    if diesel or truth.stroke == 2:
        names += [f"egt_{n}" for n in range(1, min(6, truth.cylinders) + 1)]
    return names


class Sensors:
    """Bias by the seed, noise by the run."""

    def __init__(self, truth: VehicleTruth) -> None:
        self.truth = truth
        self.ground = truth.faults.missing_ground
        self.idle_target = 0.0
        made = random.Random(truth.seed * 7919 + 5)
        self.bias = {name: max(-2.0, min(2.0, made.gauss(0, 1))) * size for name, size in BIAS.items()}
        spread = truth.build.feed.spread
        faults = truth.faults
        #: How much leaner each cylinder runs than the mean.
        lean = [made.gauss(0, spread) for _ in range(truth.cylinders)]
        lean[0] -= faults.one_injector
        if faults.body_code_crossed and truth.cylinders > 1:
            lean[0] -= faults.body_code_crossed
            lean[1] += faults.body_code_crossed
        self.lean = lean
        self.diesel = truth.build.burn.kind == "diesel"
        #: The integrator of the trims turns a swing of the sensor into about a third of it.
        self.hunts = faults.rear_sensor / 100.0 * 1.43
        #: Leanest that the wideband reads: a diesel's goes far beyond a petrol engine's.
        self.reads = 6.4 if truth.build.burn.kind == "diesel" else 1.6
        #: Tyre as it was written into the computer, over the one that its works had in it.
        self.tyre = 1.0
        #: Exhaust probes stand where the mixture cannot be read: two-strokes and diesels.
        self.probes = self.diesel or truth.stroke == 2

    def coolant(self, true_c: float) -> float:
        faults = self.truth.faults
        if faults.coolant_open:
            return OPEN_C
        if faults.coolant_short:
            return SHORT_C
        return true_c + self.bias["coolant"] + faults.coolant_off

    def speed_of(self, e: State) -> float:
        """Road speed as the computer makes it, by turns of the wheel and the tyre it was told [km/h]."""
        return e.speed_kmh * self.tyre * (1.0 + self.truth.faults.tyre_error)

    def sensed(self, e: State) -> Sensed:
        """What the program works with now."""
        bias, air = self.bias, e.air
        charge = air.charge if e.rpm > 30 else air.barometer
        mixture = e.measured * (1.0 + bias["lambda"])
        if self.hunts and e.rpm < 1.4 * self.truth.idle_rpm:
            # A rear sensor that swings drags the front one's target with it.
            mixture += self.hunts * sin(2.0 * pi * e.time / HUNT_S)
        return Sensed(
            e.rpm,
            e.pedal,
            manifold_kpa=air.manifold + bias["map"],
            barometer_kpa=air.barometer,
            intake_c=e.probe_c + bias["iat"],
            coolant_c=self.coolant(e.coolant),
            volts=e.volts,
            mixture=mixture,
            knock=e.knocking,
            charge_kpa=charge,
            rail_kpa=e.feed.rail,
        )

    def live(self, name: str, e: State, idle_target: float) -> float | None:
        """One live value with its noise; None where this engine has no such probe.

        One at a time, for a tester asks for few: noise that nobody reads is not drawn.
        """
        self.idle_target = idle_target
        read = LIVE.get(name)
        if read is not None:
            return read(self, e)
        if self.probes and name.startswith("egt_") and int(name[4:]) <= min(6, len(self.lean)):
            cylinder = int(name[4:])
            return e.burn.egt_of(cylinder, self.lean[cylinder - 1]) + e.random.gauss(0, 2.0)
        return None

    def channels(self, e: State, idle_target: float) -> dict[str, float]:
        """All live values."""
        names = [*LIVE, *[f"egt_{n}" for n in range(1, 7)]]
        read = {name: self.live(name, e, idle_target) for name in names}
        return {name: value for name, value in read.items() if value is not None}

    def pressure(self, e: State) -> float:
        """Manifold pressure as it is read; a missing ground shakes it [kPa]."""
        read = e.air.manifold + self.bias["map"] + e.random.gauss(0, 0.25)
        return read + self.ground * e.random.gauss(0, 2.0) if self.ground else read

    def supply(self, e: State) -> float:
        """Battery as the computer reads it; a missing ground shakes it more than anything [V]."""
        read = e.volts + e.random.gauss(0, 0.02)
        return read + self.ground * e.random.gauss(0, 1.0) if self.ground else read

    def mixture(self, e: State) -> float:
        """The wideband, within what it reads."""
        read = e.measured * (1.0 + self.bias["lambda"]) + e.random.gauss(0, 0.003)
        return min(max(read, 0.6), self.reads)

    def rail(self, e: State) -> float:
        """Rail pressure [kPa]."""
        return max(0.0, e.feed.rail + e.random.gauss(0, 60.0 if e.feed.high else 1.0))

    def behind_the_catalyst(self, e: State) -> float:
        """The rear sensor, that may hunt [V]."""
        return 0.68 + (0.3 * sin(2.0 * pi * e.time / HUNT_S) if self.hunts else e.random.gauss(0, 0.01))


#: What a tester may ask for, and how it is read.
LIVE: dict[str, Callable[[Sensors, State], float]] = {
    "rpm": lambda s, e: max(0.0, e.rpm + e.random.gauss(0, 4) * (e.rpm > 50)),
    "pedal": lambda s, e: max(0.0, e.pedal + e.random.gauss(0, 0.08)),
    "throttle": lambda s, e: max(0.0, e.command.throttle + e.random.gauss(0, 0.1)),
    "map": lambda s, e: s.pressure(e),
    "baro": lambda s, e: e.air.barometer + e.random.gauss(0, 0.04),
    "iat": lambda s, e: e.probe_c + s.bias["iat"] + e.random.gauss(0, 0.08),
    "coolant": lambda s, e: s.coolant(e.coolant) + e.random.gauss(0, 0.08),
    "lambda": lambda s, e: s.mixture(e),
    "lambda_target": lambda s, e: e.command.target,
    "stft_1": lambda s, e: e.command.short_trim,
    "ltft_1": lambda s, e: e.command.long_trim,
    "spark": lambda s, e: e.command.spark,
    "knock": lambda s, e: e.command.knock_retard,
    "pulse": lambda s, e: e.command.pulse_ms,
    "duty": lambda s, e: 100.0 * e.feed.duty,
    "battery": lambda s, e: s.supply(e),
    "speed": lambda s, e: s.speed_of(e),
    "rail": lambda s, e: s.rail(e),
    "rail_high": lambda s, e: s.rail(e),
    "idle_target": lambda s, e: s.idle_target,
    "wastegate": lambda s, e: 100.0 * e.command.gate,
    "map_target": lambda s, e: e.air.barometer + e.command.boost_target if e.command.boost_target else 0.0,
    # Water conducts: the content sensor reads it as more ethanol than there can be.
    "ethanol": lambda s, e: 100.0 * s.truth.fuel.ethanol + 900.0 * s.truth.faults.water_in_ethanol,
    "misfire": lambda s, e: float(int(e.misfires)),
    "brake": lambda s, e: float(e.brake),
    "global_trim": lambda s, e: 100.0 * e.command.global_trim,
    "rear_o2_1": lambda s, e: s.behind_the_catalyst(e),
}
