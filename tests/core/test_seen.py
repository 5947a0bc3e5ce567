"""What a log must not pass: hard work that is no pull, what was not really seen, what breaks an engine."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np
import pytest

from tests.core import test_thresholds as sized
from tests.core.drives import as_csv, drive
from ventmap.core.basics import HouseRules
from ventmap.core.findings import ReviewContext, log_calls, review
from ventmap.core.logs import Log, read_log

TURBO = ReviewContext(
    induction="turbo",
    idle_target=850.0,
    rev_limit=6800.0,
    cylinders=4,
    concerns=("boost", "mixture", "knock"),
)
NATURAL = replace(TURBO, induction="none", concerns=("mixture", "knock"))
DIESEL = replace(TURBO, injection="diesel", concerns=("boost", "smoke"))
Change = Callable[[dict, dict, np.ndarray], object]


def spoilt(change: Change, without: tuple[str, ...] = (), natural: bool = False, hz: float = 20.0) -> Log:
    """A sound drive with a stretch of hard work at 85 % pedal in it (its *cruise2*), spoilt by `change`."""
    log, mask = drive(hz=hz)
    have = {name: np.array(values, float) for name, values in log.channels.items() if name not in without}
    hard = mask["cruise2"]
    have["pedal"][hard], have["throttle"][hard] = 85.0, 86.0
    have["map"][hard] = (94.0 if natural else 170.0) + np.random.default_rng(6).normal(
        0, 0.3, int(hard.sum())
    )
    if "map_target" in have:
        have["map_target"][hard] = 94.0 if natural else 170.0
    for name in ("lambda", "lambda_target"):
        if name in have:
            have[name][hard] = 0.88
    have["lambda"][hard] += np.random.default_rng(5).normal(0, 0.003, int(hard.sum()))
    if natural:
        have["map"] = np.minimum(have["map"], 96.0)
    change(have, mask, log.time_s)
    return Log.from_channels(log.time_s, have, "spoilt")


def put(name: str, value: float, *where: str) -> Change:
    def change(have: dict, mask: dict, time: np.ndarray) -> None:
        for phase in where:
            have[name][mask[phase]] = value

    return change


def add(name: str, values: float | np.ndarray) -> Change:
    return lambda have, mask, time: have.update({name: np.zeros(len(time)) + values})


PULLS = ("pull", "pull2")
HARD = ("cruise2",)
#: What stands in the log → its context, the change, the finding, its verdict.
FOUND = {
    "lean at 170 kPa, 85 % pedal, no pull": (TURBO, put("lambda", 1.15, *HARD), "lean_under_load", "stop"),
    "12° of knock there": (TURBO, put("knock", 12.0, *HARD), "knock", "stop"),
    "two samples of 4° there": (
        TURBO,
        lambda have, mask, time: have["knock"].__setitem__(np.flatnonzero(mask["cruise2"])[100:102], 4.0),
        "knock",
        "hold",
    ),
    "boost 100 kPa above its target": (TURBO, put("map", 270.0, *HARD), "overboost", "stop"),
    "boost 13 kPa above its target": (TURBO, put("map", 183.0, *HARD), "overboost", "hold"),
    "fuel pressure low there": (TURBO, put("rail", 200.0, *HARD), "fuel_pressure_drop", "stop"),
    "oil pressure gone": (TURBO, add("oil_pressure", 0.0), "oil_pressure_low", None),
    "oil pressure low in a pull": (
        TURBO,
        lambda have, mask, time: have.update(oil_pressure=np.where(mask["pull"], 150.0, 420.0)),
        "oil_pressure_low",
        "stop",
    ),
    "exhaust 1 120 °C": (TURBO, add("egt_1", 1120.0), "exhaust_hot", "stop"),
    "exhaust 960 °C": (TURBO, add("egt_1", 960.0), "exhaust_hot", "hold"),
    "a diesel's exhaust 760 °C": (DIESEL, add("egt_1", 760.0), "exhaust_hot", "hold"),
    "a two-stroke's exhaust 690 °C": (
        replace(NATURAL, stroke=2),
        add("egt_1", 690.0),
        "exhaust_hot",
        "stop",
    ),
    "intake air 95 °C": (TURBO, add("iat", 95.0), "intake_hot", "stop"),
    "intake air 75 °C": (TURBO, add("iat", 75.0), "intake_hot", "hold"),
    "16.8 V": (TURBO, put("battery", 16.8, "cruise"), "voltage_high", "stop"),
    "15.5 V": (TURBO, put("battery", 15.5, "cruise"), "voltage_high", "hold"),
    "engine speed × 1.5": (
        TURBO,
        lambda have, mask, time: have.update(rpm=1.5 * have["rpm"]),
        "overspeed",
        "stop",
    ),
    "220 rpm over the limit": (TURBO, put("rpm", 7020.0, "blip"), "overspeed", "hold"),
    "a turbo's log in an unblown car's job": (NATURAL, lambda *_: None, "other_vehicle", "stop"),
    "exhaust of a fifth cylinder": (TURBO, add("egt_5", np.arange(3240) % 300.0), "other_vehicle", "stop"),
    "a second bank's mixture on a single": (
        replace(TURBO, banks=1),
        lambda have, mask, time: have.update(lambda_2=have["lambda"].copy()),
        "other_vehicle",
        "stop",
    ),
}


@pytest.mark.parametrize("what", FOUND)
def test_what_hurts_is_found(what):
    context, change, kind, verdict = FOUND[what]
    if "natural" in what or context.induction == "none" and kind != "other_vehicle":
        log = spoilt(change, natural=True)
    else:
        log = spoilt(change)
    if what == "oil pressure gone":
        # A log that begins with the engine running: no key on that could excuse the sender.
        log = log.slice(100, len(log))
        verdict = "stop"
    found = {f.kind: f.verdict.value for f in review(log, context).findings}
    assert found.get(kind) == verdict, found


def test_the_drive_itself_is_sound_and_fully_seen():
    for context, natural in ((TURBO, False), (NATURAL, True)):
        found = review(spoilt(lambda *_: None, natural=natural), context)
        assert not [f for f in found.findings if f.verdict.value != "go"]
        assert {"lean_under_load", "knock"} <= set(found.checked)


@pytest.mark.parametrize(
    ("pedal", "lam", "verdict"), [(60, 0.98, "hold"), (60, 1.06, "stop"), (90, 0.98, "stop")]
)
def test_lean_at_part_pedal_without_boost_is_a_hold_until_it_is_twice_as_much(pedal, lam, verdict):
    def change(have: dict, mask: dict, time: np.ndarray) -> None:
        hard = mask["cruise2"]
        have["pedal"][hard], have["throttle"][hard], have["lambda"][hard] = pedal, pedal, lam

    found = {f.kind: f.verdict.value for f in review(spoilt(change, natural=True), NATURAL).findings}
    assert found["lean_under_load"] == verdict


def test_a_stop_in_a_pull_is_not_hidden_by_a_leaner_stretch_at_part_pedal():
    def change(have: dict, mask: dict, time: np.ndarray) -> None:
        hard = mask["cruise2"]
        have["pedal"][hard], have["throttle"][hard], have["lambda"][hard] = 60.0, 60.0, 0.98
        have["lambda"][mask["pull"]] = 0.875

    found = {f.kind: f.verdict.value for f in review(spoilt(change, natural=True), NATURAL).findings}
    assert found["lean_under_load"] == "stop"


def test_a_two_strokes_idle_is_rougher_by_nature():
    def rough(by: float, rules: HouseRules | None = None) -> set[str]:
        log, mask = drive()
        rows = np.flatnonzero(mask["idle"])
        log.channels["rpm"][rows] += np.random.default_rng(2).normal(0, by, len(rows))
        context = replace(NATURAL, stroke=2, rules=rules or HouseRules())
        return {f.kind for f in review(log, context).findings}

    assert "idle_unstable" not in rough(75.0)
    assert "idle_unstable" in rough(110.0)
    assert "idle_unstable" in rough(75.0, HouseRules({"idle.unstable_two_stroke": 60.0}))


def test_without_a_target_an_unblown_engine_is_lean_of_stoichiometric():
    lean = spoilt(put("lambda", 1.18, *PULLS), without=("lambda_target",), natural=True)
    assert {f.kind: f.verdict.value for f in review(lean, NATURAL).findings}["lean_under_load"] == "stop"
    sound = spoilt(lambda *_: None, without=("lambda_target",), natural=True)
    assert not [f for f in review(sound, NATURAL).findings if f.kind == "lean_under_load"]


def _blank(name: str, *where: str) -> Change:
    return put(name, np.nan, *where)


def _frozen(name: str) -> Change:
    """In each pull the channel keeps the value that it had before."""

    def change(have: dict, mask: dict, time: np.ndarray) -> None:
        for phase in PULLS:
            rows = np.flatnonzero(mask[phase])
            have[name][rows] = 0.85
            have[f"{name}_target"][rows] = 0.85

    return change


def _dead(have: dict, mask: dict, time: np.ndarray) -> None:
    have["lambda"][:] = 0.88 + np.random.default_rng(1).normal(0, 0.01, len(time))
    have.pop("lambda_target")


#: What was not seen → the change, the rule that cannot be checked, and words of the reason.
UNSEEN = {
    "mixture blank in the pulls": (_blank("lambda", *PULLS), "lean_under_load", "blank"),
    "knock blank in the pulls": (_blank("knock", *PULLS), "knock", "blank"),
    "mixture frozen in each pull": (_frozen("lambda"), "lean_under_load", "stands still"),
    "mixture dead but for noise": (_dead, "lean_under_load", "noise"),
    "boost at the end of its sensor": (
        lambda have, mask, time: [
            have.update({n: np.minimum(have[n], 140.0)}) for n in ("map", "map_target")
        ],
        "overboost",
        "end of its range",
    ),
}


@pytest.mark.parametrize("what", UNSEEN)
def test_what_was_not_seen_is_not_checked(what):
    change, kind, words = UNSEEN[what]
    found = review(spoilt(change), TURBO)
    told = {entry.kind: " ".join(entry.missing) for entry in found.not_checkable}
    assert words in told.get(kind, ""), told
    assert kind not in found.checked
    calls = {call.rule: call.verdict.value for call in log_calls(found, "log", TURBO)}
    assert "log.clean" not in calls
    assert "hold" in calls.values() or "stop" in calls.values()


@pytest.mark.parametrize("noise", [0.2, 0.5, 1.0, 2.0, 3.0, 5.0, 9.0])
@pytest.mark.parametrize("hz", [5.0, 10.0, 20.0, 50.0])
def test_a_noisy_pedal_hides_nothing(noise, hz):
    """A foot that seems to move all the time: what is lean under it is found, or said not to be checked."""

    def change(have: dict, mask: dict, time: np.ndarray) -> None:
        hard, random = mask["cruise2"], np.random.default_rng(int(10 * noise))
        have["pedal"][hard], have["lambda"][hard] = 60.0, 1.06
        have["pedal"] = np.clip(have["pedal"] + random.normal(0, noise, len(time)), 0, 100)
        have.pop("throttle")

    found = review(spoilt(change, natural=True, hz=hz), NATURAL)
    if noise <= 3.0:
        assert {f.kind: f.verdict.value for f in found.findings}.get("lean_under_load") == "stop"
    assert "lean_under_load" in {f.kind for f in found.findings} | {n.kind for n in found.not_checkable}


def test_loads_too_short_to_be_judged_are_not_checked():
    log, mask = drive()
    have = {name: np.array(values, float) for name, values in log.channels.items()}
    rows = np.flatnonzero(mask["cruise"])
    for start in range(40, len(rows) - 40, 80):
        blip = rows[start : start + 9]
        have["pedal"][blip], have["throttle"][blip], have["map"][blip] = 95.0, 95.0, 97.0
        have["lambda"][blip] = 1.2
    found = review(Log.from_channels(log.time_s, have, "blips").slice(0, rows[-1]), TURBO)
    assert [w for w in found.windows if w.kind == "load"]
    told = {entry.kind: " ".join(entry.missing) for entry in found.not_checkable}
    assert "never held" in told.get("lean_under_load", ""), (told, found.checked)


def test_one_of_two_pressures_is_enough():
    def change(have: dict, mask: dict, time: np.ndarray) -> None:
        have["feed"] = have["rail"].copy()
        have["rail"][mask["pull"]] = np.nan

    assert "fuel_pressure_drop" in review(spoilt(change), TURBO).checked
    blank = review(spoilt(put("rail", np.nan, *PULLS)), TURBO)
    assert "fuel_pressure_drop" not in blank.checked


LEVEL = replace(
    TURBO,
    baseline_boost_kpa=158.0,
    level_adds=((2000.0, 10.0), (4000.0, 20.0), (6400.0, 20.0)),
    level_warm_up_s=60.0,
    concerns=("boost", "mixture", "knock", "level"),
)


@pytest.mark.parametrize(
    ("boost", "rules", "asleep"),
    [
        (60.0, {}, True),
        (67.0, {}, True),
        (69.5, {}, False),
        (82.0, {}, False),
        (69.5, {"boost.level_acted": 80.0}, True),
    ],
)
def test_a_level_that_did_not_act_was_not_judged(boost, rules, asleep):
    """It adds 20 kPa at the best of a pull: 8 of them at least must be there."""
    log, mask = drive(boost=boost)
    if "map_target" in log.channels:
        log.channels["map_target"] = log.channels["map"].copy()
    told = review(log, replace(LEVEL, rules=HouseRules(rules)))
    found = {f.kind: f for f in told.findings}
    assert ("level_asleep" in found) is asleep
    calls = {c.rule: c for c in log_calls(told, "log", LEVEL)}
    assert ("log.clean" in calls) is not asleep
    if asleep:
        assert found["level_asleep"].verdict == "hold"
        assert "look at its plugs" in found["level_asleep"].next, "it ran for longer than its timer"
        slow = review(log, replace(LEVEL, level_warm_up_s=600.0, rules=HouseRules(rules))).findings
        assert "600 s" in next(f for f in slow if f.kind == "level_asleep").next


def test_of_a_box_whose_level_nobody_knows_no_log_says_that_it_holds():
    log, _ = drive(boost=60.0)
    boxed = replace(TURBO, device="sensor piggyback")
    clean = next(c for c in log_calls(review(log, boxed), "log", boxed) if c.rule == "log.clean")
    assert "cannot tell" in clean.do_next
    known = replace(LEVEL, device="sensor piggyback", baseline_boost_kpa=138.0)
    clean = next(c for c in log_calls(review(log, known), "log", known) if c.rule == "log.clean")
    assert "This level holds" in clean.do_next


def test_without_a_stock_log_nobody_knows_whether_a_level_acted():
    log, _ = drive(boost=82.0)
    told = review(log, replace(LEVEL, baseline_boost_kpa=None))
    assert "stock log" in {n.kind: " ".join(n.missing) for n in told.not_checkable}["level_asleep"]
    assert "log.unchecked" in {c.rule for c in log_calls(told, "log", LEVEL)}


def test_one_cylinders_knock_says_nothing_of_the_others():
    log = spoilt(lambda *_: None)
    heads = {name: name for name in ("time", "rpm", "pedal", "map", "lambda", "lambda_target", "speed")}
    one = read_log(as_csv(log, {**heads, "knock": "Knock retard cyl 4 (deg)"}).encode(), "one.csv")
    told = {n.kind: n.missing for n in review(one, TURBO).not_checkable}
    assert told["knock"] == ("knock of the cylinders beside 4",)
    whole = read_log(as_csv(log, {**heads, "knock": "Knock retard (deg)"}).encode(), "whole.csv")
    assert "knock" in review(whole, TURBO).checked


def test_a_diesel_without_mixture_and_exhaust_heat_is_no_go():
    log = spoilt(lambda have, mask, time: have.pop("lambda"), without=("lambda_target",))
    calls = {c.rule: c for c in log_calls(review(log, DIESEL), "log", DIESEL)}
    assert calls["log.unchecked"].verdict.value == "hold"
    seen = spoilt(lambda have, mask, time: have.update(egt_1=have.pop("lambda") * 0 + 600 + 20 * have["iat"]))
    assert "exhaust_hot" in review(seen, DIESEL).checked


def test_an_idle_log_checks_no_load():
    log, mask = drive()
    found = review(log.slice(0, 42 * 20), TURBO)
    assert "lean_under_load" not in found.checked
    assert [w for w in found.windows if w.kind == "load"] == []


def _cut(have: dict, mask: dict, time: np.ndarray) -> None:
    rows = np.flatnonzero(mask["pull"])[-14:-2]
    have["pulse"][rows], have["duty"][rows], have["lambda"][rows] = 0.0, 0.0, 1.5


def _rests(have: dict, mask: dict, time: np.ndarray) -> None:
    have["battery"][np.flatnonzero(mask["cruise"])[100:500]] = 12.7


#: What is no fault.
SOUND = {
    "fuel cut at the limiter": _cut,
    "a battery written in tenths": lambda have, mask, time: have.update(battery=0 * have["battery"] + 14.1),
    "a wideband that heats up": lambda have, mask, time: have["lambda"].__setitem__(slice(0, 500), 1.0),
    "a gauge that shows no vacuum": lambda have, mask, time: have.update(map=np.maximum(have["map"], 98.0)),
    "an alternator that rests": _rests,
    "a spike as the foot comes off": lambda have, mask, time: have["map"].__setitem__(
        np.flatnonzero(mask["overrun"])[:10], 190.0
    ),
}


@pytest.mark.parametrize("what", SOUND)
def test_what_is_no_fault_is_none(what):
    found = [f for f in review(spoilt(SOUND[what]), TURBO).findings if f.verdict.value != "go"]
    assert found == []


def test_an_alternator_that_does_not_come_back_is_told():
    low = spoilt(put("battery", 12.7, "cruise", "pull", "overrun", "cruise2"))
    assert "voltage_low" in {f.kind for f in review(low, TURBO).findings}


RULES = {
    "boost.over_hold": ("boost 13 kPa above its target", 15.0),
    "boost.over_stop": ("boost 13 kPa above its target", 12.0),
    "oil.per_1000": ("oil pressure low in a pull", 40.0),
    "exhaust.petrol_hold": ("exhaust 960 °C", 970.0),
    "exhaust.petrol_stop": ("exhaust 960 °C", 955.0),
    "exhaust.diesel_hold": ("a diesel's exhaust 760 °C", 770.0),
    "exhaust.diesel_stop": ("a diesel's exhaust 760 °C", 750.0),
    "exhaust.two_stroke_hold": ("a two-stroke's exhaust 690 °C", 640.0),
    "exhaust.two_stroke_stop": ("a two-stroke's exhaust 690 °C", 700.0),
    "charge.hold": ("intake air 75 °C", 80.0),
    "charge.stop": ("intake air 75 °C", 74.0),
    "battery.high": ("15.5 V", 15.8),
    "battery.high_stop": ("15.5 V", 15.4),
    "speed.over_hold": ("220 rpm over the limit", 250.0),
    "speed.over_stop": ("220 rpm over the limit", 200.0),
}


@pytest.mark.parametrize("rule", RULES)
def test_a_rule_of_the_house_decides(rule):
    what, other = RULES[rule]
    context, change, kind, _ = FOUND[what]
    log = spoilt(change, natural=context.induction == "none")

    def told(rules: HouseRules) -> list[tuple]:
        found = review(log, replace(context, rules=rules)).findings
        return [(f.verdict, f.evidence) for f in found if f.kind == kind]

    if rule.endswith("two_stroke_hold"):
        log = spoilt(add("egt_1", 645.0), natural=True)
    assert told(HouseRules()) != told(HouseRules({rule: other}))


@pytest.mark.parametrize("put", [sized.slip, sized.short, sized.lean])
def test_a_dead_pulse_hides_no_fault_and_makes_none(put):
    """A column of noughts is no fuel cut: what is found beside it is what is found without it."""
    size = {sized.slip: 20.0, sized.short: 15.0, sized.lean: 0.1}[put]
    told = []
    for dead in (False, True):
        log, mask = drive(20.0, seed=3)
        put(log, mask, size)
        if dead:
            log.channels["pulse"] = np.zeros(len(log), np.float32)
        found = review(log, ReviewContext(induction="turbo", idle_target=850.0)).findings
        told.append({finding.kind for finding in found})
    assert told[0]
    assert told[0] == told[1]
