"""The house: name, altitude, units and its own rules."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from simple_history.models import HistoricalRecords


class House(models.Model):
    """One row: the shop itself."""

    name = models.CharField(max_length=80, default="My shop")
    town = models.CharField(max_length=80, blank=True)
    altitude_m = models.FloatField(default=0.0)
    currency = models.CharField(max_length=12, default="money")
    is_sample = models.BooleanField(default=False)
    history = HistoricalRecords()

    @classmethod
    def current(cls) -> House:
        return cls.objects.get_or_create(pk=1)[0]


class HouseRuleChange(models.Model):
    """A shop's own value for a house rule; the newest per key holds."""

    key = models.CharField(max_length=60, db_index=True)
    value = models.CharField(max_length=60)
    reason = models.TextField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)
    at = models.DateTimeField(auto_now_add=True)
