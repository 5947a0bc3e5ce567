"""From rows of a file to what would be made, changed, left or refused: nothing is written here."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Any

from ..basics import QUANTITIES, BadInput, Verdict, parse
from .kinds import ListField, ListKind
from .sheet import Sheet

_UNIT = re.compile(r"^[-+]?[\d\s.,']+\s*([A-Za-z°µΩ%³/·]+[\w³/·]*)$")


@dataclass(frozen=True)
class Mapped:
    """Which field a column goes to, and the unit that its bare figures mean; no field: it is left out."""

    field: str = ""
    unit: str = ""


@dataclass(frozen=True)
class Row:
    """One thing as it stands already: its fields, canonical."""

    values: Mapping[str, Any]


class Outcome(StrEnum):
    """What becomes of a line, and what that is as a judgement."""

    made = "made"
    changed = "changed"
    same = "same"
    refused = "refused"

    @property
    def verdict(self) -> Verdict:
        return {"changed": Verdict.hold, "refused": Verdict.stop}.get(self.name, Verdict.go)


@dataclass(frozen=True)
class Change:
    """What would become of one line.

    Parameters
    ----------
    line : int
        Of the file, counted from one.
    outcome : Outcome
    name : str
    values : mapping
        Fields as they would be kept, canonical.
    told : str
        What changes, or why it is refused.
    """

    line: int
    outcome: Outcome
    name: str
    values: Mapping[str, Any] = field(default_factory=dict)
    told: str = ""


def guess_columns(kind: ListKind, sheet: Sheet) -> dict[str, Mapped]:
    """Columns by the words of their headings; a field is given once, the first column that names it."""
    guessed: dict[str, Mapped] = {}
    taken: set[str] = set()
    for heading in sheet.headings:
        words = set(re.findall(r"[a-zà-ÿ-]+", heading.lower()))
        found = next(
            (
                f
                for f in kind.fields
                if f.name not in taken and (words & set(f.words) or heading.lower() == f.label.lower())
            ),
            None,
        )
        guessed[heading] = Mapped(found.name, _unit_in(heading, found)) if found else Mapped()
        if found:
            taken.add(found.name)
    return guessed


def _unit_in(heading: str, about: ListField) -> str:
    """A unit that the heading names, else the field's own."""
    if about.quantity not in QUANTITIES:
        return about.unit
    offered = QUANTITIES[about.quantity][1]
    rest = heading.lower()
    return next(
        (unit for unit in offered if re.search(rf"(?<![a-z]){re.escape(unit.lower())}(?![a-z])", rest)),
        about.unit,
    )


def dry_run(
    kind: ListKind, sheet: Sheet, columns: Mapping[str, Mapped], stands: Sequence[Row]
) -> list[Change]:
    """What would be made, changed, left and refused, line by line.

    Parameters
    ----------
    columns : mapping
        Heading → field and unit.
    stands : sequence of Row
        What is there already.

    Raises
    ------
    BadInput
        Where a needed field has no column, a field has two, or none that tells one from another is given.
    """
    places = _places(kind, sheet, columns)
    mixed = {name: _units_of(sheet, at) for name, (at, _) in places.items() if kind.field(name).quantity}
    found: list[Change] = []
    seen: dict[tuple[str, str], int] = {}
    known = _by_mark(kind, stands)
    for number, cells in enumerate(sheet.rows):
        line = sheet.first_line + number
        if not any(cells):
            continue
        name = cells[places[_named_by(kind, places)][0]]
        try:
            values = _values(kind, cells, places, mixed)
            marks = _marks(kind, values)
            if not marks:
                wanted = " or ".join(kind.field(f).label.lower() for f in kind.known_by)
                raise BadInput(f"without {wanted} nobody can tell it from another", "file")
            twin = next((seen[mark] for mark in marks if mark in seen), None)
            if twin is not None:
                raise BadInput(f"the same {kind.one} stands on line {twin}", "file")
            seen |= dict.fromkeys(marks, line)
            found.append(_against(kind, line, name or marks[0][1], values, marks, known))
        except BadInput as error:
            found.append(Change(line, Outcome.refused, name, told=error.sentence))
    return found


def _places(kind: ListKind, sheet: Sheet, columns: Mapping[str, Mapped]) -> dict[str, tuple[int, str]]:
    places: dict[str, tuple[int, str]] = {}
    for at, heading in enumerate(sheet.headings):
        to = columns.get(heading, Mapped())
        if not to.field:
            continue
        kind.field(to.field)
        if to.field in places:
            raise BadInput(f"Two columns go to “{kind.field(to.field).label}”: leave one out.", "columns")
        places[to.field] = (at, to.unit)
    for about in kind.fields:
        if about.needed and about.name not in places:
            raise BadInput(f"Say which column holds “{about.label}”: each {kind.one} needs it.", "columns")
    return places


