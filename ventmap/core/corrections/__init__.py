"""Corrections: from a log to the next map, each only where there is evidence. Uses findings, maps and
below.
"""

from .apply import apply
from .one_table import FUEL, TRIMS, TableProposal, propose_table, samples_beside
from .proposal import CorrectionRules, Proposal
from .propose import LOAD_SHARE, propose
from .rounds import worse_call

__all__ = [
    "FUEL",
    "LOAD_SHARE",
    "TRIMS",
    "CorrectionRules",
    "Proposal",
    "TableProposal",
    "apply",
    "propose",
    "propose_table",
    "samples_beside",
    "worse_call",
]
