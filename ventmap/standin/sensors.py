"""What the computer's sensors say: a bias each, noise, and the faults of wires and probes."""

from __future__ import annotations

import random
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


#: Live values by their place in `Sensors.live`.
KINDS = {
    name: place
    for place, name in enumerate(
        (
            *("rpm", "pedal", "throttle", "map", "baro", "iat", "coolant", "lambda", "lambda_target"),
            *("stft_1", "ltft_1", "spark", "knock", "pulse", "duty", "battery", "speed", "rail"),
            *("rail_high", "idle_target", "wastegate", "map_target", "ethanol", "misfire", "brake"),
            *("global_trim", "rear_o2_1"),
        )
    )
}


class Sensors:
    """Bias by the seed, noise by the run."""

    def __init__(self, truth: VehicleTruth) -> None:
        self.truth = truth
        self.ground = truth.faults.missing_ground
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
        noise, command = e.random.gauss, e.command
        kind = KINDS.get(name)
        if kind == 0:
            return max(0.0, e.rpm + noise(0, 4) * (e.rpm > 50))
        if kind == 1:
            return max(0.0, e.pedal + noise(0, 0.08))
        if kind == 2:
            return max(0.0, command.throttle + noise(0, 0.1))
        if kind == 3:
            read = e.air.manifold + self.bias["map"] + noise(0, 0.25)
            return read + self.ground * noise(0, 2.0) if self.ground else read
        if kind == 4:
            return e.air.barometer + noise(0, 0.04)
        if kind == 5:
            return e.probe_c + self.bias["iat"] + noise(0, 0.08)
        if kind == 6:
            return self.coolant(e.coolant) + noise(0, 0.08)
        if kind == 7:
            return min(max(e.measured * (1.0 + self.bias["lambda"]) + noise(0, 0.003), 0.6), self.reads)
        if kind == 8:
            return command.target
        if kind == 9:
            return command.short_trim
        if kind == 10:
            return command.long_trim
        if kind == 11:
            return command.spark
        if kind == 12:
            return command.knock_retard
        if kind == 13:
            return command.pulse_ms
        if kind == 14:
            return 100.0 * e.feed.duty
        if kind == 15:
            read = e.volts + noise(0, 0.02)
            return read + self.ground * noise(0, 1.0) if self.ground else read
        if kind == 16:
            return self.speed_of(e)
        if kind == 17 or kind == 18:
            return max(0.0, e.feed.rail + noise(0, 60.0 if e.feed.high else 1.0))
        if kind == 19:
            return idle_target
        if kind == 20:
            return 100.0 * command.gate
        if kind == 21:
            return e.air.barometer + command.boost_target if command.boost_target else 0.0
        if kind == 22:
            # Water conducts: the content sensor reads it as more ethanol than there can be.
            return 100.0 * self.truth.fuel.ethanol + 900.0 * self.truth.faults.water_in_ethanol
        if kind == 23:
            return float(int(e.misfires))
        if kind == 24:
            return float(e.brake)
        if kind == 25:
            return 100.0 * command.global_trim
        if kind == 26:
            return 0.68 + (0.3 * sin(2.0 * pi * e.time / HUNT_S) if self.hunts else noise(0, 0.01))
        if self.probes and name.startswith("egt_") and int(name[4:]) <= min(6, len(self.lean)):
            return e.burn.egt_of(int(name[4:]), self.lean[int(name[4:]) - 1]) + noise(0, 2.0)
        return None

    def channels(self, e: State, idle_target: float) -> dict[str, float]:
        """All live values."""
        names = [*KINDS, *(f"egt_{n}" for n in range(1, 7))]
        read = {name: self.live(name, e, idle_target) for name in names}
        return {name: value for name, value in read.items() if value is not None}
