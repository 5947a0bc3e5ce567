"""A remote tuner's mailbox: it answers a package with the next file, late; competent, unless switched."""

from __future__ import annotations

import hashlib
import io
import json
import random
import zipfile
from dataclasses import replace

from ventmap.core.basics import Table2D, VentMapError
from ventmap.core.corrections import CorrectionRules, apply, propose
from ventmap.core.forms import Calibration, Identity, Lineage, from_json, to_json
from ventmap.core.logs import read_log

#: How an answer can be wrong, and how it is asked for.
WRONG = ("another vehicle", "an old version", "too lean", "damaged")
#: Least and most time until it answers [s].
LATE_S = (20.0, 60.0)


def waits(package: bytes) -> float:
    """How long this package waits for its answer [s]: the same one as long each time."""
    return random.Random(hashlib.sha256(package).hexdigest()).uniform(*LATE_S)


def answer(package: bytes, wrong: str = "") -> bytes:
    """The answer to a package: a zip with ``reply.json``, ``map.json`` and ``letter.txt``.

    Parameters
    ----------
    package : bytes
        The zip as it was sent.
    wrong : str
        One of `WRONG`; empty answers as a competent tuner does.
    """
    with zipfile.ZipFile(io.BytesIO(package)) as files:
        text = files.read("package.json")
        told = json.loads(text)
        sent = from_json(files.read(told["map"]["file"])) if told["map"] else None
        logs = [(one["file"], files.read(one["file"])) for one in told["logs"]]
    if sent is None:
        raise VentMapError("There is no map in this package to answer with.", "package")
    made, words = _competent(sent, logs)
    made = replace(
        made,
        lineage=Lineage(f"r{told['round']}", sent.sha256, round=told["round"], note=words, author="mailbox"),
    )
    if wrong == "another vehicle":
        made = replace(made, identity=Identity("OM16", "AO-96", "T-OM16-7", vin="STM2TWB00JS220318"))
    elif wrong == "an old version":
        made = sent
    elif wrong == "too lean":
        made, words = _leaner(made), "Leaner up top: it makes more power."
    data = to_json(made).encode()
    named = hashlib.sha256(data).hexdigest()
    if wrong == "damaged":
        data = data.replace(b'"note"', b'"nota"', 1)
    reply = {
        "format": "vent-map round reply",
        "version": 1,
        "package": hashlib.sha256(text).hexdigest(),
        "file": "map.json",
        "sha256": named,
    }
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as files:
        files.writestr("reply.json", json.dumps(reply, indent=1))
        files.writestr("map.json", data)
        files.writestr("letter.txt", f"{words}\nChecksum of map.json: {named}\n")
    return out.getvalue()


def _competent(sent: Calibration, logs: list[tuple[str, bytes]]) -> tuple[Calibration, str]:
    """What the log carries, and no more: a full map's fuel by its mixture; of other forms nothing blind."""
    if sent.form != "full" or not logs:
        return sent, "Your map stands: I change nothing that the log does not ask for."
    name, data = logs[-1]
    try:
        proposal = propose(read_log(data, name), sent, CorrectionRules())
    except VentMapError:
        return sent, "This log is too short to correct by: drive the whole route and send it again."
    made = apply(sent, proposal, author="mailbox")
    if made.same_figures(sent):
        return sent, "It holds its target: nothing to change."
    return made, f"Fuel by your log: {int(proposal.changed.sum())} cells."


def _leaner(made: Calibration) -> Calibration:
    """Eight per cent less fuel from 80 kPa up; of a form without fuel nothing."""
    if made.form != "full":
        return made
    table = made.tables["ve"]
    less = table.values.copy()
    less[table.y >= 80.0] *= 0.92
    return made.with_table("ve", Table2D(table.x, table.y, less))
