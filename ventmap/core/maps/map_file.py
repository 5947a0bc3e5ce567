"""A map as a file and as an image: written, read back, and checked."""

from __future__ import annotations

import json
import zlib
from collections.abc import Mapping
from typing import Any

from ..basics import CalibrationError, Table2D, VentMapError
from .calibration import (
    DECIMALS,
    HEADER,
    IMAGE_VERSION,
    MAGIC,
    SCALARS,
    TABLES,
    Calibration,
    Identity,
    Lineage,
    _tables_out,
)

FORMAT = "ventmap-map/1"


def to_document(calibration: Calibration) -> dict[str, Any]:
    """The map as plain JSON values, by the published schema."""
    return {
        "format": FORMAT,
        "name": calibration.name,
        "identity": dict(vars(calibration.identity)),
        "lineage": dict(vars(calibration.lineage)),
        "conditions": dict(calibration.conditions),
        "scalars": {k: round(float(v), DECIMALS) for k, v in calibration.scalars.items()},
        "tables": _tables_out(calibration.tables),
        "crc32": f"{calibration.crc32:08X}",
        "sha256": calibration.sha256,
    }


def to_json(calibration: Calibration) -> str:
    """The map as a file, by the published schema."""
    return json.dumps(to_document(calibration), indent=1, ensure_ascii=False, sort_keys=True)


def from_json(text: str | bytes) -> Calibration:
    """Read a map file and check its sums.

    Raises
    ------
    CalibrationError
        If it is no map, is incomplete, or its checksum does not match its content.
    """
    try:
        document = json.loads(text)
    except (ValueError, UnicodeDecodeError) as error:
        raise CalibrationError("This file is no map: it is not JSON.", "file") from error
    if not isinstance(document, dict) or document.get("format") != FORMAT:
        raise CalibrationError(f"This file is no Vent Map map: its format is not “{FORMAT}”.", "format")
    calibration = _build(document)
    if str(document.get("crc32", "")).upper() != f"{calibration.crc32:08X}":
        raise CalibrationError(
            "The map's checksum does not match its content: it was cut or altered. Fetch it again from where"
            " it came.",
            "crc32",
        )
    if document.get("sha256") != calibration.sha256:
        raise CalibrationError("The map's SHA-256 does not match its content. Fetch it again.", "sha256")
    return calibration


def _build(document: Mapping[str, Any]) -> Calibration:
    try:
        calibration = Calibration(
            name=str(document.get("name", "")),
            identity=Identity(**document["identity"]),
            scalars={str(k): float(v) for k, v in document["scalars"].items()},
            tables={
                str(name): Table2D(table["x"], table["y"], table["values"])
                for name, table in document["tables"].items()
            },
            lineage=Lineage(**document.get("lineage", {})),
            conditions=dict(document.get("conditions", {})),
        )
    except (KeyError, TypeError, ValueError, AttributeError, VentMapError) as error:
        raise CalibrationError(f"The map is incomplete or misshapen: {error}.", "map") from error
    missing = sorted(set(SCALARS) - set(calibration.scalars)) + sorted(set(TABLES) - set(calibration.tables))
    if missing:
        raise CalibrationError(f"The map lacks {', '.join(missing)}.", missing[0])
    return calibration


def from_image(image: bytes) -> Calibration:
    """Decode an image read from a computer.

    Raises
    ------
    CalibrationError
        If the header is not a map's or the CRC-32 does not match: erased, cut or foreign.
    """
    if len(image) < HEADER.size:
        raise CalibrationError("The image is too short to be a map.", "image")
    magic, version, length, crc = HEADER.unpack_from(image)
    if magic != MAGIC or version != IMAGE_VERSION:
        raise CalibrationError(
            "There is no map in the computer: it is erased or holds something else.", "image"
        )
    payload = image[HEADER.size : HEADER.size + length]
    if len(payload) != length or zlib.crc32(payload) != crc:
        raise CalibrationError("The map in the computer is not whole: its checksum does not match.", "image")
    document = json.loads(payload)
    return _build({**document, "lineage": {"version": document["version"]}})
