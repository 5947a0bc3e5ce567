"""A log that starts by itself: only what is driven around full pedal is kept."""

from __future__ import annotations

from collections import deque
from dataclasses import dataclass, field

#: From so much pedal, or throttle where no pedal is read, a pull is on [%].
FULL = 85.0
#: Kept before it, for what the engine came from, and after it, for how it comes back [s].
BEFORE_S, AFTER_S = 3.0, 4.0

Row = tuple[float, dict[str, float]]


@dataclass
class OnPulls:
    """Rows go in as they are read, rows to keep come out, each once and in order."""

    _before: deque[Row] = field(default_factory=deque)
    _until_s: float = float("-inf")
    _foot: float = 0.0

    @property
    def waits(self) -> bool:
        """Nothing is kept just now."""
        return bool(self._before)

    def keep(self, row: Row) -> list[Row]:
        """What of this row, and of those before it, belongs to the log."""
        at, values = row
        self._foot = values.get("pedal", values.get("throttle", self._foot))
        if self._foot >= FULL:
            self._until_s = at + AFTER_S
        if at <= self._until_s:
            kept = [*self._before, row]
            self._before.clear()
            return kept
        self._before.append(row)
        while self._before[0][0] < at - BEFORE_S:
            self._before.popleft()
        return []
