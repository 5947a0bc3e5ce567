"""Maps of boxes and flashers: levels, blends, trims, options, drivers, entries."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np

from ventmap.core.basics import Table2D
from ventmap.core.forms import Calibration, Identity, MapConditions
from ventmap.core.fuel import blend, pulse_multiplier

from .shapes import curve, options, write


def kelmar() -> None:
    rpm = [1200, 1800, 2400, 3000, 3800, 4600, 5400, 6200]
    shape = np.array([0.2, 0.6, 0.9, 1.0, 1.0, 0.95, 0.85, 0.7])

    def level(
        engine: str, calibration: str, name: str, most: tuple[float, ...], ron: tuple[float, ...]
    ) -> Calibration:
        number = range(1, len(most) + 1)
        return Calibration(
            name,
            Identity(engine, "kelmar-shift", calibration, minimum_firmware="3.0"),
            {"warm_up_s": 60.0, "level": 1.0},
            {"added_boost": Table2D(rpm, list(number), np.round(np.outer(most, shape), 1))},
            conditions=MapConditions(
                induction="turbo", ron=min(ron), author="Kelmar", altitude_m=(0.0, 2500.0), proven_on="drum"
            ),
            form="level",
            lists={
                "levels": tuple({"number": float(n), "ron": r} for n, r in zip(number, ron, strict=True)),
                "modes": (
                    {"mode": "winter", "level": 0.0, "lamp": "off"},
                    {"mode": "town", "level": 1.0, "lamp": "1"},
                    {"mode": "sport", "level": 1.0, "lamp": "1 and dot"},
                ),
            },
        )

    write(
        "kelmar",
        "om16-levels",
        level("OM16", "KS-16-3", "OM16, three levels", (12, 22, 35), (95.0, 98.0, 100.0)),
    )
    write(
        "kelmar", "om16d-levels", level("OM16D", "KS-16D-2", "OM16 dual, two levels", (10, 18), (95.0, 98.0))
    )
    write("kelmar", "om16-race", level("OM16", "KS-16-R", "OM16, race fuel levels", (30, 50), (102.0, 106.0)))
    write("kelmar", "ht10-levels", level("HT10", "KS-10-2", "HT10, two levels", (10, 20), (95.0, 98.0)))
    content = np.array([0, 10, 25, 40, 55, 70, 85, 100], float)
    need = np.array([pulse_multiplier(blend(c / 100)) for c in content])
    blended = Calibration(
        "OM16, valley blend",
        Identity("OM16", "kelmar-ethanol", "KE-16-1", minimum_firmware="1.5"),
        {"preset": 2.0},
        {
            "pulse_factor": Table2D(content, [1, 2, 3], np.round(np.outer([0.98, 1.0, 1.03], need), 3)),
            "start_addition": curve([-20, -5, 5, 15, 30, 50, 70], [95, 60, 40, 25, 12, 5, 0]),
        },
        conditions=MapConditions(
            induction="turbo", ron=95.0, ethanol=0.85, author="Kelmar", altitude_m=(0.0, 2500.0)
        ),
        form="blend",
        lists={
            "presets": (
                {"number": 1.0, "name": "saving", "lamp": "green"},
                {"number": 2.0, "name": "even", "lamp": "blue"},
                {"number": 3.0, "name": "full", "lamp": "red"},
            )
        },
    )
    write("kelmar", "om16-blend", blended)
    write(
        "kelmar",
        "t20-blend",
        replace(
            blended,
            name="T20, valley blend",
            identity=replace(blended.identity, engine="T20", calibration="KE-20-1"),
            conditions=blended.conditions.model_copy(update={"induction": "none"}),
        ),
    )


def brandrel() -> None:
    rpm, throttle = (
        [1500, 2500, 3500, 4500, 5500, 6500, 7500, 8500, 9500, 10500],
        [2, 5, 10, 20, 40, 60, 80, 100],
    )

    def trim(calibration: str, name: str, lift: float, hole: float, **about: Any) -> Calibration:
        speed, open_ = np.array(rpm, float)[None, :], np.array(throttle, float)[:, None]
        hump = np.exp(-(((speed - 5000) / 1300) ** 2)) * np.exp(-(((open_ - 25) / 26) ** 2))
        fuel = np.round(lift + hole * hump + 0.0 * open_, 1)
        return Calibration(
            name,
            Identity("Q660", "brandrel-line", calibration, minimum_firmware="2.4"),
            {},
            {
                "fuel_trim.1": Table2D(rpm, throttle, fuel),
                "fuel_trim.2": Table2D(rpm, throttle, fuel + 2.0),
                "spark_trim.1": Table2D(rpm, throttle, np.zeros_like(fuel)),
                "spark_trim.2": Table2D(rpm, throttle, np.full_like(fuel, -1.0)),
            },
            conditions=MapConditions(
                **{"ron": 95.0, "author": "Brandrel", "altitude_m": (0.0, 2500.0), "exhaust": "free", **about}
            ),
            form="trim",
            lists={
                "positions": (
                    {"number": 0.0, "name": "stock", "lamp": "off", "fixed": True, "rev_limit": 10_500.0},
                    {"number": 1.0, "name": "street", "lamp": "white", "fixed": False, "rev_limit": 10_500.0},
                    {
                        "number": 2.0,
                        "name": "winter fuel",
                        "lamp": "blue",
                        "fixed": False,
                        "rev_limit": 10_300.0,
                    },
                    {"number": 3.0, "name": "learner", "lamp": "amber", "fixed": True, "rev_limit": 8_200.0},
                )
            },
        )

    write("brandrel", "q660-free", trim("BL-Q66-F", "Q660, free silencer", 3.0, 10.0))
    write("brandrel", "q660-race", trim("BL-Q66-R", "Q660, race pipe", 6.0, 11.0, exhaust="race"))
    write("brandrel", "q660-plain", trim("BL-Q66-S", "Q660, as it came", 0.0, 6.0, exhaust="stock"))
    stock = options(
        "PW15, 95 RON, wake",
        Identity("PW15", "PV-W7", "PW15-0230", minimum_firmware="4.0"),
        [
            (
                "rev_limit",
                "rev limit",
                7950,
                8050,
                6000,
                8300,
                "rpm",
                False,
                "the impeller holds it below this",
            ),
            ("speed_limit", "speed limit", 107, 107, 40, 120, "km/h", True, ""),
            ("idle", "idle speed", 1300, 1300, 1100, 1800, "rpm", False, ""),
            (
                "pedal",
                "lever response",
                100,
                115,
                60,
                150,
                "%",
                False,
                "answers sooner off the wake; adds no power",
            ),
        ],
        induction="blower",
        ron=95.0,
        author="Brandrel",
        altitude_m=(0.0, 2500.0),
    )
    write("brandrel", "pw15-95", stock)
    write(
        "brandrel",
        "t20j-95",
        options(
            "T20J, 95 RON, street",
            Identity("T20J", "CV-S24", "CV24-1102", minimum_firmware="4.0"),
            [
                (
                    "cylinder_deactivation",
                    "cylinder deactivation",
                    1,
                    0,
                    0,
                    1,
                    "",
                    False,
                    "drones on the new silencer",
                ),
                ("stop_start", "stop-start at key on", 1, 0, 0, 1, "", False, "weak battery in the cold"),
                ("pedal", "pedal response", 100, 110, 60, 150, "%", False, "adds no power"),
                ("fan_on", "fan on", 97, 94, 70, 105, "°C", False, "pass in summer"),
                ("fan_off", "fan off", 92, 89, 60, 100, "°C", False, "5 °C below on"),
            ],
            ron=95.0,
            ethanol=0.05,
            author="Brandrel",
            altitude_m=(0.0, 2500.0),
        ),
    )
    write(
        "brandrel",
        "pw15-98",
        replace(
            stock, name="PW15, 98 RON, wake", conditions=stock.conditions.model_copy(update={"ron": 98.0})
        ),
    )
