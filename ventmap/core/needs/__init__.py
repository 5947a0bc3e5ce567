"""Needs: what a record does not say yet, which step asks it, and what rests on a guess. Uses basics."""

from .asking import (
    QUESTIONS,
    Ask,
    Thing,
    asks_at,
    guesses_under,
    may_replace,
    new_vehicle_asks,
    open_asks,
    question_of,
    shown,
    told_at,
)
from .keeping import Learned, Worked, kept, learned, usual_minutes
from .of_vehicle import access_rows
from .question import Column, Question, read_answer

__all__ = [
    "QUESTIONS",
    "Ask",
    "Column",
    "Learned",
    "Question",
    "Thing",
    "Worked",
    "access_rows",
    "asks_at",
    "guesses_under",
    "kept",
    "learned",
    "may_replace",
    "new_vehicle_asks",
    "open_asks",
    "question_of",
    "read_answer",
    "shown",
    "told_at",
    "usual_minutes",
]
