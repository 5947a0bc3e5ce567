"""A sum that stands alone: its fields, what it computes from them, and how that is traced."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from ..basics import BadInput, Call, Drawing, Sum, VentMapError, parse

#: What a person typed: a text for each field, or a list of rows of texts.
Typed = Mapping[str, Any]


@dataclass(frozen=True)
class Field:
    """One input.

    Parameters
    ----------
    name, label : str
    kind : str
        ``"figure"`` (a quantity with units), ``"number"`` (plain, `unit` is only shown), ``"choice"``,
        ``"flag"``,
        ``"figures"`` (several, apart by blank or semicolon), ``"rows"`` (a table, its columns in `columns`)
        or ``"text"``.
    default : str or list
        As it would be typed.
    """

    name: str
    label: str
    kind: str = "number"
    quantity: str = ""
    unit: str = ""
    default: Any = ""
    choices: tuple[str, ...] = ()
    columns: tuple[Field, ...] = ()
    hint: str = ""


@dataclass(frozen=True)
class ResultTable:
    """A table of results: column heads and rows of texts or numbers."""

    title: str
    columns: tuple[str, ...]
    rows: tuple[tuple[str | float, ...], ...]


@dataclass(frozen=True)
class SumResult:
    sums: tuple[Sum, ...] = ()
    calls: tuple[Call, ...] = ()
    tables: tuple[ResultTable, ...] = ()
    drawing: Drawing | None = None
    cautions: tuple[str, ...] = ()


@dataclass(frozen=True)
class SumKind:
    """A sum by name: `compute` takes parsed values (canonical units) under the fields' names."""

    key: str
    title: str
    purpose: str
    fields: tuple[Field, ...]
    compute: Callable[[dict[str, Any]], SumResult] = field(repr=False)

    def run(self, typed: Typed) -> SumResult:
        """Parse what was typed and compute; a field that is missing takes its default.

        Raises
        ------
        VentMapError
            Naming the field.
        """
        values = {item.name: read_field(item, typed.get(item.name, item.default)) for item in self.fields}
        return self.compute(values)


def read_field(item: Field, typed: Any) -> Any:
    """A typed text as its value."""
    try:
        return _READERS[item.kind](item, typed)
    except VentMapError as error:
        # The sentence stays, and the field is the one on the screen, not a parameter's name inside.
        raise type(error)(
            error.sentence if item.label in error.sentence else f"{item.label}: {error.sentence}", item.name
        ) from None


def _text(typed: Any) -> str:
    return "" if typed is None else str(typed).strip()


def _figure(item: Field, typed: Any) -> float:
    return parse(_text(typed), item.quantity, item.unit or None)


def _number(item: Field, typed: Any) -> float:
    try:
        value = float(_text(typed).replace(",", "."))
    except ValueError:
        raise BadInput(
            f"“{_text(typed)}” is not a number. Type it like {item.default or 12}.", item.name
        ) from None
    if not abs(value) < 1e9:
        raise BadInput(f"“{_text(typed)}” is not a usable number.", item.name)
    return value


def _choice(item: Field, typed: Any) -> str:
    if _text(typed) not in item.choices:
        raise BadInput(f"choose one of {', '.join(item.choices)}.", item.name)
    return _text(typed)


def _flag(item: Field, typed: Any) -> bool:
    return typed is True or _text(typed).lower() in ("yes", "true", "1", "y")


def _figures(item: Field, typed: Any) -> list[float]:
    parts = [part for part in _text(typed).replace(";", " ").split() if part]
    if not parts:
        raise BadInput("type at least one figure, apart by blanks.", item.name)
    return [_figure(item, part) if item.quantity else _number(item, part) for part in parts]


def _rows(item: Field, typed: Any) -> list[dict[str, Any]]:
    if (
        not isinstance(typed, Sequence)
        or isinstance(typed, str)
        or not all(isinstance(row, Mapping) for row in typed)
    ):
        raise BadInput("give a list of rows.", item.name)
    rows = []
    for number, row in enumerate(typed, 1):
        try:
            rows.append(
                {
                    column.name: read_field(column, row.get(column.name, column.default))
                    for column in item.columns
                }
            )
        except VentMapError as error:
            raise type(error)(f"row {number}, {error.sentence}", item.name) from None
    return rows


_READERS: dict[str, Callable[[Field, Any], Any]] = {
    "figure": _figure,
    "number": _number,
    "choice": _choice,
    "flag": _flag,
    "figures": _figures,
    "rows": _rows,
    "text": lambda item, typed: _text(typed),
}
