"""What somebody complained of is asked again before the owner is told."""

from __future__ import annotations

import pytest

from ventmap.core.basics import HouseRules
from ventmap.core.grids import judge_grid
from ventmap.core.runsheet import SheetVehicle, Step, build, complaints_in

TWO = "Smokes at 2000 rpm; hesitates when hot."


def again(text: str) -> tuple[Step | None, Step]:
    vehicle = SheetVehicle(4, complaint=bool(text), complaints=complaints_in(text))
    steps = {step.key: step for step in build(vehicle, [], "street", HouseRules()).steps}
    return steps.get("hand-over.complaint"), steps["hand-over.told"]


@pytest.mark.parametrize("text", ["", " ; \n ."])
def test_where_nobody_complains_nothing_is_asked(text):
    step, told = again(text)
    assert step is None
    assert told.needs == ()


def test_each_complaint_is_asked_by_itself_and_one_that_is_there_holds():
    step, told = again(TWO)
    assert step.key in told.needs
    assert [row.title for row in step.about.rows] == ["Smokes at 2000 rpm", "hesitates when hot"]
    for answer in ("gone", "better", "same", "worse", "untried"):
        verdict = "go" if answer in ("gone", "better") else "hold"
        found = judge_grid("checks", step.about, {"answers": {"1": "gone", "2": answer}})
        assert (found.complete, found.verdict) == (True, verdict), answer
    assert not judge_grid("checks", step.about, {"answers": {"1": "gone"}}).complete
