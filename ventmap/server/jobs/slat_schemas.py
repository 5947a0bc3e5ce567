"""Shapes of a slat on the API: how far it is, and what stands in its way."""

from __future__ import annotations

from pydantic import BaseModel as Schema

from ventmap.core.basics import SlatState, StageKey


class Early(Schema):
    sentence: str
    stage: StageKey


class InTheWay(Schema):
    """One of several stops, and the slat where it is put right."""

    title: str
    stage: StageKey


class BarredOut(Early):
    every: list[InTheWay] = []
    """All that stand in the way, where there is more than one."""


class SlatOut(Schema):
    key: StageKey
    label: str
    state: SlatState
    share: float
    early: Early | None = None
    barred: BarredOut | None = None
    """A stop stands in the way of what this slat is for, and the slat where it is put right."""
    absent: str = ""
    """Why nothing of it is asked on this job; empty where something is."""
