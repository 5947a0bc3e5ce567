"""Detectors on the pretend vehicles: the smallest fault that is always found, and what sound drives are
held for.
"""

from __future__ import annotations

import functools
from collections.abc import Callable
from typing import Any

from tests.link.test_yard import BIKE, FOUND, KEYS, as_loggers_write, kinds
from ventmap.core.logs import Log
from ventmap.server import bench, drives

#: Shares of a fault's design size that are tried, from the whole down.
SHARES = (1.0, 0.8, 0.65, 0.5, 0.4, 0.3, 0.2)
#: Whose stock computer is lean in one band when nothing is broken.
ITS_OWN = {BIKE: {"lean_hole", "lean_under_load"}}
#: Ways of loggers, each with what it does by name and size.
HABITS: dict[str, dict[str, float]] = {
    "as measured": {},
    "noise, tenths of a volt, fewer rows": {},
    "each value three times": {"repeat": 3.0},
    "a pace for each channel": {"hold": 0.25},
    "bursts of three": {"burst": 3.0},
    "whole bytes": {"bytes": 1.0},
    "rounded": {"round": 1.0},
    "late and early rows": {"jitter": 0.6},
    "a second lost a minute": {"dropout": 1.0},
    "a probe that heats for 25 s": {"heating_probe": 25.0},
    "half a second at the limiter": {"limiter": 0.6},
    "all of them": {"hold": 0.2, "round": 1.0, "jitter": 0.3, "dropout": 0.8, "heating_probe": 20.0},
}


@functools.cache
def sound(key: str, seed: int, limiter: float = 0.0) -> Log:
    return drives.drive(
        key, faults={}, minutes=4.5, seed=seed, habits={"limiter": limiter} if limiter else {}
    )


def written(key: str, seed: int, way: str) -> Log:
    """A sound drive as a logger with this way writes it."""
    habits = HABITS[way]
    log = sound(key, seed, habits.get("limiter", 0.0))
    if way.startswith("noise"):
        return as_loggers_write(log, seed)
    return bench.written_by(log, {**habits, "limiter": 0.0}, seed)


def held_for_nothing(way: str, seeds: list[int]) -> dict[str, set[str]]:
    """Vehicles that are sound and yet held, with what was told, by drive."""
    told = {
        f"{key}, {seed}": kinds(key, written(key, seed, way)) - ITS_OWN.get(key, set())
        for key in KEYS
        for seed in seeds
    }
    return {name: found for name, found in told.items() if found}


def smallest(key: str, fault: str, size: float, kind: str, seeds: list[int]) -> float | None:
    """Smallest size that was tried at which each drive shows it; None where not even the design size does."""
    least = None
    for share in SHARES:
        logs = (drives.drive(key, faults={fault: size * share}, minutes=4.5, seed=seed) for seed in seeds)
        if not all(kind in kinds(key, log) for log in logs):
            return least
        least = size * share
    return least


def lines(seeds: list[int], say: Callable[[str], Any]) -> tuple[list[str], list[str], list[str]]:
    """Lines of both tables, and what falls short."""
    found, quiet, bad = [], [], []
    for key, fault, size, kind in FOUND:
        say(f"  {fault} on {key}")
        least = smallest(key, fault, size, kind, seeds)
        if least is None:
            bad.append(f"{fault} of {size:g} on {key}: not always found")
        shown = "none" if least is None else f"{least:.3g}"
        words = f"{fault.replace('_', ' ')} | {key} | {kind.replace('_', ' ')}"
        found.append(f"| {words} | {size:g} | {shown} |")
    drives_made = len(KEYS) * len(seeds)
    for way in HABITS:
        say(f"  sound, {way}")
        held = held_for_nothing(way, seeds)
        if len(held) > 0.005 * drives_made:
            bad.append(f"{way}: {held}")
        quiet.append(f"| {way} | {drives_made} | {1000 * len(held) / drives_made:.0f} |")
    return found, quiet, bad
