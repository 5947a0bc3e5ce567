"""The house: name, altitude, units and its own rules."""

from __future__ import annotations

import uuid

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
    #: Which shop this is; the same stands beside its files.
    shop = models.UUIDField(default=uuid.uuid4, editable=False)
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


class WrongTry(models.Model):
    """Wrong pass phrases of a name at an address, in a row."""

    name = models.CharField(max_length=60)
    address = models.CharField(max_length=45)
    failures = models.PositiveIntegerField(default=0)
    until = models.DateTimeField()
    last_at = models.DateTimeField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["name", "address"], name="one_count_each")]


class Answered(models.Model):
    """An entry that was done, by the key that its tablet gave it, and how it was answered: sent again because
    the answer was lost, it is answered so once more and done no second time.
    """

    key = models.CharField(max_length=40)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    address = models.CharField(max_length=200)
    status = models.PositiveSmallIntegerField()
    answer = models.BinaryField()
    at = models.DateTimeField(db_index=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["key", "by", "address"], name="one_answer_each")]


class SignedIn(models.Model):
    """A session and where it was opened, so that its owner can end it."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="signed_in")
    session_key = models.CharField(max_length=40, unique=True)
    address = models.CharField(max_length=45)
    browser = models.CharField(max_length=160, blank=True)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-at"]
