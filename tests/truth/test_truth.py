"""The quick part of `bin/truth`: rules by their cases, detectors once each, nothing missing that passes."""

from __future__ import annotations

from math import inf, nan

import pytest

from ventmap.core.basics import Call, Evidence, Verdict, grade_above, grade_below

from .__main__ import CASES, PAGE, reading_lines, rule_lines, without_cases
from .detectors import DIALECTS, FAULTS, dialect_share, drive, false_share, told
from .model import rules_of_the_core, short
from .reading import corpus, shares


def test_the_page_of_what_is_proved_is_fresh():
    """`bin/truth` writes it; its rules and names are made again here, its detectors only there."""
    page = PAGE.read_text()
    lines, bad = rule_lines()
    stale = [line for line in [*lines, *reading_lines()[0]] if line not in page]
    assert stale == [], "run bin/truth"
    assert bad == []


def test_every_rule_that_can_hold_or_stop_has_its_cases():
    assert without_cases() == []
    source = rules_of_the_core()
    families = tuple(rule.removesuffix("*") for rule in source if rule.endswith("*"))
    stale = [case.rule for case in CASES if case.rule not in source and not case.rule.startswith(families)]
    assert stale == [], "a case of a rule that is no more"


@pytest.mark.parametrize("case", CASES, ids=lambda case: case.rule)
def test_a_rule_stops_what_it_must_and_nothing_else(case):
    assert short(case) == []


@pytest.mark.parametrize("grade", [grade_above, grade_below])
def test_what_is_no_number_is_never_graded_go(grade):
    assert grade(nan, 10.0, 20.0) is Verdict.stop


@pytest.mark.parametrize("value", [nan, inf, -inf, None])
def test_no_call_is_go_on_a_figure_that_is_none(value):
    shown = [Evidence("read", value, 5.0, unit="V")]
    call = Call(
        "any.rule", verdict=Verdict.go, because=tuple(shown), do_next="Go on.", source="a test", title="Any"
    )
    assert call.verdict is not Verdict.go


@pytest.mark.parametrize("fault", FAULTS, ids=lambda fault: fault.kind)
def test_a_fault_of_design_size_is_found_and_nothing_beside_it(fault):
    log, mask = drive(20.0, seed=5)
    fault.put(log, mask, fault.size)
    assert told(log, fault.context) == {fault.kind}


@pytest.mark.parametrize("dialect", DIALECTS)
def test_a_sound_drive_is_silent_in_every_dialect(dialect):
    assert false_share(dialect, [5], [20.0]) == 0


@pytest.mark.parametrize("dialect", [name for name, form in DIALECTS.items() if form])
def test_faults_are_found_however_the_logger_writes(dialect):
    assert dialect_share(dialect, [5]) >= 0.95


def test_no_column_is_taken_for_what_it_is_not():
    for source, names in corpus().items():
        assert shares(names)["guessed wrong"] == 0, source
