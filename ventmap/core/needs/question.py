"""A question: one thing that a record does not say yet, and the step that cannot do without it."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from ..basics import BadInput, parse_field

Rows = Sequence[Mapping[str, str]]


@dataclass(frozen=True)
class Column:
    """One column of an answer that is a list; a `quantity` makes it a figure in `unit`."""

    name: str
    label: str
    quantity: str = ""
    unit: str = ""
    choices: tuple[str, ...] = ()
    optional: bool = False


@dataclass(frozen=True)
class Question:
    """What is asked, at which steps, and what happens without it.

    Parameters
    ----------
    of : str
        ``"vehicle"``, ``"device"``, ``"injector"`` or ``"pump"``: whose record keeps the answer.
    field : str
        Field of that record.
    title, found, without : str
        The question, where its answer is usually found, and what is done while nobody knows it.
    steps : tuple of str
        Keys of the steps that ask it; one that ends in ``.`` stands for all that begin so.
    must : bool
        Those steps are not done before it is answered: people, engine or computer hang on it.
    form : str
        ``"figure"``, ``"pair"``, ``"yes"``, ``"choice"``, ``"text"``, ``"list"`` or ``"table"`` (pasted).
    quantity, unit : str
        Of a figure or a pair.
    choices : tuple of str
    columns : tuple of Column
        Of a list; an empty list says that there are none.
    none : str
        The words of the button that says so.
    rules : tuple of str
        Further calls, beside those of its steps, that rest on the answer.
    protects : str
        ``"people"`` or ``"computer"`` where a wrong answer harms them: it is looked up, never guessed.
    kinds : tuple of str
        Kinds of device that are asked it; all where empty.
    when : callable
        Whether a vehicle's record is asked it.
    build : callable
        Rows of a list → the value that the record keeps.
    """

    of: str
    field: str
    title: str
    found: str
    without: str
    steps: tuple[str, ...]
    must: bool = False
    form: str = "figure"
    quantity: str = ""
    unit: str = ""
    choices: tuple[str, ...] = ()
    columns: tuple[Column, ...] = ()
    none: str = "None"
    rules: tuple[str, ...] = ()
    protects: str = ""
    kinds: tuple[str, ...] = ()
    when: Callable[[Any], bool] = lambda record: True
    build: Callable[[list[dict[str, Any]]], Any] = lambda rows: rows

    def at(self, step: str) -> bool:
        """It is asked at this step; a second kit's step has ``-2`` behind its key."""
        return _at(self.steps, step)

    def bears_on(self, rule: str) -> bool:
        """A call of this rule rests on the answer."""
        step = rule.removeprefix("step.").split("#")[0]
        return self.at(step) or any(rule.split("#")[0].startswith(prefix) for prefix in self.rules)


@lru_cache(32_768)
def _at(steps: tuple[str, ...], step: str) -> bool:
    return any(step.startswith(key) if key.endswith(".") else _same(step, key) for key in steps)


def _same(step: str, key: str) -> bool:
    head, _, tail = step.rpartition("-")
    return step == key or (head == key and tail.isdigit())


def read_answer(question: Question, given: Any, unit: str = "") -> Any:
    """What was typed or tapped, as the record keeps it.

    Parameters
    ----------
    given : str, list of str or list of mapping
        By the question's form: text, two texts of a pair, or rows of a list.
    unit : str
        Unit meant where none is typed.

    Raises
    ------
    BadInput
        Naming the field and what to type.
    """
    field = question.field
    if question.form == "pair":
        return _pair(question, given, unit)
    if question.form == "list":
        return question.build([_row(question, row, n) for n, row in enumerate(_rows(question, given), 1)])
    if not isinstance(given, str) or not given.strip():
        raise BadInput(f"{question.title} Type an answer.", field)
    text = given.strip()
    if question.form == "figure":
        return parse_field(field, text, question.quantity, unit or question.unit)
    if question.form == "yes":
        if text not in ("yes", "no"):
            raise BadInput(f"{question.title} Answer yes or no.", field)
        return text == "yes"
    if question.form == "choice" and text not in question.choices:
        raise BadInput(f"{question.title} Choose one of {', '.join(question.choices)}.", field)
    if question.form == "choice" and text.isdigit():
        return int(text)
    if len(text) > 200:
        raise BadInput(f"{question.title} Keep it to 200 letters.", field)
    return text


def _pair(question: Question, given: Any, unit: str) -> list[float]:
    if not isinstance(given, list) or len(given) != 2 or not all(isinstance(end, str) for end in given):
        raise BadInput(f"{question.title} Type the least and the most.", question.field)
    low, high = (parse_field(question.field, end, question.quantity, unit or question.unit) for end in given)
    if not low < high:
        raise BadInput(f"{question.title} The least comes first and is smaller.", question.field)
    if low <= 0 and question.quantity != "fraction":
        raise BadInput(f"{question.title} Both are more than nothing.", question.field)
    return [low, high]


def _rows(question: Question, given: Any) -> Rows:
    if not isinstance(given, list) or not all(isinstance(row, Mapping) for row in given) or len(given) > 60:
        raise BadInput(f"{question.title} Give its lines, or say that there are none.", question.field)
    return [row for row in given if any(str(cell).strip() for cell in row.values())]


def _row(question: Question, row: Mapping[str, Any], number: int) -> dict[str, Any]:
    read: dict[str, Any] = {}
    for column in question.columns:
        text = str(row.get(column.name, "")).strip()
        where = f"{question.title} Line {number}, {column.label}"
        if not text and column.optional:
            continue
        if not text or len(text) > 200:
            raise BadInput(f"{where}: type it, 1 to 200 letters.", question.field)
        if column.choices and text not in column.choices:
            raise BadInput(f"{where}: choose one of {', '.join(column.choices)}.", question.field)
        if column.quantity:
            try:
                read[column.name] = parse_field(question.field, text, column.quantity, column.unit)
            except BadInput as error:
                raise BadInput(f"{where}: {error.sentence}", question.field) from None
        else:
            read[column.name] = text
    return read


#: The column of a list that is words alone.
TEXT = (Column("text", "what"),)


def texts(rows: list[dict[str, Any]]) -> list[str]:
    """Rows of words alone, as the record keeps them."""
    return [row["text"] for row in rows]