def _named_by(kind: ListKind, places: Mapping[str, Any]) -> str:
    return next(about.name for about in kind.fields if about.needed and about.name in places)


def _units_of(sheet: Sheet, at: int) -> list[str]:
    """Units that the cells of a column carry themselves."""
    found = {match.group(1) for row in sheet.rows if (match := _UNIT.match(row[at]))}
    return sorted(found)


def _values(
    kind: ListKind,
    cells: Sequence[str],
    places: Mapping[str, tuple[int, str]],
    mixed: Mapping[str, list[str]],
) -> dict[str, Any]:
    values: dict[str, Any] = {}
    for name, (at, unit) in places.items():
        about, text = kind.field(name), cells[at].strip()
        if not text:
            if about.needed:
                raise BadInput(f"{about.label} is empty", "file")
            continue
        if about.quantity:
            units = mixed.get(name, [])
            if len(units) > 1 and not _UNIT.match(text):
                raise BadInput(
                    f"{about.label}: this column mixes units ({', '.join(units)}) and “{text}” has none:"
                    " write it there",
                    "file",
                )
            values[name] = _figure(about, text, unit)
        elif len(text) > about.most:
            raise BadInput(f"{about.label}: longer than {about.most} letters", "file")
        else:
            values[name] = text.upper().replace(" ", "") if name == "vin" else text
    return values


def _figure(about: ListField, text: str, unit: str) -> float:
    try:
        if about.quantity != "number":
            return parse(text, about.quantity, unit or about.unit)
        digits = re.sub(r"[^\d.,-]", "", text)
        value = float(
            digits.replace(",", ".")
            if digits.count(",") == 1 and "." not in digits
            else digits.replace(",", "")
        )
    except (BadInput, ValueError) as error:
        told = error.sentence.rstrip(".") if isinstance(error, BadInput) else f"“{text}” is no figure"
        raise BadInput(f"{about.label}: {told}", "file") from error
    if value < 0:
        raise BadInput(f"{about.label}: “{text}” is less than nothing", "file")
    return value


def _marks(kind: ListKind, values: Mapping[str, Any]) -> list[tuple[str, str]]:
    """By what a thing is known again: each mark it has."""
    return [
        (
            name,
            str(values[name]).casefold().replace(" ", "") if name != "name" else str(values[name]).casefold(),
        )
        for name in kind.known_by
        if values.get(name)
    ]


def _by_mark(kind: ListKind, stands: Sequence[Row]) -> dict[tuple[str, str], list[Row]]:
    """What stands already, by each mark it has: no line is compared with every other."""
    known: dict[tuple[str, str], list[Row]] = {}
    for row in stands:
        for mark in _marks(kind, row.values):
            known.setdefault(mark, []).append(row)
    return known


def _against(
    kind: ListKind,
    line: int,
    name: str,
    values: dict[str, Any],
    marks: Sequence[tuple[str, str]],
    known: Mapping[tuple[str, str], Sequence[Row]],
) -> Change:
    """A line against what stands already."""
    hits = list({id(row): row for mark in marks for row in known.get(mark, ())}.values())
    if not hits:
        return Change(line, Outcome.made, name, values)
    if len(hits) > 1:
        raise BadInput("its marks belong to two that stand already: put that right first", "file")
    had = hits[0].values
    for mark, _ in marks:
        if had.get(mark) and str(had[mark]).casefold().replace(" ", "") != str(
            values[mark]
        ).casefold().replace(" ", ""):
            label = kind.field(mark).label
            raise BadInput(
                f"{label} {values[mark]} contradicts {had[mark]}, which stands for the same {kind.one}",
                "file",
            )
    differs = {
        field_: (had.get(field_), value)
        for field_, value in values.items()
        if not _alike(had.get(field_), value)
    }
    if not differs:
        return Change(line, Outcome.same, name, values)
    told = "; ".join(
        f"{kind.field(field_).label}: {_text(before)} → {_text(after)}"
        for field_, (before, after) in differs.items()
    )
    return Change(line, Outcome.changed, name, values, told)


def _alike(before: Any, after: Any) -> bool:
    if isinstance(before, int | float) and isinstance(after, int | float):
        return abs(before - after) <= 1e-6 * max(1.0, abs(before))
    return before == after


def _text(value: Any) -> str:
    if value is None or value == "":
        return "nothing"
    return f"{value:g}" if isinstance(value, float) else str(value)
