"""What columns are taken for: names of the law, names in no list, names mangled, names of other things."""

from __future__ import annotations

import random
from collections import Counter
from collections.abc import Iterable

import numpy as np

from tests.core.drives import drive
from tests.core.naming import HELD_OUT, NOT_OURS, mangled
from ventmap.core.logs import UNITS, Named, Sample, heading, legislated_names, match, name_columns

LOG, _ = drive(20.0, seed=5)
NONE = "-"
KINDS = ("understood", "guessed right", "asked", "under its own name", "guessed wrong")


def named(raw: str, channel: str) -> Named:
    """What a column is taken for, alone, with the values that its channel has."""
    head = heading(raw)
    quantity, unit = UNITS.get(head.unit, ("", ""))
    plain = not unit or unit in ("kPa", "°C", "%", "V", "rpm", "km/h", "ms", "°")
    values = LOG.channels.get(channel, np.array([])) if plain else np.array([])
    return name_columns({raw: Sample(head.bare, quantity, unit, values, match(head) or "")})[raw]


def outcome(raw: str, channel: str) -> str:
    """One of `KINDS`; a name that is no channel is right under its own name."""
    told = named(raw, channel)
    if not told.channel:
        return "asked" if told.status == "asked" else "under its own name"
    if told.channel != channel:
        return "guessed wrong"
    return "understood" if told.status == "understood" else "guessed right"


def corpus(count: int = 400) -> dict[str, list[tuple[str, str]]]:
    """Names with what they are, by where they come from."""
    law = [(long, own) for _, long, _, own in legislated_names()]
    chance = random.Random(7)
    mixed = [pair for pair in [*law, *HELD_OUT] if pair[1] != NONE]
    return {
        "legislated long names": law,
        "in no list, four languages": list(HELD_OUT),
        "mangled by chance": [(mangled(name, chance), own) for name, own in chance.choices(mixed, k=count)],
        "near to a channel, and none": [(name, NONE) for name in NOT_OURS],
    }


def shares(names: Iterable[tuple[str, str]]) -> Counter[str]:
    return Counter(outcome(raw, channel) for raw, channel in names)
