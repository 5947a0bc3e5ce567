"""A clock of its own for the sample's working day, so that a wait of an hour is in the record as an hour."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import datetime, timedelta

from django.utils import timezone


class Clock:
    """Where the day stands; it goes on by what people take, never past the true time."""

    def __init__(self) -> None:
        self.true = timezone.now
        self.at = self.true()

    def back_to(self, hours_ago: float) -> None:
        """As long before the true time."""
        self.at = self.true() - timedelta(hours=hours_ago)

    def forward(self, seconds: float) -> None:
        self.at = min(self.at + timedelta(seconds=seconds), self.true())

    def to_morning(self) -> None:
        """On to eight the next morning, at whatever hour this began."""
        tomorrow = timezone.localtime(self.at) + timedelta(days=1)
        morning = tomorrow.replace(hour=8, minute=0, second=0, microsecond=0)
        self.forward((morning - self.at).total_seconds())

    def __call__(self) -> datetime:
        # A breath between two entries keeps them in their order.
        self.forward(0.05)
        return self.at


@contextmanager
def own_clock() -> Iterator[Clock]:
    """Everything that asks Django for the time is told this clock's, in all threads, until it ends.

    For a process that seeds and does nothing else: a server's other requests would be told it too.
    """
    clock = Clock()
    timezone.now = clock  # type: ignore[assignment]
    try:
        yield clock
    finally:
        timezone.now = clock.true
