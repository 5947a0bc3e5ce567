"""Every house rule: what stands after it changed is what today's rules give, whoever judged it."""

from __future__ import annotations

import pytest

from tests.conftest import Api, by_night
from tests.server.against import from_nothing, standing
from tests.server.test_facts import reached
from ventmap.core.basics import RULES
from ventmap.server.jobs.acting import changing
from ventmap.server.jobs.models import Job


def other(key: str) -> float | str:
    """Another value of a rule: so much that something is judged otherwise."""
    rule = RULES[key]
    if isinstance(rule.default, str):
        return next(word for word in rule.choices if word != rule.default)
    return float(rule.default) * 0.5 if rule.default else 1.0


@pytest.mark.parametrize(
    ("number", "to", "every"),
    # By day each eighth, by night every one.
    [("0003", "fit", 8), by_night("0001", "log", 1), by_night("0006", "fit", 1)],
)
def test_whatever_house_rule_changes_what_stands_is_what_it_gives(shop, number, to, every):
    lead = Api()
    reached(lead, number, to)
    met, wrong = [], []
    for key in [*RULES][::every]:
        job = Job.objects.get(number=number)
        before, was = standing(number), dict(job.rules)
        with changing(job):
            Job.objects.filter(pk=job.pk).update(rules={**was, key: other(key)})
        after = standing(number)
        wrong += [] if after == from_nothing(number) else [key]
        met += [key] if after != before else []
        with changing(job):
            Job.objects.filter(pk=job.pk).update(rules=was)
    assert wrong == []
    assert every > 1 or len(met) >= 4, met
