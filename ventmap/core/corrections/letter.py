"""A letter to the tuner that says in plain words what the logs show; its writer changes it as they like."""

from __future__ import annotations

from collections.abc import Sequence

from ..basics import Evidence
from ..findings import Review

_SERIOUS = {"stop": "This has to be put right first", "hold": "Please look at", "go": "For your knowledge"}


def letter(
    *,
    vehicle: str,
    identity: str,
    tank: str,
    place: str,
    goal: str,
    complaint: str,
    map_name: str,
    round_number: int,
    logs: Sequence[tuple[str, Review]],
    signed: str,
) -> str:
    """The letter of a round, in plain words, heaviest first.

    Parameters
    ----------
    vehicle, identity, tank, place, goal, complaint : str
        In words; empty where nothing is known.
    map_name : str
        What ran in the logs.
    logs : sequence of (name, Review)
    signed : str
        Who writes.
    """
    lines = [
        f"Round {round_number}: {vehicle}",
        identity,
        f"Fuel in the tank: {tank}. {place}",
        f"What the owner wants: {goal}." + (f" In their words: {complaint}" if complaint else ""),
        f"Map that ran: {map_name}.",
        "",
    ]
    for name, review in logs:
        lines += [f"{name}:", *_of(review), ""]
    if not logs:
        lines += ["No log is with this round.", ""]
    lines += [
        "Everything above is in package.json with its numbers; the logs are beside it as they were made."
    ]
    return "\n".join([line for line in lines if line is not None] + ["", signed]) + "\n"


def _of(review: Review) -> list[str]:
    order = sorted(review.findings, key=lambda found: -found.verdict.weight)
    lines = []
    for found in order:
        figures = "; ".join(_figure(item) for item in found.evidence[:4])
        when = f"{found.from_s:.0f} to {found.to_s:.0f} s"
        lines.append(f"- {_SERIOUS[found.verdict.value]}: {found.title.lower()}, at {when}: {figures}.")
    if not lines:
        checked = len(review.checked)
        lines.append(f"- Nothing found; {checked} {'rule was' if checked == 1 else 'rules were'} checked.")
    if review.not_checkable:
        missing = sorted({channel for item in review.not_checkable for channel in item.missing})
        lines.append(f"- Not logged, so not looked at: {', '.join(missing[:12])}.")
    return lines


def _figure(item: Evidence) -> str:
    limit = (
        f" (limit {item.limit:g} {item.unit})".replace(" )", ")")
        if isinstance(item.limit, float | int)
        else ""
    )
    value = f"{item.value:g}" if isinstance(item.value, float | int) else item.value
    return f"{item.label} {value} {item.unit}".strip() + limit
