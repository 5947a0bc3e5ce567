"""Map versions of a job, and their loads."""

from __future__ import annotations

from typing import Any
from uuid import uuid4

from django.conf import settings
from django.db import models


class MapVersion(models.Model):
    """A map, byte for byte; `parent` is the version it was made from.

    `part` is the shelf key of the device that runs it; empty for the computer that is written from here.
    """

    job = models.ForeignKey("jobs.Job", on_delete=models.CASCADE, related_name="maps")
    parent = models.ForeignKey("self", on_delete=models.PROTECT, null=True, related_name="children")
    part = models.CharField(max_length=60, blank=True, default="")
    version = models.CharField(max_length=12)
    round = models.PositiveIntegerField(default=0)
    note = models.TextField(blank=True)
    document = models.TextField()
    sha256 = models.CharField(max_length=64)
    crc32 = models.CharField(max_length=8)
    made_at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["job", "part", "version"], name="a_version_is_named_once")
        ]


class SavedImage(models.Model):
    """What was read out of a computer before it was written over."""

    job = models.ForeignKey("jobs.Job", on_delete=models.CASCADE, related_name="saved_images")
    image = models.BinaryField()
    sha256 = models.CharField(max_length=64)
    label = models.CharField(max_length=80)
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)


class FirmwareFile(models.Model):
    """A firmware file that was brought or fetched, byte for byte."""

    job = models.ForeignKey("jobs.Job", on_delete=models.CASCADE, related_name="firmware_files")
    computer = models.CharField(max_length=40)
    version = models.CharField(max_length=20)
    image = models.BinaryField()
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)

    class Meta:
        ordering = ["id"]


class Load(models.Model):
    """A write: of a map, of what was saved, or of firmware; into which slot.

    Its state: writing, verified, interrupted, stopped."""

    job = models.ForeignKey("jobs.Job", on_delete=models.CASCADE, related_name="loads")
    map = models.ForeignKey(MapVersion, on_delete=models.PROTECT, null=True, related_name="loads")
    saved = models.ForeignKey(SavedImage, on_delete=models.PROTECT, null=True)
    firmware = models.ForeignKey(FirmwareFile, on_delete=models.PROTECT, null=True)
    slot = models.PositiveSmallIntegerField(default=1)
    state = models.CharField(max_length=12, default="writing")
    phase = models.CharField(max_length=12, default="erase")
    done = models.PositiveIntegerField(default=0)
    total = models.PositiveIntegerField(default=0)
    sentence = models.TextField(blank=True)
    started_at = models.DateTimeField(auto_now_add=True)
    ended_at = models.DateTimeField(null=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)

    class Meta:
        ordering = ["-id"]

    @property
    def written(self) -> int:
        """Bytes that went in; `done` counts the phase that runs, read-back too."""
        return {"erase": 0, "write": self.done}.get(self.phase, self.total)


class TunerRound(models.Model):
    """A round with a remote tuner: the package as it was sent, and the file that came back, byte for byte.
    Its state: packed, waiting, answered, taken, set aside.
    """

    job = models.ForeignKey("jobs.Job", on_delete=models.CASCADE, related_name="tuner_rounds")
    part = models.CharField(max_length=60, blank=True, default="")
    number = models.PositiveIntegerField()
    map = models.ForeignKey(MapVersion, on_delete=models.PROTECT, null=True, related_name="rounds_sent")
    taken = models.ForeignKey(MapVersion, on_delete=models.PROTECT, null=True, related_name="rounds_taken")
    package = models.BinaryField()
    sha256 = models.CharField(max_length=64)
    letter = models.TextField()
    state = models.CharField(max_length=12, default="packed")
    due_at = models.DateTimeField(null=True)
    reply = models.BinaryField(null=True)
    reply_sha256 = models.CharField(max_length=64, blank=True, default="")
    reply_letter = models.TextField(blank=True, default="")
    made_at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["job", "number"], name="rounds_are_numbered")]


class MapDraft(models.Model):
    """A map as it is being edited: its base and the edits since, of which the first `at` count. `revision`
    grows with each change, so that two people on one sheet are told of each other.
    """

    job = models.ForeignKey("jobs.Job", on_delete=models.CASCADE, related_name="drafts")
    part = models.CharField(max_length=60, blank=True, default="")
    base = models.ForeignKey(MapVersion, on_delete=models.CASCADE, related_name="drafts")
    at = models.PositiveIntegerField(default=0)
    revision = models.PositiveIntegerField(default=1)
    #: Of this very state. A revision may come twice, where what was written was taken back; this never does.
    stamp = models.CharField(max_length=32, default="")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "part"], name="a_part_is_edited_once")]

    def save(self, *args: Any, **named: Any) -> None:
        self.stamp = uuid4().hex
        super().save(*args, **named)


class DraftEdit(models.Model):
    """One edit: what it did to which places, from which value to which. `target` is a table's name,
    ``scalars``, or ``list:`` with a list's name.
    """

    draft = models.ForeignKey(MapDraft, on_delete=models.CASCADE, related_name="edits")
    number = models.PositiveIntegerField()
    revision = models.PositiveIntegerField()
    target = models.CharField(max_length=60)
    operation = models.CharField(max_length=20)
    cells = models.JSONField(default=list)
    why = models.CharField(max_length=200, blank=True)
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)

    class Meta:
        ordering = ["number"]


class Statement(models.Model):
    """A signed statement that a setting is for closed courses only."""

    job = models.ForeignKey("jobs.Job", on_delete=models.CASCADE, related_name="statements")
    part = models.CharField(max_length=60, blank=True, default="")
    setting = models.CharField(max_length=80)
    what = models.CharField(max_length=160)
    name = models.CharField(max_length=80)
    #: Strokes of the pen as an SVG path; empty where the name was typed.
    drawn = models.TextField(blank=True)
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)

    class Meta:
        ordering = ["id"]
