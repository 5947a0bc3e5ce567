"""Writes what lies in demo/day/ beside the acts: logs, drum runs and pictures, as a shop's own tools give.

usage: .venv/bin/python demo/make_day.py
"""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
from pathlib import Path

import numpy as np
from PIL import Image, ImageDraw

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "ventmap.server.settings")
import django  # noqa: E402

django.setup()
from ventmap.core.drum import reduce_pull  # noqa: E402
from ventmap.core.forms import Calibration, from_json  # noqa: E402
from ventmap.link.logger import capture, plan_for, to_log  # noqa: E402
from ventmap.link.tester import Tester  # noqa: E402
from ventmap.server import bench  # noqa: E402
from ventmap.server.drives import written  # noqa: E402

DEMO = Path(__file__).resolve().parent
OUT = DEMO / "day"
RATE_HZ = 12.5

#: Log → vehicle, maps of its boxes, faults, route, minutes, dialect, ethanol in the tank.
LOGS: dict[str, tuple[str, list[str], dict[str, float], str, float, str, float]] = {
    "estate-stock.csv": ("corvane-estate-20", [], {}, "road", 1.9, "plain", 0.05),
    "merrin-stock.csv": ("ostrel-merrin-16t", [], {}, "road", 1.9, "long names", 0.05),
    "merrin-levels-and-blend.csv": (
        "ostrel-merrin-16t",
        ["kelmar/om16-levels", "kelmar/om16-blend"],
        {},
        "road",
        3.7,
        "long names",
        0.30,
    ),
    "valley-stock.csv": ("ostrel-merrin-16t", [], {}, "road", 1.9, "long names", 0.05),
    "valley-level.csv": (
        "ostrel-merrin-16t",
        ["kelmar/om16-levels"],
        {"poor_fuel": 6.0},
        "road",
        3.7,
        "long names",
        0.05,
    ),
    "packhorse-stock.csv": ("tarnwood-packhorse-30", [], {}, "road", 1.9, "decimal comma", 0.0),
    "triple-stock.csv": ("quillon-triple-660", [], {}, "road", 1.9, "plain", 0.05),
    "triple-trimmed.csv": ("quillon-triple-660", ["brandrel/q660-free"], {}, "road", 3.7, "plain", 0.05),
    "trail-stock.csv": ("hobcroft-trail-1000", [], {}, "road", 1.9, "imperial", 0.05),
    "skimmer-stock.csv": ("bramble-skimmer-850", [], {}, "road", 1.9, "plain", 0.05),
    "wake-stock.csv": ("pelvane-wake-1500", [], {}, "road", 1.9, "plain", 0.05),
    "look-fuel-pump.csv": ("corvane-estate-20", [], {"weak_pump": 0.5}, "road", 1.9, "imperial", 0.05),
    "look-charging.csv": ("corvane-estate-18", [], {"slow_battery": 1.0}, "road", 1.9, "decimal comma", 0.05),
    "look-hunting-idle.csv": ("corvane-estate-20-di", [], {"rear_sensor": 12.0}, "idle", 2.0, "plain", 0.05),
}
#: Set of runs → vehicle, maps of its boxes, how many.
RUNS: dict[str, tuple[str, list[str], int]] = {
    "estate-before": ("corvane-estate-20", [], 3),
    "merrin-before": ("ostrel-merrin-16t", [], 3),
    "valley-before": ("ostrel-merrin-16t", [], 3),
    "packhorse-before": ("tarnwood-packhorse-30", [], 3),
    "triple-before": ("quillon-triple-660", [], 4),
    "triple-after": ("quillon-triple-660", ["brandrel/q660-free"], 4),
    "trail-before": ("hobcroft-trail-1000", [], 3),
}
PICTURES = {
    "plugs.jpg": "twin plugs, marked A and B",
    "row.jpg": "lower row of injectors",
    "routing.jpg": "harness, strapped",
    "codes.jpg": "injector codes",
    "port.jpg": "diagnostic port",
    "seat.jpg": "seat, clean",
}


