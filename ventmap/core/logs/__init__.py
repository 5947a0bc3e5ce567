"""Datalogs: reading them, their windows, and what a link can log."""

from ..errors import LogError
from .budget import ChannelPlan, ChannelWish, plan_channels
from .channels import CHANNELS, Channel
from .model import Log, Note
from .reader import read_log
from .windows import Window, find_windows

__all__ = [
    "CHANNELS", "Channel", "ChannelPlan", "ChannelWish", "Log", "LogError", "Note", "Window", "find_windows",
    "plan_channels", "read_log",
]  # fmt: skip
