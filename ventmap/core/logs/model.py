"""A datalog in canonical names and units."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
import polars as pl
from numpy.typing import NDArray

Samples = NDArray[np.floating]


def typical_rate(time_s: NDArray[np.float64]) -> float:
    """How often something comes [1/s], by its times [s]; what lies within a quarter of the longest usual
    step comes at once.

    Examples
    --------
    >>> burst = np.concatenate([at + np.arange(6) * 1e-4 for at in np.arange(0, 9, 0.1)])
    >>> round(typical_rate(burst), 2), round(typical_rate(np.arange(0, 9, 0.05)), 2)
    (10.0, 20.0)
    """
    steps = np.diff(time_s)
    if not len(steps):
        return 0.0
    together = 0.25 * float(np.percentile(steps, 95))
    own = time_s[np.concatenate([[True], steps > together])]
    apart = np.diff(own)
    apart = apart[apart > 0]
    return float(1.0 / np.median(apart)) if len(apart) else 0.0


@dataclass(frozen=True)
class Note:
    """What the reader understood, guessed or ignored; `column` is the file's own name where one is meant."""

    kind: str  # understood | guessed | asked | derived | ignored
    text: str
    column: str = ""


@dataclass(frozen=True)
class ColumnRead:
    """A column of the file: what it was taken for, how sure that is, and what its values look like.

    Parameters
    ----------
    status : str
        ``"understood"``, ``"guessed"``, ``"asked"`` or ``"ignored"``.
    channel, unit : str
        Empty where it is none, or says none.
    best : tuple of (channel, score)
        The likeliest, best first.
    why : str
        Where it is no channel: for what reason.
    first : tuple of float
        Its first values, as they stand in the file.
    sketch : tuple of float or None
        Values from end to end, for a small drawing.
    words : tuple of str
        First cells, where they are text.
    """

    column: str
    status: str
    channel: str = ""
    unit: str = ""
    best: tuple[tuple[str, float], ...] = ()
    why: str = ""
    first: tuple[float, ...] = ()
    sketch: tuple[float | None, ...] = ()
    words: tuple[str, ...] = ()


@dataclass
class Log:
    """A datalog.

    Parameters
    ----------
    time_s : ndarray, shape (n,)
        Seconds, never falling; a clock that was reset in the file goes on after a gap.
    channels : dict of str to ndarray, shape (n,)
        Canonical name (see `channels.CHANNELS`) to samples in canonical units; NaN where the file has no
        value.
    columns : dict of str to str
        Canonical name to the file's own column.
    extras : dict of str to ndarray
        Columns that are kept under their own name because nothing canonical fits.
    notes : list of Note
    reads : list of ColumnRead
        Every column of the file, in its order.
    clock : str
        The file's column of time.
    source : str
        Key of the known source that it came from; empty where none is.
    breaks : tuple of int
        Rows at which a new recording begins.
    """

    time_s: NDArray[np.float64]
    channels: dict[str, Samples]
    columns: dict[str, str] = field(default_factory=dict)
    extras: dict[str, Samples] = field(default_factory=dict)
    notes: list[Note] = field(default_factory=list)
    reads: list[ColumnRead] = field(default_factory=list)
    clock: str = ""
    source: str = ""
    breaks: tuple[int, ...] = ()
    name: str = ""
    #: Never handed on to a log made from this one: its channels may be others.
    _filled: dict[str, Samples] = field(default_factory=dict, repr=False, init=False)

    def __len__(self) -> int:
        return len(self.time_s)

    def has(self, *names: str) -> bool:
        return all(name in self.channels for name in names)

    @property
    def duration_s(self) -> float:
        return float(self.time_s[-1] - self.time_s[0]) if len(self) else 0.0

    @cached_property
    def rate_hz(self) -> float:
        """Typical rate of rows [1/s]; frames that come in a burst are one row."""
        return typical_rate(self.time_s)

    def rate_of(self, name: str) -> float:
        """Rate at which a channel really has values [1/s]: slow channels leave cells blank."""
        there = np.isfinite(self.channels[name])
        return self.rate_hz if there.all() else typical_rate(self.time_s[there])

    def filled(self, name: str) -> Samples:
        """A channel without holes: a blank cell holds the value before it."""
        if name not in self._filled:
            values = self.channels[name]
            if np.isnan(values).any():
                series = pl.Series(values).fill_nan(None).forward_fill().backward_fill()
                values = series.to_numpy()
            self._filled[name] = values
        return self._filled[name]

    def slice(self, start: int, stop: int) -> Log:
        """Rows `start` up to `stop`, sharing the samples."""
        return Log(
            self.time_s[start:stop],
            {name: values[start:stop] for name, values in self.channels.items()},
            columns=self.columns,
            extras={name: values[start:stop] for name, values in self.extras.items()},
            name=self.name,
        )

    @classmethod
    def from_channels(cls, time_s: Samples, channels: Mapping[str, Samples], name: str = "") -> Log:
        return cls(
            np.asarray(time_s, float),
            {key: np.asarray(values, np.float32) for key, values in channels.items()},
            {key: key for key in channels},
            name=name,
        )
