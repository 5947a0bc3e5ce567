"""Kinds of device: what each still lacks is named, and one that stands in the table alone already runs."""

from __future__ import annotations

import subprocess
import sys

import pytest

from tests.conftest import ROOT
from ventmap.core.basics import DEVICES, DeviceKind, kinds_with, written_by_cable
from ventmap.core.forms import FORMS
from ventmap.core.loading import recovery
from ventmap.core.runsheet import BY_KIND, BY_KIND_AT_START, by_hand, fit_devices

#: Table that has a line a kind → its kinds, and which kinds it is for.
TABLES = {
    "fit steps (runsheet/fit_devices.py)": (fit_devices.BY_KIND, tuple(DeviceKind)),
    "way back (runsheet/way_back.py)": (BY_KIND, tuple(DeviceKind)),
    "form of map (forms/)": (
        {kind for form in FORMS.values() for kind in form.used_by},
        tuple(DeviceKind),
    ),
    "first start (runsheet/first_start_kinds.py)": (
        BY_KIND_AT_START,
        kinds_with(lambda record: not record.written_here and not record.on_injector_wires)
        + (DeviceKind.injector_piggyback,),
    ),
    "what is set and read back (runsheet/by_hand.py)": (
        by_hand.SET,
        kinds_with(lambda record: not record.written_here),
    ),
    "recovery at the bench (loading/recovery.py)": (recovery._BENCH, kinds_with(written_by_cable)),
}


def lacks(kind: str, like: DeviceKind) -> list[str]:
    """Tables that have no line for a kind, though they have one for kinds like it."""
    return [name for name, (lines, wanted) in TABLES.items() if like in wanted and kind not in lines]


@pytest.mark.parametrize("kind", DeviceKind)
def test_a_kind_lacks_nothing(kind):
    assert lacks(kind, kind) == []


def test_what_a_new_kind_lacks_is_named():
    assert lacks("a kind of tomorrow", DeviceKind.flasher) == [*TABLES]


def test_each_kind_has_a_record_and_each_record_a_kind():
    assert tuple(DEVICES) == tuple(DeviceKind)
    assert {record.model_fields["kind"].annotation.__args__ for record in DEVICES.values()} == {
        (kind,) for kind in DeviceKind
    }


NEW_KIND = """
from typing import ClassVar, Literal
from pydantic import Field
from ventmap.core.basics.records import device as records

class Cloned(records.Device):
    rewrites_stock: ClassVar[bool] = True
    kind: Literal["a kind of tomorrow"] = Field(title="kind")

records.DEVICES["a kind of tomorrow"] = Cloned
from ventmap.core.basics import HouseRules
from ventmap.core.forms import form_of
from ventmap.core.loading import Cut, ways_on
from ventmap.core.runsheet import Kit, SheetVehicle, Undone, build, way_back
from ventmap.core.vehicle import clash

sheet = build(SheetVehicle(4), [Kit("a kind of tomorrow", name="Clone")], "street", HouseRules())
print(*(step.key for step in sheet.steps))
print(way_back(Undone(fitted=(("Clone", "a kind of tomorrow"),))))
print(clash([("Clone", "a kind of tomorrow"), ("B", "handheld or phone flasher")]))
print(form_of("a kind of tomorrow").key)
print([way.key for way in ways_on("a kind of tomorrow", Cut("write", 1, 2), saved=True, linked=False)])
"""


def test_a_kind_that_stands_in_the_table_alone_keeps_its_image_and_its_battery():
    told = subprocess.run([sys.executable, "-c", NEW_KIND], cwd=ROOT, capture_output=True, text=True)
    assert told.returncode == 0, told.stderr
    steps, back, clash, form, ways = told.stdout.splitlines()
    assert {"load.stock_kept", "load.board", "load.battery", "load.read_back"} <= set(steps.split())
    assert "ask its maker" in back
    assert "wipes out the first" in clash
    assert form == "borrowed"
    assert "saved" in ways or "stock" in ways
