"""What is logged for a question: what its rules read, of what this engine has, as often as the link gives."""

from __future__ import annotations

import itertools

import pytest

from ventmap.core.basics import BadInput
from ventmap.core.findings import (
    DETECTORS,
    LINKS,
    QUESTIONS,
    ReviewContext,
    on_link,
    questions,
    wanted,
)
from ventmap.core.logs import CHANNELS

ENGINES = [
    ReviewContext(induction=induction, injection=injection, stroke=stroke)
    for induction, injection, stroke in itertools.product(
        ("turbo", "blower", "none"), ("port", "direct", "diesel"), (4, 2)
    )
    if not (injection == "diesel" and stroke == 2)
]


def test_each_question_is_answered_by_rules_that_are_there():
    kinds = {one.kind for one in DETECTORS}
    assert {kind for _, (_, asked) in QUESTIONS.items() for kind in asked} <= kinds


@pytest.mark.parametrize("context", ENGINES, ids=lambda one: f"{one.induction} {one.injection} {one.stroke}")
def test_the_channels_of_a_question_let_its_rules_look(context):
    for question in questions(context):
        first = next((kinds[0] for key, (_, kinds) in QUESTIONS.items() if key == question and kinds), None)
        lead = [one for one in DETECTORS if one.kind == first and one.applies(context)]
        named = {one.name for one in wanted(question, context)}
        assert named <= set(CHANNELS)
        assert question == "full" or lead, question
        assert all(named.intersection(choice) for rule in lead for choice in rule.needs), question
        for rule in DETECTORS:
            if (
                rule.kind in QUESTIONS[question][1]
                and rule.applies(context)
                and rule.kind in _told(question, context)
            ):
                assert all(named.intersection(choice) for choice in rule.needs), (question, rule.kind)
    if context.injection == "diesel":
        assert {"knock", "trims"}.isdisjoint(questions(context))
        assert {"spark", "knock", "lambda_target", "stft_1"}.isdisjoint(
            {one.name for one in wanted("full", context)}
        )
    assert ("boost" in questions(context)) is (context.induction != "none")


def _told(question: str, context: ReviewContext) -> set[str]:
    return {kind.replace(" ", "_") for one in wanted(question, context) for kind in one.waits}


def test_what_the_vehicle_does_not_give_stands_last_and_is_not_asked():
    context = ReviewContext(induction="turbo")
    found = wanted("knock", context, ["rpm", "pedal", "map", "iat", "spark"])
    assert [one.name for one in found if not one.there] == ["knock"]
    assert found[-1].name == "knock"
    boat = ["rpm", "pedal", "throttle", "map", "lambda", "knock"]
    assert {"trims", "pump"}.isdisjoint(questions(context, boat))
    assert {"boost", "mixture", "knock", "full"} <= set(questions(context, boat))
    with pytest.raises(BadInput, match="Choose a question"):
        wanted("everything", context)


def test_the_rate_is_one_over_requests_times_their_time():
    names = ["rpm", "map", "lambda", "knock", "pedal"]
    single = on_link(names, "can_single").hz["rpm"]
    assert single == pytest.approx(1000 / (5 * LINKS["can_single"].request_ms))
    wire = on_link(names, "k_line")
    # Six bytes out and seven back at 10 400 bit/s, ten bits each, and both pauses.
    assert LINKS["k_line"].request_ms == pytest.approx(13 * 10 / 10.4 + 25 + 55, abs=0.1)
    assert wire.hz["rpm"] == pytest.approx(1000 / (5 * 92.5), rel=0.01)
    assert wire.calls[0].do_next.startswith("Drop ")
    assert not on_link(names, "can_batched").calls
    with pytest.raises(BadInput, match="how the tool asks"):
        on_link(names, "string and cans")
