"""A write that is cut leaves a computer that runs nothing, and every way on ends in what it promised."""

from __future__ import annotations

import pytest

from tests.cuts import CAR, cut, cuts
from ventmap.core.electrics import climb, rungs
from ventmap.core.loading import Cut, ways_on
from ventmap.link import wire
from ventmap.link.loader import write_image
from ventmap.link.tester import Tester
from ventmap.link.transport import LinkLost
from ventmap.server import bench


def test_cuts_of_every_sort_at_random():
    taken, faults = cuts(12)
    assert faults == []
    assert sum(taken.values()) == 12
    assert {way.split(", ")[1] for way in taken} == {"resume", "restart", "stock"}


def keys(kind="plug-in ECU", phase="write", saved=True, linked=True, **more):
    about = Cut(phase, 4096, 65536, **more)
    return [way.key for way in ways_on(kind, about, saved=saved, linked=linked)]


def test_only_what_the_device_has_is_offered_in_the_order_in_which_it_is_tried():
    assert keys() == ["resume", "restart", "stock", "bench"]
    assert keys(saved=False) == ["resume", "restart", "bench"]
    for lost in ({"phase": "erase"}, {"phase": "read back"}, {"same": False}, {"in_loader": False}):
        assert keys(**lost) == ["restart", "stock", "bench"], lost
    assert keys("handheld or phone flasher", linked=False) == ["resume", "restart", "stock", "bench"]
    for kind in ("sensor piggyback", "body-network module", "injector driver module"):
        assert keys(kind, linked=False) == [], "nothing is written there by a cable"


def test_what_is_gone_is_not_built_upon(base_map):
    vehicle = bench.yard_vehicle(CAR, seed=3, faults={}, stock=False)
    image = base_map.image(wire.FLASH_SIZE)
    left = cut(vehicle, image, 2, "link")
    vehicle.memory.flash[:] = b"\xff" * len(vehicle.memory.flash)
    with pytest.raises(LinkLost, match="Write again from the start"):
        list(write_image(Tester(bench.DirectLine(vehicle)), image, resume_at=left.written))
    assert not vehicle.memory.whole


def test_a_program_that_may_run_is_never_written_over(base_map):
    vehicle = bench.yard_vehicle(CAR, seed=3, faults={}, stock=False)
    image = base_map.image(wire.FLASH_SIZE)
    list(write_image(Tester(bench.DirectLine(vehicle)), image))
    with pytest.raises(LinkLost):
        list(write_image(Tester(bench.DirectLine(vehicle)), image, resume_at=20 * wire.BLOCK))
    assert vehicle.memory.whole
    assert bytes(vehicle.memory.flash) == image


@pytest.mark.parametrize("kind", ["plug-in ECU", "standalone on an adapted harness"])
def test_a_dead_link_is_looked_at_rung_by_rung(kind):
    order = [rung.key for rung in rungs(kind)]
    assert sorted(order) == ["cable", "driver", "key", "port"]
    assert order[0] == ("port" if kind.startswith("standalone") else "cable")
    answers: dict[str, bool] = {}
    for rung in rungs(kind):
        assert climb(kind, answers, None).title.endswith(rung.key)
        no = climb(kind, {**answers, rung.key: False}, 60.0)
        assert no.verdict == "hold"
        assert no.do_next == rung.mend
        answers[rung.key] = True
    assert climb(kind, answers, None).title.endswith("terminators")
    assert "missing" in climb(kind, answers, 120.0).because[0].value
    assert "Do not write to it" in climb(kind, answers, 60.0).do_next
