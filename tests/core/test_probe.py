"""A mixture probe in a two-stroke's exhaust: put right by its sheet, or blind and said to be."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from tests.core.drives import drive
from ventmap.core.basics import NotEnough
from ventmap.core.corrections import CorrectionRules
from ventmap.core.findings import ReviewContext, log_calls, review
from ventmap.core.logs import BLIND, Probe

BLIND_ONE = Probe(two_stroke=True)
SHEET = Probe(True, 7000.0, 0.05, 0.20)
CONTEXT = ReviewContext(induction="turbo", stroke=2, idle_target=850.0, concerns=("mixture",))


def two_stroke(burns: float):
    """A sound drive whose pull burns at so much of its target, as the exhaust of a two-stroke shows it."""
    log, mask = drive(20.0, seed=3)
    mixture = log.channels["lambda"]
    mixture[mask["pull"] | mask["pull2"]] *= burns
    off = np.minimum(np.abs(log.channels["rpm"] / 7000.0 - 1.0) / 0.5, 1.0)
    log.channels["duty"] *= 0.5  # a logger counts a four-stroke's cycle
    log.channels["pulse"] = log.channels["pulse"] * 0.5
    log.channels["lambda"] = mixture * (1.05 + 0.15 * off)
    return log


def found(log, probe: Probe) -> dict[str, str]:
    return {f.kind: f.verdict.value for f in review(log, replace(CONTEXT, probe=probe)).findings}


class TestBySheet:
    def test_what_burns_as_it_should_is_silent_and_checked(self):
        done = review(two_stroke(1.0), replace(CONTEXT, probe=SHEET))
        assert done.findings == ()
        assert {"lean_under_load", "rich_under_load"} <= set(done.checked)

    @pytest.mark.parametrize(("burns", "kind"), [(1.09, "lean_under_load"), (0.88, "rich_under_load")])
    def test_what_does_not_is_found(self, burns, kind):
        assert kind in found(two_stroke(burns), SHEET)

    @pytest.mark.parametrize("rpm", [2000.0, 3500.0, 5000.0, 7000.0, 9000.0])
    def test_its_figures_run_straight_over_speed(self, rpm):
        log, _ = drive(20.0, seed=3)
        log.channels["rpm"][:] = rpm
        before = log.channels["lambda"].copy()
        reads = np.interp(abs(rpm / 7000.0 - 1.0), [0.0, 0.5], [1.05, 1.20])
        assert SHEET.burnt(log).channels["lambda"] == pytest.approx(before / reads, rel=1e-5)

    def test_a_target_is_no_reading(self):
        log, _ = drive(20.0, seed=3)
        assert (SHEET.burnt(log).channels["lambda_target"] == log.channels["lambda_target"]).all()


class TestBlind:
    def test_nothing_is_cleared_by_it(self):
        context = replace(CONTEXT, probe=BLIND_ONE)
        done = review(two_stroke(1.0), context)
        assert done.findings == ()
        lacking = {one.kind: one.missing for one in done.not_checkable}
        assert lacking["lean_under_load"] == (BLIND,)
        calls = log_calls(done, "log", context)
        assert {call.verdict.value for call in calls} == {"hold"}
        assert "exhaust" in str(calls[0].because[0].value)

    @pytest.mark.parametrize(("burns", "kind"), [(1.4, "lean_under_load"), (0.72, "rich_under_load")])
    def test_what_is_wrong_whatever_the_exhaust_hides_is_found(self, burns, kind):
        assert kind in found(two_stroke(burns), BLIND_ONE)

    def test_no_map_is_corrected_by_it(self):
        with pytest.raises(NotEnough, match="two-stroke"):
            CorrectionRules(probe=BLIND_ONE).readable(two_stroke(1.0))
        assert CorrectionRules(probe=SHEET).readable(two_stroke(1.0)) is not None

    @pytest.mark.parametrize("known", ["pipe_rpm", "lean_in_tune", "lean_off_tune"])
    def test_half_a_sheet_is_none(self, known):
        assert replace(SHEET, **{known: None}).blind

    def test_a_four_stroke_reads_what_it_burns(self):
        log, _ = drive(20.0, seed=3)
        assert not Probe().blind
        assert Probe().burnt(log) is log
