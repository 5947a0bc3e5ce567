"""Several findings at once: what leads, what follows, how the causes weigh, and what an answer moves."""

from __future__ import annotations

from math import log

import numpy as np
import pytest

from tests.core import test_thresholds as sized
from tests.core.drives import drive
from tests.truth.detectors import CONTEXT, FAULTS
from ventmap.core.basics import BadInput, Verdict
from ventmap.core.findings import DETECTORS, Finding, ReviewContext, review
from ventmap.core.stories import CAUSES, CHAIN, CHECKS, chosen_check, stories

KINDS = {one.kind for one in DETECTORS}


def found(kind: str, verdict: Verdict = Verdict.hold) -> Finding:
    return Finding(kind, verdict, kind, 1.0, 2.0, evidence=(), causes=(), check="", next="")


def test_the_tables_name_only_what_there_is_and_leave_no_kind_without_a_cause():
    assert set(CHAIN) == KINDS
    for key, cause in CAUSES.items():
        assert set(cause.shows) <= KINDS, key
        assert all(0.0 < share < 1.0 for share in cause.shows.values()), key
    told = {kind for cause in CAUSES.values() for kind, share in cause.shows.items() if share >= 0.3}
    assert told >= KINDS - {"lean_hole"}
    for key, check in CHECKS.items():
        assert len(check.answers) >= 2, key
        for moved in check.answers.values():
            assert set(moved) <= set(CAUSES), key
            assert all(factor > 0 for factor in moved.values())
        # An answer that no cause can move asks for nothing.
        assert all(check.answers.values()), key


@pytest.mark.parametrize("fault", FAULTS, ids=[f"{n} {one.kind}" for n, one in enumerate(FAULTS)])
def test_every_finding_stands_in_one_story_and_weights_are_shares(fault):
    log_, mask = drive(20.0, seed=5)
    fault.put(log_, mask, 2 * fault.size)
    told = review(log_, fault.context)
    made = stories(told.findings, told.checked, fault.context)
    inside = [one for story in made for one in (story.lead, *story.follows)]
    assert sorted(map(id, inside)) == sorted(map(id, told.findings))
    for story in made:
        weights = [one.weight for one in story.candidates]
        assert sum(weights) <= 1.001
        assert weights == sorted(weights, reverse=True)
        assert story.candidates, story.lead.kind
    heaviest = max(one.verdict.weight for one in told.findings)
    assert heaviest == max(f.verdict.weight for f in (made[0].lead, *made[0].follows))


def test_a_weak_pump_that_leans_and_knocks_is_one_story_and_a_swinging_probe_another():
    log_, mask = drive(20.0, seed=5)
    sized.rail(log_, mask, 0.3)
    sized.lean(log_, mask, 0.16)
    sized.knock(log_, mask, 8.0)
    sized.hunt(log_, mask, 24.0)
    told = review(log_, CONTEXT)
    first, *others = stories(told.findings, told.checked, CONTEXT)
    assert first.lead.kind == "fuel_pressure_drop"
    assert [one.kind for one in first.follows] == ["lean_under_load", "knock"]
    assert {one.key for one in first.candidates[:2]} == {"weak_pump", "clogged_filter"}
    assert [one.lead.kind for one in others] == ["trim_hunting"]
    assert not others[0].follows


def test_knock_beside_a_steady_rail_is_not_the_pumps():
    seen = {"fuel_pressure_drop", "lean_under_load", "voltage_low"}
    alone = stories([found("knock")], seen, CONTEXT)[0]
    assert {one.key for one in alone.candidates[:2]} == {"low_octane", "too_much_spark"}
    assert not {"weak_pump", "clogged_filter"} & {one.key for one in alone.candidates}
    # What the log does not tell apart is not told as one likely cause.
    assert all(one.title in alone.headline for one in alone.candidates[:2])
    told = stories([found("knock")], seen, CONTEXT, {"better_fuel": "knock is gone"})[0]
    assert told.candidates[0].key == "low_octane"
    assert "; or " not in told.headline


def test_the_weights_are_those_of_bayes():
    """By hand: prior × shares of what was found × (1 − shares) of what was looked for in vain."""
    context = ReviewContext(induction="none")
    told = stories([found("slow_to_idle")], ["idle_high_air", "trim_offset"], context)[0]
    by_hand = {
        "throttle_open": 0.7 * 0.9 * (1 - 0.5),
        "air_leak": 1.0 * 0.2 * (1 - 0.85) * (1 - 0.6),
    }
    total = sum(by_hand.values())
    assert {one.key: one.weight for one in told.candidates} == {
        key: pytest.approx(value / total, abs=0.002)
        for key, value in by_hand.items()
        if value / total >= 0.03
    }


def test_the_check_parts_the_first_two_and_its_answer_moves_them_and_says_so():
    findings = [found("fuel_pressure_drop", Verdict.stop), found("lean_under_load", Verdict.stop)]
    before = stories(findings, ["voltage_low"], CONTEXT)[0]
    first, second = (one.key for one in before.candidates[:2])
    moved = CHECKS[before.check].answers.values()
    assert max(abs(log(one.get(first, 1.0) / one.get(second, 1.0))) for one in moved) > log(2)
    after = stories(findings, ["voltage_low"], CONTEXT, {"pump_shut": "makes its full pressure"})[0]
    assert after.candidates[0].key == "clogged_filter"
    was = {one.key: one.weight for one in before.candidates}
    assert all(one.before == pytest.approx(was[one.key], abs=0.002) for one in after.candidates[:2])
    assert after.candidates[0].weight > 0.8 > was["clogged_filter"]
    assert after.check != "pump_shut"
    with pytest.raises(BadInput, match="no answer"):
        stories(findings, [], CONTEXT, {"pump_shut": "perhaps"})


def test_what_the_log_shows_is_not_asked_again():
    lean = [found("lean_under_load", Verdict.stop)]
    blind = stories(lean, [], CONTEXT)[0]
    assert blind.check == "rail_beside"
    assert stories(lean, ["fuel_pressure_drop"], CONTEXT)[0].check != "rail_beside"
    both = [*lean, found("fuel_pressure_drop", Verdict.stop)]
    assert stories(both, [], CONTEXT, {"new_filter": "the same"})[0].check not in ("rail_beside", "")


def test_a_check_is_asked_of_engines_that_can_have_it():
    diesel = ReviewContext(injection="diesel", induction="turbo")
    told = stories([found("egt_spread")], [], diesel)[0]
    assert told.check != "swap_coil"
    assert not {"ignition", "low_octane"} & {one.key for one in told.candidates}
    assert chosen_check([], list(CHECKS)) == ""
    assert np.isclose(1.0, sum(one.weight for one in told.candidates), atol=0.04)
