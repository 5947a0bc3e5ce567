"""The house and its rules."""

from __future__ import annotations

from typing import Any

from ventmap.core.basics import RULES, HouseRules

from .models import HouseRuleChange


def changed_rules() -> dict[str, float | str]:
    """The shop's own values, newest per key."""
    found: dict[str, float | str] = {}
    for change in HouseRuleChange.objects.order_by("at", "id"):
        try:
            found[change.key] = float(change.value)
        except ValueError:
            found[change.key] = change.value
    return found


def rules_of(frozen: dict[str, float | str]) -> HouseRules:
    """The rules that a job is judged by: those of the day it was opened."""
    return HouseRules(frozen)


def rule_differences(frozen: dict[str, float | str]) -> list[dict[str, Any]]:
    """Where the rules a job keeps differ from today's."""
    today = changed_rules()
    rows = []
    for key, rule in RULES.items():
        then, now = frozen.get(key, rule.default), today.get(key, rule.default)
        if then != now:
            rows.append({"key": key, "text": rule.text, "unit": rule.unit, "job": then, "today": now})
    return rows
