"""Findings: what a log shows, one rule of the trade a detector. Uses logs, drum, fuel and below."""

from .calls import could_show, log_calls, of_another_state
from .cold_start import ColdStart, cold_start_calls, read_cold_start
from .detectors import DETECTORS, review
from .model import CONCERNS, Finding, NotCheckable, Review, ReviewContext
from .said_scales import channels_of, rests_on, said_scales, with_scales
from .view import View

__all__ = [
    "CONCERNS",
    "DETECTORS",
    "ColdStart",
    "Finding",
    "NotCheckable",
    "Review",
    "ReviewContext",
    "View",
    "channels_of",
    "cold_start_calls",
    "could_show",
    "log_calls",
    "of_another_state",
    "read_cold_start",
    "rests_on",
    "review",
    "said_scales",
    "with_scales",
]
