"""Compression of an engine: every cylinder, or every face of each rotor; or how much air each loses."""

from __future__ import annotations

from math import inf

from ..basics import BadInput, Call, Evidence, Verdict
from ..runsheet import FACES, CompressionAsked, RotorAsked
from .data import CompressionData
from .model import GridResult, figure, missing

LEAK_DOWN = "leak-down"


def compression(about: CompressionAsked, data: CompressionData) -> GridResult:
    """Readings ``kpa``: one typed figure for each cylinder, within the maker's range, none far below the
    best; of a rotary one for each face.

    Where ``how`` says leak-down, ``leak`` instead: the share of air lost by each, none above the most
    allowed.
    """
    if data.how == LEAK_DOWN:
        return _leak_down(about, data)
    places = about.places or tuple(f"cylinder {n}" for n in range(1, about.cylinders + 1))
    typed = [*data.kpa, *("" for _ in places)]
    values = [figure(text, "pressure", "kPa", place) for place, text in zip(places, typed, strict=False)]
    given = [value for value in values if value is not None]
    if len(given) < len(places):
        what = "Enter every face." if about.rotor else "Enter every cylinder."
        return GridResult(
            (missing("intake.compression", "Compression", len(given), len(places), what),), complete=False
        )
    if about.rotor is not None:
        return _rotors(about, about.rotor, given)
    return _cylinders(about, given)


def _cylinders(about: CompressionAsked, given: list[float]) -> GridResult:
    best, spread = max(given), about.spread
    known = about.low is not None and about.high is not None
    low, high = about.low or 0.0, about.high if about.high is not None else inf
    calls = []
    for number, value in enumerate(given, 1):
        below = 1 - value / best if best > 0 else 1.0
        odd = best <= 0 or value < low or value > high or below > spread + 1e-9
        bad = odd or not known
        why = (
            "below the maker's least"
            if value < low or best <= 0
            else "above the maker's most: oil or carbon"
            if value > high
            else "far below the best"
        )
        advice = (
            f"Cylinder {number} is {why}: leak-down test, and repair before power rises."
            if odd
            else "Even, but the maker's limits are not known: look them up, or test leak-down."
            if bad
            else "Even."
        )
        calls.append(
            Call(
                "intake.compression",
                verdict=Verdict.hold if bad else Verdict.go,
                because=(
                    Evidence(
                        f"cylinder {number}",
                        round(value),
                        f"{low:g}–{high:g}" if known else "not known",
                        unit="kPa",
                    ),
                    Evidence("below the best", round(100 * below, 1), 100 * spread, unit="%"),
                ),
                do_next=advice,
                source="Maker's range; spread between cylinders",
                title=f"Compression, cylinder {number}",
            )
        )
    return GridResult(
        tuple(calls), {"below_best": [1 - value / best if best > 0 else 1.0 for value in given]}
    )


def _rotors(about: CompressionAsked, asked: RotorAsked, given: list[float]) -> GridResult:
    """A rotor is as good as its weakest face: at least the limit, its faces close together, and no rotor far
    behind the best.
    """
    low, high = about.low or 0.0, about.high if about.high is not None else inf
    faces = [given[n : n + FACES] for n in range(0, len(given), FACES)]
    best = max(min(rotor) for rotor in faces)
    calls = []
    for number, rotor in enumerate(faces, 1):
        least, apart, behind = min(rotor), max(rotor) - min(rotor), best - min(rotor)
        why = (
            "below the least"
            if least < low or least <= 0
            else "above the most: oil or carbon"
            if max(rotor) > high
            else "uneven: one apex or side seal leaks"
            if apart > asked.face_kpa + 1e-9
            else "behind the other"
            if behind > asked.rotor_kpa + 1e-9
            else ""
        )
        calls.append(
            Call(
                "intake.compression",
                verdict=Verdict.hold if why else Verdict.go,
                because=(
                    Evidence(f"rotor {number}, weakest face", round(least), round(low), unit="kPa"),
                    Evidence("its faces apart", round(apart), round(asked.face_kpa), unit="kPa"),
                    Evidence("behind the best rotor", round(behind), round(asked.rotor_kpa), unit="kPa"),
                ),
                do_next=f"Rotor {number} is {why}: test it again warm at 250 rpm; the same, and its seals are"
                " seen to before power rises."
                if why
                else "Even.",
                source="Weakest face, spread of faces and of rotors; the maker's figure wins",
                title=f"Compression, rotor {number}",
            )
        )
    return GridResult(tuple(calls))


def _leak_down(about: CompressionAsked, data: CompressionData) -> GridResult:
    count, most, one = about.cylinders, about.leak_most, "rotor" if about.rotor else "cylinder"
    given = [figure(text, "fraction", "%", f"{one} {n + 1}") for n, text in enumerate(data.leak[:count])]
    known = [value for value in given if value is not None]
    if len(known) < count:
        return GridResult(
            (missing("intake.compression", "Leak-down", len(known), count, f"Enter every {one}."),),
            complete=False,
        )
    calls = []
    if not any(known):
        calls.append(_loses_nothing(one))
    for number, value in enumerate(known, 1):
        if not 0.0 <= value <= 1.0:
            raise BadInput(f"{one} {number}: a leak lies between 0 and 100 %.", f"{one} {number}")
        bad = value > most + 1e-9
        calls.append(
            Call(
                "intake.compression",
                verdict=Verdict.hold if bad else Verdict.go,
                because=(
                    Evidence(f"{one} {number} loses", round(100 * value, 1), round(100 * most, 1), unit="%"),
                ),
                do_next=(
                    f"Listen where {one} {number} blows: intake, exhaust, oil filler or radiator; repair"
                    " before power rises."
                    if bad
                    else "Even."
                ),
                source="Leak-down at top dead centre; the maker's figure wins",
                title=f"Leak-down, {one} {number}",
            )
        )
    return GridResult(tuple(calls))


def _loses_nothing(one: str) -> Call:
    """Every ring has a gap: a tester that shows nought on all cylinders is not on any of them."""
    return Call(
        "intake.compression",
        verdict=Verdict.hold,
        because=(Evidence(f"every {one} loses", 0, "more than 0", unit="%"),),
        do_next="Check the hose, the regulator and that the piston stands at its top; then test again.",
        source="Leak-down at top dead centre: a sound engine loses some 2 to 15 %",
        title=f"Leak-down reads nothing on any {one}",
    )
