"""A plan of pins for an adapted harness: what stays, goes, moves, is joined or insulated."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass, fields

from ..basics import BadInput, Call, Evidence, Verdict, as_text, as_was, how_many

ACTIONS = ("keep", "pull", "move", "join", "insulate")
COLUMNS = ("connector", "number", "colour", "function", "action", "to", "insulated", "damaged", "label")


@dataclass(frozen=True)
class PinRow:
    """One pin.

    Parameters
    ----------
    connector, number, colour, function : str
        Where it is and what it carries.
    action : str
        One of `ACTIONS`.
    to : str
        Where a moved or joined pin goes, ``"connector number"``.
    insulated : bool
        A pulled pin's end is covered.
    damaged : str
        What is wrong with the pin, where something is.
    label : str
        What the tape on the wire says.
    """

    connector: str
    number: str
    colour: str = ""
    function: str = ""
    action: str = "keep"
    to: str = ""
    insulated: bool = False
    damaged: str = ""
    label: str = ""

    def __post_init__(self) -> None:
        action = (self.action or "keep").strip().lower()
        if action not in ACTIONS:
            raise BadInput(
                f"{self.place}: “{self.action}” is no action. Choose one of {', '.join(ACTIONS)}.", "action"
            )
        object.__setattr__(self, "action", action)

    @property
    def place(self) -> str:
        return f"{self.connector} {self.number}"


#: Of a whole vehicle's harness, and more.
MOST_PINS = 3_000


def check_pin_plan(plan: Sequence[PinRow], needs: Sequence[str]) -> list[Call]:
    """Judge a plan against the functions that the device needs.

    Every needed function has exactly one pin; no pin stands twice; pulled pins are insulated; two wires do
    not move to
    one place; damaged pins are named.
    """
    problems = [*_twice(plan), *_needs(plan, needs), *_loose(plan), *_targets(plan)]
    damaged = [row for row in plan if row.damaged]
    if damaged:
        problems.append(
            _call(
                "wiring.pin_damaged",
                Verdict.hold,
                "Damaged pins",
                "Renew them before the plug goes on.",
                *(Evidence(row.place, row.damaged) for row in damaged),
            )
        )
    if problems:
        return problems
    counts = {action: sum(row.action == action for row in plan) for action in ACTIONS}
    return [
        _call(
            "wiring.pin_plan",
            Verdict.go,
            "Pin plan",
            "Work it pin by pin, label before pulling.",
            Evidence("pins", len(plan)),
            Evidence("functions needed", len(needs)),
            *(Evidence(action, count) for action, count in counts.items() if count),
        )
    ]


def _call(rule: str, verdict: Verdict, title: str, advice: str, *because: Evidence) -> Call:
    return Call(
        rule,
        verdict=verdict,
        because=because,
        do_next=advice,
        source="Every function one pin, every pin one place",
        title=title,
        protects="computer" if verdict is Verdict.stop else "",
    )


def _twice(plan: Sequence[PinRow]) -> list[Call]:
    places = [row.place for row in plan]
    twice = sorted({place for place in places if places.count(place) > 1})
    return [
        _call(
            "wiring.pin_twice",
            Verdict.stop,
            f"Pin {place} stands twice",
            "Keep the line that is true and delete the other.",
            Evidence(place, places.count(place), 1),
        )
        for place in twice
    ]


def _needs(plan: Sequence[PinRow], needs: Sequence[str]) -> list[Call]:
    found = []
    live = [row for row in plan if row.action in ("keep", "move", "join")]
    for need in needs:
        rows = [row for row in live if row.function.strip().lower() == need.strip().lower()]
        if not rows:
            found.append(
                _call(
                    "wiring.need_missing",
                    Verdict.stop,
                    f"{need} has no pin",
                    "Find its wire in the diagram and give it a line.",
                    Evidence(need, 0, 1),
                )
            )
        elif len(rows) > 1 and not all(row.action == "join" for row in rows):
            found.append(
                _call(
                    "wiring.need_twice",
                    Verdict.stop,
                    f"{need} has {how_many(len(rows), 'pin')}",
                    "One pin for it; join them on purpose, or pull the others.",
                    *(Evidence(row.place, row.action) for row in rows),
                )
            )
    return found


def _loose(plan: Sequence[PinRow]) -> list[Call]:
    loose = [row for row in plan if row.action == "pull" and not row.insulated]
    return (
        [
            _call(
                "wiring.pin_bare",
                Verdict.hold,
                "Pulled pins are bare",
                "Cover each end and tie it back.",
                *(Evidence(row.place, "bare") for row in loose),
            )
        ]
        if loose
        else []
    )


def _targets(plan: Sequence[PinRow]) -> list[Call]:
    found = []
    moved = [row for row in plan if row.action == "move"]
    for row in moved:
        if not row.to.strip():
            found.append(
                _call(
                    "wiring.move_nowhere",
                    Verdict.hold,
                    f"Pin {row.place} moves nowhere",
                    "Say where it goes.",
                    Evidence(row.place, "move"),
                )
            )
    # “b 1” and “B 1” are one hole.
    kept = {row.place.upper() for row in plan if row.action in ("keep", "join")}
    targets = [row.to.strip().upper() for row in moved if row.to.strip()]
    for target in sorted(set(targets)):
        if targets.count(target) > 1 or target in kept:
            found.append(
                _call(
                    "wiring.place_taken",
                    Verdict.stop,
                    f"Two wires for {target}",
                    "One of them goes elsewhere, or they are joined on purpose.",
                    Evidence(target, targets.count(target) + (target in kept), 1),
                )
            )
    return found


def pin_plan_csv(plan: Sequence[PinRow]) -> str:
    """The plan as CSV with a header row, for a spreadsheet and back."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for row in plan:
        writer.writerow(
            [
                "yes" if value is True else "" if value is False else as_text(str(value))
                for value in (getattr(row, name) for name in COLUMNS)
            ]
        )
    return out.getvalue()


