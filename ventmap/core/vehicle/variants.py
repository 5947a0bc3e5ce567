"""Which of a model's variants stands here: the fewest questions that tell."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass


@dataclass(frozen=True)
class Question:
    """A tell-tale to look at, its possible answers, and how many candidates are expected to be left
    after it.
    """

    tell_tale: str
    options: tuple[str, ...]
    expected_left: float


#: Candidate → its tell-tales; a tell-tale that a candidate does not state fits any answer.
Candidates = Mapping[str, Mapping[str, str]]


def remaining(candidates: Candidates, answers: Mapping[str, str]) -> list[str]:
    """Candidates that no answer contradicts. An empty answer means *could not see* and rules nothing out."""
    return [
        name
        for name, tales in candidates.items()
        if all(not answer or tales.get(tale, answer) == answer for tale, answer in answers.items())
    ]


def next_question(candidates: Candidates, answers: Mapping[str, str]) -> Question | None:
    """The tell-tale with the greatest expected reduction of what is left; None where one is left or none
    tells.

    Every candidate counts alike. After a question with groups of sizes n₁, n₂ … of N, Σ nᵢ²/N are expected to
    be left.

    Examples
    --------
    >>> next_question({"a": {"ports": "4"}, "b": {"ports": "8"}}, {}).tell_tale
    'ports'
    """
    left = remaining(candidates, answers)
    if len(left) < 2:
        return None
    best: Question | None = None
    for tale in dict.fromkeys(tale for name in left for tale in candidates[name]):
        if tale in answers:
            continue
        values = [candidates[name].get(tale) for name in left]
        options = tuple(dict.fromkeys(value for value in values if value is not None))
        if len(options) < 2:
            continue
        silent = values.count(None)
        known = len(left) - silent
        # A candidate that does not state the tell-tale stays, whatever the answer.
        expected = sum(values.count(option) / known * (values.count(option) + silent) for option in options)
        if best is None or expected < best.expected_left - 1e-9:
            best = Question(tale, options, expected)
    return best
