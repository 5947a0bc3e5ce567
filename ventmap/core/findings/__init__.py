"""Findings: what a log shows, one rule of the trade a detector. Uses logs, drum, fuel and below."""

from .calls import log_calls
from .detectors import DETECTORS, review
from .model import CONCERNS, Finding, NotCheckable, Review, ReviewContext, View

__all__ = [
    "CONCERNS",
    "DETECTORS",
    "Finding",
    "NotCheckable",
    "Review",
    "ReviewContext",
    "View",
    "log_calls",
    "review",
]
