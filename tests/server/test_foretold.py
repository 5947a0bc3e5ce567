"""A map that is named and did not run is told by its log."""

from __future__ import annotations

from django.contrib.auth.models import User

from ventmap.server.day import own_clock, play
from ventmap.server.jobs.models import Job
from ventmap.server.maps.services import calibration_of, keep

JOB = "jobs/0002"


def standing() -> list[str]:
    return list(
        Job.objects.get(number="0002")
        .ledger.filter(standing=True, kind="call")
        .values_list("rule", flat=True)
    )


def test_the_log_of_a_map_that_never_ran_holds_and_says_read_it_back(lead):
    with own_clock() as clock:
        play(clock, pattern="0002.json")
    job = Job.objects.get(number="0002")
    newest, earlier = job.logs.filter(baseline=False)[:2]
    assert newest.map.parent == earlier.map
    lead.post(f"{JOB}/mixture")
    assert lead.status == 200
    assert "correct.foretold" not in standing(), "a sound round came as it was foretold"

    # Another map is said to have run in the newest log, while it shows the one before.
    ran = calibration_of(newest.map)
    table = ran.tables["ve"]
    other = ran.with_table("ve", table.with_values(table.values * 1.1))
    named = keep(job, other, User.objects.get(username="lead"), newest.map, "by hand")
    job.logs.filter(pk=earlier.pk).update(map=newest.map)
    job.logs.filter(pk=newest.pk).update(map=named)
    (call,) = [c for c in lead.post(f"{JOB}/mixture")["calls"] if c["rule"] == "correct.foretold"]
    assert call["verdict"] == "hold"
    assert "correct.foretold" in standing()
    assert lead.get(f"{JOB}/proposal")["rounds_forced"]

    lead.client.delete(f"/api/logs/{earlier.pk}")
    assert "correct.foretold" not in standing(), "what it was held against is gone"
