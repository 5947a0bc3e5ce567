"""Jobs, their steps, timers and ledger."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from django.utils import timezone
from simple_history.models import HistoricalRecords

from ..shop.kept_files import KeptPath

PERSON = settings.AUTH_USER_MODEL


class Job(models.Model):
    """A vehicle in the shop for a purpose. `revision` grows with each change, so that two people never
    overwrite.

    `device` is the main device of the kit, `also` the shelf keys of those fitted with it; `tell_tales` the
    answers that told
    its variant, `symptom` the complaint and the signs looked for.
    """

    number = models.CharField(max_length=8, unique=True)
    vehicle = models.ForeignKey("shelf.ShelfItem", on_delete=models.PROTECT, related_name="+")
    device = models.ForeignKey("shelf.ShelfItem", on_delete=models.PROTECT, related_name="+", null=True)
    injectors = models.ForeignKey("shelf.ShelfItem", on_delete=models.PROTECT, related_name="+", null=True)
    pump = models.ForeignKey("shelf.ShelfItem", on_delete=models.PROTECT, related_name="+", null=True)
    also = models.JSONField(default=list)
    tell_tales = models.JSONField(default=dict)
    changes = models.JSONField(default=list)
    symptom = models.JSONField(default=dict)
    registration = models.CharField(max_length=20, blank=True)
    vin = models.CharField(max_length=20, blank=True)
    owner = models.CharField(max_length=80, blank=True)
    odometer_km = models.PositiveIntegerField(null=True)
    goal = models.CharField(max_length=12, default="street")
    power_goal_kw = models.FloatField(null=True)
    ron = models.FloatField(null=True)
    ethanol = models.FloatField(default=0.0)
    altitude_m = models.FloatField(default=0.0)
    #: Parts that are fitted beside the kit: kind and name.
    besides = models.JSONField(default=list)
    #: Steps that were asked when the owner was told: what a newer sheet asks is asked of the next job.
    asked_then = models.JSONField(default=list)
    complaint = models.TextField(blank=True)
    standard = models.CharField(max_length=12, default="none")
    rules = models.JSONField(default=dict)
    board = models.JSONField(default=dict)
    #: What is on this one vehicle and a map is held against: tyres, thermostat.
    fitted = models.JSONField(default=dict)
    revision = models.PositiveIntegerField(default=1)
    #: Facts that judgements of the whole job were made from: one that differs makes its judgement anew.
    stood = models.JSONField(default=dict)
    #: What was begun on it and what came off it (`core/runsheet/begun.py`), whatever its sheet asks since.
    memory = models.JSONField(default=dict)
    #: When power was on it last, by link or by hand: what was relieved before may be primed again.
    powered_at = models.DateTimeField(null=True)
    #: Of the sample shop, put beside an own one to practise on.
    practice = models.BooleanField(default=False)
    opened_at = models.DateTimeField(auto_now_add=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["number"]


class StepDone(models.Model):
    """A step that was done, by whom and when. `title` stays readable after the kit that asked for it is
    gone.
    """

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="steps_done")
    key = models.CharField(max_length=60)
    title = models.CharField(max_length=160, blank=True)
    reading = models.FloatField(null=True)
    answer = models.CharField(max_length=40, blank=True)
    #: What a device reads back, as it was typed.
    words = models.TextField(blank=True)
    #: Why it does not apply to this job; empty where it was done.
    set_aside = models.TextField(blank=True)
    #: What it rests on (`core/runsheet/rests.py`), as it was then.
    rests = models.JSONField(default=dict)
    #: What was in and on the vehicle then (`core/runsheet/state.py`).
    state = models.JSONField(default=dict)
    by = models.ForeignKey(PERSON, on_delete=models.PROTECT)
    #: When it was read or done: before it reached the server, where a tablet kept it.
    at = models.DateTimeField(default=timezone.now)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "key"], name="a_step_is_done_once")]


class Timer(models.Model):
    """A wait that runs whatever screen is open, and survives a reload or a restart."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="timers")
    step = models.CharField(max_length=60, blank=True)
    label = models.CharField(max_length=80)
    seconds = models.FloatField()
    started_at = models.DateTimeField(auto_now_add=True)
    ended_at = models.DateTimeField(null=True)
    by = models.ForeignKey(PERSON, on_delete=models.PROTECT)


