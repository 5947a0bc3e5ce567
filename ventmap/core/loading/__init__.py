"""Loading: the calls before a write, what is set at a device screen by screen, the ways back after a cut
write, and the first minutes of a running engine. Uses forms and below.
"""

from .board_words import ASKED, asked_title, asked_words
from .call_board import (
    LoadBoard,
    Named,
    asked_calls,
    battery_call,
    charge,
    identity_match,
    interrupted_call,
    load_calls,
)
from .entering import POWER, Entering, Screen, Shown, enter, same_reading, screens_of, told_of
from .first_start import global_trim_call, next_global_trim, running_calls
from .held_files import ROLES, TO_WRITE, FileRole, HeldFile, picked_call, read_back_call
from .recovery import Cut, Way, ways_on

__all__ = [
    "ASKED",
    "POWER",
    "ROLES",
    "TO_WRITE",
    "Cut",
    "Entering",
    "FileRole",
    "HeldFile",
    "LoadBoard",
    "Named",
    "Screen",
    "Shown",
    "Way",
    "asked_calls",
    "asked_title",
    "asked_words",
    "battery_call",
    "charge",
    "enter",
    "global_trim_call",
    "identity_match",
    "interrupted_call",
    "load_calls",
    "next_global_trim",
    "picked_call",
    "read_back_call",
    "running_calls",
    "same_reading",
    "screens_of",
    "told_of",
    "ways_on",
]
