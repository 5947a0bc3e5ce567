"""From a file's columns to canonical channels and units."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np
import polars as pl

from ..basics import LogError, LogSource
from .absolute import make_absolute
from .channels import CHANNELS
from .convert_units import line_of
from .file_units import UNITS, clean_unit
from .headings import Heading, heading, match
from .model import ColumnRead, Log, Note, Samples
from .names import OF_CYLINDERS, TAKEN, Named, Sample, name_columns, spoken

#: What a pressure or mixture column means where its unit is not given: (largest typical value, unit).
_BARE_PRESSURE = ((6.0, "bar"), (65.0, "psi"), (1e9, "kPa"))
#: Between what a barometer reads in each unit; they do not overlap.
_BAROMETERS = (
    (0.55, 1.08, "bar"),
    (8.0, 15.7, "psi"),
    (16.2, 32.0, "inHg"),
    (55.0, 108.0, "kPa"),
    (550.0, 1080.0, "mbar"),
)
#: As many samples are looked at to name a column, and drawn in its sketch.
LOOKED_AT, SKETCH = 2_000, 60


class Found:
    """What came of a file's columns."""

    def __init__(self) -> None:
        self.channels: dict[str, Samples] = {}
        self.columns: dict[str, str] = {}
        self.extras: dict[str, Samples] = {}
        self.notes: list[Note] = []
        self.reads: list[ColumnRead] = []


def canonical_channels(
    frame: pl.DataFrame,
    heads: Mapping[str, Heading],
    told: LogSource | None = None,
    altitude_m: float | None = None,
) -> Found:
    """Name columns, convert units, and make gauge pressures absolute."""
    found, told = Found(), told or LogSource()
    numbers = {column: _numbers(frame, column, found) for column in heads}
    values = {column: series for column, series in numbers.items() if series is not None}
    samples = {column: _sample(heads[column], values[column]) for column in values}
    said = {hint.column: hint.channel for hint in told.columns if hint.column in samples}
    _refuse_twice(said)
    named = name_columns(samples, said)
    pressures: dict[str, Heading] = {}
    parts = _of_cylinders(heads, named)
    for column in values:
        name = named[column]
        if name.channel:
            pressures |= _take(found, heads[column], column, values[column], name, told)
        else:
            found.extras[column] = values[column]
            whole = next((c for c, columns in parts.items() if column in columns), "")
            why = f"part of “{CHANNELS[whole].label}”" if whole else _why_not(name, samples[column].known)
            found.notes.append(Note("asked" if name.status == "asked" else "ignored", why, column))
            found.reads.append(_read(heads[column], column, values[column], name, why=why))
    for channel, columns in parts.items():
        _together(found, channel, columns, [values[column] for column in columns], heads[columns[0]].raw)
    found.notes += make_absolute(found.channels, found.columns, pressures, altitude_m, told)
    if not found.channels:
        # Nothing is known of it: then every column is a question.
        asked = [replace(read, status="asked", why="say what it is") for read in found.reads if read.sketch]
        found.reads = asked + [read for read in found.reads if not read.sketch]
    order = {column: place for place, column in enumerate(heads)}
    found.reads.sort(key=lambda read: order[read.column])
    return found


def _numbers(frame: pl.DataFrame, column: str, found: Found) -> Samples | None:
    """Samples of a column; None, with its reason, where it holds none."""
    if not frame[column].dtype.is_numeric():
        found.notes.append(Note("ignored", "text", column))
        first = tuple(str(cell)[:40] for cell in frame[column].drop_nulls().head(3).to_list())
        found.reads.append(ColumnRead(column, "ignored", why="text", words=first))
        return None
    values = frame[column].cast(pl.Float32).to_numpy()
    # One pass: the sum is finite where every sample is; blanks are looked at more closely.
    if not np.isfinite(values.sum(dtype=np.float64)):
        endless = np.isinf(values)
        if endless.any():
            values = np.where(endless, np.float32(np.nan), values)
            text = f"{int(endless.sum())} cells without a finite number"
            found.notes.append(Note("ignored", text, column))
        if not np.isfinite(values).any():
            found.notes.append(Note("ignored", "empty", column))
            found.reads.append(ColumnRead(column, "ignored", why="empty"))
            return None
    return values


