"""A column against a channel: words, unit and values, each with its weight."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from ..channels import CHANNELS
from .behaviour import likeness
from .legislated import legislated
from .phrases import BANK, MEASURES, PHRASES, TURNS, Phrase
from .words import Spoken, spoken

#: Channels that may come a cylinder or a sensor each: all of them count.
OF_CYLINDERS = ("knock", "misfire")
#: What words, unit and values weigh.
WORDS, UNIT, VALUES = 0.75, 0.15, 0.10


@dataclass(frozen=True)
class Sample:
    """A column as it is scored.

    Parameters
    ----------
    name : str
        Without its unit.
    quantity, unit : str
        As the file says; empty where it does not, or says what nobody knows.
    values : ndarray
        A few thousand of its samples, as they stand in the file.
    known : str
        A channel that its exact spelling is known for; empty where it is not.
    """

    name: str
    quantity: str
    unit: str
    values: NDArray[np.floating]
    known: str = ""


def score(sample: Sample, channel: str, still: NDArray[np.bool_] | None = None) -> float:
    """How well a column is a channel, 0 to 1; `still`: rows in which the engine stands, where that is known.

    Notes
    -----
    A unit of another quantity rules a channel out: pedal and throttle in volts or degrees are not taken for
    percent. Values rule it out where more than half lie where the channel cannot.
    """
    quantity = CHANNELS[channel].quantity
    if sample.quantity and not _fits(quantity, sample.quantity, channel):
        return 0.0
    exact = legislated(sample.name) or sample.known
    if exact and not _short_and_impossible(sample, exact):
        # Values that cannot be are then a fault to find, not another channel.
        return WORDS + UNIT + 0.5 * VALUES if exact == channel else 0.0
    words = 0.0 if exact == channel else _words(sample, channel)
    like = likeness(sample.values, channel, sample.unit, still) if words > 0.0 else 0.0
    if like == 0.0:
        return 0.0
    unit = 1.0 if sample.quantity and sample.quantity == quantity else 0.5
    return WORDS * words + UNIT * unit + VALUES * like


def _short_and_impossible(sample: Sample, exact: str) -> bool:
    """A spelling that is short for more than one thing, as “speed”, over values that it cannot have."""
    if exact == "-":
        return False
    name = spoken(sample.name)
    weight = max((_phrase(name, phrase) for phrase in PHRASES.get(exact, ())), default=1.0)
    return weight < 1.0 and likeness(sample.values, exact, sample.unit) == 0.0


def _fits(wanted: str, given: str, channel: str) -> bool:
    if {wanted, given} == {"time", "pulse"} or wanted == given:
        return True
    # Bare numbers (counts, gears) have no unit of their own; a ratio may be written as a share.
    return wanted == "" and given == "fraction" and channel == "slip"


def wording(sample: Sample, channel: str) -> float:
    """The score without its values: what a column is called, whatever it holds."""
    if sample.quantity and not _fits(CHANNELS[channel].quantity, sample.quantity, channel):
        return 0.0
    exact = legislated(sample.name) or sample.known
    words = float(exact == channel) if exact else _words(sample, channel)
    unit = 1.0 if sample.quantity == CHANNELS[channel].quantity else 0.5
    return WORDS * words + UNIT * unit if words > 0.0 else 0.0


#: What a unit says of its column by itself: “Exhaust 1 [°C]” is a temperature.
IMPLIED = {"temperature": "temperature", "pressure": "pressure", "voltage": "voltage"}


def _words(sample: Sample, channel: str) -> float:
    name = spoken(sample.name)
    if not _numbers_fit(name, channel):
        return 0.0
    if (implied := IMPLIED.get(sample.quantity)) and not name.unknown:
        name = replace(name, before=name.before | {implied})
    if channel in OF_CYLINDERS:
        # A second sensor is no other thing: what it hears counts as well.
        name = replace(name, number=0, letter="")
    return max((_phrase(name, phrase) for phrase in PHRASES.get(channel, ())), default=0.0)


def _phrase(name: Spoken, phrase: Phrase) -> float:
    all_ideas = name.ideas | name.before
    said = phrase.must & all_ideas
    # The last part of a path must at least be about it: “pedal.position”, not “pedal.colour”.
    about = said & name.ideas or (name.ideas and name.ideas <= phrase.may)
    if not said or not about:
        return 0.0
    if said != phrase.must:
        # Half said: worth asking, never worth taking.
        return 0.45 * len(said) / len(phrase.must) * phrase.weight
    others = name.ideas - phrase.must - phrase.may
    turned = (all_ideas - phrase.must - phrase.may) & TURNS
    lost = 0.8 * len(turned | (others & MEASURES)) + 0.3 * len(others - TURNS - MEASURES)
    # A word that nobody knows may turn what is said in short: “alternator voltage”.
    lost += (0.05 if phrase.weight == 1.0 else 0.3) * min(name.unknown, 3)
    if name.number > 1:
        lost += 0.3  # “throttle 2” is another sensor
    if name.letter in ("b", "c", "e", "f"):
        lost += 0.3
    return max(0.0, phrase.weight - lost)


def _numbers_fit(name: Spoken, channel: str) -> bool:
    """Bank, cylinder and sensor are said or they are not; what is said must be the channel's own."""
    if channel.startswith("egt_"):
        own = int(channel[4:])
        said = name.cylinder or name.number
        return said == own or (not said and own == 1 and not name.bank)
    if channel.startswith("rear_o2"):
        rear = "rear" in name.ideas or name.sensor == 2
        return rear and (name.bank or name.number or 1) == BANK[channel]
    if channel in BANK:
        if name.cylinder:
            return False
        if "rear" in name.ideas or name.sensor in (2, 4):
            return False
        # Sensors 3 and 5 are bank 2 in two different layouts: asked, not guessed.
        if name.sensor > 2 and not name.bank:
            return False
        return (name.bank or name.number or 1) == BANK[channel]
    if channel in OF_CYLINDERS:
        return True
    return name.bank != 2 and not (name.cylinder > 1)
