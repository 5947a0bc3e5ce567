"""A source of logs: what its columns are, where a person has said so."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, field_validator

from .common import Record, unit

#: Channel of the column that holds the time.
CLOCK = "time"


class ColumnHint(Record):
    """What a column is."""

    column: str = Field(title="column, as the heading has it", min_length=1, max_length=160)
    channel: str = Field("", title="channel; empty: kept under its own name", max_length=40)
    unit: str = Field("", title="unit; empty: as the file says", max_length=16)
    factor: float = Field(1.0, title="times")
    offset: float = Field(0.0, title="plus, after that")
    pressure: Literal["", "gauge", "absolute"] = Field("", title="gauge or absolute")

    @field_validator("factor")
    @classmethod
    def _moves(cls, factor: float) -> float:
        if factor == 0.0:
            raise ValueError("times nought makes a line of it; write 1 to leave it as it is")
        return factor


class LogSource(Record):
    """A logger, known by the set of its headings."""

    headings: tuple[str, ...] = Field((), title="headings")
    columns: tuple[ColumnHint, ...] = Field((), title="columns")
    afr_scale: float | None = unit("", "air/fuel that its AFR is scaled by", default=None, ge=5.0, le=16.0)
    scales_by: str = Field("", title="lead who answers for the scales that were said", max_length=80)
    dbc: str = Field("", title="DBC file, where its logs are CAN traces", max_length=4_000_000)

    def of(self, column: str) -> ColumnHint | None:
        """What was said of a column; None where nothing was."""
        return next((hint for hint in self.columns if hint.column == column), None)
