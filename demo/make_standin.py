"""Writes the pretend vehicles into demo/standin/, each fitted to its sheet's power and torque.

usage: .venv/bin/python demo/make_standin.py
"""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Any

import numpy as np

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))
from demo.standins import VEHICLES  # noqa: E402
from ventmap.standin.spec import StandIn  # noqa: E402
from ventmap.standin.yard import OUT, full_load, stock_parts, truth_of  # noqa: E402

ROUNDS = 14


def filling(about: dict[str, Any], tilt: float) -> dict[str, Any]:
    """A hump over speed on axes of its own, rising with pressure; `tilt` lifts its top end."""
    top, idle = about["top"], about["idle"]
    rpm = np.round(np.linspace(0.55 * idle, 1.02 * top, 15) / 10) * 10
    if about.get("garage"):
        # The engine that the sample maps of the two-litre four were made for.
        load = np.array([14, 23, 34, 46, 58, 71, 84, 96, 108], float)
        speed = 87 + 24 * np.exp(-(((rpm - 4300) / 2600) ** 2))
        values = speed[None, :] * (0.82 + 0.18 * (1 - np.exp(-(load - 12) / 26)))[:, None]
        return {"x": rpm.tolist(), "y": load.tolist(), "values": np.round(values, 2).tolist()}
    hump = 78 + 20 * np.exp(-(((rpm - about["hump"] * top) / (0.42 * top)) ** 2))
    speed = about.get("fill", 1.0) * hump * (1 + tilt * (rpm / top - 0.6))
    load = np.array([12, 24, 37, 51, 66, 83, 103, 128, 160, 205], float)
    load = load[load < about["most_kpa"] + 35]
    values = speed[None, :] * (0.82 + 0.18 * (1 - np.exp(-(load - 12) / 26)))[:, None]
    return {"x": rpm.tolist(), "y": load.tolist(), "values": np.round(values, 2).tolist()}


def made(about: dict[str, Any], tilt: float, efficiency: float) -> tuple[StandIn, str]:
    build = {**about["build"]}
    build["burn"] = {**build.get("burn", {}), "efficiency": round(efficiency, 5)}
    document = {
        **{key: about[key] for key in ("vehicle", "seed", "sheet", "off_s") if key in about},
        **about.get("hidden", {}),
        "filling": filling(about, tilt),
        "build": build,
    }
    text = json.dumps(document, indent=1)
    return StandIn.model_validate_json(text), text


def fitted(about: dict[str, Any]) -> tuple[str, str]:
    """By efficiency and tilt until power and torque are the sheet's at standard air."""
    tilt, efficiency = 0.0, about["build"].get("burn", {}).get("efficiency", 0.38)
    for _ in range(ROUNDS):
        spec, text = made(about, tilt, efficiency)
        truth = truth_of(spec, *stock_parts(spec.vehicle), barometer_kpa=101.325, ambient_c=25.0)
        sheet = spec.sheet
        high = full_load(truth, spec, sheet.power_rpm) / (sheet.power_kw * 1e3 / (sheet.power_rpm * 0.104720))
        low = full_load(truth, spec, sheet.torque_rpm) / sheet.torque_nm
        if abs(high - 1) < 0.004 and abs(low - 1) < 0.004:
            break
        efficiency *= (high * low) ** -0.45
        # A diesel's curve is its fuel limit's, not its filling's.
        if truth.build.burn.kind != "diesel" and not about.get("garage"):
            apart = (sheet.power_rpm - sheet.torque_rpm) / truth.top_rpm
            tilt += 0.7 * (low / high - 1) / max(apart, 0.08)
            tilt = max(-0.7, min(0.9, tilt))
    print(f"{spec.vehicle:26} power {high:.3f} torque {low:.3f} efficiency {efficiency:.3f} tilt {tilt:.2f}")
    return spec.vehicle, text


if __name__ == "__main__":
    OUT.mkdir(exist_ok=True)
    wanted = sys.argv[1:]
    for about in VEHICLES:
        if wanted and about["vehicle"] not in wanted:
            continue
        key, text = fitted(about)
        (OUT / f"{key}.json").write_text(text + "\n", encoding="utf-8")