def maps(names: list[str]) -> list[Calibration]:
    return [from_json((DEMO / "maps" / f"{name}.json").read_text(encoding="utf-8")) for name in names]


def log(name: str, seed: int) -> str:
    vehicle_key, boxes, faults, route, minutes, dialect, ethanol = LOGS[name]
    vehicle = bench.yard_vehicle(vehicle_key, seed=seed, faults=faults, stock=True, ethanol=ethanol)
    bench.fit_boxes(vehicle, maps(boxes))
    if route == "drum":
        vehicle.engine.drum_inertia = bench.drum_inertia(vehicle)
    legs = bench.route_of(vehicle.truth, route, minutes, vehicle.drum_gear)
    line, rows = bench.DirectLine(vehicle, vehicle.drive(legs)), []
    for row in capture(Tester(line), plan_for(bench.channels_of(vehicle.truth)), 1.0 / RATE_HZ):
        if row[0] > 60.0 * minutes or line.ended:
            break
        rows.append(row)
    return written(to_log(rows, name), dialect)


def run(vehicle_key: str, boxes: list[str], seed: int) -> str:
    """Wheel power of one pull, as a drum exports it."""
    vehicle = bench.yard_vehicle(vehicle_key, seed=3, faults={}, stock=True, ethanol=0.05)
    vehicle.engine.random.seed(seed)
    bench.fit_boxes(vehicle, maps(boxes))
    time, omega, drum = vehicle.drum_pull()
    curve = reduce_pull(np.asarray(time), np.asarray(omega), drum)
    rows = [f"{rpm:.0f},{kw:.2f}" for rpm, kw in zip(curve.rpm, curve.power_kw, strict=True)]
    return "\n".join(["rpm,wheel power (kW)", *rows]) + "\n"


def picture(caption: str) -> Image.Image:
    """A made-up picture: a sketch on a card, as one photographs a label beside its part."""
    sheet = Image.new("RGB", (800, 600), "#cfd6d4")
    draw = ImageDraw.Draw(sheet)
    draw.rectangle((60, 60, 740, 430), fill="#39474b", outline="#1d2a2e", width=6)
    for n in range(6):
        at = 120 + 100 * n
        draw.rounded_rectangle((at, 150, at + 70, 340), 14, fill="#8a9699", outline="#1d2a2e", width=5)
        draw.ellipse((at + 18, 200, at + 52, 234), fill="#1d2a2e")
    draw.rectangle((60, 460, 740, 560), fill="#fffefb", outline="#9a5b00", width=5)
    draw.text((90, 485), caption, fill="#1d2a2e", font_size=36)
    return sheet


def captured() -> None:
    """The logs that the day's jobs captured, on the maps that were in: the day is played once, on record."""
    with tempfile.TemporaryDirectory() as data:
        here = {**os.environ, "VENTMAP_DATA": data}
        for command in (["migrate", "--verbosity", "0"], ["seed_demo", "--day", "--record"]):
            subprocess.run([sys.executable, "manage.py", *command], env=here, cwd=DEMO.parent, check=True)


def main() -> None:
    for folder in ("logs", "runs", "photos"):
        (OUT / folder).mkdir(parents=True, exist_ok=True)
    for seed, name in enumerate(LOGS, start=11):
        (OUT / "logs" / name).write_text(log(name, seed), encoding="utf-8")
    for name, (vehicle, boxes, count) in RUNS.items():
        for number in range(1, count + 1):
            text = run(vehicle, boxes, 100 * len(name) + number)
            (OUT / "runs" / f"{name}-{number}.csv").write_text(text, encoding="utf-8")
    for name, caption in PICTURES.items():
        picture(caption).save(OUT / "photos" / name, "JPEG", quality=70)
    captured()


if __name__ == "__main__":
    main()
