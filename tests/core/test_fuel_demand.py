"""What full load asks of a fuel system, derived from the flow of fuel and not by the code's own formulas."""

from __future__ import annotations

import json
from itertools import product

import numpy as np
import pytest

from tests.conftest import ROOT
from tests.core.drives import drive
from tests.core.records import device, injector, sized
from ventmap.core.basics import HouseRules, OutOfRange, Pump, Vehicle, read_record
from ventmap.core.findings import ReviewContext, review
from ventmap.core.fuel import (
    FuelDemand,
    blend,
    demand_of,
    most_ethanol,
    pressure_across,
    pulse_multiplier,
)
from ventmap.core.runsheet import ShelfInjector, cannot_feed, stock_stays
from ventmap.core.sums import SUMS, JobFigures, known_figures, other_figures, sums_of

RULES = HouseRules()
SHELF = {item["key"]: item["body"] for item in json.loads((ROOT / "demo/shelf/vehicles.json").read_text())}


def vehicle(key: str = "", **more) -> Vehicle:
    body = SHELF[key] if key else {"model": "M", "kind": "car", "cylinders": 4, "stroke": 4}
    return read_record(Vehicle, {"injection": "port", "induction": "none", **body, **more})


def by_mass(power_kw, bsfc, count, flow, rated_kpa, across_kpa, ethanol=0.0):
    """Duty by hand: grams a minute that are burnt over grams a minute that an open injector passes."""
    heavy = 0.789 * ethanol + 0.745 * (1 - ethanol)
    w = 0.789 * ethanol / heavy
    burnt = power_kw * bsfc / 60.0 * 14.7 / (9.0 * w + 14.7 * (1 - w)) / count
    # Mass through an orifice goes with the root of pressure and of density.
    passes = flow * 0.745 * np.sqrt(across_kpa / rated_kpa) * np.sqrt(heavy / 0.745)
    return burnt / passes


def one(flow, rated=300.0, **more):
    return ShelfInjector("a", "A", flow=flow, rated_kpa=rated, ohms=12.0, **more)


def test_a_fixed_rail_loses_what_boost_adds():
    """420 kPa that do not follow, 105 kPa of boost: 315 are left; with 40 more, 275."""
    for boost, left, duty in ((105.0, 315.0, 0.960), (145.0, 275.0, 1.027)):
        asked = {"power_kw": 165.0, "rail_kpa": 420.0, "boost_kpa": boost, "referenced": False}
        plan = sized((one(370.0, 350.0),), boosted=True, **asked)
        assert plan.sums[1].result.value == left
        assert plan.choices[0].duty_at_goal == pytest.approx(duty, abs=0.001)
        assert plan.choices[0].duty_at_goal == pytest.approx(by_mass(165, 365, 4, 370, 350, left))
        assert plan.choices[0].call.verdict == "stop"
    held = sized((one(370.0, 350.0),), boosted=True, power_kw=165.0, rail_kpa=420.0, boost_kpa=145.0)
    assert held.choices[0].call.verdict == "go"


def test_no_pressure_left_is_a_stop_in_words():
    with pytest.raises(OutOfRange, match="nothing would flow"):
        pressure_across(300.0, 320.0, False)
    demand = FuelDemand(
        power_kw=300.0,
        bsfc=365.0,
        cylinders=4,
        fuel=blend(0.0),
        rail_kpa=300.0,
        boost_kpa=320.0,
        referenced=False,
    )
    call = cannot_feed(demand, "No.").calls[0]
    assert (call.verdict, call.protects) == ("stop", "engine")


def test_each_kind_of_engine_burns_by_its_own_rule():
    """135 kW on two 625s of 400 kPa: a two-stroke loses a part of its charge, and 72.5 % are 96.6 %."""
    sled = demand_of(vehicle("bramble-skimmer-850"), [], 135.0, 0.0, RULES)
    assert by_mass(135, 300, 2, 625, 400, 400) == pytest.approx(0.725, abs=0.001)
    assert by_mass(135, sled.bsfc, 2, 625, 400, 400) == pytest.approx(0.966, abs=0.001)
    kinds = {
        "plan.bsfc_natural": vehicle(fuel_pressure_kpa=300.0),
        "plan.bsfc_boosted": vehicle("hobcroft-trail-1000"),
        "plan.bsfc_two_stroke": vehicle("bramble-skimmer-600"),
        "plan.bsfc_rotary": vehicle(fuel_pressure_kpa=300.0, rotary=True, cylinders=2),
        "plan.bsfc_diesel": vehicle("garrowby-hauler-22"),
    }
    for (rule, kind), other in product(kinds.items(), kinds):
        house = HouseRules({other: RULES[other] * 1.2})
        moved = demand_of(kind, [], 90.0, 0.0, house).bsfc != demand_of(kind, [], 90.0, 0.0, RULES).bsfc
        assert moved is (rule == other)


def test_a_diesels_fuel_is_planned_on_diesel():
    truck = demand_of(vehicle("tarnwood-packhorse-30"), [], 184.0, 0.0, RULES)
    # 184 kW · 235 g/kWh through six, of 0.835 kg/l.
    assert truck.need(1.0) == pytest.approx(184 * 235 / 60 / 0.835 / 6)


