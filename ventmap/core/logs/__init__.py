"""Logs: reading them, their windows, and what a link can log. Uses basics."""

from .budget import ChannelPlan, ChannelWish, plan_channels
from .channels import CHANNELS, Channel
from .headings import heading, match
from .model import ColumnRead, Log, Note, Samples
from .reader import read_log
from .windows import Window, closed_throttle, find_windows, runs, smooth

__all__ = [
    "CHANNELS",
    "Channel",
    "ChannelPlan",
    "ChannelWish",
    "ColumnRead",
    "Log",
    "Note",
    "Samples",
    "Window",
    "closed_throttle",
    "find_windows",
    "heading",
    "match",
    "plan_channels",
    "read_log",
    "runs",
    "smooth",
]
