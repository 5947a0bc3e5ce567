"""Rates too slow for what is asked."""

from __future__ import annotations

from ..basics import Evidence, Verdict
from ..logs import CHANNELS
from .model import Finding
from .view import Detector, View


def slow_sampling(view: View) -> list[Finding]:
    """Channels of a pull logged more slowly than its findings need."""
    if not view.pulls:
        return []
    limit = view.rules["sampling.pull_hz"]
    slow = {
        n: view.log.rate_of(n)
        for n in ("rpm", "map", "lambda", "knock", "spark")
        if view.has(n) and view.log.rate_of(n) < limit
    }
    if not slow:
        return []
    return [
        Finding(
            "slow_sampling",
            verdict=Verdict.hold,
            title="Logged too slowly for a pull",
            from_s=view.pulls[0].from_s,
            to_s=view.pulls[-1].to_s,
            evidence=tuple(
                Evidence(f"rate of {CHANNELS[n].label.lower()}", round(hz, 1), limit, unit="1/s")
                for n, hz in slow.items()
            ),
            causes=("too many channels for the link",),
            check="Halve the channels: the rate doubles",
            next="Log fewer channels in the pull.",
        )
    ]


SAMPLING = Detector("slow_sampling", (("rpm",),), slow_sampling)
