"""Logs: reading them, their windows, and what a link can log. Uses basics."""

from .budget import SHORTEST_LOG_S, ChannelPlan, ChannelWish, plan_channels
from .cells_driven import cloud, driven
from .channels import CHANNELS, Channel
from .convert import cylinder_of
from .convert_units import UNITS_BY_QUANTITY
from .even import HELD_STEPS, even
from .file_units import UNITS
from .files import as_workbook, write_mdf
from .formulas import FUNCTIONS, names_in, own_channel
from .headings import heading, match
from .model import ColumnRead, Log, Note, Samples
from .names import Named, Sample, legislated, name_columns
from .names import table as legislated_names
from .on_pulls import OnPulls
from .probe import BLIND, Probe
from .reader import read_log
from .sources import source_of
from .stretches import Along, Stretch, between, held, laid_over, parts_of
from .typed import in_its_unit
from .windows import Window, closed_throttle, find_windows, runs, smooth

__all__ = [
    "BLIND",
    "CHANNELS",
    "FUNCTIONS",
    "HELD_STEPS",
    "SHORTEST_LOG_S",
    "UNITS",
    "UNITS_BY_QUANTITY",
    "Along",
    "Channel",
    "ChannelPlan",
    "ChannelWish",
    "ColumnRead",
    "Log",
    "Named",
    "Note",
    "OnPulls",
    "Probe",
    "Sample",
    "Samples",
    "Stretch",
    "Window",
    "as_workbook",
    "between",
    "closed_throttle",
    "cloud",
    "cylinder_of",
    "driven",
    "even",
    "find_windows",
    "heading",
    "held",
    "in_its_unit",
    "laid_over",
    "legislated",
    "legislated_names",
    "match",
    "name_columns",
    "names_in",
    "own_channel",
    "parts_of",
    "plan_channels",
    "read_log",
    "runs",
    "smooth",
    "source_of",
    "write_mdf",
]
