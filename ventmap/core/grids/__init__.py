"""Grids: evidence that is more than one reading, judged from what was entered. Uses the run sheet and
below.
"""

from .checks import STATES
from .judge import GRIDS, judge_grid
from .model import GridResult, settle
from .wires import pin_rows

__all__ = ["GRIDS", "STATES", "GridResult", "judge_grid", "pin_rows", "settle"]
