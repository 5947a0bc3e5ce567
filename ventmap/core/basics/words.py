"""Words with figures in them."""

from __future__ import annotations


def how_many(count: int, one: str, many: str = "") -> str:
    """A count with its noun, in the form that fits.

    Examples
    --------
    >>> how_many(1, "cell"), how_many(3, "cell"), how_many(0, "scalar")
    ('1 cell', '3 cells', '0 scalars')
    >>> how_many(2, "entry", "entries")
    '2 entries'
    """
    return f"{count} {one if count == 1 else many or f'{one}s'}"
