"""Options over a stock program: what a flasher wrote into the stock computer, as the engine then runs."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from ventmap.core.forms import Calibration

from .engine import Engine
from .overlay import Overlay
from .runtime import Runtime, Sensed
from .stock import DieselProgram

#: Options that change how a pretend vehicle runs, by their key; every other one is written, and not run.
RUNS = ("rev_limit", "speed_limit", "idle", "pedal", "fan_on", "fan_off", "tyre_mm", "warm_up_s")
#: Until it is warm by its own delay, so much of the pedal is heard [%].
COLD_PEDAL = 60.0
#: The limiter takes the pedal away within so many km/h around its figure.
LIMITS_WITHIN_KMH = 2.0


@dataclass(frozen=True)
class Written:
    """Options by key, as wanted and as the works had them; torque that the engine's file asks for [N·m]."""

    wanted: dict[str, float]
    stock: dict[str, float]
    torque_nm: float | None = None

    @classmethod
    def of(cls, calibration: Calibration) -> Written:
        rows = calibration.lists.get("options", ())
        engine = [row for row in calibration.lists.get("pair", ()) if row["module"] == "engine"]
        return cls(
            {str(row["key"]): float(row["wanted"]) for row in rows},
            {str(row["key"]): float(row["stock"]) for row in rows},
            float(engine[0]["torque_nm"]) if engine else None,
        )

    def share(self, key: str) -> float:
        """Wanted over stock; 1 where it is not written."""
        stock = self.stock.get(key, 0.0)
        return self.wanted[key] / stock if stock and key in self.wanted else 1.0


class OptionedPedal(Overlay):
    """What the program hears of the pedal: its response, the speed limiter, the delay before full torque.

    Parameters
    ----------
    written : Written
    speed_kmh : callable
        Road speed as the computer reads it now [km/h].
    """

    def __init__(self, written: Written, speed_kmh: Callable[[], float]) -> None:
        self.response = written.share("pedal")
        self.limit = written.wanted.get("speed_limit")
        self.delay_s = written.wanted.get("warm_up_s", 0.0)
        self.speed_kmh = speed_kmh
        self.ran = 0.0

    def sense(self, now: Sensed) -> Sensed:
        self.ran = self.ran + 0.01 if now.rpm > 400 else 0.0
        # Sooner on the way, the same at its end: it adds no power.
        asked = min(100.0, now.pedal)
        heard = 100.0 * (asked / 100.0) ** (1.0 / self.response) if asked > 0.0 else 0.0
        if self.limit is not None:
            over = self.speed_kmh() - self.limit
            heard *= max(0.0, min(1.0, 0.5 - 0.5 * over / LIMITS_WITHIN_KMH))
        if self.ran < self.delay_s:
            heard = min(heard, COLD_PEDAL)
        now.pedal = heard
        return now


def flash_options(engine: Engine, calibration: Calibration) -> Overlay:
    """Write options over the stock program that runs in this engine; the overlay that goes with them.

    Parameters
    ----------
    engine : Engine
        Its program is changed.
    calibration : Calibration
        Of the form ``options``.
    Notes
    -----
    An engine file that asks for more torque than the sheet claims gives fuel and boost in proportion.
    """
    written, program = Written.of(calibration), engine.runtime
    if program is not None:
        program.rev_limit = written.wanted.get("rev_limit", program.rev_limit)
        idle = written.wanted.get("idle", program.idle_target)
        if isinstance(program, Runtime):
            program.cut_above += idle - program.idle_target
            program.back_below += idle - program.idle_target
        program.idle_target = idle
        if isinstance(program, DieselProgram) and written.torque_nm:
            share = written.torque_nm / engine.truth.torque_nm
            barometer = engine.truth.barometer_kpa
            program.full_mg *= share
            program.boost_kpa = share * (program.boost_kpa + barometer) - barometer
    engine.heat.fan_by(written.wanted)
    engine.sensors.tyre = written.share("tyre_mm")
    return OptionedPedal(written, lambda: engine.sensors.speed_of(engine))


def not_run(calibration: Calibration) -> list[str]:
    """Names of the options that are written and change nothing in a pretend vehicle."""
    rows = calibration.lists.get("options", ())
    return [str(row["name"]) for row in rows if row["key"] not in RUNS and row["wanted"] != row["stock"]]
