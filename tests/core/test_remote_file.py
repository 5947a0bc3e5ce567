"""A remote tuner's file: every way in which it must not be taken, and the letter that goes with a round."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import ROOT, make_base_map
from ventmap.core.basics import BadInput, Evidence, HouseRules, Table2D, Verdict
from ventmap.core.corrections import (
    Came,
    Wanted,
    file_calls,
    fuel_change,
    keeps_injectors,
    letter,
    read_reply,
)
from ventmap.core.findings import Finding, NotCheckable, Review
from ventmap.core.forms import Lineage, from_json

BASE = make_base_map()
SUM = "ab" * 32
WANTED = Wanted(
    package="p" * 64,
    earlier={"e" * 64},
    vin="CVE2TWA06GS104417",
    engine="T20",
    computer="FW-P4",
    last=BASE,
    had={BASE.sha256: "r0"},
    barometer_kpa=85.0,
    boosted=False,
)


def richer(share, name="ve", from_kpa=0.0):
    table = BASE.tables[name]
    values = np.where((table.y >= from_kpa)[:, None], table.values * share, table.values)
    made = BASE.with_table(name, Table2D(table.x, table.y, values))
    return replace(made, lineage=Lineage("r1", BASE.sha256, round=1))


NEXT = richer(1.02)
GOOD = Came("p" * 64, SUM, SUM, replace(NEXT, identity=replace(NEXT.identity, vin="CVE2TWA06GS104417")))


def named(**changes):
    return replace(GOOD, map=replace(GOOD.map, identity=replace(GOOD.map.identity, **changes)))


def judged(came=GOOD, **wanted):
    calls = file_calls(came, replace(WANTED, **wanted), HouseRules())
    return {call.rule: call.verdict.value for call in calls}


def test_a_sound_file_is_go_in_every_call():
    assert judged() == dict.fromkeys(
        ("tuner.whole", "tuner.round", "tuner.vehicle", "tuner.newer", "tuner.leaner"), "go"
    )


@pytest.mark.parametrize(
    ("rule", "came", "verdict"),
    [
        ("tuner.whole", replace(GOOD, found="cd" * 32), "stop"),
        ("tuner.whole", replace(GOOD, named=""), "hold"),
        ("tuner.round", replace(GOOD, package="e" * 64), "hold"),
        ("tuner.round", replace(GOOD, package=""), "hold"),
        ("tuner.round", replace(GOOD, package="x" * 64), "stop"),
        (
            "tuner.vehicle",
            named(engine="OM16"),
            "stop",
        ),
        (
            "tuner.vehicle",
            named(vin="X" * 17),
            "stop",
        ),
        (
            "tuner.vehicle",
            named(computer="Z"),
            "stop",
        ),
        (
            "tuner.vehicle",
            named(engine=""),
            "hold",
        ),
        ("tuner.newer", replace(GOOD, map=BASE), "hold"),
        ("tuner.newer", replace(GOOD, map=replace(BASE, lineage=Lineage("r9", "q"))), "hold"),
        ("tuner.leaner", replace(GOOD, map=richer(0.98)), "hold"),
        ("tuner.leaner", replace(GOOD, map=richer(0.92, from_kpa=80.0)), "stop"),
        ("tuner.leaner", replace(GOOD, map=richer(1.08, "lambda_target")), "stop"),
        ("tuner.leaner", replace(GOOD, map=BASE.with_scalars(injector_flow=484.0)), "stop"),
    ],
)
def test_each_fault_of_a_file_is_found_by_its_own_call(rule, came, verdict):
    found = judged(came)
    assert found[rule] == verdict
    others = {name for name, value in found.items() if value != "go"} - {rule}
    assert others <= {"tuner.newer"}, "and by no other"


def test_one_engine_is_not_one_vehicle():
    """Without a VIN on both sides, only the round's own checksum says whose a file is."""
    assert judged(named(vin=""))["tuner.vehicle"] == judged(vin="")["tuner.vehicle"] == "go"
    for package in ("", "e" * 64):
        assert judged(replace(named(vin=""), package=package))["tuner.vehicle"] == "hold"
        assert judged(replace(named(vin=WANTED.vin), package=package), vin="")["tuner.vehicle"] == "hold"
        assert judged(replace(named(vin=WANTED.vin), package=package))["tuner.vehicle"] == "go"


