"""Several findings at once: which one leads, what follows from it, and what stands by itself.

Naive Bayes over the table of `causes`: a finding that a cause does not tell of comes by chance, a kind that
was checked and not found speaks against a cause that would show it, what could not be checked says nothing.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from math import exp, log

from ..basics import BadInput
from ..findings import Finding, ReviewContext
from .causes import CAUSES
from .checks import CHECKS, Check
from .model import CHAIN

#: A kind shows so often without the cause. A cause covers what it shows at least so often.
BY_CHANCE, COVERS = 0.02, 0.12
#: What weighs less is not named; so many causes are.
LEAST, MOST = 0.03, 5
#: Shares within this ratio are alike: no one of them is *the* likely cause. So many stand in one line.
ALIKE, MOST_NAMED = 1.5, 3
#: A minute of a check weighs so much against what it parts.
MINUTE = 0.01


@dataclass(frozen=True)
class Candidate:
    """A cause, its weight now, and what it was before the last answer."""

    key: str
    title: str
    weight: float
    before: float | None
    not_this: str


@dataclass(frozen=True)
class Story:
    """Findings that hang together.

    Parameters
    ----------
    lead : Finding
    follows : tuple of Finding
        What comes of it, as it would come.
    candidates : tuple of Candidate
        The likeliest first; their weights and those not named make one.
    check : str
        Key of the check that parts the first two best for its time; empty where none does.
    """

    lead: Finding
    follows: tuple[Finding, ...]
    candidates: tuple[Candidate, ...]
    check: str

    @property
    def headline(self) -> str:
        """What is likely, in a line: more than one where the log does not tell them apart."""
        if not self.candidates:
            return ""
        most = self.candidates[0].weight
        alike = [one for one in self.candidates if one.weight * ALIKE >= most][:MOST_NAMED]
        return "; or ".join(f"{one.title}, {100 * one.weight:.0f} %" for one in alike)


def stories(
    findings: Sequence[Finding],
    checked: Iterable[str],
    context: ReviewContext,
    answers: Mapping[str, str] | None = None,
) -> tuple[Story, ...]:
    """Findings of one log as stories, the heaviest first, and the heaviest finding of each in its lead.

    Parameters
    ----------
    findings : sequence of Finding
        Of one review, heaviest first.
    checked : iterable of str
        Kinds that were looked for and could be seen.
    answers : mapping of str to str, optional
        Check → its answer, in the order in which they were given.

    Raises
    ------
    BadInput
        If an answer is none of its check's.
    """
    answers = dict(answers or {})
    for key, answer in answers.items():
        if key not in CHECKS or answer not in CHECKS[key].answers:
            raise BadInput(f"“{answer}” is no answer to this check.", "answer")
    possible = [key for key, cause in CAUSES.items() if cause.of(context)]
    absent = set(checked) - {one.kind for one in findings}
    seen = absent | {one.kind for one in findings}
    checks = [
        key
        for key, check in CHECKS.items()
        if check.of(context) and key not in answers and not seen.intersection(check.known_by)
    ]
    left, told = list(findings), []
    while left:
        kinds = {one.kind for one in left}
        best = max(possible, key=lambda key: _score(key, kinds, absent, answers))
        covered = [one for one in left if CAUSES[best].shows.get(one.kind, 0.0) >= COVERS]
        # What no cause tells of stands by itself, as it is.
        mine = covered or left[:1]
        # A stop is seen first; among those that weigh alike the one that drives the others leads.
        lead = min(mine, key=lambda one: (-one.verdict.weight, _place(one.kind), one.from_s))
        follows = sorted(
            (one for one in mine if one is not lead), key=lambda one: (_place(one.kind), one.from_s)
        )
        told.append(_story(lead, follows, possible, absent, answers, checks))
        left = [one for one in left if one not in mine]
    return tuple(sorted(told, key=lambda one: -max(f.verdict.weight for f in (one.lead, *one.follows))))


def _place(kind: str) -> int:
    return CHAIN.index(kind) if kind in CHAIN else len(CHAIN)


def _score(key: str, found: set[str], absent: set[str], answers: Mapping[str, str]) -> float:
    """Log of prior times likelihood of what was found, of what was checked and not, and of the answers."""
    cause = CAUSES[key]
    told = log(cause.common)
    told += sum(log(max(cause.shows.get(kind, 0.0), BY_CHANCE)) for kind in found)
    told += sum(log(1.0 - max(share, BY_CHANCE)) for kind, share in cause.shows.items() if kind in absent)
    return told + sum(log(CHECKS[check].answers[given].get(key, 1.0)) for check, given in answers.items())


def _weights(
    keys: Sequence[str], found: set[str], absent: set[str], answers: Mapping[str, str]
) -> dict[str, float]:
    scores = {key: _score(key, found, absent, answers) for key in keys}
    top = max(scores.values())
    raw = {key: exp(score - top) for key, score in scores.items()}
    total = sum(raw.values())
    return {key: value / total for key, value in raw.items()}


def _story(
    lead: Finding,
    follows: list[Finding],
    possible: Sequence[str],
    absent: set[str],
    answers: Mapping[str, str],
    checks: Sequence[str],
) -> Story:
    found = {one.kind for one in (lead, *follows)}
    keys = [key for key in possible if any(CAUSES[key].shows.get(kind, 0.0) >= COVERS for kind in found)]
    if not keys:
        return Story(lead, tuple(follows), (), "")
    mine = {check: given for check, given in answers.items() if _moves(check, keys)}
    weights = _weights(keys, found, absent, mine)
    before = _weights(keys, found, absent, dict(list(mine.items())[:-1])) if mine else {}
    named = sorted(weights, key=lambda key: -weights[key])
    named = [key for key in named if weights[key] >= LEAST][:MOST]
    return Story(
        lead,
        tuple(follows),
        tuple(
            Candidate(
                key,
                title=CAUSES[key].title,
                weight=round(weights[key], 3),
                before=round(before[key], 3) if before else None,
                not_this=CAUSES[key].not_this,
            )
            for key in named
        ),
        chosen_check([(key, weights[key]) for key in named], checks),
    )


def _moves(check: str, keys: Sequence[str]) -> bool:
    return any(set(moved) & set(keys) for moved in CHECKS[check].answers.values())


def chosen_check(weighed: Sequence[tuple[str, float]], checks: Sequence[str]) -> str:
    """The check, of those that are open, that parts the first two causes best for its time; of one cause
    alone, the one that could refute it. Empty where none would move them.
    """
    if not weighed:
        return ""
    first = weighed[0][0]
    second = weighed[1][0] if len(weighed) > 1 else ""

    def parts(check: Check) -> float:
        def apart(moved: Mapping[str, float]) -> float:
            return abs(log(moved.get(first, 1.0)) - (log(moved.get(second, 1.0)) if second else 0.0))

        return max(apart(moved) for moved in check.answers.values()) - MINUTE * check.minutes

    best = max(checks, key=lambda key: parts(CHECKS[key]), default="")
    # What parts them by less than two to one is not worth the time.
    return best if best and parts(CHECKS[best]) > log(2.0) - MINUTE * CHECKS[best].minutes else ""