def read_pin_plan(text: str) -> list[PinRow]:
    """Read a plan from CSV; comma, semicolon or tab; columns in any order, unknown ones refused by name.

    Raises
    ------
    BadInput
        Naming the column or the line.
    """
    text = text.lstrip("\ufeff")
    first = text.splitlines()[0] if text.strip() else ""
    comma = max(",;\t", key=first.count)
    try:
        table = csv.DictReader(io.StringIO(text, newline=""), delimiter=comma)
        names = [name.strip().lower() for name in table.fieldnames or ()]
        rows = list(table)
    except csv.Error as error:
        raise BadInput(f"The file cannot be read as CSV: {error}.", "file") from error
    if len(rows) > MOST_PINS:
        raise BadInput(f"The file has {len(rows)} lines; no vehicle has more than {MOST_PINS} pins.", "file")
    unknown = [name for name in names if name not in COLUMNS]
    if not rows or "connector" not in names or "number" not in names or unknown:
        what = f"The column “{unknown[0]}” is unknown" if unknown else "The file has no pins"
        raise BadInput(
            f"{what}. A pin plan has the columns {', '.join(COLUMNS)}; connector and number are needed.",
            "file",
        )
    plan = []
    for line, raw in enumerate(rows, 2):
        row = {
            (name or "").strip().lower(): as_was((value or "").strip())
            for name, value in raw.items()
            if isinstance(value, str | None)
        }
        action = row.get("action", "keep").lower() or "keep"
        if action not in ACTIONS:
            raise BadInput(
                f"Line {line}: the action is one of {', '.join(ACTIONS)}, not “{action}”.", "action"
            )
        given = {f.name: row.get(f.name, "") for f in fields(PinRow) if f.name not in ("insulated", "action")}
        plan.append(
            PinRow(
                **given,
                action=action,
                insulated=row.get("insulated", "").lower() in ("yes", "y", "1", "true", "x"),
            )
        )
    return plan
