"""Findings: what a log shows, one rule of the trade a detector. Uses logs, drum, fuel and below."""

from .calls import could_show, log_calls, of_another_state
from .cold_start import ColdStart, cold_start_calls, read_cold_start
from .detectors import DETECTORS, review
from .model import CONCERNS, Finding, NotCheckable, Review, ReviewContext
from .next_drive import DRIVE_CAUTION, Drive, drives, log_also
from .said_scales import channels_of, rests_on, said_scales, with_scales
from .trend import TREND, TREND_CHANNELS, trend_of
from .view import View

__all__ = [
    "CONCERNS",
    "DETECTORS",
    "DRIVE_CAUTION",
    "TREND",
    "TREND_CHANNELS",
    "ColdStart",
    "Drive",
    "Finding",
    "NotCheckable",
    "Review",
    "ReviewContext",
    "View",
    "channels_of",
    "cold_start_calls",
    "could_show",
    "drives",
    "log_also",
    "log_calls",
    "of_another_state",
    "read_cold_start",
    "rests_on",
    "review",
    "said_scales",
    "trend_of",
    "with_scales",
]
