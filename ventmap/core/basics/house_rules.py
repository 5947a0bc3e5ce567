"""The rules a job is judged by."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from .errors import BadInput
from .rule import Rule
from .rule_table import LIMITS, RULES


@dataclass(frozen=True)
class HouseRules:
    """The rules a job is judged by: the defaults with a shop's own values over them."""

    changed: Mapping[str, float | str] = field(default_factory=dict)

    def __getitem__(self, key: str) -> float:
        """A threshold as a number."""
        value = float(self.changed.get(key, _rule(key).default))
        low, high, _ = LIMITS.get(key, (value, value, ""))
        # A value from before there were limits counts as the limit itself.
        return min(max(value, low), high)

    def school(self, key: str) -> str:
        """A choice between schools."""
        return str(self.changed.get(key, _rule(key).default))


def _rule(key: str) -> Rule:
    if key not in RULES:
        raise BadInput(f"There is no house rule “{key}”.", key)
    return RULES[key]


def read_rule(key: str, typed: str, unit: str | None = None) -> float | str:
    """A shop's own value for a rule, checked; one that protects people or the computer within its limits.

    Raises
    ------
    BadInput
        Naming the rule, with the reason where it is beyond what a shop may set.
    """
    rule = _rule(key)
    value = rule.read(typed, unit)
    if key in LIMITS and not isinstance(value, str):
        low, high, why = LIMITS[key]
        if not low <= value <= high:
            raise BadInput(
                f"{rule.text}: a shop may set {low:g} to {high:g} {rule.unit}".rstrip() + f", because {why}.",
                key,
            )
    return value
