"""Datalogs: the file as it came, and a compressed column a channel."""

from __future__ import annotations

from pathlib import Path

from django.conf import settings
from django.db import models, transaction
from django.db.models.signals import post_delete
from django.dispatch import receiver

from ..shop.kept_files import KeptPath


class LogFile(models.Model):
    """A log, dropped or captured; `path` is the file as it came, under the data folder."""

    job = models.ForeignKey("jobs.Job", on_delete=models.CASCADE, related_name="logs", null=True)
    map = models.ForeignKey("maps.MapVersion", on_delete=models.PROTECT, related_name="logs", null=True)
    baseline = models.BooleanField(default=False)
    on_drum = models.BooleanField(default=False)
    kept = models.BooleanField(default=False)
    name = models.CharField(max_length=200)
    source = models.CharField(max_length=10, default="dropped")
    path = KeptPath(max_length=300)
    sha256 = models.CharField(max_length=64)
    size = models.PositiveBigIntegerField()
    rows = models.PositiveIntegerField()
    duration_s = models.FloatField()
    rate_hz = models.FloatField()
    notes = models.JSONField(default=list)
    #: What was in and on the vehicle while it was driven (`core/runsheet/state.py`).
    state = models.JSONField(default=dict)
    #: Every column of the file: what it was taken for, and what its values look like.
    reads = models.JSONField(default=list)
    #: Words that somebody put at a moment of it: ``{"at_s", "word"}``.
    marks = models.JSONField(default=list)
    #: Checks that were answered after its findings, in order: ``[check, answer]``.
    answers = models.JSONField(default=list)
    clock = models.CharField(max_length=160, blank=True)
    #: Key of the known source on the shelf.
    known = models.CharField(max_length=60, blank=True)
    #: What a person said of it: columns, and what no log says (induction, stroke, altitude).
    told = models.JSONField(default=dict)
    review = models.JSONField(default=dict)
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)

    class Meta:
        ordering = ["-id"]

    @property
    def file(self) -> Path:
        """The file as it came."""
        return Path(settings.MEDIA_ROOT) / self.path


class LogChannel(models.Model):
    """One channel's samples as a compressed Arrow IPC column; ``time`` is one of them."""

    log = models.ForeignKey(LogFile, on_delete=models.CASCADE, related_name="columns")
    name = models.CharField(max_length=120)
    column = models.CharField(max_length=160)
    canonical = models.BooleanField(default=True)
    low = models.FloatField(null=True)
    high = models.FloatField(null=True)
    samples = models.BinaryField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["log", "name"], name="one_column_each")]


class OwnChannel(models.Model):
    """A channel that the shop made up: a formula over others; worked out anew wherever it is shown."""

    name = models.CharField(max_length=60, unique=True)
    formula = models.CharField(max_length=400)
    unit = models.CharField(max_length=20, blank=True)
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)

    class Meta:
        ordering = ["name"]

    @property
    def key(self) -> str:
        """What it is asked by, beside the channels of a file."""
        return f"own.{self.pk}"


class KeptLook(models.Model):
    """How a person looks at the logs of one vehicle of the shelf, or of all: rows of lanes, limits that
    sound.
    """

    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    vehicle = models.CharField(max_length=60, blank=True)
    rows = models.JSONField(default=list)
    limits = models.JSONField(default=list)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["by", "vehicle"], name="one_look_each")]


@receiver(post_delete, sender=LogFile)
def _with_its_file(sender: type[LogFile], instance: LogFile, **_: object) -> None:
    transaction.on_commit(lambda: instance.file.unlink(missing_ok=True))


class ColdStart(models.Model):
    """A cold start of the days after the first: its short log as it came, and how it was judged."""

    job = models.ForeignKey("jobs.Job", on_delete=models.CASCADE, related_name="cold_starts")
    number = models.PositiveSmallIntegerField()
    day = models.DateField()
    name = models.CharField(max_length=200)
    path = KeptPath(max_length=300)
    sha256 = models.CharField(max_length=64)
    calls = models.JSONField(default=list)
    verdict = models.CharField(max_length=4)
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["job", "number"], name="one_log_a_cold_start")]

    @property
    def file(self) -> Path:
        """The file as it came."""
        return Path(settings.MEDIA_ROOT) / self.path


@receiver(post_delete, sender=ColdStart)
def _with_its_short_log(sender: type[ColdStart], instance: ColdStart, **_: object) -> None:
    transaction.on_commit(lambda: instance.file.unlink(missing_ok=True))
