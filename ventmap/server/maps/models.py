"""Map versions of a job, and their loads."""

from __future__ import annotations

from django.conf import settings
from django.db import models


class MapVersion(models.Model):
    """A map, byte for byte; `parent` is the version it was made from."""

    job = models.ForeignKey("jobs.Job", on_delete=models.CASCADE, related_name="maps")
    parent = models.ForeignKey("self", on_delete=models.PROTECT, null=True, related_name="children")
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


class SavedImage(models.Model):
    """What was read out of a computer before it was written over."""

    job = models.ForeignKey("jobs.Job", on_delete=models.CASCADE, related_name="saved_images")
    image = models.BinaryField()
    sha256 = models.CharField(max_length=64)
    label = models.CharField(max_length=80)
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)


class Load(models.Model):
    """A write. Its state: writing, verified, interrupted, stopped."""

    job = models.ForeignKey("jobs.Job", on_delete=models.CASCADE, related_name="loads")
    map = models.ForeignKey(MapVersion, on_delete=models.PROTECT, null=True, related_name="loads")
    saved = models.ForeignKey(SavedImage, on_delete=models.PROTECT, null=True)
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
