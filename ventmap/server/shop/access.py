"""Who may do what: lead, installer, viewer."""

from __future__ import annotations

import unicodedata
from typing import cast

from django.contrib.auth.models import User
from django.http import HttpRequest

from ventmap.core.basics import VentMapError

LEAD, INSTALLER, VIEWER = "lead", "installer", "viewer"
ROLES = (LEAD, INSTALLER, VIEWER)


class NotAllowed(VentMapError):
    """The person's role does not allow it."""


def person(request: HttpRequest) -> User:
    return cast(User, request.user)


def role(user: User) -> str:
    """The heaviest role of a person; a viewer where none is given."""
    names = set(user.groups.values_list("name", flat=True))
    return next((name for name in ROLES if name in names), VIEWER)


def worker(request: HttpRequest) -> User:
    """The person, if they may change a job."""
    user = person(request)
    if role(user) == VIEWER:
        raise NotAllowed("You may look but not change. Ask the lead for the installer role.", "person")
    return user


def lead(request: HttpRequest) -> User:
    """The person, if they lead the shop."""
    user = person(request)
    if role(user) != LEAD:
        raise NotAllowed("Only the lead may change this.", "person")
    return user


def plain_name(text: str) -> str:
    """A name to sign in with, as it is kept: full-width letters and letter case make no second person."""
    return unicodedata.normalize("NFKC", text).strip().casefold()


def full_name(user: User) -> str:
    return user.get_full_name() or user.username
