"""What a link can log: every polled channel costs time on the bus."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..basics import BadInput, Call, Evidence, Verdict, require_positive

#: Rates that reading a pull asks for, by channel; others are slow.
FAST_HZ = 10.0
TRIM_HZ = 2.0
SLOW_HZ = 1.0
FAST = (
    "rpm",
    "map",
    "map_target",
    "lambda",
    "lambda_target",
    "spark",
    "knock",
    "pulse",
    "pedal",
    "throttle",
    "duty",
    "speed",
)
TRIMS = ("stft_1", "ltft_1", "stft_2", "ltft_2", "rail", "battery", "wastegate", "rear_o2_1")
BYTES_PER_VALUE = 6.5  # a CSV cell with its comma

#: Shortest capture that is kept [s]: in the vehicle's seconds, for a busy bus gives fewer rows.
SHORTEST_LOG_S = 2.0


@dataclass(frozen=True)
class ChannelWish:
    """A channel to log and the rate wanted [1/s]; the usual rate for its kind where none is given."""

    name: str
    hz: float | None = None

    @property
    def wanted_hz(self) -> float:
        if self.hz is not None:
            return self.hz
        return FAST_HZ if self.name in FAST else TRIM_HZ if self.name in TRIMS else SLOW_HZ


@dataclass(frozen=True)
class ChannelPlan:
    """How channels are polled.

    Parameters
    ----------
    groups : tuple of tuple of str
        Channels that share a request; the fast ones are asked every round, slow ones take turns.
    fast_groups : int
        How many of the groups, from the first, are asked every round.
    hz : dict of str to float
        Predicted rate of each channel.
    bytes_per_minute : float
        Predicted size of the file.
    calls : tuple of Call
        Holds where a rate falls short, with what to drop.
    """

    groups: tuple[tuple[str, ...], ...]
    fast_groups: int
    hz: dict[str, float]
    bytes_per_minute: float
    calls: tuple[Call, ...]


def plan_channels(
    wishes: Sequence[ChannelWish | str],
    *,
    request_ms: float,
    per_request: int = 1,
    extra_ms: float = 0.0,
    round_at_least_ms: float = 0.0,
) -> ChannelPlan:
    """Group channels into requests and predict each rate.

    Parameters
    ----------
    wishes : sequence of ChannelWish or str
    request_ms : float
        Time of a request with one channel and its answer [ms].
    per_request : int
        Channels that one request can carry.
    extra_ms : float
        Time each further channel in a request adds [ms].
    round_at_least_ms : float
        What a logger that paces itself takes for a round, however quick its link is [ms].
    """
    require_positive(request_ms=request_ms, per_request=per_request)
    asked = [wish if isinstance(wish, ChannelWish) else ChannelWish(wish) for wish in wishes]
    if not asked:
        raise BadInput("Choose at least one channel.", "channels")
    fast = [wish for wish in asked if wish.wanted_hz >= FAST_HZ]
    slow = sorted((wish for wish in asked if wish.wanted_hz < FAST_HZ), key=lambda wish: -wish.wanted_hz)
    fast_groups, slow_groups = _pack(fast, per_request), _pack(slow, per_request)

    def cost(group: tuple[str, ...]) -> float:
        return request_ms + extra_ms * (len(group) - 1)

    # A round asks every fast group and one slow group in turn.
    turn = max((cost(group) for group in slow_groups), default=0.0)
    round_ms = max(sum(cost(group) for group in fast_groups) + turn, round_at_least_ms)
    fast_hz = 1000.0 / round_ms
    hz = {name: fast_hz for group in fast_groups for name in group}
    hz |= {name: fast_hz / len(slow_groups) for group in slow_groups for name in group}
    calls = []
    for wish in asked:
        if hz[wish.name] < 0.98 * wish.wanted_hz:
            drop = next(
                (n for n in reversed([w.name for w in (fast if wish in fast else slow)]) if n != wish.name),
                "another",
            )
            calls.append(
                Call(
                    "log.budget",
                    verdict=Verdict.hold,
                    because=(
                        Evidence(f"rate of {wish.name}", round(hz[wish.name], 1), wish.wanted_hz, unit="1/s"),
                    ),
                    do_next=f"Drop {drop}, or log it in a run of its own.",
                    source="Rate = 1/(requests × time of a request)",
                    title=f"{wish.name} would be logged too slowly",
                )
            )
    size = 60.0 * fast_hz * BYTES_PER_VALUE * (len(asked) + 1)
    return ChannelPlan(
        tuple(fast_groups + slow_groups), len(fast_groups), hz=hz, bytes_per_minute=size, calls=tuple(calls)
    )


def _pack(wishes: Sequence[ChannelWish], per_request: int) -> list[tuple[str, ...]]:
    """Names in groups that one request carries."""
    names = [wish.name for wish in wishes]
    return [tuple(names[first : first + per_request]) for first in range(0, len(names), per_request)]
