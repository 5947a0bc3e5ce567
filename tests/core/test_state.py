"""The state of a vehicle: what differs between two, and what is one group."""

from __future__ import annotations

from dataclasses import replace

import pytest

from tests.truth.maps import sample
from ventmap.core.findings import of_another_state
from ventmap.core.maps import added_at
from ventmap.core.runsheet import PARTS, VehicleState, one_state

WAS = VehicleState("box r0, level 1", "box", "stock 370", "98 RON, 5 % ethanol", (3, 4))


@pytest.mark.parametrize("part", PARTS)
def test_whatever_differs_is_named(part):
    other = replace(WAS, **{part: "another"})
    assert WAS.differs(other) == (PARTS[part],)
    assert one_state([WAS, None, WAS, other]) == (PARTS[part],)
    assert of_another_state("log 1", WAS.differs(other)).verdict == "hold"


def test_what_is_kept_comes_back():
    assert VehicleState.of(WAS.plain()) == WAS
    assert VehicleState.of({}) is None
    assert WAS.differs(replace(WAS, versions=(9,))) == (), "a number of a record is no state"
    assert one_state([]) == one_state([None]) == one_state([WAS]) == ()


def test_a_level_adds_by_its_own_row():
    levels = sample("kelmar/om16-levels")
    most = {n: max(a for _, a in added_at(levels.with_scalars(level=float(n)))) for n in (1, 2, 3)}
    assert most == {1: 12.0, 2: 22.0, 3: 35.0}
    assert added_at(levels.with_scalars(level=0.0)) == ()
