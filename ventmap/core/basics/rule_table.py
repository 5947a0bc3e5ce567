"""The house rules, each with its default and the reason."""

from __future__ import annotations

from . import rules_of_logs, rules_of_work
from .rule import Rule


def _rules(*rows: tuple) -> dict[str, Rule]:
    return {row[0]: Rule(*row) for row in rows}


RULES: dict[str, Rule] = _rules(*rules_of_logs.ROWS, *rules_of_work.ROWS)

#: First part of a rule's key -> the heading it stands under.
AREAS = {
    "intake": "Intake",
    "plan": "Plan",
    "safe": "Make safe",
    "fit": "Fit",
    "load": "Load",
    "key_on": "First start",
    "start": "First start",
    "boost": "Log: boost",
    "cut": "Log: traction",
    "trim": "Log: trims",
    "lean": "Log: mixture",
    "rich": "Log: mixture",
    "hole": "Log: mixture",
    "knock": "Log: knock",
    "duty": "Log: injectors",
    "fuel": "Log: fuel pressure",
    "heat": "Log: heat",
    "battery": "Log: battery",
    "warm": "Log: heat",
    "hot": "Log: heat",
    "idle": "Log: idle",
    "misfire": "Log: misfire",
    "egt": "Log: heat",
    "ethanol": "Log: fuel",
    "sampling": "Log: sampling",
    "correct": "Correct",
    "dyno": "Prove",
}
