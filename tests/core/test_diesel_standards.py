"""Correction of a diesel's power, worked by hand from the published formulas."""

from __future__ import annotations

from math import exp, log

import pytest

from ventmap.core.basics import BadInput, dry_pressure
from ventmap.core.drum import DieselEngine, correction_factor, diesel_engine, standards_for

TRUCK = {"power_kw": 184.0, "bsfc": 235.0, "rpm": 3500.0, "displacement_cc": 3000.0, "boost_kpa": 150.0}


def test_the_engine_factor_comes_from_fuel_and_boost():
    """184 kW burn 12.0 g/s; 29.2 cycles a second of 3 l: 137 mg/l, over 2.76 of pressure 49.7."""
    truck = diesel_engine(**TRUCK, barometer_kpa=85.0, turbo=True)
    grams, cycles = 184 * 235 / 3600, 3500 / 120
    assert truck.fuel_mg == pytest.approx(1000 * grams / cycles / 3.0)
    assert truck.pressure_ratio == pytest.approx(235 / 85)
    assert truck.factor == pytest.approx(0.036 * truck.fuel_mg / truck.pressure_ratio - 1.14)
    assert truck.factor == pytest.approx(0.647, abs=0.005)
    assert diesel_engine(**{**TRUCK, "boost_kpa": 0.0}, barometer_kpa=85.0, turbo=False).pressure_ratio == 1.0
    for lacks in ("power_kw", "displacement_cc", "boost_kpa"):
        assert diesel_engine(**{**TRUCK, lacks: None}, barometer_kpa=85.0, turbo=True) is None


@pytest.mark.parametrize(
    ("corrected", "factor"), [(20.0, 0.3), (40.0, 0.3), (50.0, 0.66), (65.0, 1.2), (90.0, 1.2)]
)
def test_the_engine_factor_is_level_beyond_its_ends(corrected, factor):
    assert DieselEngine(corrected, 1.0, True).factor == pytest.approx(factor)


@pytest.mark.parametrize("standard", ["ISO 1585", "SAE J1349"])
@pytest.mark.parametrize(("turbo", "air", "heat"), [(True, 0.7, 1.5), (False, 1.0, 0.7)])
def test_air_and_heat_by_their_own_exponents(standard, turbo, air, heat):
    engine = DieselEngine(100.0, 2.0, turbo)
    dry = dry_pressure(96.0, 30.0, 0.4)
    by_hand = exp(0.66 * (air * log(99.0 / dry) + heat * log(303.0 / 298.0)))
    found = correction_factor(standard, 96.0, 30.0, 0.4, engine)
    assert found.factor == pytest.approx(by_hand)
    assert found.valid
    assert correction_factor(standard, 99.0, 25.0, 0.0, engine).factor == pytest.approx(1.0, abs=1e-3)


def test_each_stays_within_its_own_bounds():
    engine = DieselEngine(100.0, 2.0, True)
    # 85 kPa at 20 °C: 1.08 lies within what one vouches for, and not the other.
    thin = {name: correction_factor(name, 83.0, 22.0, 0.4, engine) for name in ("ISO 1585", "SAE J1349")}
    assert 1.07 < thin["ISO 1585"].factor < 1.1
    assert (thin["ISO 1585"].valid, thin["SAE J1349"].valid) == (True, False)


def test_what_has_no_diesel_formula_is_not_offered():
    engine = DieselEngine(100.0, 2.0, True)
    assert standards_for(False, engine) == ("none", "SAE J1349", "ISO 1585")
    assert standards_for(False) == ("none",)
    assert "DIN 70020" in standards_for(True)
    for standard in ("DIN 70020", "SAE J607"):
        with pytest.raises(BadInput, match="no formula for a diesel"):
            correction_factor(standard, 99.0, 25.0, 0.0, engine)
    assert correction_factor("none", 80.0, 25.0, 0.0, engine).factor == 1.0
