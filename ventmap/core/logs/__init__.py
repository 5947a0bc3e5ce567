"""Logs: reading them, their windows, and what a link can log. Uses basics."""

from .budget import ChannelPlan, ChannelWish, plan_channels
from .channels import CHANNELS, Channel
from .convert_units import UNITS_BY_QUANTITY
from .files import as_workbook, write_mdf
from .headings import heading, match
from .model import ColumnRead, Log, Note, Samples
from .reader import read_log
from .sources import source_of
from .windows import Window, closed_throttle, find_windows, runs, smooth

__all__ = [
    "CHANNELS",
    "UNITS_BY_QUANTITY",
    "Channel",
    "ChannelPlan",
    "ChannelWish",
    "ColumnRead",
    "Log",
    "Note",
    "Samples",
    "Window",
    "as_workbook",
    "closed_throttle",
    "find_windows",
    "heading",
    "match",
    "plan_channels",
    "read_log",
    "runs",
    "smooth",
    "source_of",
    "write_mdf",
]
