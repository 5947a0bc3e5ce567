"""House rules of maps: each, changed, changes a judgement or what is offered."""

from __future__ import annotations

from dataclasses import replace

import pytest

from tests.truth import maps as cases
from ventmap.core.basics import HouseRules, worst
from ventmap.core.fuel import PETROL
from ventmap.core.maps import advice, map_calls


def verdict(rule, made, rules, **job):
    calls = map_calls(made, replace(cases.JOB, **job), rules)
    return str(worst([call for call in calls if call.rule == rule]))


SPARKED = cases.cell(cases.FULL, "spark", 2, 6, float(cases.FULL.tables["spark"].values[2, 6]) + 1.5)
#: Rule → the judgement that hangs on it, on which map, the shop's value, and both verdicts.
MAP_RULES = {
    "map.spark_step": ("map.spark_step", cases.FULL, 1.0, "go", "hold"),
    "map.mixture_step": ("map.mixture_step", cases.FULL, 0.02, "go", "hold"),
    "map.boost_mixture": ("map.mixture_boost", cases.full_table("lambda_target", 0.8), 0.75, "go", "hold"),
    "map.boost_mixture_stop": (
        "map.mixture_boost",
        cases.full_table("lambda_target", 0.92),
        0.9,
        "hold",
        "stop",
    ),
    "map.spark_above": ("map.spark_shelf", SPARKED, 1.0, "go", "hold"),
    "map.fan_above": ("map.fan", cases.FULL.with_scalars(fan_on=85.0, fan_off=80.0), 4.0, "go", "hold"),
    "map.fan_apart_low": ("map.fan", cases.FULL, 5.5, "go", "hold"),
    "map.fan_apart_high": ("map.fan", cases.FULL, 4.5, "go", "hold"),
    "map.blend_lean": ("map.blend_curve", cases.leaner(0.04), 3.0, "go", "hold"),
    "map.blend_lean_stop": ("map.blend_curve", cases.leaner(0.1), 8.0, "hold", "stop"),
}
#: Schools: the name that is offered first, and by which value, for each.
SCHOOLS = {
    "map.load_school": ("load_sensing", {"manifold pressure": 0.0, "airflow kept": 1.0}),
    "map.fan_school": ("fan_on", {"just above opening": 86.5, "stock minus the drop": 91.0}),
}


@pytest.mark.parametrize("key", MAP_RULES)
def test_a_shop_s_value_changes_the_judgement(key):
    rule, made, value, before, after = MAP_RULES[key]
    assert verdict(rule, made, HouseRules(), shelf=cases.FULL) == before
    assert verdict(rule, made, HouseRules({key: value}), shelf=cases.FULL) == after


@pytest.mark.parametrize("key", SCHOOLS)
def test_a_school_changes_what_is_offered(key):
    name, values = SCHOOLS[key]
    for school, value in values.items():
        rules = HouseRules({key: school})
        offered = advice(cases.FULL, cases.JOB, rules, PETROL, stock_thermostat_c=91.0)
        assert next(one.value for one in offered if one.name == name) == value


#: rule → a map that the default judges one way, and a value that judges it another.
OF_FIGURES = {
    "map.flow_hold": (lambda: cases.figure("injector_flow"), 460.0, 6.0),
    "map.flow_stop": (lambda: cases.figure("injector_flow"), 475.0, 7.0),
    "map.dead_hold": (lambda: cases.later, 0.1, 0.15),
    "map.dead_stop": (lambda: cases.later, 0.15, 0.12),
    "map.ratio_hold": (lambda: cases.figure("stoichiometric"), 15.0, 3.0),
    "map.ratio_stop": (lambda: cases.figure("stoichiometric"), 15.0, 1.5),
    "map.filling_moved": (lambda: cases.scaled("ve"), 1.2, 25.0),
    "map.spark_below": (lambda: cases.scaled("spark", "plus"), -12.0, 14.0),
    "map.load_mixture": (lambda: cases.targets, 1.02, 1.03),
    "map.load_mixture_stop": (lambda: cases.targets, 1.06, 1.05),
}


@pytest.mark.parametrize("rule", OF_FIGURES)
def test_a_rule_of_figures_decides(rule, monkeypatch):
    made, value, other = OF_FIGURES[rule]

    def told() -> list:
        return [(call.rule, call.verdict) for call in made()(value)]

    plain = told()
    monkeypatch.setattr(cases, "RULES", HouseRules({rule: other}))
    assert told() != plain


def test_what_a_log_has_moved_is_looked_at_not_stopped():
    far = cases.FULL.with_scalars(injector_flow=540.0)
    logged = replace(far, lineage=replace(far.lineage, round=2))
    verdicts = [
        next(c.verdict.value for c in cases.edited(cases.FULL, m, **cases.RECORDS) if c.rule == "map.flow")
        for m in (far, logged)
    ]
    assert verdicts == ["stop", "hold"]
    near = cases.FULL.with_scalars(injector_flow=460.0)
    moved = replace(near, lineage=replace(near.lineage, round=1))
    told = next(c for c in cases.edited(cases.FULL, moved, **cases.RECORDS) if c.rule == "map.flow")
    assert told.verdict.value == "go"
    assert "log moved it" in told.do_next
