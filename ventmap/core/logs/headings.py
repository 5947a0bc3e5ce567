"""The heading of a column taken apart and matched to a channel."""

from __future__ import annotations

import re
import unicodedata
from dataclasses import dataclass

from .channels import CHANNELS
from .file_units import UNITS, clean_unit

_COMPILED = [(name, re.compile(channel.pattern)) for name, channel in CHANNELS.items()]

TIME_PATTERN = re.compile(
    r"(?:log |elapsed |session |record )?(?:time|clock|zeit|uhrzeit)(?:"
    r" ?stamp)?|timestamp|elapsed|offset|seconds?|secs?|t|date ?time|datetime|zeitstempel"
)

#: Unit words that may stand bare at the end of a column's name, as in “Boost psi” or “time_ms”.
_BARE = {
    "kpa",
    "kpag",
    "psi",
    "psig",
    "psia",
    "barg",
    "bar",
    "mbar",
    "hpa",
    "inhg",
    "c",
    "f",
    "degc",
    "degf",
    "ms",
    "us",
    "s",
    "sec",
    "v",
    "mv",
    "%",
    "pct",
    "kmh",
    "kph",
    "mph",
    "deg",
    "rpm",
}


@dataclass(frozen=True)
class Heading:
    """A column's name taken apart: words, unit as spelled, and whether it says gauge pressure or boost."""

    raw: str
    words: str
    unit: str
    gauge: bool
    #: Called boost: above the barometer in one logger, absolute in the next; its key-on reading tells.
    boost: bool = False
    #: The name without its unit, as it was written: paths and run-together words are still to be seen.
    bare: str = ""


_AFR = re.compile(r"(?i)a(?:ir)? ?/ ?f(?:uel)?")


def heading(raw: str, unit_row: str = "") -> Heading:
    """Take a column's name apart."""
    text = unicodedata.normalize("NFKC", raw).strip().strip('"')
    unit = ""
    bracket = re.search(r"[\[(]([^\])]*)[\])]", text)
    if bracket:
        unit, text = clean_unit(bracket[1]), (text[: bracket.start()] + " " + text[bracket.end() :]).strip()
        if unit not in UNITS and unit not in ("-", "", "--", "none", "count", "counts"):
            text, unit = f"{text} {bracket[1]}", ""  # brackets that hold a word, as in “trim (bank 1)”
    # Units keep their letters together where run-on names come apart.
    whole = re.sub(r"\b(?:[kKhHmM]Pag?|mBar|in[hH][gG]|deg[CF])\b", lambda unit: unit[0].lower(), text)
    spaced = re.sub(r"(?<=[a-z])(?=[A-Z])", " ", whole)
    words = re.sub(r"[^0-9a-zäöüß%]+", " ", spaced.lower()).strip().split()
    absolute = any(word in ("abs", "absolute") for word in words) or unit.endswith(
        ("abs", "a)", "bara", "psia")
    )
    gauge = not absolute and (
        any(word in ("gauge", "psig", "kpag", "barg", "rel", "relative") for word in words)
        or unit in ("psig", "kpag", "barg")
    )
    boost = not absolute and any(word in ("boost", "ladedruck") for word in words)
    words = [word for word in words if word not in ("gauge", "relative", "abs")]
    if not unit and unit_row:
        unit = clean_unit(unit_row)
    bare = text
    # “A/F” is no A in degrees.
    if (
        len(words) > 1
        and words[-1] in _BARE
        and not _AFR.fullmatch(text)
        and (not unit or clean_unit(words[-1]) == unit)
    ):
        unit = unit or words[-1]
        last = words.pop()
        # “Engine RPM”: the unit is the name.
        if last != "rpm":
            bare = re.sub(rf"[^0-9A-Za-z]*{re.escape(last)}[^0-9A-Za-z]*$", "", text, flags=re.IGNORECASE)
    return Heading(raw, " ".join(words), unit=unit, gauge=gauge, boost=boost, bare=bare or text)


def match(head: Heading) -> str | None:
    """Canonical channel of a heading, or None. A unit of another quantity rules a name out."""
    quantity = UNITS.get(head.unit, ("", ""))[0]
    for name, pattern in _COMPILED:
        if pattern.fullmatch(head.words) and _unit_fits(CHANNELS[name].quantity, quantity):
            return name
    if head.words == "speed" and quantity == "engine_speed":
        return "rpm"
    return None


def _unit_fits(wanted: str, given: str) -> bool:
    # Throttle and pedal may be logged in degrees of angle or volts; those are not taken for percent.
    return not given or given == wanted or {wanted, given} == {"time", "pulse"}
