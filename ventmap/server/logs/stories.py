"""The stories of a log, as the screens show them."""

from __future__ import annotations

from typing import Any

from ventmap.core.stories import CHECKS, Story, stories

from . import reviews
from .models import LogFile


def told(row: LogFile) -> dict[str, Any]:
    """The stories of a log, and the checks that were answered."""
    review = reviews.review_of(row)
    # An answer to a check that is asked no more, or otherwise, is kept and moves nothing.
    answered = [(key, given) for key, given in row.answers if key in CHECKS and given in CHECKS[key].answers]
    place = {id(one): n for n, one in enumerate(review.findings)}
    found = stories(review.findings, review.checked, reviews.of_log(row), dict(answered))
    return {
        "stories": [_story_out(one, place) for one in found],
        "answered": [{"check": key, "ask": CHECKS[key].ask, "answer": answer} for key, answer in answered],
    }


def _story_out(one: Story, place: dict[int, int]) -> dict[str, Any]:
    check = CHECKS.get(one.check)
    return {
        "lead": place[id(one.lead)],
        "follows": [place[id(finding)] for finding in one.follows],
        "headline": one.headline,
        "candidates": [vars(candidate) for candidate in one.candidates],
        "check": None
        if check is None
        else {
            "key": one.check,
            "ask": check.ask,
            "minutes": check.minutes,
            "needs": check.needs,
            "caution": check.caution,
            "answers": list(check.answers),
        },
    }
