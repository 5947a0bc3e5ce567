"""What leaves with a vehicle is asked of whatever was exchanged on it, before its owner is told."""

from __future__ import annotations

import pytest

from tests.core.records import bodies, kit
from ventmap.core.basics import DeviceKind, HouseRules
from ventmap.core.grids import judge_grid
from ventmap.core.runsheet import SheetVehicle, build

BOXES = {body["kind"]: body for body in bodies("devices").values()}
#: Kind → what of it is asked; every other one adds to the vehicle and takes nothing off it.
ASKED = {
    "plug-in ECU": {"computer_1", "moved_1"},
    "board in the stock case": {"computer_1", "moved_1"},
    "standalone on an adapted harness": {"computer_1", "moved_1"},
    "swapped computer": {"computer_1", "moved_1"},
    "factory computer on a swap harness": {"computer_1", "moved_1"},
    "injector driver module": {"computer_1", "moved_1"},
    "handheld or phone flasher": {"licence_1"},
    "laptop flasher with a remote tuner": {"licence_1"},
}


def leaves(kind, **parts):
    steps = build(SheetVehicle(4), [kit(kind, about=BOXES[kind], **parts)], "street", HouseRules()).steps
    told = next(step for step in steps if step.key == "hand-over.told")
    found = next((step for step in steps if step.key == "hand-over.leaves"), None)
    assert (found is None) or ("hand-over.leaves" in told.needs)
    return found


@pytest.mark.parametrize("kind", DeviceKind)
def test_each_kind_is_asked_for_what_it_took_off_and_nothing_else(kind):
    step = leaves(kind.value)
    asked = {row.key for row in step.about.rows} if step else set()
    assert asked == ASKED.get(kind.value, set())
    more = leaves(kind.value, injectors="new", pump="new")
    assert {row.key for row in more.about.rows} == asked | {"injectors_1", "pump_1"}


def test_what_nobody_can_find_holds_and_a_core_that_is_known_does_not():
    about = leaves("plug-in ECU", injectors="new").about
    sound = {row.key: row.good[0] for row in about.rows}
    assert judge_grid("checks", about, {"answers": sound}).verdict.value == "go"
    for key, answer, verdict in (
        ("computer_1", "lost", "hold"),
        ("computer_1", "core", "go"),
        ("moved_1", "left", "hold"),
        ("injectors_1", "lost", "hold"),
    ):
        assert judge_grid("checks", about, {"answers": sound | {key: answer}}).verdict.value == verdict
    about = leaves("handheld or phone flasher").about
    assert judge_grid("checks", about, {"answers": {"licence_1": "other"}}).verdict.value == "hold"