def _sample(head: Heading, values: Samples) -> Sample:
    quantity, unit = UNITS.get(head.unit, ("", ""))
    return Sample(head.bare, quantity, unit, values[:: max(1, len(values) // LOOKED_AT)], match(head) or "")


def _refuse_twice(said: Mapping[str, str]) -> None:
    given = [channel for channel in said.values() if channel]
    twice = next((channel for channel in given if given.count(channel) > 1), "")
    if twice:
        label = CHANNELS[twice].label if twice in CHANNELS else twice
        raise LogError(f"Two columns are said to be “{label}”. Leave one under its own name.", "columns")
    unknown = next((channel for channel in given if channel not in CHANNELS), "")
    if unknown:
        raise LogError(f"There is no channel “{unknown}”. Choose one of the list.", "columns")


def _of_cylinders(heads: Mapping[str, Heading], named: Mapping[str, Named]) -> dict[str, list[str]]:
    """Channels that come in several columns, with these: a cylinder, a bank or a sensor each."""
    parts: dict[str, list[str]] = {}
    for column, name in named.items():
        channel, value = name.best[0] if name.best else ("", 0.0)
        # Misfires are added up: a total beside its parts would count them twice.
        part = channel == "knock" or bool(spoken(heads[column].bare).cylinder)
        if channel in OF_CYLINDERS and value >= TAKEN and part:
            parts.setdefault(channel, []).append(column)
    return {channel: columns for channel, columns in parts.items() if len(columns) > 1}


#: Between the names of columns that are one channel together.
TOGETHER = " + "


def _together(found: Found, channel: str, names: Sequence[str], columns: list[Samples], raw: str) -> None:
    """The most knock of any cylinder, the misfires of all: one cylinder alone would hide the others."""
    stacked = np.stack(columns)
    if channel == "misfire":
        whole, how = np.nansum(stacked, axis=0), "sum"
    else:
        whole, how = np.fmax.reduce(np.abs(stacked), axis=0), "highest"
    found.channels[channel] = whole.astype(np.float32)
    found.columns[channel] = TOGETHER.join(names)
    text = f"{CHANNELS[channel].label}: {how} of {len(columns)} columns"
    found.notes.append(Note("derived", text, raw))


def cylinder_of(log: Log, channel: str) -> int:
    """The cylinder whose column a channel is; 0 where it is of the whole engine, or nothing says."""
    column = log.columns.get(channel, "")
    return 0 if TOGETHER in column else spoken(heading(column).bare).cylinder


def _why_not(name: Named, known: str) -> str:
    if name.status == "asked":
        likely = " or ".join(f"“{CHANNELS[channel].label}”" for channel, _ in name.best[:2])
        return f"say what it is: perhaps {likely}"
    channel = known or (name.best[0][0] if name.best and name.best[0][1] >= TAKEN else "")
    if channel:
        return f"a second “{CHANNELS[channel].label}”"
    return "kept under its own name: nothing here judges it"


def _take(
    found: Found, head: Heading, column: str, values: Samples, name: Named, told: LogSource
) -> dict[str, Heading]:
    """A column as its channel, in its unit; pressures are handed back, for they may be gauge."""
    channel, hint = CHANNELS[name.channel], told.of(column)
    unit = UNITS.get(clean_unit(hint.unit), ("", ""))[1] if hint and hint.unit else ""
    if hint and hint.unit and not unit:
        raise LogError(f"“{hint.unit}” is no unit that is known. Write it as kPa, psi, °C, % …", "unit")
    kind, said, sure = name.status, "", True
    unit = unit or UNITS.get(head.unit, ("", ""))[1]
    if not unit:
        unit, sure = _guess_unit(values, name.channel, head)
        said = "" if sure else ": no unit is given"
    if not sure and kind == "understood" and hint is None:
        kind = "guessed"
    text = f"{channel.label}, {unit or 'count'}{said}"
    factor, offset = (1.0, 0.0) if not channel.quantity else _line(channel.quantity, unit, channel.unit)
    if unit == "AFR":
        scale = told.afr_scale or 14.7
        factor *= 14.7 / scale
        text += f" on the scale of {scale:g}" if told.afr_scale else " on the petrol scale of 14.7"
    if hint is not None:
        factor, offset = factor * hint.factor, factor * hint.offset + offset
        text += ", as you said"
        if (hint.factor, hint.offset) != (1.0, 0.0):
            text += f" (× {hint.factor:g} + {hint.offset:g})"
    changed = (factor, offset) != (1.0, 0.0)
    own = (values * np.float32(factor) + np.float32(offset)).astype(np.float32) if changed else values
    found.channels[name.channel], found.columns[name.channel] = own, column
    arrow = f" → {channel.unit}" if changed and channel.unit != unit else ""
    found.notes.append(Note(kind, f"{text}{arrow}", head.raw))
    found.reads.append(_read(head, column, values, name, kind, unit))
    return {name.channel: head} if name.channel in ("map", "map_target") else {}


def _line(quantity: str, unit: str, to: str) -> tuple[float, float]:
    try:
        return line_of(quantity, unit, to)
    except Exception as error:
        raise LogError(f"{unit} is no unit of {quantity}. Choose another unit or channel.", "unit") from error


def _read(
    head: Heading,
    column: str,
    values: Samples,
    name: Named,
    kind: str = "",
    unit: str = "",
    why: str = "",
) -> ColumnRead:
    finite = values[np.isfinite(values)] if not np.isfinite(values[:8].sum()) else values[:8]
    step = max(1, len(values) // SKETCH)
    sketch = tuple(None if not np.isfinite(v) else round(float(v), 4) for v in values[::step][:SKETCH])
    return ColumnRead(
        column,
        kind or name.status,
        channel=name.channel,
        unit=unit or UNITS.get(head.unit, ("", head.unit))[1],
        best=name.best,
        why=why,
        first=tuple(round(float(v), 4) for v in finite[:4]),
        sketch=sketch,
    )


def _bare(top: float) -> str:
    return next(unit for limit, unit in _BARE_PRESSURE if top <= limit)


def _guess_unit(values: Samples, name: str, head: Heading) -> tuple[str, bool]:
    """(unit, whether the name alone says so)."""
    channel = CHANNELS[name]
    finite = values[np.isfinite(values)]
    middle, top = float(np.median(finite)), float(np.percentile(np.abs(finite), 99))
    quantity = channel.quantity
    if quantity == "mixture":
        says_afr = "afr" in head.words or "air fuel" in head.words
        says_lambda = "lambda" in head.words or "equivalence" in head.words
        # A diesel's lambda stands at 3 to 6 for most of a drive; no air/fuel ratio lies below 8.
        leanest = 8.0 if says_lambda else 5.0
        return ("AFR" if says_afr or middle > leanest else "lambda"), says_afr or says_lambda
    if quantity == "temperature" and name == "coolant":
        return ("°F", False) if middle > 135.0 else ("°C", False)
    if name == "baro":
        return next((unit for low, high, unit in _BAROMETERS if low <= middle <= high), "kPa"), False
    if name in ("map", "map_target"):
        # An absolute sensor of an engine that idles reads 4 to 8 psi, or 25 to 60 kPa.
        if top > 650:
            return "mbar", False
        return ("kPa", False) if top > 6 and float(np.percentile(finite, 5)) >= 15 else (_bare(top), False)
    if quantity == "pressure" and name != "rail":
        return _bare(top), False
    if quantity == "fraction" and name in ("pedal", "throttle", "ethanol", "duty"):
        return ("fraction", False) if 0 < top <= 1.01 else ("%", True)
    if quantity == "voltage" and name == "battery" and middle > 1000:
        return "mV", False
    if name == "speed" and "mph" in head.words:
        return "mph", True
    if name == "pulse" and middle > 200:
        return "µs", False
    return channel.unit, quantity in ("engine_speed", "fraction", "spark", "")
