"""Corrections: from a log to the next map, each only where there is evidence. Uses findings, maps and
below.
"""

from .apply import apply
from .proposal import CorrectionRules, Proposal
from .propose import LOAD_SHARE, propose
from .rounds import worse_call

__all__ = ["LOAD_SHARE", "CorrectionRules", "Proposal", "apply", "propose", "worse_call"]
