"""Gauge pressures made absolute: by what the unit says, else by what is read with the engine still."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from ..basics import LogSource, standard_pressure
from .headings import Heading
from .model import Note, Samples

#: A barometer anywhere that people drive [kPa].
_BAROMETER = (55.0, 108.0)


def is_gauge(channels: Mapping[str, Samples], name: str, head: Heading) -> bool:
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


def make_absolute(
    channels: dict[str, Samples],
    columns: Mapping[str, str],
    pressures: Mapping[str, Heading],
    altitude_m: float | None,
    told: LogSource,
) -> list[Note]:
    """Gauge pressures plus the logged barometer, or the key-on reading of an absolute sensor."""
    notes = []
    gauge = {}
    for name, head in pressures.items():
        hint = told.of(columns[name])
        said = hint.pressure if hint else ""
        if said == "gauge" or (not said and is_gauge(channels, name, head)):
            gauge[name] = columns[name]
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
                notes.append(Note("derived", f"barometer {level:.1f} kPa from the key-on manifold reading"))
    return notes
