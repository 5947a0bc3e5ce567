"""Logs as ASAM MDF 4: every group with its own clock, brought to one."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...basics import LogError
from ..model import Note
from .clocks import Series, joined
from .table import Table


def read_mdf(data: bytes) -> Table:
    """All groups of an MDF file on one time.

    Raises
    ------
    LogError
        If it is damaged, of an unknown version, or holds no numbers.
    """
    from asammdf import MDF

    if data[8:9] not in (b"4", b"3"):
        raise LogError("This MDF file is of a version that is not known. Save it as MDF 4.", "file")
    try:
        with MDF(io.BytesIO(data)) as file:
            groups = [_group(file, number) for number in range(len(file.groups))]
    except Exception as error:
        raise LogError("The MDF file cannot be read; it may be cut. Export it again.", "file") from error
    groups = [group for group in groups if group]
    if not groups:
        raise LogError("The MDF file holds no channel of numbers with a time.", "file")
    table = joined([one for group in groups for one in group])
    many = f"{len(groups)} groups with clocks of their own" if len(groups) > 1 else "one group"
    table.notes.append(Note("understood", f"MDF 4, {many}"))
    return table


def _group(file: Any, number: int) -> list[Series]:
    """The signals of numbers of a group."""
    found: list[Series] = []
    master = file.masters_db.get(number)
    clock: NDArray[np.float64] | None = None
    for index, channel in enumerate(file.groups[number].channels):
        if index == master:
            continue
        signal = file.get(group=number, index=index, ignore_invalidation_bits=True)
        samples = np.asarray(signal.samples)
        if samples.ndim != 1 or samples.dtype.kind not in "iufb" or not len(samples):
            continue
        clock = np.asarray(signal.timestamps, float) if clock is None else clock
        # Of “name\source” only the name is the channel's.
        name = str(channel.name).split("\\")[0]
        found.append(Series(name, str(signal.unit or ""), clock, samples.astype(np.float64)))
    return found


def write_mdf(time_s: NDArray[np.float64], channels: dict[str, tuple[str, NDArray[np.floating]]]) -> bytes:
    """A log as MDF 4: a group for each set of rows that have values, so that each channel keeps its own rate.

    Parameters
    ----------
    time_s : ndarray
        Time [s].
    channels : mapping of name to (unit, samples)
        Samples with NaN where there is no value.
    """
    from asammdf import MDF, Signal

    groups: dict[bytes, list[Any]] = {}
    for name, (unit, values) in channels.items():
        there = np.isfinite(values)
        if there.any():
            one = Signal(samples=values[there], timestamps=time_s[there], name=name, unit=unit)
            groups.setdefault(there.tobytes(), []).append(one)
    out = io.BytesIO()
    with MDF(version="4.10") as file:
        for signals in groups.values():
            file.append(signals, common_timebase=True)
        file.save(out)
    return out.getvalue()
