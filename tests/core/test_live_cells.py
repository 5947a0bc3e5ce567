"""Cells that fill while they are driven: what Correct finds in the end, and never more before it."""

from __future__ import annotations

import numpy as np
import pytest

from tests.core.drives import drive
from ventmap.core.basics import HouseRules
from ventmap.core.corrections import CorrectionRules, cells_so_far, propose_table


@pytest.fixture
def warm_drive():
    log, mask = drive(20.0, boost=60.0)
    log.channels["coolant"][:] = 88
    log.channels["lambda"] *= np.where(mask["cruise"] | mask["cruise2"], 1.06, 1.0)
    return log


def test_they_end_as_correct_will_find_them(base_map, warm_drive):
    rules = CorrectionRules(HouseRules(), barometer_kpa=98.0)
    told = cells_so_far(warm_drive, base_map, "ve", rules)
    proposal = propose_table(warm_drive, base_map, "ve", rules)
    assert (told.ticks == proposal.ticks).all()
    assert told.enough.any()
    # Whatever is changed was said to be enough.
    changed = proposal.changed
    assert not (changed & ~told.enough).any()


def test_they_fill_with_the_drive_and_say_where_it_is(base_map, warm_drive):
    rules = CorrectionRules(HouseRules(), barometer_kpa=98.0)
    table, ticks = base_map.tables["ve"], []
    for at in (20.0, 45.0, 72.0):
        so_far = warm_drive.slice(0, int(np.searchsorted(warm_drive.time_s, at)))
        told = cells_so_far(so_far, base_map, "ve", rules)
        ticks.append(int(told.ticks.sum()))
        row, column = told.at
        assert abs(table.x[column] - so_far.channels["rpm"][-1]) <= np.diff(table.x).max() / 2
        assert abs(table.y[row] - so_far.channels["map"][-1]) <= np.diff(table.y).max() / 2
        assert told.enough_here == bool(told.enough[row, column])
    assert ticks == sorted(ticks)
    assert ticks[-1] > ticks[0]
    more = CorrectionRules(HouseRules({"correct.samples": 100_000.0}), barometer_kpa=98.0)
    assert not cells_so_far(warm_drive, base_map, "ve", more).enough.any()


def test_a_log_that_lacks_its_channels_says_nothing(base_map, warm_drive):
    warm_drive.channels.pop("lambda")
    assert cells_so_far(warm_drive, base_map, "ve", CorrectionRules(HouseRules(), barometer_kpa=98.0)) is None
