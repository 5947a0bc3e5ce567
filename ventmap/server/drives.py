"""A datalog of a pretend vehicle without a job: for scripts, for trials, for anyone without a browser."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

import numpy as np

from ventmap.core.basics import BadInput
from ventmap.core.forms import Calibration
from ventmap.core.logs import CHANNELS, Log
from ventmap.link.logger import capture, plan_for, to_log
from ventmap.link.tester import Tester

from . import bench, rehearsal

#: Longest drive that is made in one go [min].
MOST_MINUTES = 240.0
ROUTES = ("road", "drum", "idle", "cold")


@dataclass(frozen=True)
class Dialect:
    """How a logger writes: headings, separator, decimal mark, the unit of time, and figures of its own."""

    names: dict[str, str]
    time: str = "Time (s)"
    separator: str = ","
    decimal: str = "."
    scale: float = 1.0
    figures: dict[str, Callable[[float], float]] | None = None


def _psi(kpa: float) -> float:
    return kpa / 6.894757


def _fahrenheit(celsius: float) -> float:
    return celsius * 1.8 + 32.0


#: Written as this product writes them.
PLAIN: dict[str, str] = {}
LEGISLATED = {
    "rpm": "Engine RPM (rpm)",
    "map": "Intake Manifold Absolute Pressure (kPa)",
    "pedal": "Accelerator Pedal Position D (%)",
    "throttle": "Absolute Throttle Position (%)",
    "lambda": "O2 Sensor 1 Equivalence Ratio",
    "lambda_target": "Commanded Equivalence Ratio",
    "stft_1": "Short Term Fuel Trim Bank 1 (%)",
    "ltft_1": "Long Term Fuel Trim Bank 1 (%)",
    "spark": "Timing Advance (°)",
    "coolant": "Engine Coolant Temperature (°C)",
    "iat": "Intake Air Temperature (°C)",
    "battery": "Control Module Voltage (V)",
    "speed": "Vehicle Speed Sensor (km/h)",
    "baro": "Barometric Pressure (kPa)",
    "rail": "Fuel Rail Gauge Pressure (kPa)",
    "ethanol": "Ethanol Fuel %",
}
IMPERIAL = {
    "map": "Manifold Absolute Pressure (psi)",
    "baro": "Barometric Pressure (psi)",
    "rail": "Fuel Pressure (psi)",
    "map_target": "Manifold Pressure Target (psi)",
    "iat": "Intake Air Temp (F)",
    "coolant": "Coolant Temp (F)",
    "lambda": "AFR",
    "lambda_target": "AFR Target",
    "speed": "Vehicle Speed (mph)",
}
GERMAN = {
    "rpm": "Motordrehzahl [1/min]",
    "pedal": "Fahrpedalstellung [%]",
    "map": "Saugrohrdruck [mbar]",
    "lambda": "Lambda Istwert [-]",
    "coolant": "Kühlmitteltemperatur [°C]",
    "battery": "Bordnetzspannung [V]",
}
DIALECTS = {
    "plain": Dialect(PLAIN),
    "long names": Dialect(LEGISLATED),
    "imperial": Dialect(
        IMPERIAL,
        figures={
            **dict.fromkeys(("map", "baro", "rail", "map_target"), _psi),
            **dict.fromkeys(("iat", "coolant"), _fahrenheit),
            **{name: lambda value: 14.7 * value for name in ("lambda", "lambda_target")},
            "speed": lambda value: value / 1.609344,
        },
    ),
    "decimal comma": Dialect(
        GERMAN,
        time="Zeit [ms]",
        separator=";",
        decimal=",",
        scale=1000.0,
        figures={"map": lambda value: 10.0 * value},
    ),
}


def drive(
    key: str,
    *,
    faults: dict[str, float],
    calibration: Calibration | None = None,
    seed: int = 1,
    minutes: float = 5.0,
    route: str = "road",
    rate_hz: float = 20.0,
    ethanol: float = 0.0,
    habits: Mapping[str, float] | None = None,
) -> Log:
    """Drive a vehicle unwatched, and log it over its link.

    Parameters
    ----------
    key : str
        A vehicle of the sample shop.
    faults : dict
        By name, with their size.
    calibration : Calibration, optional
        A full map takes the place of the stock computer's; a box's map runs beside it.
    minutes : float
        Longest drive; a route that ends sooner ends the log.
    route : str
        One of `ROUTES`.
    rate_hz : float
        Rows a second, as far as the bus carries them.
    habits : mapping, optional
        What the logger does to it, by name, with their size.

    Raises
    ------
    BadInput
        Where the vehicle, fault, habit, route, time or rate cannot be.
    """
    habits = habits or {}
    bench.check_habits(habits)
    if route not in ROUTES:
        raise BadInput(f"No route is called “{route}”. There are: {', '.join(ROUTES)}.", "route")
    if not 0.0 < minutes <= MOST_MINUTES:
        raise BadInput(f"A drive lasts up to {MOST_MINUTES:.0f} minutes; {minutes:g} is none.", "minutes")
    if not 0.5 <= rate_hz <= 100.0:
        raise BadInput(f"A link gives 0.5 to 100 rows a second; {rate_hz:g} is none.", "rate")
    whole = calibration is not None and calibration.form == "full"
    vehicle = bench.yard_vehicle(
        key, seed=seed, faults=faults, stock=not whole, warm=route != "cold", ethanol=ethanol
    )
    if calibration is not None:
        if whole:
            rehearsal.load(vehicle, calibration)
        else:
            bench.fit_boxes(vehicle, [calibration])
    if route == "drum":
        vehicle.engine.drum_inertia = bench.drum_inertia(vehicle)
    hang = habits.get("limiter", 0.0)
    legs = [
        replace(leg, seconds=leg.seconds + hang, hang_s=hang) if leg.kind == "pull" else leg
        for leg in bench.route_of(vehicle.truth, route, minutes, vehicle.drum_gear)
    ]
    line = bench.DirectLine(vehicle, vehicle.drive(legs))
    rows = []
    for row in capture(Tester(line), plan_for(bench.channels_of(vehicle.truth)), 1.0 / rate_hz):
        if row[0] > 60.0 * minutes:
            break
        rows.append(row)
        if line.ended:
            break
    return bench.written_by(to_log(rows, key), habits, seed)


def written(log: Log, dialect: str) -> str:
    """A log as text in a dialect.

    Raises
    ------
    BadInput
        If no such dialect is known.
    """
    if dialect not in DIALECTS:
        raise BadInput(f"No dialect is called “{dialect}”. There are: {', '.join(DIALECTS)}.", "dialect")
    how = DIALECTS[dialect]
    out = io.StringIO()
    table = csv.writer(out, delimiter=how.separator, lineterminator="\n")
    names = [name for name in log.channels if dialect != "decimal comma" or name in how.names]
    table.writerow([how.time, *(how.names.get(name) or _plain(name) for name in names)])
    columns = []
    for name in names:
        values = log.channels[name].astype(float)
        change = (how.figures or {}).get(name)
        columns.append(np.array([change(value) for value in values]) if change else values)
    # Rows of a burst lie closer than a millisecond.
    digits = 3 if how.scale == 1.0 else 0
    digits += int(np.diff(log.time_s).min(initial=1.0) < 0.001)
    for row, at in enumerate((log.time_s - log.time_s[0]) * how.scale):
        cells = [f"{at:.{digits}f}", *(_figure(one[row]) for one in columns)]
        table.writerow([cell.replace(".", how.decimal) for cell in cells])
    return out.getvalue()


def _figure(value: float) -> str:
    if np.isnan(value):
        return ""
    return f"{value:.4f}" if abs(value) < 3.0 else f"{value:.2f}"


def _plain(name: str) -> str:
    channel = CHANNELS[name]
    return f"{channel.label} [{channel.unit}]" if channel.unit else channel.label


__all__ = ["DIALECTS", "ROUTES", "drive", "written"]
