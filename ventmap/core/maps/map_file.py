"""A map as a file and as an image: written, read back, and checked."""

from __future__ import annotations

import hashlib
import json
import zlib
from typing import Any

from ..basics import BadInput, CalibrationError, Table2D, VentMapError, read_record
from .calibration import (
    HEADER,
    IMAGE_VERSION,
    MAGIC,
    SCALARS,
    TABLES,
    Calibration,
    Identity,
    Lineage,
)
from .document import FORMAT, MapDocument
from .ranges import out_of_range


def to_document(calibration: Calibration) -> dict[str, Any]:
    """The map as plain JSON values, by the published schema."""
    return {
        "format": FORMAT,
        **calibration.plain(),
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
    calibration = _build(_parsed(document))
    if document["crc32"] != f"{calibration.crc32:08X}":
        raise CalibrationError(
            "The map's checksum does not match its content: it was cut or altered. Fetch it again from where"
            " it came.",
            "crc32",
        )
    if document["sha256"] != calibration.sha256:
        raise CalibrationError("The map's SHA-256 does not match its content. Fetch it again.", "sha256")
    return calibration


def _build(document: MapDocument) -> Calibration:
    tables = {}
    for name, table in document.tables.items():
        try:
            tables[name] = Table2D(table.x, table.y, table.values)
        except (ValueError, VentMapError) as error:
            raise CalibrationError(f"The map is misshapen, table {name}: {error}", name) from error
    missing = sorted(set(SCALARS) - set(document.scalars)) + sorted(set(TABLES) - set(tables))
    if missing:
        raise CalibrationError(f"The map lacks {', '.join(missing)}.", missing[0])
    calibration = Calibration(
        name=document.name,
        identity=Identity(**document.identity.model_dump()),
        scalars=document.scalars,
        tables=tables,
        lineage=Lineage(**document.lineage.model_dump()),
        conditions=document.conditions,
    )
    wrong = out_of_range(calibration)
    if wrong:
        raise CalibrationError(f"The map cannot be: {wrong[0].sentence}", wrong[0].item)
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
    version = document.pop("version")
    whole = {
        **document,
        "format": FORMAT,
        "lineage": {"version": version},
        "crc32": f"{crc:08X}",
        "sha256": hashlib.sha256(image).hexdigest(),
    }
    return _build(_parsed(whole))


def _parsed(document: dict[str, Any]) -> MapDocument:
    try:
        return read_record(MapDocument, document)
    except BadInput as error:
        raise CalibrationError(f"The map is incomplete or misshapen: {error.sentence}", error.field) from None
