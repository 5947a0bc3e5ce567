"""A map as a file and as an image: written, read back, and checked."""

from __future__ import annotations

import hashlib
import json
import zlib
from collections.abc import Mapping
from typing import Any

from ..basics import BadInput, CalibrationError, Table2D, VentMapError, read_record
from .calibration import HEADER, IMAGE_VERSION, MAGIC, Calibration, Identity, Lineage, MapSet
from .catalogue import FORMS
from .document import FORMAT, OLDER, MapDocument
from .kinds import Form
from .ranges import out_of_range


def to_document(calibration: Calibration) -> dict[str, Any]:
    """The map as plain JSON values, by the published schema."""
    one_of = calibration.set
    return {
        "format": FORMAT,
        "form": calibration.form,
        **calibration.plain(),
        **({"set": {**vars(one_of), "members": dict(one_of.members)}} if one_of else {}),
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
    except (ValueError, UnicodeDecodeError, RecursionError) as error:
        raise CalibrationError("This file is no map: it is not JSON.", "file") from error
    document = brought_up(document)
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


def brought_up(document: Any) -> dict[str, Any]:
    """A document of any version as one of the newest; what is in it stays, so its sums do too.

    Raises
    ------
    CalibrationError
        If it is no map, or of a newer version than this one reads.
    """
    said = document.get("format") if isinstance(document, dict) else None
    if said == FORMAT:
        return dict(document)
    if said == OLDER:
        return {**document, "format": FORMAT, "form": "full"}
    stem, _, number = str(said).partition("/")
    if stem == FORMAT.partition("/")[0] and number.isdigit():
        raise CalibrationError(
            f"This map is of version {number}; this Vent Map reads up to {FORMAT.partition('/')[2]}. Bring"
            " Vent Map up to date, or ask for the map in the older version.",
            "format",
        )
    raise CalibrationError(f"This file is no Vent Map map: its format is not “{FORMAT}”.", "format")


def _build(document: MapDocument) -> Calibration:
    form = FORMS.get(document.form)
    if form is None:
        raise CalibrationError(f"The map's form “{document.form}” is none of {', '.join(FORMS)}.", "form")
    tables = {}
    for name, table in document.tables.items():
        try:
            tables[name] = Table2D(table.x, table.y, table.values)
        except (ValueError, VentMapError) as error:
            raise CalibrationError(f"The map is misshapen, table {name}: {error}", name) from error
    missing = lacking(form, document.scalars, tables, document.lists)
    if missing:
        raise CalibrationError(f"The map lacks {', '.join(missing)}.", missing[0])
    calibration = Calibration(
        name=document.name,
        identity=Identity(**document.identity.model_dump()),
        scalars=document.scalars,
        tables=tables,
        lineage=Lineage(**document.lineage.model_dump()),
        conditions=document.conditions,
        form=form.key,
        lists=document.lists,
        set=MapSet(**document.set.model_dump()) if document.set else None,
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
        "form": "full",
        **document,
        "format": FORMAT,
        "lineage": {"version": version},
        "crc32": f"{crc:08X}",
        "sha256": hashlib.sha256(image).hexdigest(),
    }
    return _build(_parsed(whole))


def lacking(
    form: Form, scalars: Mapping[str, Any], tables: Mapping[str, Any], lists: Mapping[str, Any]
) -> list[str]:
    """Names of what every map of this form carries and this one has not."""
    missing = [name for name, kind in form.scalars.items() if kind.needed and name not in scalars]
    missing += [name for name, kind in form.lists.items() if kind.needed and not lists.get(name)]
    for name, kind in form.tables.items():
        if not kind.needed:
            continue
        if not kind.each:
            missing += [] if name in tables else [name]
            continue
        for row in lists.get(kind.each, ()):
            called = f"{name}.{row.get(form.lists[kind.each].key, 0):g}"
            missing += [] if called in tables or row.get("fixed") else [called]
    return missing


def _parsed(document: dict[str, Any]) -> MapDocument:
    try:
        return read_record(MapDocument, document)
    except BadInput as error:
        raise CalibrationError(f"The map is incomplete or misshapen: {error.sentence}", error.field) from None
