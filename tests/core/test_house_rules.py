"""Every threshold and school of the house takes effect: changed, it changes a judgement, and no rule stands
idle.
"""

from __future__ import annotations

import ast
import functools
from collections.abc import Iterable
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from tests.conftest import ROOT
from tests.core import test_thresholds as limits
from tests.core.drives import drive
from tests.core.records import kit, sized
from tests.source import parsed
from ventmap.core.basics import RULES, HouseRules, Verdict, worst
from ventmap.core.corrections import CorrectionRules, propose
from ventmap.core.drum import PowerCurve, RunConditions, compare, same_conditions
from ventmap.core.findings import ReviewContext, review
from ventmap.core.fuel import PETROL
from ventmap.core.loading import LoadBoard, load_calls, running_calls
from ventmap.core.runsheet import SheetVehicle, ShelfInjector, build


def hole(log, mask, size):
    rows = np.flatnonzero(mask["cruise"] | mask["cruise2"])
    band = rows[np.abs(log.channels["rpm"][rows] - 2400) < 150]
    log.channels["lambda"][band] *= 1 + size


def hot_rise(log, mask, per_minute):
    rows = np.flatnonzero(mask["idle"] | mask["cruise"])
    for name, value in (("rpm", 2400.0), ("pedal", 17.0), ("throttle", 20.0), ("speed", 68.0), ("map", 49.0)):
        log.channels[name][rows] = value
    log.channels["coolant"] += 8.0
    log.channels["coolant"][rows] += per_minute / 60 * (log.time_s[rows] - log.time_s[rows[0]])
    log.channels["coolant"][rows[-1] + 1 :] += per_minute / 60 * 70


def slow_fall(log, mask, seconds):
    """The blip falls back over `seconds`, into the idle that follows."""
    start = np.flatnonzero(mask["fall"])[0]
    since = log.time_s[start:] - log.time_s[start]
    log.channels["rpm"][start:] = np.maximum(
        log.channels["rpm"][start:], 3400 - (3400 - 850) * since / seconds
    )


def high_idle(log, mask, above):
    for name in ("idle", "idle2"):
        log.channels["rpm"][mask[name]] += above
        for bank in (1, 2):
            log.channels[f"stft_{bank}"][mask[name]] += 6


def rich_for_a_moment(log, mask, size):
    rows = limits.rows(mask, "pull")[:14]
    log.channels["lambda"][rows] *= 1 - size


def misfire(log, mask, counts):
    log.channels["misfire"] = np.where(log.time_s > 60, counts, 0).astype(float)


def egt(log, mask, kelvin):
    for n in (1, 2, 3, 4):
        log.channels[f"egt_{n}"] = np.full(len(log), 780.0 + (kelvin if n == 3 else 0.0))


def same_speed(log, mask, degrees):
    for name in ("pull", "pull2"):
        rows = np.flatnonzero(mask[name])
        near = rows[np.argmin(np.abs(log.channels["rpm"][rows] - (4500 if name == "pull" else 4600)))]
        log.channels["knock"][near : near + 4] = degrees


def warm_pull(log, mask, celsius):
    log.channels["coolant"][:] = celsius


