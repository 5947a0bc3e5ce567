"""Own channels worked out on a log: a formula over what it has, wherever a channel can be asked for."""

from __future__ import annotations

import re
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ventmap.core.basics import BadInput, VentMapError
from ventmap.core.logs import CHANNELS, names_in, own_channel

from .models import LogFile, OwnChannel
from .reading import TIME, unpack


def worked_out(row: LogFile, formula: str, unit: str) -> NDArray[np.float64]:
    """The samples of a formula on a log.

    Raises
    ------
    BadInput
        In words, with the place.
    """
    columns = {
        c.name: unpack(bytes(c.samples)) for c in row.columns.filter(name__in=[TIME, *names_in(formula)])
    }
    time_s = columns.pop(TIME).astype(float)
    return own_channel(formula, unit, time_s, columns)


def checked(formula: str, unit: str) -> None:
    """Refuse a formula that no log could work out: it is tried on channels of ours.

    Raises
    ------
    BadInput
    """
    names = names_in(formula)
    if not names:
        raise BadInput("A channel of its own is made from channels: name one.", "formula")
    time_s = np.arange(4.0)
    columns = {name: np.full(4, 1.0) for name in names if name in CHANNELS}
    own_channel(formula, unit, time_s, columns | {name: np.ones(4) for name in names if name not in CHANNELS})


def _key(name: str) -> int | None:
    """Number of an own channel by what it is asked by; None of anything else."""
    found = re.fullmatch(r"own\.(\d{1,12})", name, re.ASCII)
    return int(found[1]) if found else None


def columns(row: LogFile, names: list[str]) -> dict[str, NDArray[np.floating]]:
    """Those of the names that are own channels, on this log; what cannot be worked out there is left out."""
    asked = [key for name in names if (key := _key(name)) is not None]
    found: dict[str, NDArray[np.floating]] = {}
    for one in OwnChannel.objects.filter(pk__in=asked) if asked else []:
        try:
            found[one.key] = worked_out(row, one.formula, one.unit)
        except VentMapError:
            continue
    return found


def told(row: LogFile, there: set[str]) -> list[dict[str, Any]]:
    """Own channels that this log can show, as its other columns are told."""
    shown = []
    for one in OwnChannel.objects.all():
        if not set(names_in(one.formula)) <= there:
            continue
        try:
            values = worked_out(row, one.formula, one.unit)
        except VentMapError:
            continue
        real = values[np.isfinite(values)]
        shown.append(
            {
                "name": one.key,
                "column": one.formula,
                "label": one.name,
                "unit": one.unit,
                "quantity": "",
                "low": float(real.min()) if len(real) else None,
                "high": float(real.max()) if len(real) else None,
                "canonical": False,
            }
        )
    return shown


def heading(name: str) -> str:
    """An own channel's heading outside: its name and unit; empty for a channel of the file."""
    key = _key(name)
    if key is None:
        return ""
    one = OwnChannel.objects.filter(pk=key).first()
    return (f"{one.name} ({one.unit})" if one.unit else one.name) if one else name
