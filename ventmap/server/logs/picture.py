"""Lanes of a log as a picture: SVG to print, PNG to send."""

from __future__ import annotations

import io
from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ventmap.core.logs import CHANNELS

from . import own
from .models import LogFile

#: Ink, petrol and ochre of the paper set; a lane's height and the width of a page [in].
INK, LINES, LANE_IN, WIDE_IN = "#1D2A2E", ("#0B5E6B", "#9A5B00"), 1.0, 10.0
#: Words of people are no formulas: a dollar sign stays one.
PLAIN: dict[str, Any] = {"parse_math": False}


def drawn(
    row: LogFile,
    lanes: Sequence[Sequence[str]],
    time_s: NDArray[np.float64],
    values: Mapping[str, NDArray[np.floating]],
    form: str,
) -> bytes:
    """The lanes over one axis of time, each with its name and unit; marks of the log as lines across."""
    from matplotlib.figure import Figure

    figure = Figure(figsize=(WIDE_IN, LANE_IN * len(lanes) + 0.9), layout="constrained")
    axes = np.atleast_1d(figure.subplots(len(lanes), 1, sharex=True))
    for ax, lane in zip(axes, lanes, strict=True):
        for name, colour, dash in zip(lane, LINES, ("-", "--"), strict=False):
            there = np.isfinite(values[name])
            ax.plot(time_s[there], values[name][there], color=colour, linestyle=dash, linewidth=1.0)
        labels = "\n".join(_label(name) for name in lane[:2])
        ax.set_ylabel(labels, fontsize=8, rotation=0, ha="right", va="center", **PLAIN)
        for mark in _marks(row, time_s):
            ax.axvline(mark["at_s"], color=INK, linewidth=0.6)
        ax.tick_params(labelsize=8)
        for side in ("top", "right"):
            ax.spines[side].set_visible(False)
    for mark in _marks(row, time_s):
        axes[0].annotate(
            mark["word"], (mark["at_s"], 1.0), xycoords=("data", "axes fraction"), fontsize=8, **PLAIN
        )
    axes[-1].set_xlabel("s", fontsize=8)
    figure.suptitle(_title(row, time_s), fontsize=10, color=INK, x=0.01, ha="left", **PLAIN)
    out = io.BytesIO()
    figure.savefig(out, format=form, dpi=150)
    return out.getvalue()


def _marks(row: LogFile, time_s: NDArray[np.float64]) -> list[dict[str, Any]]:
    return [one for one in row.marks if time_s[0] <= one["at_s"] <= time_s[-1]]


def _label(name: str) -> str:
    channel = CHANNELS.get(name)
    if channel is None:
        return own.heading(name) or name
    return f"{channel.label} [{channel.unit}]" if channel.unit else channel.label


def _title(row: LogFile, time_s: NDArray[np.float64]) -> str:
    of = f"job {row.job.number}, " if row.job else ""
    on = f", map {row.map.version}" if row.map else ""
    return f"{of}{row.name}{on}: {time_s[0]:.1f} to {time_s[-1]:.1f} s"
