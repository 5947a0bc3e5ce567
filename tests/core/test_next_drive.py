"""What is still to be driven: said for this vehicle, asked until it is there, never where it cannot be."""

from __future__ import annotations

from itertools import product
from typing import get_args

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays

from ventmap.core.basics import Table2D, Vehicle
from ventmap.core.corrections import sweeps
from ventmap.core.findings import DETECTORS, NotCheckable, ReviewContext, drives, log_also
from ventmap.core.logs import Window

KINDS = get_args(Vehicle.model_fields["kind"].annotation)
ENGINES = [
    ReviewContext(induction="turbo", rev_limit=6500.0),
    ReviewContext(induction="turbo", injection="diesel"),
    ReviewContext(stroke=2, belt=True),
    ReviewContext(stroke=2),
]


def window(kind: str, seconds: float, at: float = 0.0) -> Window:
    return Window(kind, 0, 1, at, at + seconds)


@pytest.mark.parametrize(("vehicle", "context"), list(product(KINDS, ENGINES)))
def test_what_is_asked_of_a_vehicle_can_be_done_with_it(vehicle: str, context: ReviewContext):
    plan = drives([], context, vehicle)
    said = " ".join(f"{one.do} {one.where} {one.why}" for one in plan)
    assert not any(one.enough for one in plan)
    assert ("the road" in said) is (vehicle not in ("watercraft", "sled"))
    assert ("gear" in said) is not (context.belt or vehicle == "watercraft")
    if vehicle in ("motorcycle", "watercraft", "sled", "quad"):
        assert "pedal" not in said
        assert "foot" not in said
    for word in () if context.spark else ("knock", "mixture"):
        assert word not in said
    assert ("6\u202f200 rpm" in said) is (
        context.rev_limit is not None and vehicle != "watercraft" and not context.belt
    )
    assert "overrun" not in {one.key for one in plan} or not context.oil_in_fuel
    pull = next(one for one in plan if one.key == "pull")
    assert "the road" not in pull.where


def test_every_kind_of_window_that_a_rule_judges_is_asked_for():
    asked = {one.key for one in drives([], ENGINES[0])}
    judged = {detector.where for detector in DETECTORS if detector.where}
    assert judged <= asked | {"load"}  # a pull loads the engine


def test_it_is_ticked_off_by_what_was_driven_and_not_before():
    def open_now(*driven: Window) -> set[str]:
        return {one.key for one in drives(driven, ENGINES[0], "car") if not one.enough}

    assert open_now(window("idle", 19)) == {"key_on", "idle", "cruise", "pull", "overrun"}
    assert "idle" not in open_now(window("idle", 21))
    assert "idle" in open_now(window("idle", 11), window("idle", 11, 60))  # hunting shows in one piece alone
    assert "cruise" not in open_now(window("cruise", 16), window("cruise", 16, 60))
    assert "pull" in open_now(window("pull", 6))
    whole = [
        window("key_on", 2),
        window("idle", 30),
        window("cruise", 40),
        window("pull", 6),
        window("pull", 6, 90),
        window("overrun", 3),
    ]
    assert open_now(*whole) == set()


def test_channels_that_rules_wait_for_are_named_as_a_person_calls_them():
    told = log_also(
        [
            NotCheckable("egt_spread", ("egt_1", "egt_2")),
            NotCheckable("exhaust_hot", ("egt_1",)),
            NotCheckable("knock", ("pull (none was driven)",)),
        ]
    )
    assert told[0] == ("Exhaust 1", ("egt spread", "exhaust hot"))
    assert [label for label, _ in told] == ["Exhaust 1", "Exhaust 2"]


TICKS = arrays(np.int64, (6, 8), elements=st.integers(0, 4).map(lambda n: max(0, n - 2)))


@given(TICKS)
def test_a_sweep_asks_only_for_cells_without_evidence_between_cells_that_were_driven(ticks):
    table = Table2D(np.arange(1000.0, 9000.0, 1000), np.arange(20.0, 80.0, 10), np.ones((6, 8)))
    for one in sweeps(table, ticks, most=99):
        row = int(np.flatnonzero(table.y == one.load)[0])
        columns = np.flatnonzero((table.x >= one.from_rpm) & (table.x <= one.to_rpm))
        assert len(columns) == one.cells
        assert (ticks[row, columns] == 0).all()
        for column in columns:
            in_row = (ticks[row, :column] > 0).any() and (ticks[row, column + 1 :] > 0).any()
            in_column = (ticks[:row, column] > 0).any() and (ticks[row + 1 :, column] > 0).any()
            assert in_row or in_column
    assert sweeps(table, np.zeros((6, 8), int)) == ()
    assert sweeps(table, np.ones((6, 8), int)) == ()
