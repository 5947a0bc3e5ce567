"""Cards that are printed and kept in the vehicle: what a selector's position or lamp means, what to press."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..forms import Calibration
from ..vehicle import entry_steps

#: Head of the column that says what is seen.
SHOWS = "what shows"


@dataclass(frozen=True)
class CardLine:
    """A line of a card, by its columns."""

    cells: tuple[str, ...]


@dataclass(frozen=True)
class Card:
    """A card: its title, the heads of its columns, its lines, and what is said below."""

    title: str
    heads: tuple[str, ...]
    lines: tuple[CardLine, ...]
    notes: tuple[str, ...] = ()


def map_card(calibration: Calibration, shows_on: str = "") -> Card | None:
    """The card of a map; None where its form has none. `shows_on` is what shows what is set, by the device's
    sheet.
    """
    makers = {"trim": _trim, "level": _level, "blend": _blend, "entries": _entries, "options": _options}
    make = makers.get(calibration.form)
    made = make(calibration) if make else None
    if made is None or SHOWS not in made.heads:
        return made
    heads = tuple(shows_on or SHOWS if head == SHOWS else head for head in made.heads)
    return replace(made, heads=heads)


def _trim(calibration: Calibration) -> Card:
    lines = []
    for row in calibration.lists["positions"]:
        limit = row.get("rev_limit")
        lines.append(
            CardLine(
                (
                    f"{row['number']:g}",
                    str(row["name"]),
                    str(row.get("lamp", "")),
                    f"{limit:g} rpm" if limit is not None else "",
                    "by its maker" if row["fixed"] else "set here",
                )
            )
        )
    heads = ("position", "what it is for", SHOWS, "rev limit", "map")
    return Card("Selector", heads, tuple(lines), ("Turn it standing still, engine at idle or off.",))


def _level(calibration: Calibration) -> Card:
    need = {row["number"]: row["ron"] for row in calibration.lists["levels"]}
    lines = []
    for row in calibration.lists.get("modes", ()):
        level = row["level"]
        octane = "as stock" if level == 0 else f"{need.get(level, 0):g} RON or more"
        lines.append(
            CardLine(
                (str(row["mode"]), "off" if level == 0 else f"{level:g}", str(row.get("lamp", "")), octane)
            )
        )
    delay = f"A level acts {calibration.scalars['warm_up_s']:g} s after a cold start, not before."
    return Card("Modes and levels", ("mode", "level", SHOWS, "fuel"), tuple(lines), (delay,))


def _blend(calibration: Calibration) -> Card:
    lines = tuple(
        CardLine((f"{row['number']:g}", str(row["name"]), str(row.get("lamp", ""))))
        for row in calibration.lists["presets"]
    )
    return Card(
        "Presets",
        ("preset", "what it is for", SHOWS),
        lines,
        ("It follows the content of the tank by itself; one that blinks asks for the workshop.",),
    )


def _entries(calibration: Calibration) -> Card:
    """Press by press, with what the dial must show after each."""
    lines = []
    for row in calibration.lists["entries"]:
        steps = entry_steps(
            float(row["wanted"]),
            str(row["coding"]),
            on_shows=float(row.get("on_shows", 1)),
            off_shows=float(row.get("off_shows", 0)),
        )
        lines.append(
            CardLine(
                (
                    f"{row['number']:g}",
                    str(row["name"]),
                    str(row.get("before", "")),
                    f"go to setting {row['number']:g}",
                    f"{row['number']:g}",
                )
            )
        )
        lines += [CardLine(("", "", "", step.press, step.shows)) for step in steps]
    heads = ("setting", "what it sets", "first", "press", "dial must show")
    return Card(
        "Entries, press by press",
        heads,
        tuple(lines),
        ("Read each back; power off, on, and read again. A figure that is not there was not entered.",),
    )


def _options(calibration: Calibration) -> Card:
    lines = []
    for row in calibration.lists["options"]:
        unit = str(row.get("unit", ""))
        mark = "closed course only" if row["closed_course"] and row["wanted"] != row["stock"] else ""
        lines.append(
            CardLine(
                (
                    str(row["name"]),
                    f"{row['stock']:g} {unit}".strip(),
                    f"{row['wanted']:g} {unit}".strip(),
                    str(row.get("reason", "")),
                    mark,
                )
            )
        )
    return Card("Options over stock", ("option", "stock", "set", "why", ""), tuple(lines))
