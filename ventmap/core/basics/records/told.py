"""Where a figure of a record comes from: which source, by whom, on which day."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from .common import Record

Source = Literal["maker's sheet", "measured here", "guessed"]
#: Better sources first: a worse one never takes the place of a better one.
SOURCES: tuple[Source, ...] = ("measured here", "maker's sheet", "guessed")


class Told(Record):
    """Who said a figure of this record, when, and from where."""

    source: Source = Field(title="source")
    by: str = Field("", title="by")
    on: str = Field("", title="on", pattern=r"^(\d{4}-\d{2}-\d{2})?$")
    moment: str = Field("", title="at", description="when it was said, ISO 8601; a later word wins")


class Grown(Record):
    """A record that grows by work: what was told of its fields, and how often it proved right."""

    told: dict[str, Told] = Field({}, title="where its figures come from, by field")
    minutes: dict[str, tuple[float, ...]] = Field({}, title="minutes that steps really took, by step")

    def guessed(self, field: str) -> bool:
        """The figure of this field is a guess."""
        return field in self.told and self.told[field].source == "guessed"
