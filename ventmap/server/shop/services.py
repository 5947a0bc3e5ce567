"""The house and its rules."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import timedelta
from typing import Any

from django.db import transaction
from django.utils import timezone

from ventmap.core.basics import RULES, HouseRules

from .models import Answered, House, HouseRuleChange

#: A tablet that was away so long sends nothing twice any more.
ANSWERED_DAYS = 30


@contextmanager
def changing_shop() -> Iterator[None]:
    """Hold what is the whole shop's, for a change: whoever else changes it comes after."""
    with transaction.atomic():
        House.objects.select_for_update().filter(pk=1).values_list("pk").first()
        yield


def sweep_answered() -> None:
    """Forget answers to entries that nobody sends again."""
    Answered.objects.filter(at__lt=timezone.now() - timedelta(days=ANSWERED_DAYS)).delete()


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
