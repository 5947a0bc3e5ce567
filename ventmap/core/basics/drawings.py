"""Drawings to scale: shapes in millimetres, which a screen or a printer only has to place."""

from __future__ import annotations

from dataclasses import dataclass, field


@dataclass(frozen=True)
class Shape:
    """One shape; x to the right, y downwards [mm].

    Parameters
    ----------
    kind : str
        ``"line"``, ``"box"``, ``"arrow"``, ``"text"``, ``"measure"`` (a dimension line with its figure) or
        ``"round"``.
    x, y, x2, y2 : float
        Corners; for text the place, for a round the centre and its radius in `x2`.
    text : str
    tone : str
        ``"part"``, ``"hose"``, ``"cut"`` or ``"note"``.
    """

    kind: str
    x: float
    y: float
    x2: float = 0.0
    y2: float = 0.0
    text: str = ""
    tone: str = "part"


@dataclass(frozen=True)
class Drawing:
    """Shapes on a field of `width` × `height` [mm]; `title` says what it is."""

    title: str
    width: float
    height: float
    shapes: tuple[Shape, ...] = field(default_factory=tuple)


def measure(x: float, x2: float, y: float, text: str) -> Shape:
    """A dimension line from `x` to `x2` at height `y`."""
    return Shape("measure", x, y, x2, y, text, "note")
