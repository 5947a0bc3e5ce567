"""Rows to core calls for what people enter by hand."""

from __future__ import annotations

from dataclasses import replace

from ventmap.core.basics import BadInput, Call, HouseRules, Verdict, judge_answer, judge_reading
from ventmap.core.electrics import can_termination, key_on_calls
from ventmap.core.loading import battery_call
from ventmap.core.runsheet import Step, direct_ohms


def rule_of(step: str) -> str:
    """The ledger's rule for a step; a grid's further faults add ``#2``, ``#3`` …"""
    return f"step.{step}"


#: Steps of the first start that a screen does: what it found there stands under rules of their own.
_SCREENS = {
    "sensor.": "first-start.key_on",
    "pedal.": "first-start.pedal",
    "start.": "first-start.start",
}


def step_of(rule: str) -> str:
    """The step that a rule of the ledger judges."""
    by_screen = next((key for prefix, key in _SCREENS.items() if rule.startswith(prefix)), "")
    return by_screen or rule.removeprefix("step.").split("#")[0]


def reading_call(step: Step, value: float, rules: HouseRules) -> Call:
    """Judge a step's reading against the limits that the run sheet gives it, or by its own rule."""
    wanted = step.reading
    assert wanted is not None
    if wanted.judge == "can":
        found = can_termination(value, rules["fit.can"] / 100)
        return replace(found, rule=rule_of(step.key))
    if wanted.judge == "key on":
        assert wanted.low is not None
        assert wanted.high is not None
        known = (wanted.low + wanted.high) / 2
        hold, stop = rules["key_on.hold_kpa"], rules["key_on.stop_kpa"]
        call = key_on_calls(manifold_kpa=value, barometer_kpa=known, hold_kpa=hold, stop_kpa=stop)[0]
        return replace(call, rule=rule_of(step.key), title=step.title)
    if wanted.judge == "direct injector":
        return direct_ohms(rule_of(step.key), step.title, value)
    if wanted.judge == "write":
        return replace(battery_call(value, rules), rule=rule_of(step.key))
    return judge_reading(
        rule_of(step.key),
        step.title,
        wanted.label,
        # Limits of a share are given in per cent, as it is typed and shown.
        100 * value if wanted.quantity == "fraction" else value,
        wanted.unit,
        wanted.low,
        wanted.high,
        step.wrong,
        wanted.protects,
    )


def answer_call(step: Step, key: str) -> Call:
    """Judge what was seen."""
    answer = next((a for a in step.answers if a.key == key), None)
    if answer is None:
        raise BadInput(f"Choose what you see: {', '.join(a.label.lower() for a in step.answers)}.", "answer")
    return judge_answer(rule_of(step.key), step.title, answer.label, Verdict(answer.verdict), answer.advice)
