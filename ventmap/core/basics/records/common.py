"""What every record is made of: frozen, checked, and each figure with its unit."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Annotated, Any, TypeVar

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from ..errors import BadInput


class Record(BaseModel):
    """A thing as it stands in a file or on the shelf: nothing unknown in it, nothing changed after."""

    model_config = ConfigDict(frozen=True, extra="forbid", strict=True, allow_inf_nan=False)


R = TypeVar("R", bound=Record)


def unit(name: str, title: str, **bounds: Any) -> Any:
    """A figure's title, unit and bounds, for a field that must be given.

    Parameters
    ----------
    name : str
        Unit as it is shown.
    title : str
    **bounds
        As Pydantic's `Field` takes them: ``gt``, ``ge``, ``lt``, ``le``, ``default``.
    """
    return Field(title=title, json_schema_extra={"x-unit": name}, **bounds)


#: First and last year.
Years = tuple[int, int]
Pair = tuple[float, float]
Firmware = Annotated[str, Field(pattern=r"^\d+(\.\d+)*$")]


def read_record(kind: type[R], given: Mapping[str, Any] | R, what: str = "") -> R:
    """Parse what was given, once, at the door.

    Raises
    ------
    BadInput
        Naming the field and what is wrong with it.
    """
    if isinstance(given, kind):
        return given
    try:
        return kind.model_validate_json(_json(given))
    except ValidationError as error:
        raise BadInput(*told(error, what)) from None


def _json(given: Any) -> str:
    try:
        return json.dumps(given)
    except (TypeError, ValueError) as error:
        raise BadInput(f"This is not a record: {str(error)[:80]}.", "body") from error


def told(error: ValidationError, what: str = "") -> tuple[str, str]:
    """The deepest fault as a sentence, and the field it lies in."""
    fault = max(error.errors(include_url=False, include_input=False), key=lambda item: len(item["loc"]))
    path = [str(part + 1) if isinstance(part, int) else str(part) for part in fault["loc"]]
    words = [part for part in path if part not in ("tuple", "list")]
    field = next((part for part in reversed(words) if not part.isdigit()), "body")
    head = f"{what}, " if what else ""
    if fault["type"] == "missing":
        place = " › ".join(words[:-1]) or "whole"
        return f"{head}{place}: {words[-1]} is missing.", field
    if fault["type"] == "extra_forbidden":
        place = " › ".join(words[:-1]) or "whole"
        return f"{head}{place}: {words[-1]} is no field of it.", field
    message = fault["msg"][:160].removeprefix("Value error, ").removeprefix("Input ")
    return f"{head}{' › '.join(words) or 'whole'}: {message}.", field
