"""Options over a stock program act on the engine as the trade knows them, and on nothing else."""

from __future__ import annotations

import functools

import numpy as np
import pytest

from tests.conftest import ROOT
from ventmap.core.forms import Calibration, from_json
from ventmap.server import bench, drives
from ventmap.standin.route import Leg, pull_route

DUNE, DIESEL, WATER, DIRECT = (
    "hobcroft-trail-1000",
    "tarnwood-packhorse-30",
    "pelvane-wake-1500",
    "corvane-estate-20-di",
)
MAPS = {
    DUNE: "ardle/ht10-trail",
    DIESEL: "harrow/tp30-tow-engine",
    WATER: "brandrel/pw15-95",
    DIRECT: "brandrel/t20j-95",
}


def options(vehicle: str, **wanted: float) -> Calibration:
    """The sample's option set with other figures in it; what is not named is as its works had it."""
    calibration = from_json((ROOT / "demo" / "maps" / f"{MAPS[vehicle]}.json").read_text())
    rows = [{**row, "wanted": wanted.get(row["key"], row["stock"])} for row in calibration.lists["options"]]
    assert set(wanted) <= {row["key"] for row in rows}
    return calibration.with_list("options", rows)


@functools.cache
def driven(vehicle: str, route: str = "road", **wanted: float):
    calibration = options(vehicle, **wanted).with_list("pair", []) if wanted else None
    return drives.drive(
        vehicle, faults={}, calibration=calibration, seed=3, minutes=4.0, route=route
    ).channels


def test_a_rev_limit_and_an_idle_are_met():
    assert driven(WATER)["rpm"].max() > 7600
    lower = driven(WATER, rev_limit=7000.0)
    assert 6900 < lower["rpm"].max() < 7150
    idle = driven(WATER, "idle", idle=1500.0)
    settled = idle["rpm"][-200:]
    assert abs(np.mean(settled) - 1500.0) < 40.0


def test_a_limiter_holds_what_the_computer_reads_and_the_tyre_moves_that():
    free, limited = driven(DUNE), driven(DUNE, speed_limit=90.0)
    assert free["speed"].max() > 105.0
    assert 85.0 < limited["speed"].max() < 92.5
    # A tyre told 2 % larger reads 2 % more at the same engine speed, in the same gear.
    larger = driven(DUNE, tyre_mm=752.0 * 1.02)
    ratio = [
        np.median((log["speed"] / log["rpm"])[(log["speed"] > 60.0) & (log["pedal"] > 90.0)])
        for log in (free, larger)
    ]
    assert ratio[1] / ratio[0] == pytest.approx(1.02, abs=0.002)


def test_pedal_response_answers_sooner_and_adds_no_power():
    stock, sooner = driven(WATER, "drum"), driven(WATER, "drum", pedal=140.0)
    assert sooner["map"].max() == pytest.approx(stock["map"].max(), rel=0.02)
    cars = []
    for calibration in (None, options(WATER, pedal=140.0)):
        car = bench.yard_vehicle(WATER, seed=3, faults={}, stock=True)
        bench.fit_boxes(car, [calibration] if calibration else [])
        for _ in car.drive([Leg("start", 4.0), Leg("hold", 6.0, rpm=3000.0, pedal=20.0)]):
            pass
        cars.append(car.engine.command.throttle)
    assert cars[1] > cars[0] + 5.0


def test_a_fan_follows_its_figures():
    found = []
    for calibration in (None, options(DUNE, fan_on=80.0, fan_off=75.0)):
        car = bench.yard_vehicle(DUNE, seed=3, faults={}, stock=True)
        bench.fit_boxes(car, [calibration] if calibration else [])
        for _ in car.drive([Leg("start", 4.0), Leg("idle", 10.0)]):
            pass
        found.append(car.engine.fan)
    assert found == [False, True]


def test_an_engine_file_gives_the_torque_it_asks_for_and_a_cold_one_waits():
    asked = options(DIESEL)
    pull = {}
    for name, calibration in (("stock", None), ("tow", asked)):
        car = bench.yard_vehicle(DIESEL, seed=3, faults={}, stock=True)
        bench.fit_boxes(car, [calibration] if calibration else [])
        for _ in car.drive([Leg("start", 4.0), Leg("idle", 65.0)]):
            pass
        torque = []
        for leg in car.drive(pull_route(car.truth.top_rpm, 5, car.truth.idle_rpm)):
            if leg.kind == "pull" and 2000 < car.engine.rpm < 3200:
                torque.append(car.engine.torque)
        pull[name] = np.mean(torque)
    # 640 N·m over the sheet's 550, less what friction takes of both; it never gives more than it asks.
    assert 1.08 < pull["tow"] / pull["stock"] < 640 / 550 * 1.04, pull
    early = driven(DIESEL, warm_up_s=600.0)
    assert early["map"].max() < 0.92 * driven(DIESEL)["map"].max()


def test_what_a_pretend_vehicle_does_not_show_is_named():
    assert bench.not_run(options(DIRECT, cylinder_deactivation=0.0, fan_on=94.0)) == ["cylinder deactivation"]
    assert bench.not_run(options(DIRECT, fan_on=94.0)) == []
