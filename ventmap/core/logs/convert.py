"""From a file's columns to canonical channels and units."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
import polars as pl

from ..basics import show, standard_pressure
from .channels import CHANNELS
from .file_units import UNITS
from .headings import Heading, match
from .model import Note, Samples

#: What a pressure or mixture column means where its unit is not given: (largest typical value, unit).
_BARE_PRESSURE = ((6.0, "bar"), (65.0, "psi"), (1e9, "kPa"))


def canonical_channels(
    frame: pl.DataFrame,
    heads: Mapping[str, Heading],
    assign: Mapping[str, str],
    altitude_m: float | None = None,
) -> tuple[dict[str, Samples], dict[str, str], dict[str, Samples], list[Note]]:
    """Match columns to channels, convert units, and make gauge pressures absolute."""
    channels: dict[str, Samples] = {}
    columns: dict[str, str] = {}
    extras: dict[str, Samples] = {}
    notes: list[Note] = []
    gauge: dict[str, str] = {}
    boosts: dict[str, Heading] = {}
    for column, head in heads.items():
        if not frame[column].dtype.is_numeric():
            notes.append(Note("ignored", "text", column))
            continue
        values = frame[column].cast(pl.Float32).to_numpy()
        endless = np.isinf(values)
        if endless.any():
            values = np.where(endless, np.float32(np.nan), values)
            notes.append(Note("ignored", f"{int(endless.sum())} cells without a finite number", column))
        name = assign.get(column) or match(head)
        if name is None or name in channels:
            extras[column] = values
            why = (
                "kept under its own name: nothing here judges it"
                if name is None
                else f"a second “{CHANNELS[name].label}”"
            )
            notes.append(Note("ignored", why, column))
            continue
        if not np.isfinite(values).any():
            notes.append(Note("ignored", "empty", column))
            continue
        channels[name], note = _to_canonical(values, name, head)
        columns[name] = column
        notes.append(note)
        if name in ("map", "map_target"):
            boosts[name] = head
    for name, head in boosts.items():
        if _is_gauge(channels, name, head):
            gauge[name] = columns[name]
    notes += _make_absolute(channels, gauge, altitude_m)
    return channels, columns, extras, notes


def _to_canonical(values: Samples, name: str, head: Heading) -> tuple[Samples, Note]:
    channel = CHANNELS[name]
    unit = UNITS.get(head.unit, ("", ""))[1]
    kind, said = ("understood", f"{channel.label}, {unit}") if unit else ("", "")
    if not unit:
        unit, sure = _guess_unit(values, name, channel.quantity, channel.unit, head)
        kind = "understood" if sure else "guessed"
        said = f"{channel.label}, {unit or 'count'}" + ("" if sure else ": no unit is given")
    if not channel.quantity or unit in ("", channel.unit):
        return values, Note(kind, said, head.raw)
    offset = show_file(0.0, channel.quantity, unit, channel.unit)
    factor = show_file(1.0, channel.quantity, unit, channel.unit) - offset
    converted = (values * np.float32(factor) + np.float32(offset)).astype(np.float32)
    if unit == "AFR":
        said += " on the petrol scale of 14.7"
    return converted, Note(kind, f"{said} → {channel.unit}", head.raw)


def show_file(value: float, quantity: str, unit: str, file_unit: str) -> float:
    """A value in `unit` as the unit that logs are kept in (fractions are kept in %)."""
    from ..basics import parse

    canonical = parse(f"{value!r}", quantity, unit)
    return show(canonical, quantity, file_unit)


def _guess_unit(values: Samples, name: str, quantity: str, canonical: str, head: Heading) -> tuple[str, bool]:
    """(unit, whether the name alone says so)."""
    finite = values[np.isfinite(values)]
    middle, top = float(np.median(finite)), float(np.percentile(np.abs(finite), 99))
    if quantity == "mixture":
        says_afr = "afr" in head.words or "air fuel" in head.words
        return ("AFR" if says_afr or middle > 5.0 else "lambda"), says_afr or "lambda" in head.words
    if quantity == "temperature" and name == "coolant":
        return ("°F", False) if middle > 135.0 else ("°C", False)
    if quantity == "pressure" and name not in ("rail",):
        return next(unit for limit, unit in _BARE_PRESSURE if top <= limit), False
    if quantity == "fraction" and name in ("pedal", "throttle", "ethanol", "duty"):
        return ("fraction", False) if 0 < top <= 1.01 else ("%", True)
    if quantity == "voltage" and name == "battery" and middle > 1000:
        return "mV", False
    if name == "speed" and "mph" in head.words:
        return "mph", True
    if name == "pulse" and middle > 200:
        return "µs", False
    return canonical, quantity in ("engine_speed", "fraction", "spark", "")


#: A barometer anywhere that people drive [kPa].
_BAROMETER = (55.0, 108.0)


def _is_gauge(channels: Mapping[str, Samples], name: str, head: Heading) -> bool:
    """Whether a pressure is above the barometer: by its unit, else by what it reads with the engine still."""
    values = channels[name]
    if head.gauge or float(np.nanmin(values)) < -5.0:
        return True
    if not head.boost:
        return False
    rpm = channels.get("rpm")
    still = values[(rpm < 50) & np.isfinite(values)] if rpm is not None else values[:0]
    if len(still) >= 3:
        return not _BAROMETER[0] < float(np.median(still)) < _BAROMETER[1]
    # No key-on in it: an absolute sensor never falls to nothing, one above the barometer does at idle.
    return float(np.nanpercentile(values, 2)) < 12.0


def _make_absolute(
    channels: dict[str, Samples], gauge: Mapping[str, str], altitude_m: float | None
) -> list[Note]:
    """Gauge pressures plus the logged barometer, or the key-on reading of an absolute sensor."""
    notes = []
    for name, column in gauge.items():
        if "baro" in channels:
            reference: float | Samples = float(np.nanmedian(channels["baro"]))
            how, kind = "the logged barometer", "understood"
        elif name == "map_target" and "map" in channels and "map" not in gauge:
            rpm = channels.get("rpm")
            still = channels["map"][rpm < 50] if rpm is not None else channels["map"][:1]
            reference = float(np.nanmedian(still)) if len(still) else standard_pressure(0.0)
            how, kind = "the key-on manifold reading", "understood"
        elif altitude_m is not None:
            reference = standard_pressure(altitude_m)
            how, kind = f"the barometer at {altitude_m:g} m", "understood"
        else:
            reference = standard_pressure(0.0)
            how, kind = "sea level: no barometer is logged, say the altitude", "guessed"
        channels[name] = (channels[name] + np.float32(reference)).astype(np.float32)
        notes.append(Note(kind, f"gauge pressure made absolute with {how} ({reference:.1f} kPa)", column))
    if "baro" not in channels and "map" in channels and "rpm" in channels and "map" not in gauge:
        still = channels["map"][channels["rpm"] < 50]
        if len(still) >= 3:
            level = float(np.nanmedian(still))
            if 60 < level < 108:
                channels["baro"] = np.full_like(channels["map"], level)
                notes.append(Note("guessed", f"barometer {level:.1f} kPa from the key-on manifold reading"))
    return notes
