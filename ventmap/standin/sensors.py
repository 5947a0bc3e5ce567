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


class Sensors:
    """Bias by the seed, noise by the run."""

    def __init__(self, truth: VehicleTruth) -> None:
        self.truth = truth
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

    def channels(self, e: State, idle_target: float) -> dict[str, float]:
        """Live values with noise."""
        noise, command, bias, faults = e.random.gauss, e.command, self.bias, self.truth.faults
        ground = faults.missing_ground
        live = {
            "rpm": max(0.0, e.rpm + noise(0, 4) * (e.rpm > 50)),
            "pedal": max(0.0, e.pedal + noise(0, 0.08)),
            "throttle": max(0.0, command.throttle + noise(0, 0.1)),
            "map": e.air.manifold + bias["map"] + noise(0, 0.25) + ground * noise(0, 2.0),
            "baro": e.air.barometer + noise(0, 0.04),
            "iat": e.probe_c + bias["iat"] + noise(0, 0.08),
            "coolant": self.coolant(e.coolant) + noise(0, 0.08),
            "lambda": min(max(e.measured * (1.0 + bias["lambda"]) + noise(0, 0.003), 0.6), self.reads),
            "lambda_target": command.target,
            "stft_1": command.short_trim,
            "ltft_1": command.long_trim,
            "spark": command.spark,
            "knock": command.knock_retard,
            "pulse": command.pulse_ms,
            "duty": 100 * e.feed.duty,
            "battery": e.volts + noise(0, 0.02) + ground * noise(0, 1.0),
            "speed": self.speed_of(e),
            "rail": max(0.0, e.feed.rail + noise(0, 1.0 if not e.feed.high else 60.0)),
            "idle_target": idle_target,
            "wastegate": 100.0 * command.gate,
            "map_target": e.air.barometer + command.boost_target if command.boost_target else 0.0,
            # Water conducts: the content sensor reads it as more ethanol than there can be.
            "ethanol": 100.0 * self.truth.fuel.ethanol + 900.0 * faults.water_in_ethanol,
            "misfire": float(int(e.misfires)),
            "brake": float(e.brake),
            "global_trim": 100.0 * command.global_trim,
            "rear_o2_1": 0.68 + (0.3 * sin(2.0 * pi * e.time / HUNT_S) if self.hunts else noise(0, 0.01)),
        }
        live["rail_high"] = live["rail"]
        if self.probes:
            for n, lean in enumerate(self.lean[:6], 1):
                live[f"egt_{n}"] = e.burn.egt_of(n, lean) + noise(0, 2.0)
        return live
