"""Names: what a column is called, in words, by unit and by its values. Handed on by `logs`."""

from .assign import TAKEN, Named, name_columns
from .legislated import legislated, table
from .score import OF_CYLINDERS, Sample
from .words import Spoken, spoken

__all__ = [
    "OF_CYLINDERS",
    "TAKEN",
    "Named",
    "Sample",
    "Spoken",
    "legislated",
    "name_columns",
    "spoken",
    "table",
]