#: rule → (kind, fault, size that the default finds or not, another value): the finding or its verdict changes
#: with the rule.
LOG_RULES = {
    "boost.fall_share": ("boost_falls_with_rpm", limits.slip, 14.0, 20.0),
    "boost.fall_kpa": ("boost_falls_with_rpm", limits.slip, 14.0, 40.0),
    "boost.fall_rpm": ("boost_falls_with_rpm", limits.slip, 14.0, 300.0),
    "boost.low_kpa": ("boost_plateau_low", limits.short, 12.0, 20.0),
    "cut.depth": ("torque_cut", limits.cut, 0.3, 50.0),
    "cut.back_s": ("torque_cut", limits.cut, 0.3, 0.05),
    "trim.hunt_swing": ("trim_hunting", limits.hunt, 12.0, 20.0),
    "trim.hunt_cycles": ("trim_hunting", limits.hunt, 12.0, 30.0),
    "trim.offset": ("trim_offset", limits.offset, 10.0, 15.0),
    "trim.banks": ("bank_imbalance", limits.bank, 8.0, 12.0),
    "lean.share": ("lean_under_load", limits.lean, 0.055, 7.0),
    "lean.stop_share": ("lean_under_load", limits.lean, 0.055, 5.0),
    "lean.for_s": ("lean_under_load", limits.lean_for, 0.6, 2.0),
    "lean.boost_lambda": ("lean_under_load", limits.lean, 0.055, 0.83),
    "rich.share": ("rich_under_load", rich_for_a_moment, 0.085, 15.0),
    "rich.lambda": ("rich_under_load", limits.rich, 0.05, 0.75),
    "knock.hold": ("knock", limits.knock, 4.0, 5.0),
    "knock.stop": ("knock", limits.knock, 4.0, 3.5),
    "knock.same_rpm": ("knock", same_speed, 4.0, 20.0),
    "duty.hold": ("injector_limit", limits.duty, 88.0, 90.0),
    "duty.stop": ("injector_limit", limits.duty, 88.0, 87.0),
    "fuel.drop": ("fuel_pressure_drop", limits.rail, 0.13, 15.0),
    "fuel.for_s": ("fuel_pressure_drop", limits.rail, 0.15, 60.0),
    "heat.between_k": ("heat_soak", limits.soak, 9.0, 12.0),
    "heat.within_k": ("heat_soak", limits.soak_within, 20.0, 25.0),
    "battery.running": ("voltage_low", limits.battery, 12.6, 12.0),
    "battery.fall": ("voltage_low", limits.battery_falls, 1.0, 1.3),
    "warm.coolant": ("not_warm", warm_pull, 79.0, 82.0),
    "hot.coolant": ("coolant_high", limits.coolant, 112.0, 114.0),
    "hot.stop": ("coolant_high", limits.coolant, 112.0, 110.0),
    "hot.rise": ("coolant_high", hot_rise, 6.0, 20.0),
    "idle.high": ("idle_high_air", high_idle, 260.0, 400.0),
    "idle.unstable": ("idle_unstable", limits.idle_rough, 85.0, 120.0),
    "idle.return_s": ("slow_to_idle", slow_fall, 6.0, 9.0),
    "hole.share": ("lean_hole", hole, 0.1, 15.0),
    "hole.band": ("lean_hole", hole, 0.1, 1.0),
    "slip.share": ("gear_slips", limits.runs_away, 0.15, 30.0),
    "throttle.shut": ("throttle_shut", limits.held_shut, 30.0, 40.0),
    "misfire.counts": ("misfire", misfire, 9, 20.0),
    "egt.spread": ("egt_spread", egt, 70.0, 100.0),
    "ethanol.jump": ("ethanol_jump", limits.ethanol, 15.0, 25.0),
}


@pytest.mark.parametrize("rule", LOG_RULES)
def test_a_rule_of_the_log_decides_its_finding(rule):
    kind, fault, size, other = LOG_RULES[rule]
    log, mask = drive()
    fault(log, mask, size)

    def judged(house):
        finding = next(
            (
                f
                for f in review(
                    log, ReviewContext(induction="turbo", idle_target=850.0, manual=True, rules=house)
                ).findings
                if f.kind == kind
            ),
            None,
        )
        return finding and finding.verdict

    assert judged(HouseRules()) != judged(HouseRules({rule: other}))


def test_rules_of_heat_and_sampling_speak_in_their_findings():
    log, mask = drive()
    after = np.flatnonzero(mask["pull"])[-1]
    since = log.time_s - log.time_s[after]
    log.channels["iat"] += np.where(since > 0, 25 * np.exp(-since / 35), 25 * np.clip(1 + since / 6, 0, 1))

    def told(house):
        finding = next(
            f
            for f in review(log, ReviewContext(induction="turbo", idle_target=850.0, rules=house)).findings
            if f.kind == "heat_soak"
        )
        return finding.evidence, finding.next

    assert told(HouseRules()) != told(HouseRules({"heat.back_to_k": 1.0}))
    slow, _ = drive(6.0)

    def kinds(house):
        return {
            f.kind
            for f in review(slow, ReviewContext(induction="turbo", idle_target=850.0, rules=house)).findings
        }

    assert "slow_sampling" not in kinds(HouseRules())
    assert "slow_sampling" in kinds(HouseRules({"sampling.pull_hz": 8.0}))


class TestStartAndLoad:
    @pytest.mark.parametrize(
        ("rule", "other", "figures"),
        [
            ("start.idle", 50.0, {"idle_rpm": 920}),
            ("start.mixture", 5.0, {"trim_percent": 7.0}),
            ("start.charging_low", 14.0, {"battery_v": 13.6}),
            ("start.charging_high", 13.5, {"battery_v": 13.6}),
        ],
    )
    def test_first_idle(self, rule, other, figures):
        read = {
            "idle_rpm": 850,
            "idle_target": 850,
            "battery_v": 13.6,
            "mixture": 1.0,
            "trim_percent": 0.0,
            "codes": 0,
            **figures,
        }
        assert worst(running_calls(**read)) is Verdict.go
        assert worst(running_calls(**read, rules=HouseRules({rule: other}))) is Verdict.hold

    @pytest.mark.parametrize(
        ("rule", "other", "verdict"), [("load.battery_go", 12.9, "hold"), ("load.battery_stop", 12.8, "stop")]
    )
    def test_battery_before_a_write(self, rule, other, verdict):
        def call(house):
            return next(
                c for c in load_calls(LoadBoard(battery_v=12.7), house) if c.rule == "load.battery"
            ).verdict

        assert call(HouseRules()) == "go"
        assert call(HouseRules({rule: other})) == verdict


