"""What goes to a remote tuner and what comes back: two documents by published schemas."""

from __future__ import annotations

import json
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from ..basics import BadInput


class _Document(BaseModel):
    model_config = ConfigDict(frozen=True, extra="ignore")


class Vehicle(_Document):
    """Which vehicle, as the job and its computer have it."""

    name: str
    engine: str
    vin: str = ""
    computer: str = ""
    calibration: str = ""
    firmware: str = ""


class PackedFile(_Document):
    """A file of the package, or of the reply: its name in the zip and its SHA-256."""

    file: str
    sha256: str
    about: str = ""


class PackedFinding(_Document):
    """Something our detectors found in a log."""

    log: str
    kind: str
    verdict: Literal["go", "hold", "stop"]
    title: str
    from_s: float
    to_s: float
    evidence: list[dict[str, Any]]


class Package(_Document):
    """A round that is sent: vehicle, tank, map or image, logs, findings; the letter lies beside it."""

    format: Literal["vent-map round package"] = "vent-map round package"
    version: Literal[1] = 1
    job: str
    round: int = Field(ge=1)
    made_at: str
    shop: str
    vehicle: Vehicle
    device: str
    tank: str
    altitude_m: float
    goal: str
    boosted: bool
    map: PackedFile | None = None
    image: PackedFile | None = None
    logs: list[PackedFile]
    findings: list[PackedFinding]


class Reply(_Document):
    """A round that came back: which package it answers, its map, and the letter beside it."""

    format: Literal["vent-map round reply"] = "vent-map round reply"
    version: Literal[1] = 1
    package: str = Field("", description="SHA-256 of the `package.json` that it answers")
    file: str = "map.json"
    sha256: str = Field("", description="SHA-256 of the file, as the tuner's letter names it")


def package_schema() -> dict[str, Any]:
    """Published schema of a round that is sent."""
    return _schema(Package, "A round to a remote tuner")


def reply_schema() -> dict[str, Any]:
    """Published schema of a round that comes back."""
    return _schema(Reply, "A round from a remote tuner")


def _schema(model: type[BaseModel], title: str) -> dict[str, Any]:
    made = model.model_json_schema()
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **made, "title": title}


def read_reply(text: str) -> Reply:
    """A reply as it came.

    Raises
    ------
    BadInput
        Where it is none.
    """
    try:
        return Reply.model_validate(json.loads(text))
    except (ValidationError, ValueError) as error:
        raise BadInput(
            "This reply.json is none of ours: it needs format, package and sha256.", "file"
        ) from error
