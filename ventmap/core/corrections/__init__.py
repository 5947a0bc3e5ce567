"""Corrections: from a log to the next map, each only where there is evidence. Uses findings, maps and
below.
"""

from .apply import apply
from .came_back import CameBack, take_apart
from .estimate import FLOW_SD, FuelEstimate, estimate
from .forced import rounds_forced, rounds_in_words
from .foretold import foretold, prediction_call
from .letter import letter
from .live_cells import CellsSoFar, cells_so_far
from .one_table import FUEL, TRIMS, TableProposal, propose_table, rows_under_load, samples_beside
from .proposal import CorrectionRules, Proposal
from .propose import propose
from .remote_file import Came, Wanted, file_calls, fuel_change, keeps_injectors, unreadable_call
from .round_package import (
    Package,
    PackedFile,
    PackedFinding,
    Reply,
    Vehicle,
    package_schema,
    read_reply,
    reply_schema,
)
from .rounds import worse_call
from .steady import SteadySamples
from .sweeps import Sweep, driven_so, sweeps

__all__ = [
    "FLOW_SD",
    "FUEL",
    "TRIMS",
    "Came",
    "CameBack",
    "CellsSoFar",
    "CorrectionRules",
    "FuelEstimate",
    "Package",
    "PackedFile",
    "PackedFinding",
    "Proposal",
    "Reply",
    "SteadySamples",
    "Sweep",
    "TableProposal",
    "Vehicle",
    "Wanted",
    "apply",
    "cells_so_far",
    "driven_so",
    "estimate",
    "file_calls",
    "foretold",
    "fuel_change",
    "keeps_injectors",
    "letter",
    "package_schema",
    "prediction_call",
    "propose",
    "propose_table",
    "read_reply",
    "reply_schema",
    "rounds_forced",
    "rounds_in_words",
    "rows_under_load",
    "samples_beside",
    "sweeps",
    "take_apart",
    "unreadable_call",
    "worse_call",
]
