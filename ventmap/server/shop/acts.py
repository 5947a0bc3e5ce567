"""Operations of the API that are no plain acts: those that only ask, those that wait for something outside.

A plain act is held whole by its door (`server/acts.py`); these two say so beside the operation.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar

View = TypeVar("View", bound=Callable[..., Any])


def asks(view: View) -> View:
    """It computes an answer and changes nothing: no lock is taken."""
    view.act = "asks"  # type: ignore[attr-defined]
    return view


def waits(why: str) -> Callable[[View], View]:
    """It waits for a vehicle, a file or a thread: its service holds the job while it changes it."""

    def marked(view: View) -> View:
        view.act, view.why = "waits", why  # type: ignore[attr-defined]
        return view

    return marked
