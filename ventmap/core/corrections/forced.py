"""How many rounds the limits of a round force."""

from __future__ import annotations

import numpy as np

from ..basics import Floats, how_many

#: More rounds than this are not counted.
MOST_ROUNDS = 12


def rounds_forced(
    asked: Floats,
    step: tuple[Floats, Floats],
    bounds: tuple[Floats, Floats],
    weight: Floats,
    within: float,
    done: float,
) -> int | None:
    """Rounds until so much of the driven time can lie within the limit, were every cell known exactly.

    Parameters
    ----------
    asked : ndarray
        Fuel that each cell asks for (fraction).
    step : tuple of ndarray
        What one round may move a cell's fuel by, least (below nought) and most (fractions).
    bounds : tuple of ndarray
        The same of all rounds together.
    weight : ndarray
        Time in each cell.
    within : float
        A cell is there within so much (fraction).
    done : float
        Share of the time that must be (0–1).

    Returns
    -------
    int or None
        Nought where it is there already; None where `MOST_ROUNDS` do not get there.
    """
    if not weight.sum() > 0:
        return None
    target, moved = 1.0 + asked, np.ones_like(asked)
    for rounds in range(MOST_ROUNDS + 1):
        there = np.abs(target / moved - 1.0) <= within + 1e-9
        if float((weight * there).sum() / weight.sum()) >= done - 1e-9:
            return rounds
        moved = moved * np.clip(target / moved, 1.0 + step[0], 1.0 + step[1])
        moved = np.clip(moved, 1.0 + bounds[0], 1.0 + bounds[1])
    return None


def rounds_in_words(rounds: int | None) -> str:
    """What the limits force, for who reads a proposal; empty where it is there."""
    if rounds is None:
        return f"not in {MOST_ROUNDS} rounds of what one may move"
    return "" if rounds == 0 else f"{how_many(rounds, 'round')} or more, by what one may move"
