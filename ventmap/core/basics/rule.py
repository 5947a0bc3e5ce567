"""A house rule: what it decides, its default and the reason for it."""

from __future__ import annotations

from dataclasses import dataclass

from .errors import BadInput
from .quantities import parse_field, show


@dataclass(frozen=True)
class Rule:
    """A threshold or a school.

    Parameters
    ----------
    key : str
        ``"<area>.<name>"``.
    default : float or str
    unit : str
    text : str
        What it decides.
    reason : str
        Why the default is what it is.
    choices : tuple of str
        The schools, where the rule is a choice and not a number.
    """

    key: str
    default: float | str
    unit: str
    text: str
    reason: str
    choices: tuple[str, ...] = ()

    @property
    def quantity(self) -> str:
        """What the rule measures, where it may be typed in other units; empty for plain figures."""
        return _MEASURES.get(self.unit, "")

    def read(self, typed: str, unit: str | None = None) -> float | str:
        """A shop's own value, checked: one of the schools, or a figure in the rule's own unit.

        Parameters
        ----------
        typed : str
            With or without a unit.
        unit : str, optional
            The unit meant when none is typed; the rule's own where absent.

        Raises
        ------
        BadInput
            Naming the rule.

        Examples
        --------
        >>> Rule("safe.coolant", 40.0, "°C", "cool enough", "skin").read("104 °F")
        40.0
        """
        if self.choices:
            if typed not in self.choices:
                raise BadInput(f"Choose one of: {', '.join(self.choices)}.", self.key)
            return typed
        if self.quantity:
            value = round(
                show(
                    parse_field(self.key, typed, self.quantity, unit or self.unit), self.quantity, self.unit
                ),
                9,
            )
        else:
            try:
                value = float(typed.strip().removesuffix(self.unit).strip().replace(",", "."))
            except ValueError:
                raise BadInput(
                    f"“{typed}” is not a number. Type it in {self.unit or 'plain figures'}, like"
                    f" {self.default}.",
                    self.key,
                ) from None
        if not 0 <= value < 1e6:
            raise BadInput(
                f"{typed} is outside what this rule can be. Type a figure like {self.default}.", self.key
            )
        return value


#: Units of rules that people type in other units, and what they measure.
_MEASURES = {
    "kPa": "pressure",
    "°C": "temperature",
    "V": "voltage",
    "rpm": "engine_speed",
    "s": "time",
    "min": "time",
    "lambda": "mixture",
}
