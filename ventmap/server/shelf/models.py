"""The shelf: vehicles, devices, injectors and base maps, as open JSON."""

from __future__ import annotations

from django.db import models
from simple_history.models import HistoricalRecords


class ShelfItem(models.Model):
    """One thing on the shelf; `body` follows the published schema of its kind."""

    kind = models.CharField(max_length=20, db_index=True)
    key = models.SlugField(max_length=60)
    name = models.CharField(max_length=120)
    body = models.JSONField(default=dict)
    #: Came with the practice jobs, and goes with them.
    practice = models.BooleanField(default=False)
    history = HistoricalRecords()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["kind", "key"], name="one_of_a_kind")]
        ordering = ["kind", "name"]