def test_a_stop_of_a_file_is_overruled_by_nobody():
    calls = file_calls(replace(GOOD, map=richer(0.9)), WANTED, HouseRules())
    assert [call.may_be_overruled for call in calls if call.verdict is Verdict.stop] == [False]


@given(st.floats(0.8, 1.2), st.sampled_from(["ve", "lambda_target"]), st.floats(0.9, 1.1))
def test_the_change_of_fuel_is_what_the_one_fuel_equation_gives(share, name, flow):
    """Pulse by the fuel equation, at each cell under load, from the two maps."""
    made = richer(share, name).with_scalars(injector_flow=440.0 * flow)
    found = fuel_change(BASE, made, 76.5)

    def pulse(calibration, x, y):
        ve, target = (calibration.tables[key].one(x, y) for key in ("ve", "lambda_target"))
        return ve / (target * calibration.scalars["injector_flow"] * calibration.scalars["stoichiometric"])

    table = BASE.tables["ve"]
    changes = [pulse(made, x, y) / pulse(BASE, x, y) - 1 for y in table.y if y >= 76.5 for x in table.x]
    assert found == pytest.approx(min(0.0, min(changes)), abs=1e-9)


def test_trims_and_blends_are_compared_as_fuel_and_others_hold_none():
    def shelf(name):
        return from_json((ROOT / "demo" / "maps" / f"{name}.json").read_text())

    trim, options = shelf("brandrel/q660-free"), shelf("brandrel/pw15-95")
    table = trim.tables["fuel_trim.1"]
    less = trim.with_table("fuel_trim.1", Table2D(table.x, table.y, table.values - 5.0))
    assert fuel_change(trim, less, 0.0) == pytest.approx(-0.05, abs=0.01)
    assert fuel_change(options, options, 0.0) is None
    assert fuel_change(trim, options, 0.0) is None


def test_other_injectors_in_a_file_are_set_again_and_a_correction_of_ours_is_not():
    rules, dead = HouseRules(), BASE.tables["dead_time"]

    def late(ms):
        return BASE.with_table("dead_time", Table2D(dead.x, dead.y, dead.values + ms))

    for same in (BASE, richer(1.1), BASE.with_scalars(injector_flow=470.0), late(0.2)):
        assert keeps_injectors(BASE, same, rules)
    for other in (
        BASE.with_scalars(injector_flow=600.0),
        BASE.with_scalars(fuel_pressure_kpa=400.0),
        late(0.5),
    ):
        assert not keeps_injectors(BASE, other, rules)


def test_a_reply_that_is_none_is_refused_in_words():
    for text in ("", "{", '{"format": "other"}', "[1]"):
        with pytest.raises(BadInput, match="none of ours"):
            read_reply(text)


def test_the_letter_says_what_the_log_shows_and_what_it_could_not():
    seen = (Evidence("most retard", 3.6, 6, "°"),)
    finding = Finding("knock", Verdict.stop, "Knock under load", 79.9, 84.2, seen, (), "", "")
    soft = replace(finding, kind="voltage_low", verdict=Verdict.hold, title="Voltage low")
    review = Review((soft, finding), ("boost",), (NotCheckable("misfire", ("misfire_count",)),), ())
    about = {
        "vehicle": "Ostrel Merrin",
        "identity": "VIN X.",
        "tank": "98 RON",
        "place": "1450 m.",
        "goal": "street",
        "complaint": "",
        "map_name": "levels r0",
        "round_number": 2,
        "signed": "Highpass Works",
    }
    text = letter(logs=[("valley.csv", review)], **about)
    assert text.index("Knock under load".lower()) < text.index("voltage low"), "the heaviest first"
    assert "most retard 3.6 ° (limit 6 °)" in text
    assert "80 to 84 s" in text
    assert "Not logged, so not looked at: misfire_count" in text
    assert text.startswith("Round 2: Ostrel Merrin")
    clean = letter(logs=[("quiet.csv", Review((), ("a", "b"), (), ()))], **about)
    assert "Nothing found; 2 rules were checked." in clean
    assert "None" not in clean + text
