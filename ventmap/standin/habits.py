"""What loggers do to a drive: one switch each, with a size, as the faults of a vehicle have them."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

import numpy as np

from ventmap.core.basics import BadInput, Floats
from ventmap.core.logs import Log

#: Range of one byte by channel: SAE J1979 gives most of its live values 255 steps.
BYTES = {
    "map": 255.0,
    "baro": 255.0,
    "pedal": 100.0,
    "throttle": 100.0,
    "coolant": 255.0,
    "iat": 255.0,
    "speed": 255.0,
    "stft_1": 200.0,
    "ltft_1": 200.0,
    "ethanol": 100.0,
    "duty": 100.0,
    "spark": 127.5,
}
#: Last digit that a logger shows, by channel; of others two.
DIGITS = {"battery": 1, "rpm": 0, "coolant": 0, "iat": 0, "speed": 0, "spark": 1, "map": 0, "baro": 0}
#: A drop-out comes once in so long; rows of a burst follow each other so closely [s].
DROP_EVERY_S, BURST_S = 60.0, 0.0005
#: Shares of the slowest channel's period at which others come.
PERIODS = (0.2, 0.35, 0.5, 0.75, 1.0)


@dataclass
class Rows:
    """A drive while it is being rewritten: times [s], channels, and chance."""

    time: Floats
    channels: dict[str, Floats]
    chance: np.random.Generator


def repeated(rows: Rows, size: float) -> None:
    """Each value is written `size` times before the next one comes."""
    kept = np.arange(len(rows.time)) // max(1, round(size)) * max(1, round(size))
    rows.channels = {name: values[kept] for name, values in rows.channels.items()}


def held(rows: Rows, size: float) -> None:
    """Each channel is asked at a pace of its own, the slowest each `size` seconds, and held in between."""
    for n, name in enumerate(rows.channels):
        period = size * PERIODS[n % len(PERIODS)]
        turn = np.floor((rows.time - rows.time[0]) / max(period, 1e-3) + 0.3 * n)
        first = np.searchsorted(turn, turn, side="left")
        rows.channels[name] = rows.channels[name][first]


def bursts(rows: Rows, size: float) -> None:
    """`size` rows come within half a millisecond each, then nothing until as many are due."""
    many = max(1, round(size))
    place = np.arange(len(rows.time))
    rows.time = rows.time[place // many * many] + (place % many) * BURST_S


def in_bytes(rows: Rows, size: float) -> None:
    """Values in 255 steps of their range, `size` of them at a time."""
    for name in rows.channels.keys() & BYTES.keys():
        step = BYTES[name] / 255.0 * size
        rows.channels[name] = np.round(rows.channels[name] / step) * step


def rounded(rows: Rows, size: float) -> None:
    """Values as a display shows them."""
    for name, values in rows.channels.items():
        rows.channels[name] = np.round(values, DIGITS.get(name, 2))


def jittered(rows: Rows, size: float) -> None:
    """Rows come early or late by up to this share of their interval."""
    apart = float(np.median(np.diff(rows.time)))
    rows.time = rows.time + np.clip(rows.chance.normal(0.0, size / 3.0, len(rows.time)), -0.45, 0.45) * apart


def dropped(rows: Rows, size: float) -> None:
    """Once a minute nothing is written for `size` seconds."""
    from_start = rows.time - rows.time[0]
    kept = (from_start + 0.5 * DROP_EVERY_S) % DROP_EVERY_S >= size
    rows.time = rows.time[kept]
    rows.channels = {name: values[kept] for name, values in rows.channels.items()}


def heating(rows: Rows, size: float) -> None:
    """The wideband shows 1.000 until it is hot, `size` seconds after the log begins."""
    if "lambda" in rows.channels:
        cold = rows.time - rows.time[0] < size
        rows.channels["lambda"] = np.where(cold, 1.0, rows.channels["lambda"])


#: Habits by name; `limiter` is the foot's: how long a pull stays at the limiter [s].
HABITS: dict[str, Callable[[Rows, float], None] | None] = {
    "repeat": repeated,
    "hold": held,
    "burst": bursts,
    "bytes": in_bytes,
    "round": rounded,
    "jitter": jittered,
    "dropout": dropped,
    "heating_probe": heating,
    "limiter": None,
}


def check_habits(habits: Mapping[str, float]) -> None:
    """Refuse what is no habit, or no size of one.

    Raises
    ------
    BadInput
        Naming it.
    """
    for name, size in habits.items():
        if name not in HABITS:
            raise BadInput(f"No habit is called “{name}”. There are: {', '.join(HABITS)}.", "habit")
        if not 0.0 <= size <= 60.0:
            raise BadInput(f"{size:g} is no size of the habit “{name}”: 0 to 60, as repeat=3.", "habit")


def written_by(log: Log, habits: Mapping[str, float], seed: int = 1) -> Log:
    """A drive as a logger with these habits would have written it."""
    rows = Rows(
        log.time_s.astype(float),
        # A channel that comes every other row is there in between as it was.
        {name: log.filled(name).astype(float) for name in log.channels},
        np.random.default_rng(seed),
    )
    # In the order of the table, whatever the order they are named in: a value is held before it is rounded.
    for name, habit in HABITS.items():
        if habit is not None and habits.get(name):
            habit(rows, habits[name])
    return Log.from_channels(rows.time, rows.channels, log.name)
