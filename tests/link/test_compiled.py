"""The compiled inner loop is the sources, and never older ones."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys

import pytest

from tests.conftest import ROOT
from ventmap import compiled

WHERE = "import ventmap.standin.air as a, ventmap.standin.engine as e; print(a.__file__, e.__file__)"
DRIVEN = """
from ventmap.standin import engine, yard
from ventmap.standin.faults import Faults
from ventmap.standin.route import Driver, road_route
print(engine.__file__.rpartition(".")[2])
for key in ("ostrel-merrin-16t", "tarnwood-packhorse-30", "quillon-triple-660"):
    spec, (body, fitted) = yard.spec_of(key), yard.stock_parts(key)
    truth = yard.truth_of(spec, body, fitted, faults=Faults(air_leak=4.0, misfire=0.05), seed=3)
    car = yard.stock_engine(truth, body, 85.0)
    for _ in Driver(car).drive(road_route(truth.top_rpm, truth.idle_rpm, 5, 1.0)[:8]):
        pass
    print(key, sorted(car.channels().items()), car.time)
"""
needs_compiler = pytest.mark.skipif(
    not compiled.is_fresh(), reason="Nothing is compiled here: no C compiler."
)


def ran(folder, script: str, switch: str = "1") -> str:
    done = subprocess.run(
        [sys.executable, "-c", script],
        cwd=folder,
        capture_output=True,
        text=True,
        check=True,
        env={**os.environ, compiled.SWITCH: switch},
    )
    return done.stdout


@needs_compiler
def test_a_drive_is_the_same_to_the_last_digit():
    kinds, drives = zip(*(ran(ROOT, DRIVEN, switch).split("\n", 1) for switch in ("1", "0")), strict=True)
    assert kinds == ("so", "py")
    assert drives[0].count("rpm") >= 3
    assert drives[0] == drives[1]


@needs_compiler
def test_an_edited_source_runs_as_it_was_edited(tmp_path):
    shutil.copytree(ROOT / "ventmap", tmp_path / "ventmap", ignore=shutil.ignore_patterns("__pycache__"))
    shutil.copytree(compiled.FOLDER, tmp_path / "build" / "compiled")
    assert ran(tmp_path, WHERE).count(".so") == 2
    with (tmp_path / "ventmap" / "standin" / "heat.py").open("a") as source:
        source.write("\n")
    assert ran(tmp_path, WHERE).count(".so") == 0
