"""Which questions a step asks of the records at hand, and which calls rest on a guess."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from ..basics import SOURCES, BadInput, BodyNetworkModule, Device, Evidence, Grown, Told, Vehicle, how_many
from .of_device import OF_DEVICE
from .of_parts import OF_PARTS
from .of_settings import OF_SETTINGS
from .of_vehicle import OF_VEHICLE
from .question import Question

#: Kinds of vehicle that may shift by themselves.
WITH_GEARBOX = ("car", "van", "pickup")

QUESTIONS: tuple[Question, ...] = (*OF_VEHICLE, *OF_DEVICE, *OF_SETTINGS, *OF_PARTS)


@dataclass(frozen=True)
class Thing:
    """A record at hand: whose it is, its key on the shelf, what it is called."""

    of: str
    key: str
    name: str
    record: Grown


@dataclass(frozen=True)
class Ask:
    """A question that is open, and of which thing."""

    question: Question
    thing: Thing


def question_of(of: str, field: str) -> Question:
    """Look a question up.

    Raises
    ------
    BadInput
        Where nothing of that name is asked.
    """
    for question in QUESTIONS:
        if (question.of, question.field) == (of, field):
            return question
    raise BadInput(f"Nothing called “{field}” is asked of a {of}.", "field")


def _open(question: Question, thing: Thing, things: Sequence[Thing]) -> bool:
    record = thing.record
    if question.of != thing.of or question.field not in type(record).model_fields:
        return False
    if isinstance(record, Device) and question.kinds and record.kind not in question.kinds:
        return False
    if not question.when(record):
        return False
    if question.field == "fits":
        return _engine_unknown(record, things)
    if question.field == "body_network":
        wanted = any(isinstance(other.record, BodyNetworkModule) for other in things)
        return wanted and not getattr(record, "body_network", "")
    if question.field == "gearbox_kind":
        devices = [other.record for other in things if isinstance(other.record, Device)]
        # What takes the stock computer's place has to tell an automatic what the stock one told it.
        replaced = getattr(record, "kind", "") in WITH_GEARBOX and any(one.replaces_stock for one in devices)
        asked = replaced or any(one.gearboxes for one in devices)
        return asked and getattr(record, "gearbox_kind", None) is None
    if question.field == "access" and not _reached(things):
        return False
    return getattr(record, question.field) is None


def _reached(things: Sequence[Thing]) -> bool:
    """Something is fitted at the engine with this job, not only written through the diagnostic port."""
    stock = next((one.record.stock_injectors for one in things if isinstance(one.record, Vehicle)), "")
    return any(
        thing.of == "pump"
        or (thing.of == "injector" and thing.key != stock)
        or (isinstance(thing.record, Device) and thing.record.retunes and not thing.record.rewrites_stock)
        for thing in things
    )


def _engine_unknown(device: Grown, things: Sequence[Thing]) -> bool:
    """Nobody has looked whether its maker's list names this engine; a list on the shelf answers itself."""
    assert isinstance(device, Device)
    engine = next((thing.record.engine for thing in things if isinstance(thing.record, Vehicle)), "")
    if not engine or engine in device.not_for or engine in [entry.engine for entry in device.fits]:
        return False
    return not device.fits or "fits" in device.told


def open_asks(things: Sequence[Thing]) -> list[Ask]:
    """Everything that the records at hand do not say yet."""
    return [
        Ask(question, thing) for question in QUESTIONS for thing in things if _open(question, thing, things)
    ]


def asks_at(step: str, asks: Sequence[Ask]) -> list[Ask]:
    """Of what is open, what a step asks; what it cannot do without comes first."""
    found = [ask for ask in asks if ask.question.at(step)]
    return sorted(found, key=lambda ask: not ask.question.must)


def told_at(step: str, things: Sequence[Thing]) -> list[tuple[Question, Thing, Told]]:
    """What was told of the things at hand that this step rests on."""
    return [
        (question, thing, thing.record.told[question.field])
        for question in _questions_at(step)
        for thing in things
        if question.of == thing.of and question.field in thing.record.told
    ]


@lru_cache(4_096)
def _questions_at(step: str) -> tuple[Question, ...]:
    return tuple(question for question in QUESTIONS if question.at(step))


def guesses_under(rule: str, things: Sequence[Thing]) -> tuple[Evidence, ...]:
    """The guesses that a call of this rule rests on, as evidence to be shown with it."""
    return tuple(
        Evidence(
            f"guessed: {question.title.rstrip('?')}",
            f"{shown(question, getattr(thing.record, question.field))}"
            + (
                f", by {thing.record.told[question.field].by}" if thing.record.told[question.field].by else ""
            ),
        )
        for question in QUESTIONS
        if question.bears_on(rule)
        for thing in things
        if question.of == thing.of and thing.record.guessed(question.field)
    )


def may_replace(question: Question, thing: Thing, value: Any, source: str, anyway: bool) -> None:
    """Refuse an answer that contradicts a better one.

    Raises
    ------
    BadInput
        A guess never takes the place of a sheet or a measurement; a sheet that differs from what was measured
        here has to be confirmed.
    """
    if source not in SOURCES:
        raise BadInput(f"Say where it comes from: {', '.join(SOURCES)}.", "source")
    if source == "guessed" and question.protects:
        raise BadInput(
            f"{question.title} This protects {question.protects}: look it up or look at it, do not guess.",
            question.field,
        )
    had = getattr(thing.record, question.field)
    told = thing.record.told.get(question.field)
    if had is None or told is None or _plain(had) == _plain(value):
        return
    before = f"{shown(question, had)} ({told.source}{', ' + told.by if told.by else ''})"
    if SOURCES.index(source) > SOURCES.index(told.source):  # type: ignore[arg-type]
        if source == "guessed":
            raise BadInput(f"{thing.name} has {before}. A guess does not take its place.", question.field)
        if not anyway:
            raise BadInput(
                f"{thing.name} has {before}, and this differs: {shown(question, value)}. What was measured"
                " stays unless you say that the sheet is right.",
                question.field,
            )


def _plain(value: Any) -> Any:
    """A record's value as its JSON form, for comparison."""
    if isinstance(value, (tuple, list)):
        return [_plain(item) for item in value]
    if isinstance(value, Mapping):
        return {key: _plain(item) for key, item in value.items()}
    if hasattr(value, "model_dump"):
        return _plain(value.model_dump())
    return float(value) if isinstance(value, int) and not isinstance(value, bool) else value


def shown(question: Question, value: Any) -> str:
    """An answer in words, in its canonical unit."""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if question.form == "pair" and question.quantity == "fraction":
        return f"{100 * value[0]:+g} to {100 * value[1]:+g} %"
    if question.form == "pair":
        return f"{value[0]:g}–{value[1]:g} {question.unit}"
    if question.form == "figure":
        seconds = question.quantity == "time"
        return f"{value:g} {'s' if seconds else question.unit}"
    if question.field == "fits":
        return "yes"
    if question.form in ("list", "table"):
        size = len(value) if isinstance(value, (tuple, list)) else 1
        return how_many(size, "line") if size else "none"
    return str(value)


def new_vehicle_asks(vehicle: Vehicle) -> list[str]:
    """Titles of what a vehicle does not say yet."""
    thing = Thing("vehicle", "", vehicle.model, vehicle)
    return [question.title for question in OF_VEHICLE if _open(question, thing, [thing])]
