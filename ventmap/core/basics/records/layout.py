"""A layout of an engine: what geometry says of it, whoever made it."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from .common import Record, unit


class EngineLayout(Record):
    """Cylinders in their banks, and what follows from that alone."""

    cylinders: int = Field(title="cylinders, or rotors", ge=1, le=16)
    banks: int = Field(1, title="banks, each with its own injector feed", ge=1, le=4)
    stroke: Literal[2, 4] = Field(title="stroke cycle")
    diesel: bool = Field(False, title="diesel")
    firing_deg: float = unit("° of crank", "from firing to firing, mean", gt=0, le=720)
    even: bool = Field(True, title="fires evenly")
    note: str = Field("", title="note")
    source: str = Field("", title="source")
