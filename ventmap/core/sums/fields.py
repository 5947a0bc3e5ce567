"""Fields that several sums ask alike."""

from __future__ import annotations

from typing import Any


def rows(*columns: str, **rows: str) -> list[dict[str, str]]:
    """Default rows: a name and the other columns' texts, apart by bars."""
    return [
        dict(zip(columns, (name.replace("_", " "), *text.split("|")), strict=True))
        for name, text in rows.items()
    ]


LEN: dict[str, Any] = {"kind": "figure", "quantity": "length"}

V: dict[str, Any] = {"kind": "figure", "quantity": "voltage"}

A: dict[str, Any] = {"kind": "figure", "quantity": "current"}

KPA: dict[str, Any] = {"kind": "figure", "quantity": "pressure"}
