"""Findings: what a log shows, one rule of the trade a detector. Uses logs, drum, fuel and below."""

from .detectors import review
from .model import Review, ReviewContext, View

__all__ = ["Review", "ReviewContext", "View", "review"]
