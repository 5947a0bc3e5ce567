"""What a pass phrase must not be."""

from __future__ import annotations

from typing import Any

from django.core.exceptions import ValidationError

FEWEST_KINDS = 5


class NotAllAlike:
    """Twelve letters of which few differ are guessed at once."""

    def validate(self, password: str, user: Any = None) -> None:
        if len(set(password)) < FEWEST_KINDS:
            raise ValidationError(self.get_help_text(), code="alike")

    def get_help_text(self) -> str:
        return "The phrase is made of too few different letters."
