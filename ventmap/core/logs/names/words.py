"""A column's name as it is spoken: its ideas, its path, and the numbers of bank, cylinder and sensor."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache

from .lexicon import NEUTRAL, WORDS

_CAMEL = re.compile(r"(?<=[a-z])(?=[A-Z])|(?<=[A-Z])(?=[A-Z][a-z]{2,})")
_PARTS = re.compile(r"[a-z%]+|\d+(?:\.\d+)?")
_BANK = re.compile(r"(?:bank|(?<![a-z])(?:bk|b))[ _.-]*([12])(?!\d)")
_SENSOR = re.compile(r"(?<![a-z])(?:sensor|sens|sonde|sonda|capteur|s)[ _.-]*([1-8])(?!\d)")
_CYLINDER = re.compile(r"(?<![a-z])(?:cylinder|cyl|zylinder|zyl|cylindre|cilindro|c)[ _.-]*(\d{1,2})(?!\d)")
#: A part of a path that only numbers the one before it.
_NUMBERED = re.compile(r"(?i)(?:(?:bank|b|cyl|cylinder|sensor|s|value|val|actual)?[ _-]*\d{0,2} ?)+")
#: O2S12 and its like: bank and sensor in two digits, as the legislated short names have them.
_PAIR = re.compile(r"(?<![a-z])(o2s|eqrat|eq_rat|cattemp|cat_temp|o2)[ _]*([12])([1-4])(?!\d)")


@dataclass(frozen=True)
class Spoken:
    """What a name says.

    Parameters
    ----------
    ideas : frozenset of str
        Of the name itself, or of the last part of a path.
    before : frozenset of str
        Of the parts of a path before the last.
    unknown : int
        Words of the name itself that are in no list.
    bank, sensor, cylinder : int
        As they are numbered; 0 where nothing says.
    number : int
        A number that stands alone at the end, as in “lambda 2”; 0 where there is none.
    letter : str
        A track of its own, as in “pedal position D”.
    text : str
        The name in plain lower case.
    """

    ideas: frozenset[str]
    before: frozenset[str]
    unknown: int
    bank: int = 0
    sensor: int = 0
    cylinder: int = 0
    number: int = 0
    letter: str = ""
    text: str = ""


def plain(text: str) -> str:
    """Lower case without accents; run-together words parted where their letters show it."""
    text = unicodedata.normalize("NFKC", text).replace("ß", "ss")
    text = _CAMEL.sub(" ", text)
    bare = "".join(c for c in unicodedata.normalize("NFKD", text) if not unicodedata.combining(c))
    return " ".join(bare.lower().replace("λ", " lambda ").replace("%", " % ").split())


@lru_cache(maxsize=4096)
def spoken(name: str) -> Spoken:
    """A name taken apart.

    Examples
    --------
    >>> sorted(spoken("engine.intake.manifoldPressure").ideas)
    ['manifold', 'pressure']
    >>> spoken("Fuel Trim Short Term B2 (%)").bank
    2
    """
    path = _path(name)
    last = plain(path[-1])
    rest = " ".join(plain(part) for part in path[:-1])
    # The short names of the legislated services are joined by marks that part nothing.
    last = re.sub(r"\b(air|a) ?[/ ] ?(fuel|f)(?: ratio)?\b", "afr", last)
    whole = f"{rest} {last}"
    bank, sensor = _one(_BANK, whole), _one(_SENSOR, whole)
    if pair := _PAIR.search(last.replace(" ", "")):
        bank, sensor = int(pair[2]), int(pair[3])
    cylinder = 0 if bank and not re.search("cyl|zyl|cil", whole) else _one(_CYLINDER, whole)
    ideas, unknown, number, letter = _ideas(last, (bank, sensor, cylinder))
    before, _, _, _ = _ideas(rest, (bank, sensor, cylinder))
    return Spoken(ideas, before, unknown, bank, sensor, cylinder, number, letter, last)


def _path(name: str) -> list[str]:
    """Parts of a path; a name with blanks is none, nor are “A/F” and decimal points."""
    text = name.strip()
    if " " in text or re.search(r"\d[./]\d", text):
        return [text]
    parts = [part for part in re.split(r"[./\\:>|]+", text) if part]
    if len(parts) < 2 or any(len(part) == 1 for part in parts):
        return [text]
    # A part that only numbers the one before it belongs to it: “…lambda.b1”.
    while len(parts) > 1 and _NUMBERED.fullmatch(parts[-1]):
        parts[-2:] = [f"{parts[-2]} {parts[-1]}"]
    return parts


def _one(pattern: re.Pattern[str], text: str) -> int:
    found = pattern.search(text.replace("_", " "))
    return int(found[1]) if found else 0


def _ideas(text: str, numbered: tuple[int, int, int]) -> tuple[frozenset[str], int, int, str]:
    ideas: set[str] = set()
    unknown, number, letter = 0, 0, ""
    parts = _PARTS.findall(text)
    at = 0
    while at < len(parts):
        word = parts[at]
        at += 1
        if word[0].isdigit():
            number = int(float(word)) if float(word) < 100 else 0
            continue
        if word == "o" and at < len(parts) and parts[at] == "2":
            ideas.add("o2")
            at += 1
            continue
        if word in ("b", "s", "c", "bank", "bk") and any(numbered):
            continue
        if len(word) == 1:
            letter = word if word in "abcdef" else letter
            continue
        known = of_word(word)
        if known is None:
            unknown += word not in NEUTRAL and word not in ("bank", "cylinder", "cyl", "zylinder", "cylindre")
        else:
            ideas.update(known)
    return frozenset(ideas), unknown, 0 if any(numbered) else number, letter


@lru_cache(maxsize=8192)
def of_word(word: str) -> tuple[str, ...] | None:
    """Ideas of a word, or of the words that were run together in it; None where it is not known."""
    if word in WORDS:
        return WORDS[word]
    if word in NEUTRAL:
        return ()
    if word.endswith("s") and word[:-1] in WORDS:
        return WORDS[word[:-1]]
    joined = _part(word)
    return None if joined is None else tuple(idea for piece in joined for idea in WORDS.get(piece, ()))


def _part(word: str) -> tuple[str, ...] | None:
    """The fewest known words that a run-together word is made of, each of three letters or more."""
    best: list[tuple[str, ...] | None] = [()] + [None] * len(word)
    for end in range(3, len(word) + 1):
        for begin in range(end - 2):
            before, piece = best[begin], word[begin:end]
            if before is None or (piece not in WORDS and piece not in _JOINED):
                continue
            found = (*before, piece)
            if best[end] is None or len(found) < len(best[end] or ()):
                best[end] = found
    return best[len(word)]


def words_of(names: Iterable[str]) -> frozenset[str]:
    """All ideas of many names, for tests of the lists."""
    return frozenset(idea for name in names for idea in spoken(name).ideas)


#: Neutral words and joints that may stand within a run-together word.
_JOINED = frozenset(word for word in NEUTRAL if len(word) >= 3) | {"des", "wert", "istwert", "bank"}
