"""Whether anybody is waiting: what can be done at any time is done while nobody is."""

from __future__ import annotations

import time

_last = 0.0


def touch() -> None:
    """A request came."""
    global _last
    _last = time.monotonic()


def wait(quiet_s: float, longest_s: float) -> None:
    """Sleep until no request came for `quiet_s`, or `longest_s` have passed."""
    end = time.monotonic() + longest_s
    while (now := time.monotonic()) < end and now - _last < quiet_s:
        time.sleep(0.2)
