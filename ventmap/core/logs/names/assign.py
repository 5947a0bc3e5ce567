"""Which column is which channel: one to one, and how sure that is."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ..channels import CHANNELS
from .legislated import legislated
from .score import Sample, score, wording

#: From here on a column is taken; below it is asked; below that it is kept under its own name.
TAKEN, ASKED = 0.68, 0.38
#: From here on, and this far ahead of the next, it is understood; else guessed.
SURE, AHEAD = 0.80, 0.10


@dataclass(frozen=True)
class Named:
    """What a column is.

    Parameters
    ----------
    channel : str
        Empty where it is none, or is asked.
    status : str
        ``"understood"``, ``"guessed"``, ``"asked"`` or ``"ignored"``.
    best : tuple of (channel, score)
        The likeliest, best first, three at most.
    """

    channel: str
    status: str
    best: tuple[tuple[str, float], ...] = ()


def name_columns(samples: Mapping[str, Sample], told: Mapping[str, str] | None = None) -> dict[str, Named]:
    """Assign columns to channels.

    Parameters
    ----------
    samples : mapping of column to Sample
    told : mapping, optional
        Column to channel where a person has said so: they are not scored, and their channels are taken.

    Notes
    -----
    Kuhn's assignment over the scores: the sum is greatest, each channel has one column at most.
    """
    told = dict(told or {})
    columns = [column for column in samples if column not in told]
    channels = [name for name in CHANNELS if name not in told.values()]
    found: dict[str, Named] = {}
    still = _still(samples, told)
    scores = np.array([[score(samples[c], name, still) for name in channels] for c in columns]).reshape(
        len(columns), len(channels)
    )
    taken: dict[int, int] = {}
    if scores.size:
        from scipy.optimize import linear_sum_assignment

        # What is not worth taking does not push another aside.
        worth = np.where(scores >= TAKEN, scores, 0.0)
        # Of two that fit alike the first is taken.
        worth -= np.where(worth > 0, 1e-6 * np.arange(len(columns))[:, None], 0.0)
        rows, cols = linear_sum_assignment(worth, maximize=True)
        taken = {int(r): int(c) for r, c in zip(rows, cols, strict=True) if worth[r, c] > 0}
    for row, column in enumerate(columns):
        order = np.argsort(-scores[row], kind="stable")[:3].tolist() if scores.size else []
        best = tuple((channels[i], round(float(scores[row, i]), 3)) for i in order if scores[row, i] > 0)
        if row in taken:
            sure = _how_sure(scores, row, taken[row], samples[column])
            found[column] = Named(channels[taken[row]], sure, best)
        else:
            held = {channels[i] for i in taken.values()}
            # Values that no such channel has on a usual engine are asked about, never left out in silence.
            called = _called(samples[column], [name for name in channels if name not in held])
            status = _unassigned(samples[column], best, held)
            if status == "ignored" and called and legislated(samples[column].name) != "-":
                status, best = "asked", called
            found[column] = Named("", status, best)
    for column, channel in told.items():
        if column in samples:
            found[column] = Named(channel, "understood" if channel else "ignored")
    return found


def _still(samples: Mapping[str, Sample], told: Mapping[str, str]) -> np.ndarray | None:
    """Rows in which the engine stands, by the column that is engine speed; None where none is."""
    said = next((column for column, channel in told.items() if channel == "rpm" and column in samples), "")
    rated = {column: score(sample, "rpm") for column, sample in samples.items()}
    likely = said or max(rated, key=lambda column: rated[column], default="")
    if not likely or (not said and rated[likely] < TAKEN):
        return None
    return np.asarray(samples[likely].values < 50.0)


def _how_sure(scores: np.ndarray, row: int, col: int, sample: Sample) -> str:
    own = scores[row, col]
    next_channel = np.delete(scores[row], col).max(initial=0.0)
    # Another column that fits as well, and is taken for nothing else, makes it a guess.
    rivals = [scores[r, col] for r in range(len(scores)) if r != row and scores[r].argmax() == col]
    rival = max(rivals, default=0.0)
    if legislated(sample.name) or sample.known:
        return "understood"
    sure = own >= SURE and own - next_channel >= AHEAD and own - rival >= AHEAD
    return "understood" if sure else "guessed"


def _called(sample: Sample, free: Sequence[str]) -> tuple[tuple[str, float], ...]:
    """Channels that a column is called by, whatever its values are; best first."""
    rated = [(name, round(wording(sample, name), 3)) for name in free]
    return tuple(sorted((r for r in rated if r[1] >= TAKEN), key=lambda r: -r[1])[:3])


def _unassigned(sample: Sample, best: Sequence[tuple[str, float]], held: set[str]) -> str:
    """Asked where it may well be a channel that nothing else is; else kept under its own name."""
    if legislated(sample.name) == "-":
        return "ignored"
    return "asked" if any(value >= ASKED and name not in held for name, value in best) else "ignored"
