"""Matched sets of a diesel, and the entries of its body module."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ventmap.core.basics import Table2D
from ventmap.core.forms import Calibration, Identity, MapConditions, MapSet

from .shapes import entry, options, write


def harrow() -> None:
    about = {
        "induction": "turbo",
        "author": "Harrow",
        "altitude_m": (0.0, 2800.0),
        "particulate_filter": "fitted",
    }

    def engine(calibration: str, name: str, asked: float, allowed: float) -> Calibration:
        made = options(
            name,
            Identity("TP30", "TW-D4", calibration, minimum_firmware="7.0"),
            [
                ("rev_limit", "rev limit", 4400, 4400, 3800, 4600, "rpm", False, ""),
                ("speed_limit", "speed limit", 180, 170, 60, 190, "km/h", False, "trailer tyres carry R"),
                ("stop_start", "stop-start at key on", 1, 0, 0, 1, "", False, "it tows over the pass"),
                (
                    "warm_up_s",
                    "warm-up before full torque",
                    30,
                    60,
                    0,
                    600,
                    "s",
                    False,
                    "cold oil under a trailer",
                ),
            ],
            **about,
        )
        return made.with_list(
            "pair",
            [
                {"module": "engine", "calibration": calibration, "torque_nm": asked},
                {"module": "gearbox", "calibration": f"{calibration}-G", "torque_nm": allowed},
            ],
        )

    def driver(calibration: str, name: str, flow: float) -> Calibration:
        rpm, demand = [800, 1200, 1600, 2000, 2600, 3200, 3800, 4400], [0, 10, 25, 40, 55, 70, 85, 100]
        # What the torque of its engine's file takes, and no longer than the window is.
        most = np.array([950, 1220, 1590, 1900, 2140, 2060, 1680, 1400]) * 3000.0 / flow
        pulse = 300 + np.outer(np.asarray(demand, float) / 100, most)
        pulse[0] = 0
        return Calibration(
            name,
            Identity("TP30", "harrow-driver", calibration, minimum_firmware="1.8"),
            {"injector_flow": flow, "window_deg": 46.0, "rev_limit": 4400.0},
            {"pulse_us": Table2D(rpm, demand, np.round(pulse))},
            conditions=MapConditions(**about),
            form="driver",
        )

    for number, (name, flow, asked) in enumerate((("tow", 3000.0, 640.0), ("long haul", 3600.0, 690.0)), 1):
        made = {
            "engine": engine(f"HR-TP30-{number}", f"TP30, {name}", asked, 700.0),
            "driver": driver(f"HD-TP30-{number}", f"TP30 driver, {name}", flow),
        }
        members = {role: one.sha256 for role, one in made.items()}
        for role, one in made.items():
            member = replace(one, set=MapSet(f"TP30 {name}", role, members))
            write("harrow", f"tp30-{name.replace(' ', '-')}-{role}", member)
    write(
        "harrow",
        "tp30-no-filter",
        replace(
            engine("HR-TP30-9", "TP30, filter taken out", 690.0, 700.0),
            conditions=MapConditions(**{**about, "particulate_filter": "removed"}),
        ),
    )
    body = Calibration(
        "TP30 body entries",
        Identity("TP30", "tarn-body", "TB-TP30-2", minimum_firmware="1.2"),
        {},
        {},
        conditions=MapConditions(induction="turbo", author="Harrow"),
        form="entries",
        lists={
            "entries": (
                entry(
                    4,
                    "tyre diameter, inches",
                    "whole then tenths",
                    30.5,
                    30.9,
                    25,
                    40,
                    "in",
                    "measured, loaded",
                ),
                entry(
                    7,
                    "stop-start at key on",
                    "on or off",
                    1,
                    0,
                    0,
                    1,
                    "",
                    "it tows over the pass",
                    on=1,
                    off=0,
                ),
                entry(
                    11, "speed warning", "whole", 120, 110, 40, 180, "km/h", "trailer", before="cruise off"
                ),
                entry(15, "lamps off after locking", "whole", 30, 30, 0, 120, "s", ""),
            )
        },
    )
    write("harrow", "tp30-body", body)
    moved = [{**row, "number": row["number"] + 20.0} for row in body.lists["entries"]]
    hauler = replace(
        body.with_list("entries", moved),
        name="GH22 body entries",
        identity=replace(body.identity, engine="GH22", calibration="TB-GH22-1"),
    )
    write("harrow", "gh22-body", hauler)