def test_a_rotor_is_fed_at_each_turn():
    rotor = vehicle(rotary=True, cylinders=2, fuel_pressure_kpa=300.0, rev_limit=8000.0)
    assert demand_of(rotor, [], 150.0, 0.0, RULES).stroke == 2
    log, mask = drive()
    log.channels["pulse"][mask["pull"]] = 9.0
    log.channels.pop("duty", None)
    found = {f.kind for f in review(log, ReviewContext(induction="turbo", rotary=True)).findings}
    assert "injector_limit" in found
    assert "injector_limit" not in {f.kind for f in review(log, ReviewContext(induction="turbo")).findings}


def test_the_first_knock_of_a_rotor_is_a_stop():
    log, mask = drive()
    log.channels["knock"][np.flatnonzero(mask["pull"])[40]] = 3.5
    verdict = {
        rotary: {f.kind: f.verdict.value for f in review(log, ReviewContext("turbo", rotary=rotary)).findings}
        for rotary in (True, False)
    }
    assert verdict[True]["knock"] == "stop"
    assert "knock" not in verdict[False]


@pytest.mark.parametrize("percent", [0, 10, 25, 40, 55, 70, 85, 100])
def test_a_pulse_on_a_blend_by_the_mass_that_flows(percent):
    """Grams that equal air asks for, over grams a millisecond that pass: no volumes anywhere."""
    e = percent / 100
    heavy = 0.789 * e + 0.745 * (1 - e)
    air_per_gram = (e * 0.789 * 9.0 + (1 - e) * 0.745 * 14.7) / heavy
    per_ms = np.sqrt(heavy)
    ours = pulse_multiplier(blend(e))
    assert ours == pytest.approx((1 / air_per_gram / per_ms) / (1 / 14.7 / np.sqrt(0.745)))
    assert {85: 1.462, 100: 1.587}.get(percent, ours) == pytest.approx(ours, abs=0.0006)


def test_a_direct_window_counts_the_dead_time():
    """840 cm³/min at 100 bar, 200 kW at 6 400: what gives fuel is 82.2 % of 250°, what is open 88.3 %."""
    asked = {"rail_kpa": 10_000.0, "rpm": 6400.0, "window_deg": 250.0}
    shelf = (one(1000.0, 10_000.0, direct=True), one(1000.0, 10_000.0, direct=True, dead_ms=0.3))
    plain, own = sized(shelf, power_kw=170.0, dead_ms=0.4, **asked).choices
    grams = 170 * 300 / 3600.0 / 4 / (6400 / 120)
    gives = grams / (1000 * 0.745 / 60.0) * 1000.0
    longest = 250.0 / 360.0 * 60_000.0 / 6400.0
    assert plain.duty_at_goal == pytest.approx((gives + 0.4) / longest)
    assert own.duty_at_goal == pytest.approx((gives + 0.3) / longest)
    # At the power that it carries, the window is filled to what may be planned.
    at = sized(shelf, power_kw=plain.supports_kw, dead_ms=0.4, **asked).choices[0]
    assert at.duty_at_goal == pytest.approx(0.85)
    assert sized(shelf, power_kw=170.0, **{**asked, "window_deg": None}).choices[0].supports_kw is None
    house = HouseRules({"plan.dead_direct": 0.6})
    direct = vehicle("corvane-estate-20-di")
    assert demand_of(direct, [], 150.0, 0.0, house).dead_ms == 0.6


def test_an_ethanol_kit_is_sized_for_the_most_that_it_runs():
    kit = device("injector piggyback", ethanol_sensor=True)
    assert most_ethanol([kit], 0.05) == 0.85
    assert most_ethanol([device("injector piggyback", ethanol_sensor=True, ethanol_max=0.6)], 0.05) == 0.6
    assert most_ethanol([device("plug-in ECU")], 0.05) == 0.05
    assert most_ethanol([device("injector piggyback")], 0.05) == 0.85, "nobody said that it is none"
    assert most_ethanol([device("injector piggyback", ethanol_sensor=False)], 0.05) == 0.05
    car = vehicle("ostrel-merrin-16t")
    today, kitted = (demand_of(car, devices, 165.0, 0.07, RULES) for devices in ([], [kit]))
    ratio = kitted.need(0.85) / today.need(0.85)
    volumes = (0.07 * 0.789 * 9 + 0.93 * 0.745 * 14.7) / (0.85 * 0.789 * 9 + 0.15 * 0.745 * 14.7)
    assert ratio == pytest.approx(volumes)
    words = stock_stays(0.85, 0.85, 0.0).do_next
    assert "below 58 %" in words, words