class TestCorrect:
    def proposal(self, base_map, **house):
        log, mask = drive(20.0, boost=60.0)
        log.channels["coolant"][:] = 88
        log.channels["lambda"] *= np.where(
            mask["cruise"] | mask["cruise2"], 1.06, np.where(mask["pull"] | mask["pull2"], 0.90, 1.0)
        )
        house = HouseRules({key.replace("_", ".", 1): value for key, value in house.items()})
        return propose(
            log,
            base_map,
            CorrectionRules(house, barometer_kpa=60, take_scalars="correct.explains" in house.changed),
        )

    @pytest.mark.parametrize(
        ("rule", "value"),
        [
            ("samples", 400.0),
            ("spread", 0.01),
            ("step", 2.0),
            ("lean_boost", 0.5),
            ("within", 8.0),
        ],
    )
    def test_how_far_a_round_goes(self, base_map, rule, value):
        plain, changed = self.proposal(base_map), self.proposal(base_map, **{f"correct_{rule}": value})
        if rule == "within":
            assert changed.within > plain.within
        else:
            assert np.abs(changed.new - changed.old).sum() < np.abs(plain.new - plain.old).sum()

    def test_when_it_is_done_and_when_the_scalar_goes_first(self, base_map):
        assert self.proposal(base_map).calls[0].verdict is Verdict.hold
        assert self.proposal(base_map, correct_done=1.0).calls[0].verdict is Verdict.go
        assert self.proposal(base_map, correct_explains=0.0, correct_apart=50.0).scalars
        assert not self.proposal(base_map, correct_explains=0.0, correct_apart=0.1).scalars
        assert not self.proposal(base_map, correct_explains=100.0, correct_apart=50.0).scalars


def test_prove_asks_for_as_many_runs_and_as_much_scatter_as_the_house_says():
    rpm = np.arange(2000.0, 6001.0, 100.0)

    def curve(power):
        kilowatts = np.full(len(rpm), power)
        return PowerCurve(rpm, kilowatts, kilowatts * 9549.3 / rpm)

    before = [curve(80 + noise) for noise in (-0.6, 0.0, 0.6)]
    after = [curve(82 + noise) for noise in (-0.6, 0.0, 0.6)]
    verdict = {
        (sure, repeats): compare(before, after, confidence=sure, repeats=repeats).calls[0].verdict
        for sure in (0.9, 0.999)
        for repeats in (3, 5)
    }
    assert verdict[0.9, 3] is Verdict.go
    assert verdict[0.999, 3] is not Verdict.go
    assert verdict[0.9, 5] is Verdict.hold


@pytest.mark.parametrize(
    ("rule", "other", "change"),
    [
        ("dyno.intake_k", 3.0, {"intake_c": 25.0}),
        ("dyno.tyre_kpa", 5.0, {"tyre_kpa": 240.0}),
        ("dyno.barometer_kpa", 0.2, {"barometer_kpa": 85.6}),
    ],
)
def test_runs_are_alike_as_far_as_the_house_says(rule, other, change):
    made = RunConditions(
        "lower bay",
        4,
        intake_c=20.0,
        barometer_kpa=85.1,
        humidity=0.4,
        fuel="95 RON",
        ramp="8 s",
        tyre_kpa=230.0,
    )
    runs = [made, replace(made, **change)]
    assert same_conditions("dyno.alike", runs, as_measured=True).verdict is Verdict.go
    call = same_conditions("dyno.alike", runs, HouseRules({rule: other}), as_measured=True)
    assert call.verdict is Verdict.hold
    assert any(e.limit == other for e in call.because)


