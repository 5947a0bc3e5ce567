"""The board before a write by a device's own tool: every row that no link of ours reads, asked."""

from __future__ import annotations

from ..basics import HouseRules
from ..maps import asked_calls
from ..runsheet import BoardAsked
from .data import BoardData
from .model import GridResult, missing


def board(about: BoardAsked, data: BoardData) -> GridResult:
    """``answers``: one for each row that is asked."""
    given = {key: value for key, value in data.answers.items() if key in about.keys and value}
    calls = asked_calls(given, HouseRules())
    if len(given) < len(about.keys):
        advice = "Answer every row: nothing is assumed before a write."
        calls.append(missing("load.board", "The board", len(given), len(about.keys), advice))
    return GridResult(tuple(calls), complete=len(given) == len(about.keys))