def test_a_duty_read_on_petrol_is_held_against_the_most_ethanol():
    """70 % on petrol is 102 % on E85: they carry up to about half."""
    log, mask = drive()
    log.channels["duty"] = np.where(mask["pull"], 70.0, 10.0)
    log.channels.pop("pulse", None)

    def told(**more):
        found = review(log, ReviewContext("turbo", ethanol=0.0, **more)).findings
        return next((f for f in found if f.kind == "injector_limit"), None)

    assert told() is None
    assert told(most_ethanol=0.2) is None
    held = told(most_ethanol=0.85)
    assert held.verdict == "hold"
    figures = {e.label: e.value for e in held.evidence}
    assert figures["on 85 % ethanol"] == pytest.approx(70 * 1.462, abs=0.1)
    carried = figures["carried up to, ethanol"]
    assert (
        70 * pulse_multiplier(blend(carried / 100)) < 85 < 70 * pulse_multiplier(blend(carried / 100 + 0.02))
    )
    # A box lengthens what the computer behind which it sits has logged.
    boxed = review(log, ReviewContext("turbo", ethanol=0.85, most_ethanol=0.85, box_lengthens=True)).findings
    assert {f.kind: f.verdict.value for f in boxed}["injector_limit"] == "stop"


@pytest.mark.parametrize("lacks", ["referenced_regulator", "boost_kpa", "fuel_pressure_kpa"])
def test_what_nobody_knows_is_named_and_nothing_is_sized(lacks):
    known = {
        "induction": "turbo",
        "fuel_pressure_kpa": 420.0,
        "boost_kpa": 90.0,
        "referenced_regulator": False,
    }
    assert isinstance(demand_of(vehicle(**known), [], 120.0, 0.0, RULES), FuelDemand)
    missing = demand_of(vehicle(**{**known, lacks: None}), [], 120.0, 0.0, RULES)
    assert isinstance(missing, tuple)
    assert len(missing) == 1
    # Without a charger, and behind a regulator that follows, boost does not matter.
    assert isinstance(demand_of(vehicle(fuel_pressure_kpa=300.0), [], 90.0, 0.0, RULES), FuelDemand)
    follows = {**known, "boost_kpa": None, "referenced_regulator": True}
    assert isinstance(demand_of(vehicle(**follows), [], 120.0, 0.0, RULES), FuelDemand)


KITS = {
    "nothing": (),
    "more boost": (device("sensor piggyback", added_boost_kpa=35.0),),
    "ethanol": (device("injector piggyback", ethanol_sensor=True),),
    "both": (
        device("sensor piggyback", added_boost_kpa=35.0),
        device("injector piggyback", ethanol_sensor=True),
    ),
}


@pytest.mark.parametrize("key", SHELF)
@pytest.mark.parametrize("kit", KITS)
def test_two_sums_of_one_job_never_disagree(key, kit):
    """Every quantity that two sums or the choice of injectors share is one figure."""
    car = vehicle(key)
    set_ = injector(flow=600.0, rated_kpa=300.0, kind="port" if car.injection == "both" else car.injection)
    job = JobFigures(car, KITS[kit], set_, None, car.power_kw, 0.1, 1450.0)
    demand = demand_of(car, KITS[kit], car.power_kw, 0.1, RULES)
    told = {name: known_figures(job, RULES, name) for name in sums_of(job)}

    def figure(name, field):
        return float(str(told[name][field]).split()[0])

    shared = {}
    if "injector-need" in told:
        shared["across"] = [demand.across_kpa, figure("injector-need", "pressure")]
        shared["ethanol"] = [100 * demand.fuel.ethanol, figure("injector-need", "ethanol")]
        shared["bsfc"] = [demand.bsfc, figure("injector-need", "bsfc")]
        need = SUMS["injector-need"].run({**told["injector-need"], "rated": "300"}).sums[0].result.value
        shared["need"] = [demand.need(0.85), need]
    if "injector-pressure" in told:
        across = SUMS["injector-pressure"].run(told["injector-pressure"]).sums[0].result.value
        shared.setdefault("across", [demand.across_kpa]).append(across)
    if "fuel-pump" in told and car.injection in ("port", "both"):
        shared["boost"] = [demand.boost_kpa, figure("fuel-pump", "boost")]
    for what, values in shared.items():
        assert values == pytest.approx([values[0]] * len(values), rel=2e-3, abs=0.06), what


def test_a_pump_is_passed_by_its_own_curve_alone():
    pump = read_record(Pump, {"curve": [[300, 190], [400, 165], [500, 120]], "volts": 13.5})
    job = JobFigures(vehicle("ostrel-merrin-16t"), [], injector(), pump, 150.0, 0.0, 1450.0)
    typed = known_figures(job, RULES, "fuel-pump")
    turned = {**typed, "curve": typed["curve"][::-1]}
    assert other_figures(job, RULES, "fuel-pump", typed) is None
    assert other_figures(job, RULES, "fuel-pump", turned) is None
    stronger = {**typed, "curve": [{"kpa": "300", "lph": "400"}, {"kpa": "500", "lph": "350"}]}
    for wrong in (stronger, {**typed, "boost": "0"}, {**typed, "rail": "300"}, {**typed, "reserve": "0"}):
        call = other_figures(job, RULES, "fuel-pump", wrong)
        assert call is not None
        assert call.verdict == "hold"
