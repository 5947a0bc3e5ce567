"""The board before a write by a device's own tool: what no link of ours reads is asked."""

from __future__ import annotations

from ..basics import HouseRules
from ..loading import asked_calls
from ..runsheet import BoardAsked
from .data import BoardData
from .model import GridResult, missing


def board(about: BoardAsked, data: BoardData) -> GridResult:
    """``answers``: one for each row that is asked; ``read``: what a link read; it stands over an answer."""
    read = {key: row for key, row in data.read.items() if key in about.keys}
    given = {key: value for key, value in data.answers.items() if key in about.keys and value}
    given |= {key: row.answer for key, row in read.items()}
    told = {key: row.told for key, row in read.items()}
    calls = asked_calls(given, HouseRules(), told, about.vehicle)
    if len(given) < len(about.keys):
        advice = "Answer every row: nothing is assumed before a write."
        calls.append(missing("load.board", "The board", len(given), len(about.keys), advice))
    return GridResult(tuple(calls), complete=len(given) == len(about.keys))
