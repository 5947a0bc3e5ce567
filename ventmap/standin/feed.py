"""The fuel path: pump, rail, injectors with their true flow and dead time, the film on a port's wall."""

from __future__ import annotations

from math import sqrt

from ventmap.core.fuel import PETROL, fuel_rate

from .lookup import Lookup
from .truth import VehicleTruth

#: Of a wall film: its bounds, the pressure and the temperature from which they count [kPa, °C].
FILM_SHARES, FILM_SECONDS, FILM_KPA, FILM_WARM_C = (0.05, 0.45), (0.1, 0.6), 40.0, 80.0
#: Below this a rail is empty [kPa].
LEAST_KPA = 20.0


class Feed:
    """Rail and injectors. `rail` is the pressure above the barometer [kPa]."""

    def __init__(self, truth: VehicleTruth) -> None:
        spec, faults = truth.build.feed, truth.faults
        self.spec, self.faults = spec, faults
        self.barometer = truth.barometer_kpa
        self.nominal = truth.fuel_pressure_kpa
        self.cycle_ms = 120_000.0 if truth.stroke == 4 else 60_000.0
        self.per_second = truth.cylinders / (120.0 if truth.stroke == 4 else 60.0)
        flow = truth.injector_flow * (1.0 + faults.flow_error)
        # One injector that differs, differs in its cylinder; the mean moves by its share.
        flow *= 1.0 + faults.one_injector / truth.cylinders
        # One plug that is off takes its cylinder's share away.
        flow *= 1.0 - (faults.dead_injector > 0) / truth.cylinders
        self.grams_per_ms_root = fuel_rate(flow, truth.fuel.density) / sqrt(truth.injector_rated_kpa)
        if truth.fuel.name == "diesel":
            # A diesel injector's sheet is of diesel itself.
            self.grams_per_ms_root = flow * truth.fuel.density / 60_000.0 / sqrt(truth.injector_rated_kpa)
        self.dead_time = Lookup(truth.dead_time.table)
        self.high = spec.kind != "port"
        self.pump = spec.pump_gs * (1.0 - faults.weak_pump)
        self.rail = 0.0 if self.high else self.nominal
        self.flow = self.duty = self.effective = self.dead = self.film = 0.0
        self.across = self.nominal

    def pressure(self, manifold: float, target: float, rpm: float, dt: float) -> None:
        """Rail pressure of this step, from what was injected in the last."""
        if self.high:
            # The pump is driven by the engine and feeds what its control lets through, up to its stroke.
            most = self.pump * min(1.0, rpm / 1500.0)
            wanted = self.flow + (target - self.rail) / self.spec.bulk_kpa_g / 0.05
            given = min(max(wanted, 0.0), most)
            self.rail = max(0.0, self.rail + (given - self.flow) * self.spec.bulk_kpa_g * dt)
            if self.faults.clogged_filter:
                held = self.nominal * (
                    1.0 - self.faults.clogged_filter * min(1.0, self.flow / self.spec.pump_gs)
                )
                self.rail = min(self.rail, held)
        else:
            set_kpa = self.nominal + (manifold - self.barometer if self.spec.referenced else 0.0)
            share = 1.0
            if self.flow > self.pump > 0.0:
                # The pump gives no more: pressure falls until the injectors take no more either.
                share = (self.pump / self.flow) ** 2
            share -= self.faults.clogged_filter * min(1.0, self.flow / self.spec.pump_gs)
            aim = max(set_kpa * max(share, 0.05), 0.0)
            self.rail += (aim - self.rail) * min(1.0, dt / 0.06)
        self.across = max(self.rail + self.barometer - manifold, LEAST_KPA)

    def inject(
        self, pulse_ms: float, rpm: float, volts: float, coolant_c: float, manifold: float, dt: float
    ) -> float:
        """Fuel burnt in one cylinder this cycle [g]."""
        self.dead = self.dead_time(self.across, volts) + self.faults.dead_time_error_ms
        window = self.spec.window_deg / (0.006 * rpm)
        open_ms = min(pulse_ms, window) if self.high else pulse_ms
        self.effective = max(0.0, open_ms - self.dead)
        injected = self.effective * self.grams_per_ms_root * sqrt(self.across)
        self.duty = min(1.0, pulse_ms / (window if self.high else self.cycle_ms / rpm))
        self.flow = injected * self.per_second * rpm
        if self.high:
            return injected
        # A share lands on the wall and follows with a delay; more of it cold, and where air is dense.
        film, dense = self.spec.film, manifold - FILM_KPA
        cold = max(0.0, FILM_WARM_C - coolant_c)
        share = film.share + film.share_kpa * dense + film.share_cold * cold
        share = min(max(share, FILM_SHARES[0]), FILM_SHARES[1])
        seconds = film.seconds + film.seconds_kpa * dense + film.seconds_cold * cold
        seconds = min(max(seconds, FILM_SECONDS[0]), FILM_SECONDS[1])
        cycle = self.cycle_ms / 1000.0 / rpm
        back = self.film * min(1.0, cycle / seconds)
        self.film += (injected * share - back) * dt / cycle
        return injected * (1.0 - share) + back


def water_thins(truth: VehicleTruth) -> float:
    """Share of the injected mass that burns: water in ethanol does not."""
    return 1.0 - truth.faults.water_in_ethanol


__all__ = ["LEAST_KPA", "PETROL", "Feed", "water_thins"]
