"""Logging live values at the rate the bus really gives."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np

from ventmap.core.logs import ChannelPlan, Log, plan_channels

from . import wire
from .tester import Tester

USUAL = (
    "rpm",
    "map",
    "lambda",
    "lambda_target",
    "pulse",
    "pedal",
    "spark",
    "knock",
    "stft_1",
    "ltft_1",
    "battery",
    "rail",
    "throttle",
    "speed",
    "duty",
    "iat",
    "coolant",
    "baro",
    "idle_target",
)


#: A round takes at least so long: more rows than that tell nothing more [s].
EVERY_S = 0.05
#: What is asked by another name than the log shows it.
CHANNEL = {"rail_high": "rail"}


def plan_for(channels: Sequence[str] = USUAL) -> ChannelPlan:
    """The channel budget on this link."""
    one = exchange_ms(1)
    return plan_channels(
        channels,
        request_ms=one,
        per_request=wire.MOST_PER_REQUEST,
        extra_ms=(exchange_ms(5) - one) / 4,
        round_at_least_ms=1000.0 * EVERY_S,
    )


def exchange_ms(count: int) -> float:
    return 1000 * wire.exchange_seconds(1 + 2 * count, 1 + 4 * count)


def capture(
    tester: Tester, plan: ChannelPlan, every_s: float = EVERY_S
) -> Iterator[tuple[float, dict[str, float]]]:
    """Rows of (time, values asked this round), until the caller stops.

    The fast groups are asked every round, the slow ones take turns; a round lasts at least `every_s`, longer
    where
    the bus is slower.
    """
    slow = plan.groups[plan.fast_groups :]
    began, turn = tester.line.now(), 0
    while True:
        start = tester.line.now()
        row: dict[str, float] = {}
        for group in plan.groups[: plan.fast_groups]:
            row |= tester.read_live(group)
        if slow:
            row |= tester.read_live(slow[turn % len(slow)])
            turn += 1
        yield start - began, row
        spare = every_s - (tester.line.now() - start)
        if spare > 0:
            _wait(tester, spare)


def _wait(tester: Tester, seconds: float) -> None:
    advance = getattr(tester.line, "advance", None)
    if advance is not None:
        advance(seconds)
    else:
        import time

        time.sleep(seconds)


def to_log(rows: Sequence[tuple[float, dict[str, float]]], name: str) -> Log:
    """Captured rows as a log; values not asked in a round are blank."""
    names = list(dict.fromkeys(key for _, row in rows for key in row))
    time_s = np.array([at for at, _ in rows])
    values = {
        CHANNEL.get(key, key): np.array([row.get(key, np.nan) for _, row in rows], np.float32)
        for key in names
    }
    return Log.from_channels(time_s, values, name)
