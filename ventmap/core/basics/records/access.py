"""What comes off to reach the work, and how a bay of one layout comes apart."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from .common import Record, unit

#: What is open to the bay once a thing is off; each brings its own caution and its own steps.
Opens = Literal["", "fuel", "coolant", "oil", "refrigerant"]


class AccessItem(Record):
    """One thing that comes off, in its place in the order."""

    name: str = Field(title="what comes off", min_length=2)
    fastener: str = Field("", title="held by")
    nm: float | None = unit("N·m", "torque at refitting", default=None, gt=0, le=400)
    care: Literal["", "brittle", "one-use"] = Field("", title="brittle, or its fasteners are one-use")
    opens: Opens = Field("", title="what it opens")
    renew: str = Field("", title="new at refitting: gasket, clip, seal")


class AccessList(Record):
    """How a bay of one layout usually comes apart: where the list of a vehicle nobody has opened begins."""

    items: tuple[AccessItem, ...] = Field(title="what comes off, in its order", min_length=1)
    note: str = Field("", title="note")
    source: str = Field("", title="source")
