"""The sums of the trade, each by its name: fields in, traced figures, judgements, tables and drawings out."""

from __future__ import annotations

from ..basics import BadInput
from .injector_sums import INJECTOR_SUMS
from .model import SumKind
from .staged_sums import STAGED_SUMS
from .supply_sums import SUPPLY_SUMS

SUMS: dict[str, SumKind] = {kind.key: kind for kind in (*INJECTOR_SUMS, *STAGED_SUMS, *SUPPLY_SUMS)}


def sum_by(key: str) -> SumKind:
    """A sum by its key.

    Raises
    ------
    BadInput
        Where there is none.
    """
    if key not in SUMS:
        raise BadInput(f"There is no sum “{key}”. Choose one of {', '.join(SUMS)}.", "sum")
    return SUMS[key]
