"""Output tests of a four-cylinder, filled in."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from ventmap.core.basics import HouseRules
from ventmap.core.electrics import outputs_of
from ventmap.core.grids import GridResult, judge_grid
from ventmap.core.runsheet import Kit, SheetVehicle, build

OUTPUTS = {output.key: output for output in outputs_of(4, "port")}


def step_of(
    key: str, kind: str = "standalone on an adapted harness", rules: HouseRules | None = None, **more: Any
):
    """A step of the first start for a kind of device."""
    sheet = build(SheetVehicle(4, **more), [Kit(kind)], "street", rules or HouseRules())
    return next(step for step in sheet.steps if step.key == f"first-start.{key}")


def tried(confirmed: Sequence[str] | None, seen: str = "works", **others: str) -> GridResult:
    """Every output answered alike but for `others`, with what was confirmed; None confirms all."""
    about = step_of("outputs").about
    every = [lock.key for lock in about.interlocks]
    done = {"confirmed": every if confirmed is None else list(confirmed)}
    rows = [{"key": key, "seen": others.get(key, seen), **done} for key in OUTPUTS]
    return judge_grid("outputs", about, {"rows": rows, "interlocks": []})
