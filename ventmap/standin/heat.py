"""Heat and battery: coolant with its fan, the bonnet's soak, charging by load and temperature."""

from __future__ import annotations

from collections.abc import Mapping
from math import exp

from .state import State
from .truth import VehicleTruth

THERMOSTAT_C = 88.0
#: Lag of an intake thermistor [s].
PROBE_S = 4.0
FAN_ON_C, FAN_OFF_C = 97.0, 92.0


class Heat:
    """Slow states of a vehicle."""

    def __init__(self, truth: VehicleTruth) -> None:
        self.truth = truth
        faults = truth.faults
        # A cold battery gives less, at rest and cranking.
        cold = max(0.0, 20.0 - truth.ambient_c)
        self.rest = 12.66 - 0.004 * cold - faults.low_battery
        self.cranks = 10.9 - 0.025 * cold - 1.6 * faults.low_battery
        self.charges = 14.1 + 0.006 * cold - faults.slow_battery
        self.fan_on, self.fan_off = FAN_ON_C, FAN_OFF_C

    def fan_by(self, figures: Mapping[str, float]) -> None:
        """The fan by what a map or an option set says of it, under ``fan_on`` and ``fan_off`` [°C]."""
        self.fan_on = figures.get("fan_on", FAN_ON_C)
        self.fan_off = figures.get("fan_off", FAN_OFF_C)

    def step(self, e: State, dt: float) -> None:
        truth, flow = self.truth, e.air.flow
        running = e.rpm > 300
        # Heat follows the fuel; the radiator takes it away above the thermostat, with road or fan.
        late = truth.faults.late_fan
        if e.coolant > self.fan_on + late:
            e.fan = True
        elif e.coolant < self.fan_off + late:
            e.fan = False
        gain = (0.02 + 0.02 * flow) if running else -0.002 * (e.coolant - truth.ambient_c) / 60.0
        if e.coolant > THERMOSTAT_C - 4.0:
            opened = min(1.0, (e.coolant - THERMOSTAT_C + 4.0) / 8.0)
            air = 0.2 + e.speed_kmh / 18.0 + (4.0 if e.fan else 0.0)
            if truth.build.body.kind == "water" or e.drum_inertia is not None:
                air += 5.0
            air *= 1.0 - truth.faults.blocked_radiator
            gain -= opened * 0.0075 * min(air, 9.0) * (e.coolant - truth.ambient_c) * (0.35 + flow / 30.0)
        e.coolant += gain * dt
        # Intake heat soak: rises while standing hot, washed away by flow.
        hot = 4.0 + 0.10 * max(0.0, e.coolant - 60.0) + truth.faults.heat_soak
        e.soak += (hot * exp(-flow / 30.0) + 2.0 - e.soak) * dt / 40.0
        # A thermistor follows the air with a lag.
        e.probe_c += (e.intake - e.probe_c) * dt / PROBE_S
        if running:
            # The alternator holds its voltage, less a little for what is switched on and at idle.
            wanted = self.charges - (0.18 if e.fan else 0.0) - (0.12 if e.rpm < 1000 else 0.0)
        else:
            wanted = (self.cranks if e.cranking else self.rest) - e.sag
        e.volts += (wanted - e.volts) * min(1.0, dt / (0.6 if running else 0.15))
