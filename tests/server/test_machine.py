"""Whatever people do, in whatever order: what stands is what it gives, and no word lifts a stop."""

from __future__ import annotations

import os
import random
from functools import partial

import pytest
from django.db import connection
from hypothesis import HealthCheck, seed, settings, strategies
from hypothesis.stateful import RuleBasedStateMachine, initialize, rule, run_state_machine_as_test

from tests import milestones
from tests.conftest import Api, make_sample
from tests.server.machine import KINDS, Work, logged, reached

DEEP = settings().max_examples > 100


class Shop(RuleBasedStateMachine):
    """One job after another, each from the sample shop, from its Fit done, or from its first log."""

    work: Work

    @initialize(number=strategies.sampled_from(KINDS), begun=strategies.booleans())
    def opens(self, number: str, begun: bool) -> None:
        milestones.at("the sample shop", make_sample)
        lead = Api()
        if begun and number == "0001":
            milestones.at("0001 after log", partial(logged, lead))
        elif begun:
            milestones.at(f"{number} after fit", partial(reached, lead, number))
        lead.sign_in()
        self.work = Work(number, lead, Api("installer"))

    @rule(draw=strategies.randoms(use_true_random=False))
    def acts(self, draw: random.Random) -> None:
        self.work.act(draw)
        self.work.check()


def played(by: int, examples: int, steps: int) -> None:
    """The same drawing gives the same acts: a run of CI that fails tells of its own change."""
    if connection.vendor != "sqlite":
        pytest.skip("a shop is put back to a point of its work on SQLite alone")
    run_state_machine_as_test(
        seed(by + int(os.environ.get("VENTMAP_SEED", "0")))(type("Drawn", (Shop,), {})),
        settings=settings(
            max_examples=examples,
            stateful_step_count=steps,
            deadline=None,
            database=None,
            suppress_health_check=list(HealthCheck),
        ),
    )


def test_whatever_people_do_what_stands_is_what_it_gives(shop):
    played(0, 4, 12)


@pytest.mark.night
@pytest.mark.parametrize("part", range(1, 5))
def test_for_hours_whatever_people_do_what_stands_is_what_it_gives(shop, part):
    """480 acts; 20 000 of them by `bin/bench --acts`."""
    played(part, 100 if DEEP else 3, 50 if DEEP else 40)
