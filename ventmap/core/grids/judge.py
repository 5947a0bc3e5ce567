"""Grids: evidence that is more than one reading. Each judges what was entered and says what to draw."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from ..basics import BadInput, Record, read_record
from ..runsheet import (
    AccessAsked,
    Asked,
    BoardAsked,
    ChecksAsked,
    CodesAsked,
    CompressionAsked,
    GroundsAsked,
    OutputsAsked,
    PinsAsked,
    PlugsAsked,
    RefitAsked,
    SealsAsked,
    SetAsked,
    SidesAsked,
    TimingAsked,
    TorqueAsked,
)
from .access import access, refit
from .board import board
from .checks import checks, plugs
from .compression import compression
from .data import (
    AccessData,
    BoardData,
    ChecksData,
    CodesData,
    CompressionData,
    GroundsData,
    OutputsData,
    PinsData,
    PlugsData,
    RefitData,
    SealsData,
    SetData,
    SidesData,
    TimingData,
    TorqueData,
    Typed,
)
from .engine import body_codes, injector_set, seal_timers
from .first_start import base_timing, outputs
from .model import GridResult
from .wires import continuity, grounds, pin_plan, torque


@dataclass(frozen=True)
class Grid:
    """A grid by its name: what it is told, what is typed into it, and how that is judged."""

    asked: type[Asked]
    data: type[Typed]
    judge: Callable[[Any, Any], GridResult]


GRIDS: dict[str, Grid] = {
    "compression": Grid(CompressionAsked, CompressionData, compression),
    "injector_set": Grid(SetAsked, SetData, injector_set),
    "body_codes": Grid(CodesAsked, CodesData, body_codes),
    "seal_timers": Grid(SealsAsked, SealsData, seal_timers),
    "common_side": Grid(SidesAsked, SidesData, continuity),
    "pin_plan": Grid(PinsAsked, PinsData, pin_plan),
    "grounds": Grid(GroundsAsked, GroundsData, grounds),
    "outputs": Grid(OutputsAsked, OutputsData, outputs),
    "base_timing": Grid(TimingAsked, TimingData, base_timing),
    "board": Grid(BoardAsked, BoardData, board),
    "torque": Grid(TorqueAsked, TorqueData, torque),
    "access": Grid(AccessAsked, AccessData, access),
    "refit": Grid(RefitAsked, RefitData, refit),
    "checks": Grid(ChecksAsked, ChecksData, checks),
    "plugs": Grid(PlugsAsked, PlugsData, plugs),
}


def judge_grid(name: str, about: Record | Mapping[str, Any], data: Record | Mapping[str, Any]) -> GridResult:
    """Judge the data of a grid by its name.

    Parameters
    ----------
    about, data : Record or mapping
        What the grid is told and what was typed into it; parsed here where they come as plain values.

    Raises
    ------
    BadInput
        Naming the field whose shape is wrong.
    """
    if name not in GRIDS:
        raise BadInput(f"There is no grid “{name}”.", "grid")
    grid = GRIDS[name]
    return grid.judge(_parsed(grid.asked, about), _parsed(grid.data, data))


def _parsed(kind: type[Record], given: Record | Mapping[str, Any]) -> Record:
    return given if isinstance(given, kind) else read_record(kind, given)  # type: ignore[arg-type]
