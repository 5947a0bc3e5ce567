"""The next map, from a proposal."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from ..forms import Calibration, Lineage
from .proposal import Proposal


def apply(
    calibration: Calibration,
    proposal: Proposal,
    *,
    cells: NDArray[np.bool_] | None = None,
    author: str = "",
    note: str = "",
) -> Calibration:
    """The next map: the proposal's scalars, and its cells (all changed ones, or those that `cells` marks)."""
    changed = calibration
    for scalar in proposal.scalars:
        if scalar.name == "dead_time":
            table = calibration.tables["dead_time"]
            changed = changed.with_table(
                "dead_time", table.with_values(np.clip(table.values + scalar.new, 0.05, None))
            )
        else:
            changed = changed.with_scalars(**{scalar.name: scalar.new})
    ve = calibration.tables["ve"]
    take = proposal.changed if cells is None else proposal.changed & cells
    changed = changed.with_table("ve", ve.with_values(np.where(take, proposal.new, ve.values)))
    round_ = calibration.lineage.round + 1
    return replace(
        changed,
        lineage=Lineage(
            f"r{round_}",
            calibration.sha256,
            round=round_,
            note=note or f"round {round_} from the log",
            author=author,
        ),
    )
