"""What the supplier's catalogue offers."""

from __future__ import annotations

import json
import random
from dataclasses import replace
from pathlib import Path

from ventmap.core.forms import Calibration, Identity, from_json, pack_firmware, to_json

from .shapes import OUT, two_litre

CATALOGUE = Path(__file__).resolve().parents[1] / "catalogue"


def offered() -> None:
    """The supplier's catalogue: newer and older files of the same maps, and firmware beside them."""
    rows: list[dict[str, str]] = []

    def offer(
        maker: str, file: str, made: Calibration, fuel: str, issued: str, replaced_by: str = ""
    ) -> None:
        folder = CATALOGUE / maker
        folder.mkdir(parents=True, exist_ok=True)
        (folder / file).write_text(to_json(made) + "\n", encoding="utf-8")
        rows.append(
            {
                "maker": maker.title(),
                "file": f"{maker}/{file}",
                "kind": "map",
                "title": made.name,
                "engine": made.identity.engine,
                "fuel": fuel,
                "issued": issued,
                "replaced_by": replaced_by,
            }
        )

    def p4(calibration: str, firmware: str) -> Identity:
        return Identity("T20", "FW-P4", calibration, minimum_firmware=firmware)

    new = two_litre("T20, free exhaust, 95 RON, revision C", p4("FW20-F95C1", "2.1"), 0.88, 3.0, ron=95.0)
    old = two_litre("T20, free exhaust, 95 RON, revision A", p4("FW20-F95A1", "1.8"), 0.9, 2.0, ron=95.0)
    next_firmware = replace(
        new, name="T20, free exhaust, 95 RON, revision D", identity=p4("FW20-F95D1", "3.0")
    )
    offer("fenwright", "t20-free-95-c.json", new, "95 RON", "2026-03-02")
    offer("fenwright", "t20-free-95-a.json", old, "95 RON", "2023-10-19", "fenwright/t20-free-95-c.json")
    offer("fenwright", "t20-free-95-d.json", next_firmware, "95 RON", "2026-10-30")
    trim = from_json((OUT / "brandrel" / "q660-free.json").read_text(encoding="utf-8"))
    offer(
        "brandrel",
        "q660-free-b.json",
        replace(
            trim,
            name="Q660, free silencer, revision B",
            identity=replace(trim.identity, calibration="BL-Q66-G"),
        ),
        "95 RON",
        "2026-05-11",
    )
    (CATALOGUE / "fenwright" / "p4-3.0.fw").write_bytes(
        pack_firmware("FW-P4", "3.0", random.Random(30).randbytes(12_000))
    )
    rows.append(
        {
            "maker": "Fenwright",
            "file": "fenwright/p4-3.0.fw",
            "kind": "firmware",
            "title": "P4 firmware 3.0",
            "engine": "T20 T18",
            "fuel": "",
            "issued": "2026-10-30",
            "replaced_by": "",
        }
    )
    text = json.dumps(rows, indent=1, ensure_ascii=False) + "\n"
    (CATALOGUE / "index.json").write_text(text, encoding="utf-8")
