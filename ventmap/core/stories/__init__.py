"""Stories: what findings of one log have in common, how likely each cause is, what parts them. Uses findings
and below.
"""

from .causes import CAUSES
from .checks import CHECKS, Check
from .model import CHAIN, Cause
from .tell import Candidate, Story, chosen_check, stories

__all__ = ["CAUSES", "CHAIN", "CHECKS", "Candidate", "Cause", "Check", "Story", "chosen_check", "stories"]
