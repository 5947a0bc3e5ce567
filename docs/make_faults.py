"""Draws docs/faults anew: ten faults as they look in a log, each from a drive of a pretend vehicle.

usage: .venv/bin/python docs/make_faults.py
"""

from __future__ import annotations

import os
from dataclasses import dataclass
from pathlib import Path

import django
import numpy as np

HERE = Path(__file__).resolve().parent / "faults"
#: Lines of a lane, and what a finding is shaded with, in the look of the screens.
LINES, SHADE, INK = ("#0B5E6B", "#9A5B00"), "#A1382A", "#1D2A2E"
#: Shown around a finding [s], and points drawn of a line.
AROUND_S, POINTS = 9.0, 260


@dataclass(frozen=True)
class Shown:
    """A fault, on which vehicle, how large, the finding that it gives, and the lanes that show it."""

    name: str
    vehicle: str
    faults: dict[str, float]
    kind: str
    lanes: tuple[tuple[str, ...], ...]
    window: str = ""


SHOWN = (
    Shown(
        "supply",
        "corvane-estate-20",
        {"weak_pump": 0.6},
        "fuel_pressure_drop",
        (("rpm",), ("rail",), ("lambda", "lambda_target")),
    ),
    Shown(
        "low-boost",
        "ostrel-merrin-16t",
        {"wastegate_stuck": 0.75},
        "boost_plateau_low",
        (("rpm",), ("map", "map_target"), ("wastegate",)),
    ),
    Shown(
        "slip",
        "pelvane-wake-1500",
        {"drive_slip": 0.45},
        "boost_falls_with_rpm",
        (("rpm",), ("map",), ("pedal", "throttle")),
    ),
    Shown("knock", "ostrel-merrin-16t", {"poor_fuel": 9.0}, "knock", (("rpm",), ("map",), ("knock",))),
    Shown(
        "air-leak",
        "corvane-estate-20",
        {"air_leak": 6.0},
        "idle_high_air",
        (("rpm", "idle_target"), ("stft_1", "ltft_1"), ("throttle",)),
    ),
    Shown(
        "swinging-trim",
        "corvane-estate-20",
        {"rear_sensor": 14.0},
        "trim_hunting",
        (("rpm",), ("stft_1", "ltft_1"), ("lambda",)),
    ),
    Shown("heat", "ostrel-merrin-16t", {"blocked_core": 0.9}, "heat_soak", (("rpm",), ("iat",), ("map",))),
    Shown(
        "misfire", "corvane-estate-20", {"misfire": 0.03}, "misfire", (("rpm",), ("misfire",), ("lambda",))
    ),
    Shown(
        "slow-to-idle",
        "corvane-estate-20",
        {"sticking_throttle": 4.0},
        "slow_to_idle",
        (("rpm", "idle_target"), ("throttle", "pedal"), ("speed",)),
    ),
    Shown(
        "not-a-fault",
        "ostrel-merrin-16t",
        {"traction_cut": 0.7},
        "torque_cut",
        (("rpm",), ("throttle", "pedal"), ("map",)),
        window="traction_cut",
    ),
)


def draw(shown: Shown) -> str:
    """The picture of one fault, as SVG."""
    import io

    from matplotlib import rc_context
    from matplotlib.figure import Figure

    from tests.link.test_yard import context
    from ventmap.core.findings import review
    from ventmap.core.logs import CHANNELS
    from ventmap.server import drives

    log = drives.drive(shown.vehicle, faults=shown.faults, minutes=4.5, seed=3)
    told = review(log, context(shown.vehicle))
    finding = next(one for one in told.findings if one.kind == shown.kind)
    # Of what comes again and again, the first time is shown.
    once = next((one for one in told.windows if one.kind == shown.window), finding)
    begins, ends = once.from_s, once.to_s
    start, stop = max(begins - AROUND_S, 0.0), ends + AROUND_S
    rows = (log.time_s >= start) & (log.time_s <= stop)
    every = max(1, int(rows.sum()) // POINTS)
    lanes = [[name for name in lane if log.has(name)] for lane in shown.lanes]
    out = io.StringIO()
    with rc_context({"svg.fonttype": "none", "svg.hashsalt": shown.name, "font.family": "sans-serif"}):
        figure = Figure(figsize=(8.0, 0.9 * len(lanes) + 0.3), layout="constrained")
        axes = np.atleast_1d(figure.subplots(len(lanes), 1, sharex=True))
        for ax, lane in zip(axes, lanes, strict=True):
            ax.axvspan(begins, ends, color=SHADE, alpha=0.12)
            for name, colour, dash in zip(lane, LINES, ("-", "--"), strict=False):
                values = log.filled(name)[rows][::every]
                ax.plot(log.time_s[rows][::every], values, color=colour, linestyle=dash, linewidth=1.2)
            first = CHANNELS[lane[0]]
            ax.set_ylabel(
                f"{first.label}\n[{first.unit}]" if first.unit else first.label,
                fontsize=8,
                rotation=0,
                ha="right",
                va="center",
                color=INK,
            )
            ax.tick_params(labelsize=8)
            for side in ("top", "right"):
                ax.spines[side].set_visible(False)
        axes[0].set_xlim(start, stop)
        figure.savefig(out, format="svg", metadata={"Date": None})
    return out.getvalue()


def main() -> None:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "ventmap.server.settings")
    django.setup()
    HERE.mkdir(exist_ok=True)
    for shown in SHOWN:
        (HERE / f"{shown.name}.svg").write_text(draw(shown))
        print(f"docs/faults/{shown.name}.svg")


if __name__ == "__main__":
    main()
