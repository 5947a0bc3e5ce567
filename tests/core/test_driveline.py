"""What slips between engine and road, and a throttle that is shut: found, and nothing else taken for it."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from tests.core.drives import drive
from tests.core.test_thresholds import held_shut, runs_away
from tests.truth.detectors import CONTEXT
from ventmap.core.findings import review


def kinds(log, context=CONTEXT) -> set[str]:
    return {one.kind for one in review(log, context).findings}


def test_a_clutch_that_gives_way_is_told_with_its_share_and_on_geared_vehicles_alone():
    log, mask = drive(20.0, seed=6)
    runs_away(log, mask, 0.2)
    found = next(one for one in review(log, CONTEXT).findings if one.kind == "gear_slips")
    told = {one.label: one.value for one in found.evidence}
    assert told["above its gear"] == pytest.approx(20.0, abs=2.5)
    assert told["pulls in which it does"] == 2
    assert "gear_slips" not in kinds(log, replace(CONTEXT, manual=False))
    assert "gear_slips" not in kinds(log, replace(CONTEXT, belt=True))


@pytest.mark.parametrize(("share", "held"), [(0.05, False), (0.13, True)])
def test_either_side_of_the_limit(share, held):
    # The drive itself has 4 % of it: its road speed is rounded that way.
    log, mask = drive(20.0, seed=6)
    runs_away(log, mask, share)
    assert ("gear_slips" in kinds(log)) is held


def test_spinning_wheels_a_lagging_speed_and_one_held_over_are_no_clutch():
    log, mask = drive(20.0, seed=6)
    log.channels["front_speed"] = log.channels["speed"].copy()
    log.channels["rear_speed"] = log.channels["speed"].copy()
    runs_away(log, mask, 0.2)
    log.channels["front_speed"] = log.channels["speed"].copy()
    assert "gear_slips" not in kinds(log), "the wheels' own speeds lie apart"
    lagging, _ = drive(20.0, seed=6)
    lagging.channels["speed"] = np.roll(lagging.channels["speed"], 10)
    assert "gear_slips" not in kinds(lagging), "half a second late"
    held, _ = drive(20.0, seed=6)
    held.channels["speed"] = np.repeat(held.channels["speed"][::6], 6)[: len(held)]
    assert "gear_slips" not in kinds(held), "three values a second, held over"


def test_a_throttle_that_is_shut_names_the_limit_that_stands_at_its_own():
    def named(change, context=CONTEXT) -> tuple[str, str]:
        log, mask = drive(20.0, seed=6)
        held_shut(log, mask, 35.0)
        change(log, mask)
        found = next(one for one in review(log, context).findings if one.kind == "throttle_shut")
        why = str(next(one.value for one in found.evidence if one.label == "at its limit there"))
        return why, found.verdict.value

    def cool(log, mask):
        log.channels["map"][mask["pull"]] -= 12.0

    def hot(log, mask):
        cool(log, mask)
        log.channels["iat"][mask["pull"]] += 45.0

    assert named(lambda log, mask: None) == ("boost at or above what it allows", "hold")
    assert named(hot) == ("heat", "hold")
    # As the works set them: told, and nobody is held for it.
    assert named(cool) == ("torque, by gear or gearbox", "go")
    assert named(cool, replace(CONTEXT, rev_limit=6_500.0)) == ("engine speed", "go")


def test_a_short_cut_and_a_throttle_that_never_reads_a_hundred_are_not_shut():
    log, mask = drive(20.0, seed=6)
    rows = np.flatnonzero(mask["pull"])[60:80]
    log.channels["throttle"][rows] -= 50.0
    assert "throttle_shut" not in kinds(log), "one second"
    scaled, _ = drive(20.0, seed=6)
    scaled.channels["throttle"] *= 0.75
    assert "throttle_shut" not in kinds(scaled)
    diesel, mask = drive(20.0, seed=6)
    held_shut(diesel, mask, 35.0)
    assert "throttle_shut" not in kinds(diesel, replace(CONTEXT, injection="diesel"))
