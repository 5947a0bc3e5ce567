"""Time in a log: seconds, milliseconds, clock times, dates; clocks that go back."""

from __future__ import annotations

import re

import numpy as np
import polars as pl
from numpy.typing import NDArray

from ..basics import LogError
from .headings import Heading
from .model import Note

_CLOCK = re.compile(
    r"(?:\d{4}-\d{2}-\d{2}[T ]|\d{1,2}[./]\d{1,2}[./]\d{2,4}"
    r" )?\d{1,2}:\d{2}(?::\d{2})?(?:[.,:]\d+)?(?: ?[AaPp]\.?[Mm]\.?)?(?:Z|[+-]\d\d:?\d\d)?"
)
DAY_S = 86_400.0
#: A step back smaller than this is jitter of the logger, not a reset.
JITTER_S = 0.005
#: More resets than this, and more than one in twenty rows, are no clock.
MOST_RESETS, RESET_SHARE = 50, 0.05


def looks_like_time(cell: str) -> bool:
    """Whether a cell is a clock time or a date with one."""
    return bool(_CLOCK.fullmatch(cell.strip()))


def read_time(
    values: pl.Series, head: Heading
) -> tuple[NDArray[np.float64], NDArray[np.bool_] | None, tuple[int, ...], list[Note]]:
    """Seconds from the start.

    Returns
    -------
    time_s : ndarray
    keep : ndarray of bool or None
        Rows that have a time; None where all have.
    breaks : tuple of int
        Rows (after dropping) at which the clock was reset.
    notes : list of Note
    """
    notes = []
    if values.dtype == pl.String:
        seconds = _clock_seconds(values)
        notes.append(Note("understood", "clock times, counted from the first row", head.raw))
    else:
        seconds = values.cast(pl.Float64).to_numpy().astype(float)
    keep = None
    if not np.isfinite(seconds).all():
        keep = np.isfinite(seconds)
        notes.append(Note("ignored", f"{int((~keep).sum())} rows without a time", head.raw))
        seconds = seconds[keep]
    if len(seconds) < 2:
        raise LogError(f"The column “{head.raw}” holds no times that can be read.", "time")
    if values.dtype != pl.String:
        scale, note = _scale(seconds, head)
        seconds = seconds * scale
        notes.append(note)
    seconds, breaks, more = _unwind(seconds)
    return seconds - seconds[0], keep, breaks, notes + more


def _clock_seconds(values: pl.Series) -> NDArray[np.float64]:
    cells = values.str.strip_chars().str.replace(",", ".", literal=True)
    parts = cells.str.extract_groups(
        r"(?:(\d{4})-(\d{2})-(\d{2})[T ])?(?:\d{1,2}[./]\d{1,2}[./]\d{2,4}"
        r" )?(\d{1,2}):(\d{2})(?::(\d{2}(?:\.\d+)?))?"
    )
    fields = parts.struct.unnest().cast(pl.Float64, strict=False)
    names = fields.columns
    year, _, _, hour, minute, second = (fields[n] for n in names)
    noon = cells.str.extract(r"(?i)([ap])\.?m\.?$").str.to_lowercase()
    if noon.null_count() < len(noon):
        hour = hour % 12 + 12 * (noon == "p").cast(pl.Float64)
    seconds = hour * 3600 + minute * 60 + second.fill_null(0.0)
    if second.null_count() == len(second):
        # Two parts: loggers write minutes and seconds, with a fraction or without, never hours of a log.
        tenths = cells.str.extract(r"\d{1,3}:(\d{2}(?:\.\d+)?)$").cast(pl.Float64, strict=False)
        seconds = hour * 60 + tenths
    if year.null_count() == 0:
        calendar = _dates(fields.select(names[:3]))
        days = calendar.cast(pl.Int32)
        seconds = seconds + days * DAY_S
    return seconds.cast(pl.Float64).to_numpy().astype(float)


def _dates(parts: pl.DataFrame) -> pl.Series:
    """Year, month and day of each row as a date.

    Raises
    ------
    LogError
        Where one is in no calendar.
    """
    year, month, day = (pl.col(name) for name in parts.columns)
    try:
        return parts.select(pl.date(year.cast(pl.Int32), month.cast(pl.Int8), day.cast(pl.Int8))).to_series()
    except pl.exceptions.PolarsError as error:
        wrong = parts.filter(~month.is_between(1, 12) | ~day.is_between(1, 31))
        first = (wrong if wrong.height else parts).row(0)
        told = "-".join(f"{part:02.0f}" for part in first)
        raise LogError(f"The clock holds a date that is in no calendar, such as {told}.", "time") from error


def _scale(seconds: NDArray[np.float64], head: Heading) -> tuple[float, Note]:
    if head.unit in ("ms", "msec", "millis"):
        return 1e-3, Note("understood", "time in ms", head.raw)
    if head.unit in ("us", "µs"):
        return 1e-6, Note("understood", "time in µs", head.raw)
    if head.unit == "min":
        return 60.0, Note("understood", "time in minutes", head.raw)
    since = float(np.median(seconds))
    for scale, word in ((1e-3, "ms"), (1e-6, "µs")):
        if 1e9 <= since * scale < 3e9:
            return scale, Note("understood", f"time in {word} since 1970", head.raw)
    if head.unit in ("s", "sec", "secs", "seconds"):
        return 1.0, Note("understood", "time in s", head.raw)
    steps = np.diff(seconds)
    step = float(np.median(steps[steps > 0])) if (steps > 0).any() else 1.0
    # No unit given: loggers write between 1 and 1000 rows a second, so steps of whole tens are milliseconds.
    if step >= 5.0:
        return 1e-3, Note("guessed", f"time in ms: it steps by {step:g}", head.raw)
    return 1.0, Note("guessed", "time in s: no unit is given", head.raw)


def _unwind(seconds: NDArray[np.float64]) -> tuple[NDArray[np.float64], tuple[int, ...], list[Note]]:
    steps = np.diff(seconds)
    back = np.flatnonzero(steps < -JITTER_S)
    if not len(back):
        return np.maximum.accumulate(seconds), (), []
    if len(back) > max(MOST_RESETS, RESET_SHARE * len(seconds)):
        raise LogError(
            f"The time goes back on {len(back)} of {len(seconds)} rows: it counts down, or this is no time."
            " Name the column that holds the time.",
            "time",
        )
    good = steps[steps > 0]
    usual = float(np.median(good)) if len(good) else 0.1
    seconds = seconds.copy()
    midnight = np.abs(steps[back] + DAY_S) < 60.0
    # Each fall lifts all that follows: the lifts add up, once over the rows however many falls there are.
    lifts = np.zeros(len(seconds))
    lifts[back + 1] = np.where(midnight, DAY_S, -steps[back] + max(1.0, usual))
    seconds += np.cumsum(lifts)
    midnights, breaks = int(midnight.sum()), (back[~midnight] + 1).tolist()
    notes = []
    if midnights:
        notes.append(Note("understood", "the clock passes midnight"))
    if breaks:
        many = len(breaks)
        notes.append(
            Note(
                "guessed",
                f"the clock goes back {many} time{'s' if many > 1 else ''}: read as {many + 1} recordings",
            )
        )
    return np.maximum.accumulate(seconds), tuple(breaks), notes
