"""The inner loop of the pretend vehicles, compiled where a C compiler was at hand: the same source, four
to six times as fast.

``python -m ventmap.compiling`` makes it with mypyc, under ``build/compiled``. It is used only while the
sources are
those that it was made from: whoever edits one runs what he edited, uncompiled, until it is made again.
"""

from __future__ import annotations

import hashlib
import os
import sys
from collections.abc import Sequence
from importlib.abc import MetaPathFinder
from importlib.machinery import ModuleSpec
from importlib.util import spec_from_file_location
from pathlib import Path
from sysconfig import get_config_var
from types import ModuleType

PACKAGE = Path(__file__).parent
FOLDER = PACKAGE.parent / "build" / "compiled"
#: What runs each ten milliseconds of a pretend vehicle's time, and at each question of its tester.
LOOP = (
    "standin.air",
    "standin.burn",
    "standin.engine",
    "standin.feed",
    "standin.heat",
    "standin.lookup",
    "standin.motion",
    "standin.optioned",
    "standin.overlay",
    "standin.runtime",
    "standin.sensors",
    "standin.state",
    "standin.stock",
    "standin.watch",
)
#: Set to 0, the sources run as they are.
SWITCH = "VENTMAP_COMPILED"


def sources() -> list[Path]:
    return [(PACKAGE / name.replace(".", "/")).with_suffix(".py") for name in LOOP]


def mark() -> str:
    """Of the sources, and of the Python that they were compiled for."""
    known = hashlib.sha256(f"{get_config_var('EXT_SUFFIX')} {sys.version}".encode())
    for path in (Path(__file__), *sources()):
        known.update(path.read_bytes())
    return known.hexdigest()


def library(name: str) -> Path:
    return FOLDER / "ventmap" / f"{name.replace('.', '/')}{get_config_var('EXT_SUFFIX')}"


def is_fresh() -> bool:
    """Whether what was compiled is of the sources that are here."""
    try:
        return (FOLDER / "mark").read_text() == mark()
    except OSError:
        return False


class Finder(MetaPathFinder):
    """Hands on the compiled module of a name."""

    def __init__(self) -> None:
        self.paths = {f"ventmap.{name}": library(name) for name in LOOP}

    def find_spec(
        self, name: str, path: Sequence[str] | None, target: ModuleType | None = None
    ) -> ModuleSpec | None:
        found = self.paths.get(name)
        return spec_from_file_location(name, found) if found else None


def use() -> None:
    """From now on the compiled modules are imported, if they are fresh."""
    if os.environ.get(SWITCH, "1") != "0" and is_fresh():
        # What the modules share lies beside them.
        sys.path.append(str(FOLDER))
        sys.meta_path.insert(0, Finder())
