"""Findings: what a log shows, one rule of the trade a detector. Uses logs, drum, fuel and below."""

from .alarms import ALARMED, LOOKS_BACK_S, Alarm, Limit, alarms, cannot_hear
from .calls import could_show, log_calls, of_another_state
from .cold_start import ColdStart, cold_start_calls, read_cold_start
from .detectors import DETECTORS, review
from .model import CONCERNS, Finding, NotCheckable, Review, ReviewContext
from .next_drive import DRIVE_CAUTION, Drive, drives, log_also
from .questions import FULL, LINKS, QUESTIONS, Link, Wanted, on_link, questions, unheard, wanted
from .said_scales import channels_of, rests_on, said_scales, with_scales
from .trend import TREND, TREND_CHANNELS, trend_of
from .view import View

__all__ = [
    "ALARMED",
    "CONCERNS",
    "DETECTORS",
    "DRIVE_CAUTION",
    "FULL",
    "LINKS",
    "LOOKS_BACK_S",
    "QUESTIONS",
    "TREND",
    "TREND_CHANNELS",
    "Alarm",
    "ColdStart",
    "Drive",
    "Finding",
    "Limit",
    "Link",
    "NotCheckable",
    "Review",
    "ReviewContext",
    "View",
    "Wanted",
    "alarms",
    "cannot_hear",
    "channels_of",
    "cold_start_calls",
    "could_show",
    "drives",
    "log_also",
    "log_calls",
    "of_another_state",
    "on_link",
    "questions",
    "read_cold_start",
    "rests_on",
    "review",
    "said_scales",
    "trend_of",
    "unheard",
    "wanted",
    "with_scales",
]
