"""Cases of a file that a remote tuner sends back."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from tests.core.test_remote_file import BASE, GOOD, SUM, WANTED, named, richer
from ventmap.core.basics import HouseRules
from ventmap.core.corrections import Came, file_calls
from ventmap.core.forms import Calibration, Lineage

from .model import Case


def came(file: Came) -> Any:
    return file_calls(file, WANTED, HouseRules())


def a_map(made: Calibration) -> Any:
    return came(replace(GOOD, map=made))


RENAMED = replace(BASE, lineage=Lineage("r7", "q" * 64))
CASES = [
    Case("tuner.whole", lambda v: came(replace(GOOD, named=v)), "cd" * 32, SUM, "", SUM.upper(), ()),
    Case(
        "tuner.round", lambda v: came(replace(GOOD, package=v)), "x" * 64, "p" * 64, "e" * 64, "p" * 64, ("",)
    ),
    Case("tuner.vehicle", lambda v: came(named(engine=v)), "OM16", "T20", "", "T20", ()),
    Case("tuner.newer", a_map, BASE, richer(1.02), RENAMED, richer(1.001), ()),
    Case("tuner.leaner", lambda v: a_map(richer(v)), 0.9, 1.05, 0.994, 0.996, ()),
]
