"""Rates too slow for what is asked."""

from __future__ import annotations

from ..basics import Evidence, Verdict
from ..logs import CHANNELS
from .model import Detector, Finding, View


def slow_sampling(view: View) -> list[Finding]:
    """Channels of a pull logged more slowly than its findings need."""
    if not view.pulls:
        return []
    limit = view.rules["sampling.pull_hz"]
    slow = {n: view.log.rate_of(n) for n in ("rpm", "map", "lambda", "knock", "spark") if view.has(n) and view.log.rate_of(n) < limit}
    if not slow:
        return []
    return [
        Finding(
            "slow_sampling", Verdict.hold, "Logged too slowly for a pull", view.pulls[0].from_s, view.pulls[-1].to_s,
            tuple(Evidence(f"rate of {CHANNELS[n].label.lower()}", round(hz, 1), limit, "1/s") for n, hz in slow.items()),
            ("too many channels for the link",), "Halve the channels: the rate doubles", "Log fewer channels in the pull.",
        )
    ]  # fmt: skip


SAMPLING = Detector("slow_sampling", (("rpm",),), slow_sampling)
