"""One family of errors, each with a sentence that a shop person understands."""

from __future__ import annotations


class VentMapError(Exception):
    """Something a person can put right.

    Parameters
    ----------
    sentence : str
        What is wrong and what to do, in plain words.
    field : str, optional
        The name of the input that is wrong.
    """

    def __init__(self, sentence: str, field: str | None = None) -> None:
        super().__init__(sentence)
        self.sentence = sentence
        self.field = field


class BadInput(VentMapError):
    """Text or a choice that cannot be understood."""


class OutOfRange(VentMapError):
    """A number outside what is physically or practically possible."""


class NotEnough(VentMapError):
    """The data do not carry the answer: too few samples, too little spread."""


class LogError(VentMapError):
    """A datalog that cannot be read."""


class CalibrationError(VentMapError):
    """A map file that cannot be trusted: broken, altered or for something else."""


def require_positive(**values: float) -> None:
    """Raise `OutOfRange` naming the first value that is not a number above zero."""
    for name, value in values.items():
        if not value > 0:
            raise OutOfRange(f"{name.replace('_', ' ')} must be above zero, got {value:g}.", name)


def require_between(low: float, high: float, **values: float) -> None:
    """Raise `OutOfRange` naming the first value outside the closed range."""
    for name, value in values.items():
        if not low <= value <= high:
            raise OutOfRange(
                f"{name.replace('_', ' ')} must be between {low:g} and {high:g}, got {value:g}.", name
            )
