"""Figures that are typed for a channel."""

from __future__ import annotations

from ..basics import BadInput, parse_field, show
from .channels import CHANNELS


def in_its_unit(name: str, text: str) -> float:
    """A typed figure in the unit that a channel is kept in; a bare number is meant in that unit.

    Raises
    ------
    BadInput
        If there is no such channel, no number, or a unit of something else.

    Examples
    --------
    >>> round(in_its_unit("map", "20 psi"), 1), in_its_unit("duty", "85"), in_its_unit("duty", "85 %")
    (137.9, 85.0, 85.0)
    """
    channel = CHANNELS.get(name)
    if channel is None:
        raise BadInput(f"“{name}” is no channel: choose one of the list.", "channel")
    if channel.quantity:
        value = parse_field("value", text, channel.quantity, channel.unit)
        return round(show(value, channel.quantity, channel.unit), 6)
    try:
        return float(text.replace(",", "."))
    except ValueError as error:
        raise BadInput(f"A limit of {channel.label.lower()} is a number, not “{text}”.", "value") from error