class FloorRow(models.Model):
    """A job's row on the floor as it was made, and a mark of everything that it was made from."""

    job = models.OneToOneField(Job, on_delete=models.CASCADE, related_name="+")
    stamp = models.CharField(max_length=64)
    row = models.TextField()


class UnderWay(models.Model):
    """What runs in the server now: a capture, an import, a report. A row that is there at start was cut."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, null=True)
    kind = models.CharField(max_length=12)
    stage = models.CharField(max_length=12, blank=True)
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(PERSON, on_delete=models.CASCADE)


class LedgerEntry(models.Model):
    """One line of the job's running record; never changed except by an overruling, never removed."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="ledger")
    stage = models.CharField(max_length=12)
    kind = models.CharField(max_length=12)
    at = models.DateTimeField(auto_now_add=True, db_index=True)
    #: When it was entered, where a tablet kept it until the server was back.
    moment = models.DateTimeField(null=True)
    by = models.ForeignKey(PERSON, on_delete=models.PROTECT)
    title = models.CharField(max_length=160)
    text = models.TextField(blank=True)
    rule = models.CharField(max_length=60, blank=True, db_index=True)
    verdict = models.CharField(max_length=4, blank=True)
    evidence = models.JSONField(default=list)
    source = models.TextField(blank=True)
    protects = models.CharField(max_length=12, blank=True)
    #: What was entered, of a step that is read or answered: it is judged again by that when its facts change.
    given = models.JSONField(default=dict)
    #: What it rests on (`core/runsheet/rests.py`), as it was when it was judged.
    rests = models.JSONField(default=dict)
    #: What had changed, of a judgement that was made again.
    changed = models.TextField(blank=True)
    standing = models.BooleanField(default=False)
    overruled_by = models.ForeignKey(PERSON, on_delete=models.PROTECT, related_name="+", null=True)
    overruled_at = models.DateTimeField(null=True)
    overruled_reason = models.TextField(blank=True)

    class Meta:
        ordering = ["-at", "-id"]
        indexes = [models.Index(fields=["job", "standing"])]
        constraints = [
            models.UniqueConstraint(
                fields=["job", "stage", "rule"],
                condition=models.Q(standing=True),
                name="one_call_of_a_rule_stands",
            )
        ]


class GridEntry(models.Model):
    """What was entered into a step's grid: the newest state, its history beside it. `revision` guards against
    overwriting.
    """

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="grids")
    step = models.CharField(max_length=60)
    data = models.JSONField(default=dict)
    revision = models.PositiveIntegerField(default=1)
    by = models.ForeignKey(PERSON, on_delete=models.PROTECT)
    at = models.DateTimeField(auto_now=True)
    history = HistoricalRecords()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "step"], name="one_grid_a_step")]


class Photo(models.Model):
    """A picture, byte for byte as it came; `marks` are pin numbers on it: x and y as shares of its size, and
    a label.
    """

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="photos")
    step = models.CharField(max_length=60, blank=True)
    name = models.CharField(max_length=200)
    path = KeptPath(max_length=300)
    sha256 = models.CharField(max_length=64)
    size = models.PositiveIntegerField()
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    kind = models.CharField(max_length=10)
    thumbnail = models.BinaryField()
    marks = models.JSONField(default=list)
    by = models.ForeignKey(PERSON, on_delete=models.PROTECT)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]


class JobFile(models.Model):
    """A file of another program, kept byte for byte: what it is for, and whether it was written and read
    back. `part` is the device's key on the shelf; empty for the vehicle's own computer.
    """

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="files")
    part = models.CharField(max_length=60, blank=True)
    role = models.CharField(max_length=20)
    round = models.PositiveSmallIntegerField(default=0)
    name = models.CharField(max_length=200)
    path = KeptPath(max_length=300)
    sha256 = models.CharField(max_length=64)
    size = models.PositiveIntegerField()
    by = models.ForeignKey(PERSON, on_delete=models.PROTECT)
    at = models.DateTimeField(auto_now_add=True)
    picked_at = models.DateTimeField(null=True)
    picked_by = models.ForeignKey(PERSON, on_delete=models.PROTECT, related_name="+", null=True)
    read_back_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(
                fields=["job", "part", "role", "sha256"], name="a_file_is_kept_once_in_its_role"
            )
        ]


class PretendComputer(models.Model):
    """Lasting memory of a stand-in computer: the stock one, or the kit's."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="computers")
    which = models.CharField(max_length=6)
    memory = models.JSONField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "which"], name="one_memory_each")]
