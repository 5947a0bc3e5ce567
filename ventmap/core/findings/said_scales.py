"""Scales that a person put on a column: whatever rests on one says so, and the lead answers for it.

A factor of a tenth on a knock column makes a sound engine of one that breaks. No file says whether it is
right.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

from ..basics import Call, Evidence, LogSource, Verdict
from ..fuel import PETROL
from ..logs import CHANNELS
from .detectors import DETECTORS


def said_scales(source: LogSource) -> dict[str, str]:
    """Channel → the scale that a person put on it, in words; units alone are none.

    Examples
    --------
    >>> from ventmap.core.basics import ColumnHint
    >>> said_scales(LogSource(columns=(ColumnHint(column="KR", channel="knock", factor=0.1),)))
    {'knock': '× 0.1'}
    """
    found = {}
    for hint in source.columns:
        if hint.channel and (hint.factor, hint.offset) != (1.0, 0.0):
            found[hint.channel] = f"× {hint.factor:g}" + (f" {hint.offset:+g}" if hint.offset else "")
    if source.afr_scale not in (None, PETROL.stoichiometric):
        found.setdefault("lambda", f"air/fuel ÷ {source.afr_scale:g}")
    return found


def with_scales(calls: Sequence[Call], scales: Mapping[str, str], answers: str, name: str) -> list[Call]:
    """Calls of a log with the scales that they rest on.

    Parameters
    ----------
    scales : mapping
        As `said_scales` finds them.
    answers : str
        The lead who answers for them; empty where nobody does: then nothing of the log is *go*.
    name : str
        What the log is called.
    """
    if not scales:
        return list(calls)
    every = tuple(_told(channel, text) for channel, text in scales.items())
    found = [replace(call, because=(*call.because, *_under(call, scales, every))) for call in calls]
    if answers:
        return found
    return [call for call in found if call.verdict is not Verdict.go] + [
        Call(
            "log.scales",
            verdict=Verdict.hold,
            because=every,
            do_next="Show the lead how the scale was found, against a second instrument or a known point.",
            source="A scale decides what a log can show",
            title=f"{name}: scales were changed by hand",
        )
    ]


def _told(channel: str, text: str) -> Evidence:
    label = CHANNELS[channel].label if channel in CHANNELS else channel
    return Evidence(f"{label}, scale said by hand", text)


def _under(call: Call, scales: Mapping[str, str], every: tuple[Evidence, ...]) -> tuple[Evidence, ...]:
    """What a call rests on: channels of its detector; of *nothing found* every one."""
    channels = channels_of(call.rule.removeprefix("log."))
    if not channels:
        return every
    return tuple(_told(channel, text) for channel, text in scales.items() if channel in channels)


def channels_of(kind: str) -> tuple[str, ...]:
    """Channels that a kind of finding is told by, those that it cannot do without first."""
    detector = next((one for one in DETECTORS if one.kind == kind), None)
    if detector is None:
        return ()
    return tuple(dict.fromkeys(name for choice in (*detector.needs, *detector.sees) for name in choice))


def rests_on(kind: str, scales: Mapping[str, str]) -> bool:
    """Whether a finding of this kind is told by a column whose scale was said by hand."""
    return not set(channels_of(kind)).isdisjoint(scales)
