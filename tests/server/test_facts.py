"""Every fact, not those that somebody thought of: change it, and what stands is what today's facts give.

Each field of each record that a job rests on, and each figure of its Intake, is changed by somebody at the
shelf; what then stands is held against everything judged anew from nothing.
"""

from __future__ import annotations

import copy
from collections.abc import Iterator
from typing import Any

import pytest

from tests.conftest import Api, by_night
from tests.server.against import from_nothing, standing
from tests.shopwork import answer_all, by_hand, intake, log, to_map, write
from ventmap.server.jobs.models import Job
from ventmap.server.jobs.rows import devices

#: Another word where only some are allowed.
OTHER_WORD = {
    "port": "direct",
    "direct": "port",
    "diesel": "port",
    "none": "turbo",
    "turbo": "none",
    "pressure": "airflow",
    "airflow": "pressure",
    "electronic": "cable",
    "cable": "electronic",
}
INTAKE = (
    {"ethanol": 0.83},
    {"ron": 91.0},
    {"altitude_m": 10.0},
    {"power_goal_kw": 260.0},
    {"goal": "tow"},
    {"changes": ["cams"]},
)


def others(value: Any) -> Iterator[Any]:
    """The same field with something else in it; the record refuses what it cannot be."""
    if isinstance(value, bool):
        yield not value
    elif isinstance(value, int):
        yield from (value + 1, value * 2)
    elif isinstance(value, float):
        yield from (value * 0.6, value * 1.5)
    elif isinstance(value, str):
        yield OTHER_WORD.get(value, f"{value}x")
    elif isinstance(value, list) and value:
        yield value[:-1]
        yield from ([first, *value[1:]] for first in others(value[0]))


def reached(lead: Api, number: str, to: str) -> None:
    job = f"jobs/{number}"
    if to == "log":
        to_map(lead)
        write(lead)
        log(lead)
        return
    if lead.get(job)["plate"]["petrol"]:
        intake(lead, job)
    answer_all(lead, job)
    by_hand(lead, job, "intake", "plan", "baseline", "make-safe", "fit")


@pytest.mark.parametrize(
    ("number", "to", "all_of_them"),
    [
        # By day every field once, by night with everything else that may stand in it.
        ("0003", "fit", False),
        by_night("0001", "log", True),
        *(by_night(number, "fit", True) for number in ("0003", "0004", "0005", "0006", "0007", "0009")),
    ],
)
def test_whatever_fact_changes_what_stands_is_what_it_gives(shop, number, to, all_of_them):
    lead = Api()
    reached(lead, number, to)
    assert standing(number) == from_nothing(number)
    job = Job.objects.get(number=number)
    changed = met = 0
    for item in filter(None, (job.vehicle, job.injectors, job.pump, *devices(job))):
        was = {"kind": item.kind, "key": item.key, "name": item.name, "body": copy.deepcopy(item.body)}
        for field, value in was["body"].items():
            for other in [*others(value)][: None if all_of_them else 1] if field != "told" else ():
                before = standing(number)
                lead.put("shelf-items", {**was, "body": {**was["body"], field: other}})
                if lead.status != 200:
                    continue
                after = standing(number)
                assert after == from_nothing(number), (item.key, field, value, other)
                changed, met = changed + 1, met + (after != before)
                lead.put("shelf-items", was)
                assert lead.status == 200
    for change in INTAKE:
        intake(lead, f"jobs/{number}", **change)
        assert standing(number) == from_nothing(number), change
    assert changed > (60 if all_of_them else 40), changed
    assert met >= 3, f"only {met} of {changed} changes are seen in any verdict"
