"""Customers, their vehicles, and how the columns of a shop's own files are understood."""

from __future__ import annotations

from django.db import models
from simple_history.models import HistoricalRecords


class Customer(models.Model):
    """Somebody whose vehicles come here."""

    name = models.CharField(max_length=80, unique=True)
    phone = models.CharField(max_length=40, blank=True)
    email = models.CharField(max_length=120, blank=True)
    note = models.CharField(max_length=400, blank=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["name"]


class OwnedVehicle(models.Model):
    """One vehicle as it stands in front of the door; `shelf_key` is the one of the shelf that it is."""

    registration = models.CharField(max_length=20, blank=True)
    vin = models.CharField(max_length=20, blank=True, db_index=True)
    model = models.CharField(max_length=120)
    owner = models.CharField(max_length=80, blank=True)
    odometer_km = models.FloatField(null=True)
    shelf_key = models.CharField(max_length=60, blank=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["registration", "model"]


class ListColumns(models.Model):
    """How the columns of files with these headings are read, as somebody said it last."""

    list = models.CharField(max_length=20)
    headings = models.CharField(max_length=64)
    columns = models.JSONField(default=dict)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["list", "headings"], name="one_reading_each")]
