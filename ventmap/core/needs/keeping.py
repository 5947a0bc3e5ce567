"""What a job learned that the next one of its kind need not find out again."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from statistics import median
from typing import Any

from ..basics import Grown
from .asking import Thing

#: Steps whose reading is a figure of the thing itself: of what, which field, its name and unit.
READ: dict[str, tuple[str, str, str, str]] = {
    "fit.ohms": ("injector", "ohms", "resistance", "Ω"),
    "first-start.idle": ("vehicle", "idle_rpm", "warm idle", "rpm"),
}
#: A step that took less is a tap for something done before, more is a break [min].
LEAST_MIN, MOST_MIN = 0.5, 240.0
#: Older times than these are left behind.
TIMES_KEPT = 12


@dataclass(frozen=True)
class Learned:
    """One thing to keep: whose, which field of its record, its value, in words, and where it comes from."""

    of: str
    key: str
    name: str
    field: str
    title: str
    value: Any
    shown: str
    why: str

    @property
    def id(self) -> str:
        return f"{self.of}.{self.key}.{self.field}"


@dataclass(frozen=True)
class Worked:
    """What was done on a job.

    Parameters
    ----------
    readings : mapping
        Step → reading, canonical.
    slept_s : float, optional
        How long the wait for the modules ran until somebody ended it [s].
    seats_mm : mapping
        ``"vehicle"`` and ``"injector"`` → lower seat to rail seat as it was measured [mm].
    identity : mapping
        What the stock computer answered: ``"computer"``, ``"calibration"``.
    minutes : mapping
        Step → minutes from the step before it, done by the same person.
    """

    readings: Mapping[str, float]
    slept_s: float | None = None
    seats_mm: Mapping[str, float] | None = None
    identity: Mapping[str, str] | None = None
    minutes: Mapping[str, float] | None = None


def learned(things: Sequence[Thing], worked: Worked) -> list[Learned]:
    """What is worth keeping: nothing that the records say already, and never over a better source."""
    by = {thing.of: thing for thing in reversed(things)}
    found: list[Learned] = []

    def offer(of: str, field: str, title: str, value: Any, words: str, why: str) -> None:
        thing = by.get(of)
        if thing is not None and _worth(thing.record, field, value):
            found.append(Learned(of, thing.key, thing.name, field, title, value, words, why))

    for step, (of, field, title, unit) in READ.items():
        if step in worked.readings:
            value = worked.readings[step]
            offer(of, field, title, value, f"{value:g} {unit}", "read here")
    if worked.slept_s is not None:
        words = f"{worked.slept_s / 60:.1f} min"
        offer("vehicle", "sleep_s", "until its modules sleep", round(worked.slept_s), words, "waited here")
    for of, mm in (worked.seats_mm or {}).items():
        offer(of, "seat_to_rail_mm", "lower seat to rail seat", mm, f"{mm:g} mm", "measured for the spacers")
    for field, title in (("computer", "stock computer"), ("calibration", "stock calibration")):
        text = (worked.identity or {}).get(field, "").strip()
        if text:
            offer("vehicle", f"stock_{field}", title, text, text, "as it answered in Baseline")
    times = {step: round(m, 1) for step, m in (worked.minutes or {}).items() if LEAST_MIN <= m <= MOST_MIN}
    if times:
        total = sum(times.values())
        words = f"{len(times)} steps, {total:.0f} min in all"
        whose = "device" if "device" in by else "vehicle"
        offer(
            whose,
            "minutes",
            "how long the steps really took",
            times,
            words,
            "from step to step, by one person",
        )
    return found


def _worth(record: Grown, field: str, value: Any) -> bool:
    """The record lacks it, or holds a guess; times are always added."""
    if field == "minutes":
        return True
    if field == "seat_to_rail_mm" and hasattr(record, "injector_seat"):
        return record.injector_seat.seat_to_rail_mm is None
    had = getattr(record, field, None)
    return had in (None, "") or (record.guessed(field) and had != value)


def kept(body: Mapping[str, Any], item: Learned) -> dict[str, Any]:
    """A thing's body with what was learned in it; the record's own bounds are held where it is read again."""
    fresh = dict(body)
    if item.field == "minutes":
        times = {step: list(taken) for step, taken in dict(fresh.get("minutes", {})).items()}
        for step, taken in item.value.items():
            times[step] = [*times.get(step, []), taken][-TIMES_KEPT:]
        fresh["minutes"] = times
    elif item.of == "vehicle" and item.field == "seat_to_rail_mm":
        fresh["injector_seat"] = {**fresh.get("injector_seat", {}), "seat_to_rail_mm": item.value}
    else:
        fresh[item.field] = item.value
    return fresh


def usual_minutes(records: Sequence[Grown]) -> dict[str, float]:
    """How long each step took so far: the median of the times kept with the things of a job [min]."""
    times: dict[str, list[float]] = {}
    for record in records:
        for step, taken in record.minutes.items():
            times.setdefault(step, []).extend(taken)
    return {step: float(median(taken)) for step, taken in times.items() if taken}