@pytest.mark.parametrize(
    ("change", "named"),
    [
        ({"drum": "Upper Bay"}, "drum"),
        ({"gear": 3}, "gear"),
        ({"fuel": "98 RON"}, "fuel"),
        ({"ramp": "5 s"}, "ramp"),
        ({"intake_c": 27.0}, "intake air"),
        ({"tyre_kpa": 190.0}, "tyre pressure"),
        ({"ramp": ""}, "ramp"),
        ({"measured": "hubs"}, "measured at"),
        ({"barometer_kpa": 101.0}, "barometer"),
    ],
)
def test_runs_made_otherwise_are_held_and_what_differs_is_named(change, named):
    made = RunConditions(
        "lower bay",
        4,
        intake_c=20.0,
        barometer_kpa=85.1,
        humidity=0.4,
        fuel="95 RON",
        ramp="8 s",
        tyre_kpa=230.0,
        measured="wheels",
    )
    call = same_conditions("dyno.alike", [made, made, replace(made, **change)], as_measured=True)
    assert call.verdict is Verdict.hold
    assert named in call.do_next
    bare = replace(made, drum=" Lower Bay ", ramp="", tyre_kpa=None)
    alike = same_conditions("dyno.alike", [replace(made, ramp=""), bare])
    assert alike.verdict is Verdict.go, "what nobody wrote down is told"
    assert alike.because[-1].value == "tyre pressure, ramp and straps", "what nobody wrote down is told"


@pytest.mark.parametrize(
    ("rule", "boosted"), [("plan.duty", False), ("plan.bsfc_natural", False), ("plan.bsfc_boosted", True)]
)
def test_plan_sizes_injectors_by_the_house(rule, boosted):
    def need(house):
        shelf = (ShelfInjector("a", "A", flow=440.0, rated_kpa=300.0, ohms=12.0),)
        plan = sized(
            power_kw=120.0,
            boosted=boosted,
            cylinders=4,
            fuel=PETROL,
            fuel_pressure_kpa=300.0,
            altitude_m=0.0,
            injectors=shelf,
            rules=house,
        )
        return plan.choices[0].supports_kw

    assert need(HouseRules()) != need(HouseRules({rule: float(RULES[rule].default) * 0.8}))


@pytest.mark.parametrize(
    ("rule", "other"),
    [
        ("intake.battery", 12.6),
        ("intake.power_rise", 50.0),
        ("intake.leak_down", 12.0),
        ("safe.fuel_school", "service valve"),
        ("safe.power_school", "modules asleep"),
        ("safe.cool_min", 5.0),
        ("safe.crank_tries", 4.0),
        ("safe.rail_left", 10.0),
        ("safe.coolant", 35.0),
        ("fit.torque_school", "snug allowed"),
    ],
)
def test_the_run_sheet_is_written_by_the_house(rule, other):
    fitted = [kit("plug-in ECU", injectors="new", about={"torque": [{"name": "bracket", "nm": 9.0}]})]
    vehicle = SheetVehicle(4, power_rise=0.3)
    plain, changed = (build(vehicle, fitted, "street", HouseRules(house)) for house in ({}, {rule: other}))
    assert plain != changed
    assert len(changed.steps) >= len(plain.steps) - 1


def test_wires_are_joined_by_the_school_of_the_house():
    box = kit("standalone on an adapted harness")

    def told(school):
        sheet = build(SheetVehicle(4), [box], "street", HouseRules({"fit.joining_school": school}))
        return {step.key: step for step in sheet.steps}

    steps = told("reversible tap")
    assert "never on a wire that carries" in steps["fit.joints"].do
    assert steps["fit.joints"].evidence == "words"
    assert "108 N" in steps["fit.crimps"].do
    assert told("crimp splice")["fit.joints"].title != steps["fit.joints"].title
    order = list(steps)
    work = [order.index(f"fit.{key}") for key in ("pin_plan", "crimps", "move_pins", "joints", "plugs")]
    assert work == sorted(work), "joined before it is plugged in"
    assert "fit.joints" in steps["fit.plugs"].needs, "joined before it is plugged in"
    start = [key for key in order if key.startswith("first-start.")]
    at = start.index("first-start.leaks")
    assert start[at - 1] in ("first-start.running", "first-start.start"), "leaks as soon as it runs"
    plain = build(SheetVehicle(4), [kit("plug-in ECU")], "street", HouseRules()).steps
    assert "fit.joints" not in {step.key for step in plain}, "nothing is cut where plugs go on"


def words_of(files: Iterable[Path]) -> set[str]:
    """Every text that a source holds."""
    return {
        node.value
        for path in files
        for node in ast.walk(parsed(path.read_text()))
        if isinstance(node, ast.Constant) and isinstance(node.value, str)
    }


@functools.cache
def read_by(root: str) -> set[str]:
    """Keys of house rules that are read below a folder, where they are not merely listed."""
    listed = ("rules_of_", "rule_table", "test_house_rules")
    files = [path for path in (ROOT / root).rglob("*.py") if not path.name.startswith(listed)]
    return words_of(files) & set(RULES)


@pytest.mark.parametrize("key", RULES)
def test_no_rule_stands_idle(key):
    assert key in read_by("ventmap"), "nothing reads this rule"
    tried = read_by("tests") | words_of([Path(__file__)])
    assert key in tried, "no test changes this rule and sees what it changes"
