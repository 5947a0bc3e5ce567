"""Makes `demo/logs/`: one drive of the stand-in in each kind of file.

usage: .venv/bin/python -m demo.make_logs
"""

from __future__ import annotations

import io
import random
from pathlib import Path

import can
import numpy as np
import polars as pl

from ventmap.core.forms import Identity
from ventmap.core.logs import Log, as_workbook, write_mdf
from ventmap.server import bench, rehearsal

HERE = Path(__file__).parent / "logs"
LEGISLATED = {
    "rpm": "Engine RPM",
    "pedal": "Accelerator Pedal Position D (%)",
    "map": "Intake Manifold Absolute Pressure (kPa)",
    "lambda": "O2 Sensor 1 Equivalence Ratio",
    "lambda_target": "Commanded Equivalence Ratio",
    "coolant": "Engine Coolant Temperature (°C)",
    "iat": "Intake Air Temperature (°C)",
    "battery": "Control Module Voltage (V)",
    "speed": "Vehicle Speed Sensor (km/h)",
}
GERMAN = {
    "rpm": ("Motordrehzahl", "1/min"),
    "pedal": ("Fahrpedalstellung", "%"),
    "map": ("Saugrohrdruck", "mbar"),
    "lambda": ("Lambda Istwert", "-"),
    "coolant": ("Kühlmitteltemperatur", "°C"),
    "battery": ("Bordnetzspannung", "V"),
}
PATHS = {
    "rpm": "engine.speed",
    "pedal": "driver.pedal.position",
    "map": "engine.intake.manifoldPressure",
    "lambda": "engine.exhaust.lambda.b1.actual",
    "coolant": "engine.coolant.temperature",
}
DBC = """VERSION ""
NS_ :
BS_:
BU_: Engine
BO_ 288 Engine_1: 8 Engine
 SG_ EngineSpeed : 0|16@1+ (0.25,0) [0|16383] "rpm" Engine
 SG_ ManifoldPressure : 16|16@1+ (0.01,0) [0|655] "kPa" Engine
 SG_ PedalPosition : 32|8@1+ (0.4,0) [0|102] "%" Engine
 SG_ Lambda : 40|16@1+ (0.0001,0) [0|6.5] "" Engine
BO_ 544 Engine_2: 8 Engine
 SG_ CoolantTemp : 0|8@1+ (1,-40) [-40|215] "degC" Engine
 SG_ BatteryVoltage : 8|8@1+ (0.1,0) [0|25] "V" Engine
"""


def drive() -> Log:
    """Ninety seconds of the fuel route, on the stand-in of the rehearsal."""
    random.seed(4)
    vehicle = bench.rehearsal_vehicle(4, {})
    rehearsal.load(vehicle, bench.rehearsal_map(Identity("T20", "VM-P4", "demo")))
    log, _ = rehearsal.drive(vehicle)
    return log.slice(0, int(np.searchsorted(log.time_s, log.time_s[0] + 90.0)))


def table(log: Log, names: dict[str, str]) -> pl.DataFrame:
    columns = {"Time (s)": np.round(log.time_s - log.time_s[0], 3)}
    return pl.DataFrame(columns | {h: np.round(log.channels[n].astype(float), 3) for n, h in names.items()})


def trace(log: Log, path: Path, writer: type[can.io.generic.MessageWriter]) -> None:
    """The drive as frames: fast values in one, slow ones in another each half second."""
    out = writer(str(path))
    filled = {name: log.filled(name) for name in ("rpm", "map", "pedal", "lambda", "coolant", "battery")}
    for row, at in enumerate(log.time_s - log.time_s[0]):
        raw = {
            "rpm": round(float(filled["rpm"][row]) * 4),
            "map": round(float(filled["map"][row]) * 100),
            "pedal": round(float(np.clip(filled["pedal"][row], 0, 100)) / 0.4),
            "lambda": round(float(filled["lambda"][row]) * 10_000),
        }
        body = b"".join(raw[n].to_bytes(1 if n == "pedal" else 2, "little") for n in raw) + b"\0"
        out.on_message_received(_frame(at, 288, body))
        if row % 10 == 0:
            slow = [round(float(filled["coolant"][row]) + 40), round(float(filled["battery"][row]) * 10)]
            out.on_message_received(_frame(at, 544, bytes(slow) + bytes(6)))
    out.stop()


def _frame(at: float, identifier: int, body: bytes) -> can.Message:
    return can.Message(timestamp=float(at), arbitration_id=identifier, data=body, is_extended_id=False)


def main() -> None:
    log = drive()
    plain = table(log, LEGISLATED)
    plain.fill_nan(None).write_csv(HERE / "long-names.csv")
    plain.fill_nan(None).write_parquet(HERE / "long-names.parquet")
    (HERE / "long-names.xlsx").write_bytes(as_workbook(plain.fill_nan(None), "drive"))
    heads = [name for name, _ in GERMAN.values()]
    rows = [";".join(["Zeit", *heads]), ";".join(["s", *(unit for _, unit in GERMAN.values())])]
    for n, at in enumerate(log.time_s - log.time_s[0]):
        cells = [f"{at:.2f}", *(f"{log.channels[c][n] * (10 if c == 'map' else 1):.2f}" for c in GERMAN)]
        rows.append(";".join("" if cell == "nan" else cell for cell in cells).replace(".", ","))
    (HERE / "decimal-comma.csv").write_bytes(("\n".join(rows) + "\n").encode("latin-1", errors="replace"))
    paths = table(log, PATHS)
    slow = pl.Series(np.where(np.arange(len(log)) % 20 == 0, paths["engine.coolant.temperature"], np.nan))
    paths = paths.with_columns(slow.alias("engine.coolant.temperature")).fill_nan(None)
    out = io.BytesIO()
    paths.write_csv(out, separator="\t")
    (HERE / "paths-two-rates.txt").write_bytes(out.getvalue())
    units = {"rpm": "rpm", "pedal": "%", "map": "kPa", "lambda": "", "coolant": "°C", "battery": "V"}
    told = {LEGISLATED[name].split(" (")[0]: (unit, log.channels[name]) for name, unit in units.items()}
    (HERE / "two-clocks.mf4").write_bytes(write_mdf(log.time_s - log.time_s[0], told))
    (HERE / "bench-bus.dbc").write_text(DBC)
    for ending, writer in ((".asc", can.ASCWriter), (".blf", can.BLFWriter)):
        trace(log, HERE / f"bus{ending}", writer)


if __name__ == "__main__":
    main()
