"""Writes the sample shop's maps, of every form, into demo/maps/ and demo/catalogue/.

usage: .venv/bin/python demo/make_maps.py
"""

from __future__ import annotations

import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))
from demo.mapmaking.boxes import brandrel, kelmar  # noqa: E402
from demo.mapmaking.computers import ardle, fenwright  # noqa: E402
from demo.mapmaking.offered import offered  # noqa: E402
from demo.mapmaking.sets import harrow  # noqa: E402
from demo.mapmaking.shapes import OUT  # noqa: E402

if __name__ == "__main__":
    for make in (fenwright, kelmar, brandrel, ardle, harrow, offered):
        make()
    print(len(list(OUT.rglob("*.json"))), "maps")
