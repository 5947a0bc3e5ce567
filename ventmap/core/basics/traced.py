"""A figure that can be traced."""

from __future__ import annotations

from dataclasses import dataclass

from .calls import Evidence


@dataclass(frozen=True)
class Sum:
    """A figure that can be traced."""

    title: str
    formula: str
    inputs: tuple[Evidence, ...]
    result: Evidence
    source: str
