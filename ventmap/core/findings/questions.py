"""Which channels answer a question, in order of need, and what a link really gives of them.

What a question needs is read from the rules that answer it: a channel is asked for because a rule reads it.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..basics import BadInput
from ..logs import CHANNELS, ChannelPlan, plan_channels
from .alarms import ALARMED
from .detectors import DETECTORS
from .model import ReviewContext
from .view import Detector

FULL = "full"
#: Question → (in words, the kinds of finding that answer it).
QUESTIONS: dict[str, tuple[str, tuple[str, ...]]] = {
    FULL: ("Full check", ()),
    "boost": (
        "Is boost right?",
        ("boost_plateau_low", "boost_falls_with_rpm", "overboost", "torque_cut", "intake_hot", "heat_soak"),
    ),
    "mixture": ("Is the mixture right?", ("lean_under_load", "rich_under_load", "lean_hole", "smoke")),
    "trims": ("Are trims steady?", ("trim_hunting", "trim_offset", "bank_imbalance")),
    "knock": ("Does it knock?", ("knock", "intake_hot", "heat_soak")),
    "pump": (
        "Is the pump enough?",
        ("fuel_pressure_drop", "injector_limit", "lean_under_load", "voltage_low"),
    ),
    "idle": ("Does it idle right?", ("idle_high_air", "idle_unstable", "slow_to_idle", "trim_hunting")),
    "heat": (
        "Does it stay cool?",
        ("coolant_high", "intake_hot", "heat_soak", "exhaust_hot", "oil_pressure_low", "egt_spread"),
    ),
}
#: Asked for with every question: what windows and load are told by.
ALWAYS = ("rpm", "pedal", "throttle", "map")
#: Beside what a rule needs, what a tuner reads it by.
BESIDE = {
    "knock": ("spark", "lambda"),
    "boost": ("map_target", "wastegate", "baro"),
    "mixture": ("lambda_target", "pulse", "stft_1", "ltft_1"),
    "trims": ("ltft_1", "lambda", "rear_o2_1"),
    "pump": ("pulse", "lambda_target"),
    "idle": ("idle_target", "coolant", "lambda"),
}


@dataclass(frozen=True)
class Link:
    """How a tool asks: time of a request with one channel [ms], channels that it carries, and the time that
    each further one adds [ms].
    """

    title: str
    request_ms: float
    per_request: int
    extra_ms: float
    source: str


#: Ways of asking beside our own. K-line: 10 400 bit/s, 10 bits a byte, 6 bytes out and 7 back, 25 ms before
#: the answer and 55 ms before the next request.
LINKS = {
    "can_batched": Link("CAN, six channels a request", 12.0, 6, 1.0, "SAE J1979 over ISO 15765-4"),
    "can_single": Link("CAN, one channel a request", 12.0, 1, 0.0, "SAE J1979 over ISO 15765-4"),
    "k_line": Link("one wire, one channel a request", 92.5, 1, 0.0, "ISO 14230-2, timing at its minimum"),
}


@dataclass(frozen=True)
class Wanted:
    """One channel of a question, the kinds that wait for it, and whether it is there to be logged."""

    name: str
    label: str
    waits: tuple[str, ...]
    there: bool


def questions(context: ReviewContext, there: Sequence[str] | None = None) -> dict[str, str]:
    """The questions that make sense of this engine, and of the channels that its vehicle gives: a diesel has
    no spark, a two-stroke no trims.
    """

    def answered(key: str) -> bool:
        first = QUESTIONS[key][1][0]
        rules = [one for one in _rules(key, context) if one.kind == first]
        return any(there is None or all(set(choice) & set(there) for choice in one.needs) for one in rules)

    return {key: title for key, (title, _) in QUESTIONS.items() if key == FULL or answered(key)}


def _senseless(context: ReviewContext) -> set[str]:
    """Kinds that this engine cannot have, whatever its log holds: nobody logs a channel for them."""
    found: set[str] = set()
    if not context.spark or context.oil_in_fuel:
        found |= {"trim_hunting", "trim_offset", "bank_imbalance"}
    if context.induction == "none":
        found |= {"boost_plateau_low", "boost_falls_with_rpm", "overboost", "level_asleep"}
    if not context.spark:
        found |= {"knock"}
    return found


def _without(context: ReviewContext) -> set[str]:
    """Channels that this engine cannot have."""
    found: set[str] = set()
    if not context.spark:
        found |= {"spark", "knock", "lambda_target", "ethanol"}
    if not context.spark or context.oil_in_fuel:
        found |= {"stft_1", "stft_2", "ltft_1", "ltft_2", "rear_o2_1"}
    if context.induction == "none":
        found |= {"map_target", "wastegate"}
    return found


def _rules(question: str, context: ReviewContext) -> list[Detector]:
    if question not in QUESTIONS:
        raise BadInput(f"Choose a question: {', '.join(QUESTIONS)}.", "question")
    kinds, senseless = QUESTIONS[question][1], _senseless(context)
    without = _without(context)
    apply = [
        one
        for one in DETECTORS
        if one.applies(context)
        and one.kind not in senseless
        and all(set(choice) - without for choice in one.needs)
    ]
    return [one for one in apply if not kinds or one.kind in kinds]


def wanted(question: str, context: ReviewContext, there: Sequence[str] | None = None) -> tuple[Wanted, ...]:
    """Channels of a question, the most needed first.

    Parameters
    ----------
    question : str
        Of `QUESTIONS`.
    there : sequence of str, optional
        What this vehicle gives; where nobody knows, any channel may be there.

    Returns
    -------
    tuple of Wanted
        What is there first, in order of need; then what a rule waits for and this vehicle does not give.
    """
    without = _without(context)
    waits: dict[str, list[str]] = {name: [] for name in ALWAYS if there is None or name in there}
    for rule in _rules(question, context):
        for choice in rule.needs:
            sensible = [name for name in choice if name not in without]
            given = [name for name in sensible if there is None or name in there]
            # The first of a choice is the one that tells most; where none is there it is still wanted.
            name = (given or sensible or list(choice))[0]
            waits.setdefault(name, []).append(rule.kind.replace("_", " "))
    beside = BESIDE.get(question, ()) if question != FULL else sum(BESIDE.values(), ())
    for name in beside:
        if name not in waits and name not in without and (there is None or name in there):
            waits[name] = []
    found = [
        Wanted(name, CHANNELS[name].label, tuple(dict.fromkeys(kinds)), there is None or name in there)
        for name, kinds in waits.items()
    ]
    return tuple(sorted(found, key=lambda one: (not one.there, _need(one))))


def _need(one: Wanted) -> tuple[int, int]:
    """Windows first, then what most rules wait for."""
    return (ALWAYS.index(one.name) if one.name in ALWAYS else len(ALWAYS), -len(one.waits))


def on_link(channels: Sequence[str], link: str) -> ChannelPlan:
    """What a tool that asks this way gives of these channels."""
    if link not in LINKS:
        raise BadInput(f"Choose how the tool asks: {', '.join(LINKS)}.", "link")
    way = LINKS[link]
    return plan_channels(
        channels, request_ms=way.request_ms, per_request=way.per_request, extra_ms=way.extra_ms
    )


def unheard(channels: Sequence[str], context: ReviewContext) -> tuple[str, ...]:
    """Kinds that these channels cannot sound for: said before anybody trusts the silence."""
    there = set(channels)
    heard, deaf = set(), []
    for one in DETECTORS:
        if one.kind not in ALARMED or not one.applies(context):
            continue
        if all(there.intersection(choice) for choice in one.needs):
            heard.add(one.kind)
        else:
            deaf.append(one.kind)
    return tuple(dict.fromkeys(kind.replace("_", " ") for kind in deaf if kind not in heard))
