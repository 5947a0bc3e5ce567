"""What must be heard while a log is captured: the findings that cannot wait, and limits of one's own.

The rules are the review's own, on what was just driven: an alarm and the finding in the log never disagree.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..basics import BadInput, Evidence, Verdict
from ..logs import CHANNELS, Log, runs
from .detectors import DETECTORS
from .model import ReviewContext
from .said_scales import channels_of
from .seen import not_seen
from .view import View

#: Kinds that cannot wait for the end of the drive.
ALARMED = (
    "knock",
    "lean_under_load",
    "smoke",
    "overboost",
    "oil_pressure_low",
    "exhaust_hot",
    "intake_hot",
    "coolant_high",
    "fuel_pressure_drop",
    "injector_limit",
    "voltage_high",
    "voltage_low",
    "overspeed",
)
#: So far back a look goes: two pulls with the road between them [s]. What ended before so long is over [s].
LOOKS_BACK_S, RECENT_S = 60.0, 2.0
#: A limit of one's own is passed when it is for so long: one row is a spike [s].
OWN_FOR_S = 0.1


@dataclass(frozen=True)
class Limit:
    """A limit that somebody sets on a channel for one drive.

    Parameters
    ----------
    channel : str
        Canonical name.
    above : bool
        Whether it sounds above `value`, else below it.
    value : float
        In the channel's canonical unit.
    lifts : bool
        Whether the drive ends there, as at a stop.
    """

    channel: str
    above: bool
    value: float
    lifts: bool = False

    def __post_init__(self) -> None:
        if self.channel not in CHANNELS:
            raise BadInput(f"“{self.channel}” is no channel: choose one of the list.", "limits")
        if not np.isfinite(self.value):
            raise BadInput("A limit is a figure.", "limits")


@dataclass(frozen=True)
class Alarm:
    """Something that sounds now."""

    kind: str
    verdict: Verdict
    title: str
    because: tuple[Evidence, ...]
    at_s: float
    channels: tuple[str, ...] = ()
    do: str = ""

    @property
    def told(self) -> str:
        """It in a line: title, and its first figure against its limit."""
        if not self.because:
            return self.title
        first = self.because[0]
        limit = "" if first.limit is None else f", limit {first.limit}"
        return f"{self.title} ({first.label} {first.value}{limit} {first.unit})".replace(" )", ")")

    @property
    def lifts(self) -> bool:
        """Off the load now: what goes on can break it."""
        return self.verdict is Verdict.stop


def alarms(log: Log, context: ReviewContext, limits: Sequence[Limit] = ()) -> tuple[Alarm, ...]:
    """What sounds at the end of what was logged so far, heaviest first.

    Parameters
    ----------
    log : Log
        As captured so far.
    limits : sequence of Limit
        Of whoever drives.
    """
    if len(log) < 2:
        return ()
    now = float(log.time_s[-1])
    recent = log.slice(int(np.searchsorted(log.time_s, now - LOOKS_BACK_S)), len(log))
    found = [*_of_rules(recent, context, now), *_of_limits(recent, limits, now)]
    return tuple(sorted(found, key=lambda alarm: (-alarm.verdict.weight, alarm.at_s)))


def _of_rules(log: Log, context: ReviewContext, now: float) -> list[Alarm]:
    view = View(log, context)
    found = []
    for detector in DETECTORS:
        if detector.kind not in ALARMED or not detector.applies(context):
            continue
        if not all(any(view.has(name) for name in choice) for choice in detector.needs):
            continue
        if detector.lacks(view):
            continue
        found += [
            Alarm(
                one.kind, one.verdict, one.title, one.evidence, one.from_s, told_by(log, one.kind), one.next
            )
            for one in detector.look(view)
            if one.to_s >= now - RECENT_S
        ]
    return found


def cannot_hear(log: Log, context: ReviewContext) -> tuple[str, ...]:
    """Kinds of alarm that what was just driven could not sound for, each with why: a channel that is missing,
    blank, held over or stands still. Silence tells nothing of them.
    """
    if len(log) < 2:
        return ()
    view = View(log, context)
    deaf: dict[str, str] = {}
    heard = set()
    for detector in DETECTORS:
        if detector.kind not in ALARMED or not detector.applies(context):
            continue
        lacking = [choice for choice in detector.needs if not any(view.has(name) for name in choice)]
        why = f"no {CHANNELS[lacking[0][0]].label.lower()}" if lacking else detector.lacks(view)
        # Where nothing of its kind was driven yet there was nothing to hear.
        if not why and (not detector.where or view.of(detector.where)):
            why = not_seen(view, detector)
        if why:
            deaf[detector.kind] = why
        else:
            heard.add(detector.kind)
    return tuple(f"{kind.replace('_', ' ')}: {why}" for kind, why in deaf.items() if kind not in heard)


def told_by(log: Log, kind: str) -> tuple[str, ...]:
    """Channels of the log that tell of a kind, the lead one first."""
    return tuple(name for name in channels_of(kind) if log.has(name))


def _of_limits(log: Log, limits: Sequence[Limit], now: float) -> list[Alarm]:
    found = []
    for limit in limits:
        if not log.has(limit.channel):
            continue
        values = log.filled(limit.channel)
        over = values > limit.value if limit.above else values < limit.value
        # Where rows come slower than that, one of them is long enough.
        shortest = OWN_FOR_S if log.rate_hz * OWN_FOR_S > 1.0 else 0.0
        passed = runs(over, log.time_s, shortest, OWN_FOR_S)
        if not passed or log.time_s[passed[-1][1] - 1] < now - RECENT_S:
            continue
        last = passed[-1]
        within = values[last[0] : last[1]]
        channel = CHANNELS[limit.channel]
        reached = round(float(within.max() if limit.above else within.min()), 3)
        found.append(
            Alarm(
                f"limit.{limit.channel}.{'above' if limit.above else 'below'}",
                verdict=Verdict.stop if limit.lifts else Verdict.hold,
                title=f"{channel.label}: {'above' if limit.above else 'below'} your limit",
                because=(Evidence(channel.label, reached, limit.value, unit=channel.unit),),
                at_s=float(log.time_s[last[0]]),
                channels=(limit.channel,),
            )
        )
    return found
