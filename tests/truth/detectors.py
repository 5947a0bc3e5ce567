"""Faults put into a sound drive at design size, at half and at twice, and logs without any: what is found."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from tests.core import test_findings as plain
from tests.core import test_house_rules as more
from tests.core import test_thresholds as sized
from tests.core.drives import as_csv, drive
from ventmap.core.findings import ReviewContext, review
from ventmap.core.logs import Log, read_log

CONTEXT = ReviewContext(induction="turbo", idle_target=850.0, manual=True)
DIESEL = replace(CONTEXT, injection="diesel")
RATES = (10.0, 20.0, 50.0)
SIZES = (0.5, 1.0, 2.0)

HEADINGS = {
    "time": "Time (s)",
    "rpm": "Engine Speed (rpm)",
    "pedal": "Accel Position (%)",
    "throttle": "Throttle (%)",
    "map": "Manifold Absolute Pressure (kPa)",
    "map_target": "Boost target (kPa)",
    "baro": "Barometric pressure (kPa)",
    "iat": "Intake air (°C)",
    "coolant": "Coolant (°C)",
    "lambda": "Lambda 1",
    "lambda_target": "Lambda target",
    "stft_1": "STFT 1 (%)",
    "ltft_1": "LTFT 1 (%)",
    "knock": "Knock Retard (deg)",
    "duty": "Injector duty (%)",
    "battery": "Battery (V)",
    "speed": "Vehicle speed (km/h)",
    "rail": "Fuel rail pressure (kPa)",
}
LEGISLATED = {
    "time": "Time (s)",
    "rpm": "Engine RPM",
    "pedal": "Accelerator Pedal Position D (%)",
    "throttle": "Absolute Throttle Position (%)",
    "map": "Intake Manifold Absolute Pressure (kPa)",
    "map_target": "Commanded Boost Pressure A (kPa)",
    "baro": "Barometric Pressure (kPa)",
    "iat": "Intake Air Temperature (°C)",
    "coolant": "Engine Coolant Temperature (°C)",
    "lambda": "O2 Sensor 1 Equivalence Ratio",
    "lambda_target": "Commanded Equivalence Ratio",
    "stft_1": "Short Term Fuel Trim - Bank 1 (%)",
    "ltft_1": "Long Term Fuel Trim - Bank 1 (%)",
    "knock": "Knock Retard (°)",
    "duty": "Injector Duty Cycle (%)",
    "battery": "Control Module Voltage (V)",
    "speed": "Vehicle Speed Sensor (km/h)",
    "rail": "Fuel Rail Gauge Pressure (kPa)",
}
PATHS = {
    "time": "time",
    "rpm": "engine.speed",
    "pedal": "driver.pedal.position",
    "throttle": "engine.intake.throttle.position",
    "map": "engine.intake.manifoldPressure",
    "map_target": "engine.boost.target",
    "baro": "ambient.pressure",
    "iat": "engine.intake.air.temperature",
    "coolant": "engine.coolant.temperature",
    "lambda": "engine.exhaust.lambda.b1.actual",
    "lambda_target": "engine.fuel.lambda.target",
    "stft_1": "fuel.trim.short.b1",
    "ltft_1": "fuel.trim.long.b1",
    "knock": "ignition.knock.retard",
    "duty": "injector.dutyCycle",
    "battery": "ecu.battery.voltage",
    "speed": "vehicle.speed",
    "rail": "fuel.rail.pressure",
}
GERMAN = {
    "time": "Zeit [s]",
    "rpm": "Motordrehzahl [1/min]",
    "pedal": "Fahrpedalstellung [%]",
    "throttle": "Drosselklappenstellung [%]",
    "map": "Saugrohrdruck [kPa]",
    "map_target": "Ladedruck Sollwert [kPa]",
    "baro": "Umgebungsdruck [kPa]",
    "iat": "Ansauglufttemperatur [°C]",
    "coolant": "Kühlmitteltemperatur [°C]",
    "lambda": "Lambda Istwert",
    "lambda_target": "Lambda Sollwert",
    "stft_1": "Kurzzeit Gemischkorrektur Bank 1 [%]",
    "ltft_1": "Langzeit Gemischkorrektur Bank 1 [%]",
    "knock": "Klopfrücknahme [°KW]",
    "duty": "Einspritzventil Auslastung [%]",
    "battery": "Bordnetzspannung [V]",
    "speed": "Fahrzeuggeschwindigkeit [km/h]",
    "rail": "Raildruck [kPa]",
}
JOINED = {
    "time": "TimeStamp_s",
    "rpm": "EngineSpeed_rpm",
    "pedal": "AcceleratorPedalPosition_pct",
    "throttle": "ThrottlePosition_pct",
    "map": "ManifoldPressure_kpa",
    "map_target": "TargetManifoldPressure_kpa",
    "baro": "BarometricPressure_kpa",
    "iat": "IntakeAirTemp_degC",
    "coolant": "CoolantTemp_degC",
    "lambda": "MeasuredLambda",
    "lambda_target": "TargetLambda",
    "stft_1": "ShortTermTrimB1_pct",
    "ltft_1": "LongTermTrimB1_pct",
    "knock": "KnockRetard_deg",
    "duty": "InjectorDuty_pct",
    "battery": "BatteryVoltage_v",
    "speed": "VehicleSpeed_kmh",
    "rail": "FuelRailPressure_kpa",
}


@dataclass(frozen=True)
class Form:
    """How a logger writes a drive; `slow`: channels that come only every so many rows, blank between."""

    separator: str
    comma: bool = False
    digits: int = 3
    headings: dict[str, str] = field(default_factory=lambda: HEADINGS)
    slow: dict[str, int] = field(default_factory=dict)


#: How loggers write the same drive.
DIALECTS: dict[str, Form | None] = {
    "as measured": None,
    "commas": Form(","),
    "semicolons, decimal comma": Form(";", comma=True),
    "tabs, two digits": Form("\t", digits=2),
    "legislated long names, decimal comma": Form(";", comma=True, headings=LEGISLATED),
    "dotted paths, several rates": Form(
        ";", headings=PATHS, slow={"coolant": 20, "iat": 20, "baro": 40, "battery": 5}
    ),
    "German": Form(";", comma=True, headings=GERMAN),
    "run-together words": Form(",", headings=JOINED),
}


@dataclass(frozen=True)
class Fault:
    """What is put in: the finding it must give, how, and the size it was designed for."""

    kind: str
    put: Callable[[Log, dict[str, np.ndarray], float], Any]
    size: float
    context: ReviewContext = CONTEXT


def scaling(log: Log, mask: dict[str, np.ndarray], kpa: float) -> None:
    log.channels["map"][mask["key_on"]] += kpa


def cold(log: Log, mask: dict[str, np.ndarray], kelvin: float) -> None:
    log.channels["coolant"] -= kelvin


def warms(log: Log, mask: dict[str, np.ndarray], kelvin: float) -> None:
    """Intake air warms over the first pull and stays warm."""
    log.channels["iat"] += np.interp(log.time_s, log.time_s[mask["pull"]][[0, -1]], [0, kelvin])


def thinned(log: Log, mask: dict[str, np.ndarray], period_s: float) -> None:
    """One channel that comes only so often, as where too many are asked for."""
    every = max(1, round(period_s / float(np.median(np.diff(log.time_s)))))
    kept = np.arange(len(log)) % every == 0
    log.channels["spark"] = np.where(kept, log.channels["spark"], np.nan)


def bank_2(log: Log, mask: dict[str, np.ndarray], share: float) -> None:
    """The second bank goes lean while the first is right."""
    second = log.channels["lambda"].copy()
    second[mask["pull"]] += share * log.channels["lambda_target"][mask["pull"]]
    log.channels["lambda_2"] = second


def no_boost(log: Log, mask: dict[str, np.ndarray], kpa: float) -> None:
    """Boost is lost, and nothing says what it should be."""
    log.channels.pop("map_target", None)
    top = float(np.nanmedian(log.channels["baro"])) if "baro" in log.channels else 98.0
    lost = np.maximum(log.channels["map"] - kpa, np.minimum(log.channels["map"], top))
    log.channels["map"] = np.where(mask["pull"] | mask["pull2"], lost, log.channels["map"])


def smokes(log: Log, mask: Any, over: float) -> None:
    """The same drive by a diesel, richer under full load than it burns cleanly."""
    log.channels["rail"] = 30_000.0 + 20.0 * log.channels["rpm"]
    log.channels["lambda"] = np.where(log.channels["pedal"] > 70.0, 1.15 - over, 3.0)
    for name in ("lambda_target", "stft_1", "ltft_1", "knock"):
        log.channels.pop(name, None)


def petrol_s(log: Log, mask: Any, under: float) -> None:
    """A diesel's drive whose idle is so much richer than any diesel's."""
    smokes(log, mask, -0.2)
    light = log.channels["pedal"] <= 70
    log.channels["lambda"][light] = 1.5 - under + 0.01 * np.sin(log.channels["rpm"][light])


def over_target(log: Log, mask: dict[str, np.ndarray], kpa: float) -> None:
    """Boost climbs above its target in both pulls."""
    log.channels["map"] = log.channels["map"] + np.where(mask["pull"] | mask["pull2"], kpa, 0.0)


def oil(log: Log, mask: dict[str, np.ndarray], lost: float) -> None:
    """Warm oil pressure that should be 110 kPa for each 1 000 rpm, short by a share of it in the pulls."""
    full = 110.0 * log.channels["rpm"] / 1000.0
    pulls = mask["pull"] | mask["pull2"]
    log.channels["oil_pressure"] = np.maximum(60.0, full) * np.where(pulls, 1.0 - lost, 1.0)


def hot_exhaust(log: Log, mask: dict[str, np.ndarray], kelvin: float) -> None:
    log.channels["egt_1"] = 600.0 + np.where(mask["pull"], 345.0 + kelvin, 0.0)


def hot_intake(log: Log, mask: dict[str, np.ndarray], kelvin: float) -> None:
    log.channels["iat"] = log.channels["iat"] + 43.0 + kelvin


def charged(log: Log, mask: dict[str, np.ndarray], volts: float) -> None:
    log.channels["battery"] = log.channels["battery"] + np.where(log.channels["rpm"] > 500, 0.9 + volts, 0.0)


def revs(log: Log, mask: dict[str, np.ndarray], over: float) -> None:
    rows = np.flatnonzero(mask["pull"])[-6:]
    log.channels["rpm"][rows] = 6_700.0 + over


def other(log: Log, mask: dict[str, np.ndarray], kpa: float) -> None:
    """A log with boost, on an engine that has no charger."""
    top = float(np.nanmedian(log.channels["baro"])) if "baro" in log.channels else 98.0
    boosted = np.minimum(log.channels["map"], top) + np.where(log.channels["map"] > top + 5.0, kpa, 0.0)
    log.channels["map"] = boosted


def sleeps(log: Log, mask: dict[str, np.ndarray], missing: float) -> None:
    """A level that adds 20 kPa, of which so much is not there."""
    pulls = mask["pull"] | mask["pull2"]
    for name in {"map", "map_target"} & set(log.channels):
        log.channels[name] = log.channels[name] - np.where(pulls, missing, 0.0)


LEVEL = replace(CONTEXT, baseline_boost_kpa=138.0, level_adds=((1000.0, 20.0), (7000.0, 20.0)))
FAULTS = [
    Fault("level_asleep", sleeps, 16.0, LEVEL),
    Fault("overboost", over_target, 18.0),
    Fault("oil_pressure_low", oil, 0.6),
    Fault("exhaust_hot", hot_exhaust, 40.0),
    Fault("intake_hot", hot_intake, 14.0),
    Fault("voltage_high", charged, 0.8),
    Fault("overspeed", revs, 250.0, replace(CONTEXT, rev_limit=6_600.0)),
    Fault("other_vehicle", other, 45.0, replace(CONTEXT, induction="none")),
    Fault("another_engine", petrol_s, 0.4, DIESEL),
    Fault("lean_under_load", sized.lean, 0.08),
    Fault("lean_under_load", bank_2, 0.08),
    Fault("boost_plateau_low", no_boost, 60.0),
    Fault("rich_under_load", sized.rich, 0.10),
    Fault("lean_hole", more.hole, 0.10),
    Fault("boost_falls_with_rpm", sized.slip, 20.0),
    Fault("boost_plateau_low", sized.short, 15.0),
    Fault("torque_cut", sized.cut, 0.30),
    Fault("gear_slips", sized.runs_away, 0.2),
    Fault("throttle_shut", sized.held_shut, 35.0),
    Fault("trim_hunting", sized.hunt, 12.0),
    Fault("trim_offset", sized.offset, 11.0),
    Fault("bank_imbalance", sized.bank, 8.0),
    Fault("knock", sized.knock, 4.0),
    Fault("smoke", smokes, 0.06, DIESEL),
    Fault("fuel_pressure_drop", sized.rail, 0.15),
    Fault("heat_soak", warms, 12.0),
    Fault("voltage_low", sized.battery_falls, 1.3),
    Fault("not_warm", cold, 25.0),
    Fault("sensor_implausible", scaling, 9.0),
    Fault("idle_high_air", more.high_idle, 350.0),
    Fault("idle_unstable", sized.idle_rough, 90.0),
    Fault("slow_to_idle", more.slow_fall, 6.0),
    Fault("misfire", more.misfire, 12.0),
    Fault("egt_spread", more.egt, 90.0),
    Fault("ethanol_jump", sized.ethanol, 20.0),
    Fault("slow_sampling", thinned, 0.4),
    Fault("injector_limit", lambda log, mask, over: sized.duty(log, mask, 85.0 + over), 6.0),
    Fault("coolant_high", lambda log, mask, over: sized.coolant(log, mask, 105.0 + over), 8.0),
]


def told(log: Log, context: ReviewContext = CONTEXT) -> set[str]:
    return {finding.kind for finding in review(log, context).findings}


def written(log: Log, dialect: str) -> Log:
    """The log as that logger would have written it, read back."""
    form = DIALECTS[dialect]
    if form is None:
        return log
    headings = {n: h for n, h in form.headings.items() if n == "time" or n in log.channels}
    thin = dict(log.channels)
    for name, every in form.slow.items():
        kept = np.arange(len(log)) % every == 0
        thin[name] = np.where(kept, thin[name], np.nan) if name in thin else thin.get(name)
    channels = {name: values for name, values in thin.items() if values is not None}
    text = as_csv(replace(log, channels=channels), headings, form.separator, form.comma, form.digits)
    return read_log(text.encode(), "log.csv")


def drives(seeds: Iterable[int], rates: Iterable[float]) -> Iterator[tuple[float, int]]:
    for hz in rates:
        for seed in seeds:
            yield hz, seed


def found_share(
    fault: Fault, scale: float, seeds: Iterable[int], rates: Iterable[float]
) -> tuple[float, float]:
    """Share of drives in which the fault was found, and in which something else was told beside it."""
    hits, beside, count = 0, 0, 0
    for hz, seed in drives(list(seeds), rates):
        log, mask = drive(hz, seed=seed)
        fault.put(log, mask, fault.size * scale)
        kinds = told(log, fault.context)
        hits += fault.kind in kinds
        beside += bool(kinds - {fault.kind})
        count += 1
    return hits / count, beside / count


def false_share(dialect: str, seeds: Iterable[int], rates: Iterable[float]) -> float:
    """Share of sound drives, written in this dialect, in which anything is told."""
    seen = [bool(told(written(drive(hz, seed=seed)[0], dialect))) for hz, seed in drives(list(seeds), rates)]
    return sum(seen) / len(seen)


def dialect_share(dialect: str, seeds: Iterable[int]) -> float:
    """Share of faults that show in this dialect's channels and are found in it, at design size."""
    hits, count = 0, 0
    for fault in FAULTS:
        for seed in seeds:
            log, mask = drive(20.0, seed=seed)
            fault.put(log, mask, fault.size)
            if fault.put is bank_2 or fault.kind in (
                "misfire",
                "egt_spread",
                "ethanol_jump",
                "bank_imbalance",
                "trim_hunting",
                "slow_sampling",
                "oil_pressure_low",
                "exhaust_hot",
            ):
                continue  # this logger has no such channel
            hits += fault.kind in told(written(log, dialect), fault.context)
            count += 1
    return hits / count


assert plain.FAULTS.keys() <= {fault.kind for fault in FAULTS}, "every fault of the plain tests is here"
