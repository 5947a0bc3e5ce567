"""The sample's working day, played by the services: it stands where its files say."""

from __future__ import annotations

import io
import json

import pytest
from django.contrib.auth.models import User
from django.core.management import call_command
from django.utils import timezone

from tests.conftest import Api, by_night
from ventmap.core.basics import STAGES, BadInput
from ventmap.server.day import own_clock, play
from ventmap.server.jobs.models import Job, LedgerEntry, Timer
from ventmap.server.logs.models import LogFile
from ventmap.server.maps.models import Load

#: Job → where it stands on the floor, and what weighs on it there: rules that hold or stop, none overruled.
STANDS = {
    "0001": ("intake", set()),
    "0002": ("correct", set()),
    "0003": ("prove", set()),
    "0004": ("make-safe", set()),
    "0005": ("hand-over", set()),
    "0006": ("load", {"load.identity"}),
    "0007": ("load", set()),
    "0008": ("first-start", set()),
    "0009": ("intake", set()),
    "0010": ("baseline", set()),
    "0011": ("intake", set()),
    "0012": ("fit", {"plan.injector", "step.fit.codes", "step.fit.codes#2"}),
    "0013": ("plan", {"plan.fit"}),
    "0014": ("log", {"log.knock"}),
}


def weighs(job: Job) -> set[str]:
    standing = job.ledger.filter(standing=True, verdict__in=("hold", "stop"), overruled_by=None)
    return set(standing.values_list("rule", flat=True))


def test_every_slat_of_the_day_has_its_job(transactional_db, settings, tmp_path):
    settings.MEDIA_ROOT = tmp_path / "files"
    true = timezone.now
    began = true()
    call_command("seed_demo", "--day", stdout=io.StringIO())
    lead = Api()
    assert timezone.now is true, "the clock is given back"
    floor = {row["number"]: row for row in lead.get("jobs")}
    assert {n: (floor[n]["stage"], weighs(Job.objects.get(number=n))) for n in STANDS} == STANDS
    assert set(floor) == set(STANDS)
    # What is written has happened: in its order, and none of it is still to come.
    for job in Job.objects.all():
        times = list(job.ledger.order_by("id").values_list("at", flat=True))
        assert times == sorted(times), job.number
    assert LedgerEntry.objects.order_by("at").last().at <= true()
    assert (began - LedgerEntry.objects.order_by("at").first().at).days <= 4
    # A wait that runs, writes that were proven, logs that hang on the map which ran, a report that was made.
    assert [timer.job.number for timer in Timer.objects.filter(ended_at=None)] == ["0004"]
    assert [load.state for load in Load.objects.all()] == ["verified", "verified"]
    rounds = LogFile.objects.filter(job__number="0002", baseline=False).order_by("id")
    assert [row.map.version for row in rounds] == ["r0.1", "r1"]
    # One round from a shelf map, and one more to drive.
    assert 60 < lead.get("jobs/0002/proposal")["within"] < 90
    assert lead.get("jobs/0005")["steps"][-1]["done"]
    # Logs that were looked at without a job, for whoever signs in.
    for person in User.objects.all():
        looked = LogFile.objects.filter(job=None, by=person)
        assert {kind for row in looked for kind in (f["kind"] for f in row.review["findings"])} >= {
            "voltage_low",
            "fuel_pressure_drop",
            "trim_hunting",
        }
    # Each slat, from Intake to Hand over, is one click away with something in its ledger.
    filled = set(LedgerEntry.objects.values_list("stage", flat=True))
    assert {stage.key for stage in STAGES} <= filled


def test_an_act_that_is_refused_is_named_and_the_clock_given_back(shop, monkeypatch, tmp_path):
    true = timezone.now
    (tmp_path / "evidence.json").write_text("{}")
    acts = [{"do": "note", "stage": "intake", "text": "came"}, {"do": "by hand", "stage": "intake"}]
    file = {"about": "x", "registration": "SRP 118", "began_h_ago": 1, "acts": acts}
    (tmp_path / "0001.json").write_text(json.dumps(file))
    monkeypatch.setattr("ventmap.server.day.player.FOLDER", tmp_path)
    said = "0001.json, act 2 .by hand.: No evidence is written down for intake."
    with own_clock() as clock, pytest.raises(BadInput, match=said):
        play(clock)
    assert timezone.now is true


@pytest.mark.parametrize("hours", (1, by_night(7), by_night(13), by_night(19)))
def test_the_day_can_be_opened_at_any_hour(lead, hours, monkeypatch):
    """A night lies between a first start and a cold start, whatever the clock says when the shop is made."""
    now = timezone.localtime().replace(hour=hours, minute=20)
    monkeypatch.setattr(timezone, "now", lambda: now)
    with own_clock() as clock:
        play(clock, pattern="0005.json")
    starts = Job.objects.get(number="0005").cold_starts.all()
    assert [start.number for start in starts] == [1]
