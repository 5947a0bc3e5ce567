"""From a complaint and what was seen to likely causes, and the cheapest check that tells them apart."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from math import log2

from ..basics import BadInput, Vehicle
from .symptom_book import BOOK
from .symptom_entry import Cause, Complaint, Test


@dataclass(frozen=True)
class Ranked:
    cause: str
    share: float
    cure: str


@dataclass(frozen=True)
class Diagnosis:
    """Causes by likelihood (shares sum to 1), the next check, what it costs and what each result would
    mean.
    """

    causes: tuple[Ranked, ...]
    check: str
    check_minutes: float
    check_tells: str
    ask: str
    ask_text: str


#: What the book asks of an engine and its drive.
TRAITS = ("petrol", "diesel", "boosted", "two_stroke", "rotary", "belt", "watercraft")


def traits_of(vehicle: Vehicle) -> set[str]:
    """Which of `TRAITS` a vehicle has."""
    has = {
        "petrol": vehicle.petrol,
        "diesel": not vehicle.petrol,
        "boosted": vehicle.boosted,
        "two_stroke": vehicle.stroke == 2 and not vehicle.rotary,
        "rotary": vehicle.rotary,
        "belt": vehicle.belt,
        "watercraft": vehicle.kind == "watercraft",
    }
    return {trait for trait in TRAITS if has[trait]}


def _shares(book: Complaint, signs: Mapping[str, bool]) -> dict[str, float]:
    """Bayes over the causes: weight × how often each cause shows, or does not show, the sign."""
    weights = {}
    for cause in book.causes:
        weight = cause.weight
        for sign, seen in signs.items():
            shows = cause.shows.get(sign, 0.5)
            weight *= shows if seen else 1 - shows
        weights[cause.name] = weight
    total = sum(weights.values())
    return {name: weight / total for name, weight in weights.items()}


def _entropy(shares: Mapping[str, float]) -> float:
    return -sum(share * log2(share) for share in shares.values() if share > 0)


def complaints_of(traits: Collection[str] | None = None) -> dict[str, Complaint]:
    """The complaints that an engine can have, each with the causes that it can have; all where its traits
    are not known.

    Examples
    --------
    >>> "smoke_petrol" in complaints_of({"diesel", "boosted"}), "whistle" in complaints_of({"petrol"})
    (False, False)
    """
    if traits is None:
        return dict(BOOK)
    return {key: entry.of(traits) for key, entry in BOOK.items() if not entry.only or entry.only in traits}


def diagnose(complaint: str, signs: Mapping[str, bool], traits: Collection[str] | None = None) -> Diagnosis:
    """Rank the causes of a complaint and name the cheapest telling check.

    Parameters
    ----------
    complaint : str
        A key of `BOOK`.
    signs : mapping of str to bool
        What was looked for: seen or not seen. Signs that were not looked for are left out.
    traits : collection of str, optional
        Of the engine, as for `complaints_of`.

    Notes
    -----
    A check *confirms* some causes. Its worth is the expected fall in entropy of the causes; the check with
    the most bits a
    minute is the cheapest telling one. The next sign to look for is the one whose answer tells most, being
    free.
    """
    known = complaints_of(traits)
    if complaint not in known:
        raise BadInput(
            f"Choose a complaint: {', '.join(entry.text for entry in known.values())}.", "complaint"
        )
    book = known[complaint]
    unknown = [sign for sign in signs if sign not in book.signs]
    if unknown:
        raise BadInput(f"“{unknown[0]}” is no sign of this complaint.", "signs")
    shares = _shares(book, signs)
    ranked = sorted(book.causes, key=lambda cause: -shares[cause.name])
    check = max(book.tests, key=lambda test: (_worth(test, shares) / test.minutes, -test.minutes))
    names = sorted(check.confirms, key=lambda name: -shares[name])
    open_signs = [sign for sign in book.signs if sign not in signs]
    ask = max(open_signs, key=lambda sign: _asked(book, sign, signs, shares), default="")
    return Diagnosis(
        tuple(Ranked(cause.name, shares[cause.name], cause.cure) for cause in ranked),
        check.text,
        check_minutes=check.minutes,
        check_tells=f"If it shows: {' or '.join(names)}. If not: {_others(ranked, check)}.",
        ask=ask,
        ask_text=book.signs.get(ask, ""),
    )


def _others(ranked: list[Cause], check: Test) -> str:
    return (
        " or ".join([cause.name for cause in ranked if cause.name not in check.confirms][:2])
        or "look again at the complaint"
    )


def _worth(test: Test, shares: Mapping[str, float]) -> float:
    """Bits that a check is expected to tell: the entropy of whether it confirms."""
    yes = sum(shares[name] for name in test.confirms)
    return _entropy({"yes": yes, "no": 1 - yes})


def _asked(book: Complaint, sign: str, signs: Mapping[str, bool], shares: Mapping[str, float]) -> float:
    now = _entropy(shares)
    chance = sum(shares[cause.name] * cause.shows.get(sign, 0.5) for cause in book.causes)
    after = chance * _entropy(_shares(book, {**signs, sign: True})) + (1 - chance) * _entropy(
        _shares(book, {**signs, sign: False})
    )
    return now - after
