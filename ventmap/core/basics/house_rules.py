"""The rules a job is judged by."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from .errors import BadInput
from .rule import Rule
from .rule_table import RULES


@dataclass(frozen=True)
class HouseRules:
    """The rules a job is judged by: the defaults with a shop's own values over them."""

    changed: Mapping[str, float | str] = field(default_factory=dict)

    def __getitem__(self, key: str) -> float:
        """A threshold as a number."""
        value = self.changed.get(key, _rule(key).default)
        return float(value)

    def school(self, key: str) -> str:
        """A choice between schools."""
        return str(self.changed.get(key, _rule(key).default))


def _rule(key: str) -> Rule:
    if key not in RULES:
        raise BadInput(f"There is no house rule “{key}”.", key)
    return RULES[key]
