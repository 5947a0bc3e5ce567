"""Wrong pass phrases: after a few, a name rests at that address, longer each time.

A name alone is no key: who types others' names wrong would lock them out. An address alone is none either:
every tablet of a shop may share one.
"""

from __future__ import annotations

from datetime import datetime, timedelta
from ipaddress import ip_address

from django.contrib.auth.models import User
from django.http import HttpRequest
from django.utils import timezone

from ventmap.core.basics import VentMapError

from .access import LEAD, role
from .models import WrongTry

FREE_TRIES = 5
FIRST_WAIT_S, LONGEST_WAIT_S = 15.0, 900.0
#: A lead at the shop's own machine waits no longer: they are the one who lets the others in again.
LEAD_HERE_S = 5.0
FORGOTTEN_AFTER = timedelta(hours=12)


class Resting(VentMapError):
    """A name rests at this address; the sentence says how long."""


def address_of(request: HttpRequest) -> str:
    return str(request.META.get("REMOTE_ADDR", ""))[:45] or "unknown"


def _here(address: str) -> bool:
    try:
        return ip_address(address).is_loopback
    except ValueError:
        return False


def wait_s(failures: int, lead_here: bool) -> float:
    """How long a name rests after so many wrong tries in a row [s]."""
    if failures < FREE_TRIES:
        return 0.0
    grown = FIRST_WAIT_S * 2.0 ** min(failures - FREE_TRIES, 10)
    return min(grown, LEAD_HERE_S if lead_here else LONGEST_WAIT_S)


def ask(request: HttpRequest, name: str, now: datetime | None = None) -> None:
    """Whether this name may be tried now; the phrase is not even looked at while it rests.

    Raises
    ------
    Resting
    """
    now = now or timezone.now()
    row = WrongTry.objects.filter(name=name, address=address_of(request)).first()
    left = (row.until - now).total_seconds() if row else 0.0
    if left > 0:
        much = f"{left:.0f} s" if left < 90 else f"{left / 60:.0f} min"
        raise Resting(
            f"Too many wrong tries: this name rests here for another {much}. Then try again.", "phrase"
        )


def wrong(request: HttpRequest, name: str, now: datetime | None = None) -> None:
    """Count a wrong phrase."""
    now, address = now or timezone.now(), address_of(request)
    WrongTry.objects.filter(last_at__lt=now - FORGOTTEN_AFTER).delete()
    row, _ = WrongTry.objects.get_or_create(
        name=name, address=address, defaults={"until": now, "last_at": now}
    )
    row.failures += 1
    user = User.objects.filter(username=name, is_active=True).first()
    lead_here = user is not None and role(user) == LEAD and _here(address)
    row.until = now + timedelta(seconds=wait_s(row.failures, lead_here))
    row.last_at = now
    row.save()


def right(request: HttpRequest, name: str) -> None:
    """The right phrase: nothing is held against it."""
    WrongTry.objects.filter(name=name, address=address_of(request)).delete()
