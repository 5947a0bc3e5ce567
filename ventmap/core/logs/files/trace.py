"""CAN traces, with the DBC file that says what is in their frames."""

from __future__ import annotations

import io
import re
from collections.abc import Iterable
from typing import Any

import numpy as np

from ...basics import LogError
from ..model import Note
from .clocks import Series, joined
from .table import Table

#: Endings of traces.
TRACES = (".asc", ".blf", ".trc", ".log")
_CANDUMP = re.compile(rb"^\(\d+\.\d+\)\s+\S+\s+[0-9A-Fa-f]{3,8}#", re.MULTILINE)
MOST_FRAMES = 20_000_000


def is_candump(data: bytes) -> bool:
    """Whether a text of that ending holds frames."""
    return bool(_CANDUMP.search(data[:65_536]))


def read_trace(data: bytes, ending: str, dbc: str) -> Table:
    """Signals of a CAN trace.

    Raises
    ------
    LogError
        On the field ``dbc`` where no DBC file was given, or it names nothing of what is in the trace.
    """
    frames = _frames(data, ending)
    if not dbc:
        raise LogError(
            "This is a CAN trace: its frames are bare bytes. Choose the DBC file that names their signals; it"
            " is kept for the next trace of this vehicle.",
            "dbc",
        )
    return _decoded(frames, read_dbc(dbc))


def read_dbc(text: str) -> Any:
    """A DBC file's messages.

    Raises
    ------
    LogError
        If it is none.
    """
    import cantools

    try:
        return cantools.database.load_string(text, "dbc", strict=False)
    except Exception as error:
        raise LogError("This is no DBC file, or it is damaged. Choose the trace's own.", "dbc") from error


def dbc_covers(dbc: str, data: bytes, name: str) -> int:
    """How many frames of a trace a DBC file names."""
    ending = f".{name.rsplit('.', 1)[-1].lower()}"
    known = {message.frame_id for message in read_dbc(dbc).messages}
    return sum(identifier in known for _, identifier, _ in _frames(data, ending))


def _frames(data: bytes, ending: str) -> list[tuple[float, int, bytes]]:
    """(time, identifier, bytes) of every data frame."""
    import can

    binary = data[:4] == b"LOGG"
    source: Any = io.BytesIO(data) if binary else io.StringIO(data.decode("latin-1"))
    kinds: dict[str, Any] = {".asc": can.ASCReader, ".trc": can.TRCReader, ".log": can.CanutilsLogReader}
    reader = can.BLFReader if binary else kinds.get(ending)
    if reader is None:
        raise LogError("This CAN trace is of a kind that is not known. Export it as ASC or BLF.", "file")
    found = []
    try:
        for message in reader(source):
            if message.is_error_frame or message.is_remote_frame:
                continue
            found.append((float(message.timestamp), int(message.arbitration_id), bytes(message.data)))
            if len(found) > MOST_FRAMES:
                break
    except Exception as error:
        raise LogError("The CAN trace cannot be read; it may be cut. Export it again.", "file") from error
    if len(found) > MOST_FRAMES:
        raise LogError(f"The trace holds more than {MOST_FRAMES // 10**6} million frames. Split it.", "file")
    if len(found) < 2:
        raise LogError("The CAN trace holds no frames with data.", "file")
    return found


def _decoded(frames: Iterable[tuple[float, int, bytes]], database: Any) -> Table:
    known = {message.frame_id: message for message in database.messages}
    by_id: dict[int, list[tuple[float, bytes]]] = {}
    unknown = short = 0
    for at, identifier, payload in frames:
        if identifier in known:
            by_id.setdefault(identifier, []).append((at, payload))
        else:
            unknown += 1
    series: list[Series] = []
    for identifier, of_it in by_id.items():
        made, lost = _signals(known[identifier], of_it)
        series, short = series + made, short + lost
    if not series:
        raise LogError("The DBC file names none of the frames of this trace. Choose its own.", "dbc")
    table = joined(series)
    table.notes.append(Note("understood", f"CAN trace, {len(by_id)} of its identifiers by the DBC file"))
    if unknown:
        table.notes.append(Note("ignored", f"{unknown} frames that the DBC file does not name"))
    if short:
        table.notes.append(Note("ignored", f"{short} frames that cannot be what the DBC file says"))
    return table


def _signals(message: Any, frames: list[tuple[float, bytes]]) -> tuple[list[Series], int]:
    """The signals of one identifier on its own clock, and how many frames could not be read."""
    times, rows, lost = [], [], 0
    names = [signal.name for signal in message.signals]
    for at, payload in frames:
        try:
            told = message.decode(payload, decode_choices=False, allow_truncated=True)
        except Exception:
            lost += 1
            continue
        times.append(at)
        rows.append([told.get(name, np.nan) for name in names])
    if not rows:
        return [], lost
    clock, values = np.array(times), np.array(rows, float)
    units = [signal.unit or "" for signal in message.signals]
    return [
        Series(n, unit, clock, values[:, i]) for i, (n, unit) in enumerate(zip(names, units, strict=True))
    ], lost
