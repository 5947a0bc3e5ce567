"""Gears: road speed by another way, the gear that is taken, ratios as they are typed."""

from __future__ import annotations

import pytest

from ventmap.core.basics import BadInput, HouseRules, Vehicle
from ventmap.core.corrections import Sweep, driven_so
from ventmap.core.findings import ReviewContext, drives
from ventmap.core.vehicle import Gearing, diameter_mm, gearing_of, ratios_of

CAR = Gearing((13.1, 7.4, 5.1, 3.9, 3.15), diameter_mm("205/55R16"))


def test_road_speed_is_turns_of_the_wheel_by_its_girth():
    # A rim of 16 in, two walls of 55 % of 205 mm; 3 000 turns a minute over 5.1 are 588 of the wheel.
    girth_m = 3.14159265 * (16 * 0.0254 + 2 * 0.55 * 0.205)
    assert CAR.kmh(3, 3000.0) == pytest.approx(3000 / 5.1 * girth_m * 60 / 1000, rel=1e-6)


def test_a_pull_is_made_in_the_third_and_said_with_its_speeds():
    pull = next(one for one in drives([], ReviewContext(rev_limit=6800.0), "car", CAR) if one.key == "pull")
    assert pull.do.startswith(f"3rd gear, {CAR.kmh(3, 2720):.0f} to {CAR.kmh(3, 6500):.0f} km/h, pedal")
    assert pull.where == "a drum or a closed course"
    assert Gearing((9.0, 5.0), 600.0).pull() == 2
    assert next(
        one for one in drives([], ReviewContext(rev_limit=6800.0), "car") if one.key == "pull"
    ).do.startswith("One gear")


def test_a_sweep_takes_the_highest_gear_that_the_road_allows_and_goes_to_the_drum_beyond():
    slow, fast = Sweep(40.0, 2000.0, 2600.0, 4), Sweep(40.0, 5200.0, 6000.0, 4)
    most = HouseRules()["drive.road_kmh"]
    told, where = driven_so(slow, "kPa", False, CAR, most)
    gear = CAR.steady(2000.0, 2600.0, most)
    assert CAR.kmh(gear, 2600.0) <= most
    assert gear == 5 or CAR.kmh(gear + 1, 2600.0) > most
    assert told.startswith(CAR.told(gear, 2000.0, 2600.0))
    assert where == "where the law and the traffic let you"
    assert driven_so(slow, "kPa", True, CAR, most)[1] == "a drum or a closed course"
    # In first gear it would stay within; fast work in a car that has no such gear does not.
    tall = Gearing((4.0, 3.0), CAR.tyre_mm)
    assert driven_so(fast, "kPa", False, tall, most)[1] == "a drum or a closed course"
    slower = HouseRules({"drive.road_kmh": 40.0})["drive.road_kmh"]
    assert driven_so(slow, "kPa", False, CAR, slower)[0] != told
    assert driven_so(slow, "kPa", False, None, most)[0] == slow.in_words("kPa")


def test_ratios_are_read_as_they_are_typed_and_a_slip_is_said():
    assert ratios_of("3.36 1.9 1.308") == ratios_of("3,36 / 1,9 / 1,308") == (3.36, 1.9, 1.308)
    with pytest.raises(BadInput, match="no gear ratio"):
        ratios_of("3.36 1.9 reverse")
    with pytest.raises(BadInput, match="fall from the first"):
        ratios_of("1.9 3.36")
    known = {
        "kind": "car",
        "model": "Estate",
        "cylinders": 4,
        "stroke": 4,
        "injection": "port",
        "induction": "none",
    }
    known["stock_tyre"] = "205/55R16"
    assert gearing_of(Vehicle(**known)) is None
    geared = Vehicle(**known, gear_ratios="3.36 1.9 1.308 1.0 0.808", final_drive=3.9)
    assert gearing_of(geared).overall[2] == pytest.approx(5.1, rel=0.001)
    assert gearing_of(geared.model_copy(update={"gearbox_kind": "belt"})) is None
