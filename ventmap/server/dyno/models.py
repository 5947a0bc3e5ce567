"""Drum runs: the drum's own samples, and the air of the day."""

from __future__ import annotations

from django.conf import settings
from django.db import models


class Run(models.Model):
    """One pull on the drum, ``before`` or ``after``: the drum's samples, or the `curve` that another drum's
    file gave.
    """

    job = models.ForeignKey("jobs.Job", on_delete=models.CASCADE, related_name="runs")
    map = models.ForeignKey("maps.MapVersion", on_delete=models.PROTECT, null=True, related_name="runs")
    when = models.CharField(max_length=6)
    gear = models.PositiveSmallIntegerField(default=3)
    pressure_kpa = models.FloatField()
    intake_c = models.FloatField()
    humidity = models.FloatField()
    conditions = models.JSONField(default=dict)
    """Drum, fuel, ramp, tyre pressure, and which figures nobody measured."""
    #: What was in and on the vehicle (`core/runsheet/state.py`).
    state = models.JSONField(default=dict)
    samples = models.JSONField(default=dict)
    drum = models.JSONField(default=dict)
    curve = models.JSONField(null=True)
    counts = models.BooleanField(default=True)
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)

    class Meta:
        ordering = ["id"]
