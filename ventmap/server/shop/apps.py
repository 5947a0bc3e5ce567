"""The shop, and what it asks of everything that is kept."""

from __future__ import annotations

from typing import Any

from django.apps import AppConfig
from django.contrib.auth.signals import user_logged_in
from django.db.backends.signals import connection_created
from django.db.models import CharField
from django.db.models.signals import pre_save

from ventmap.core.basics import BadInput

from .patience import on_connection


class ShopConfig(AppConfig):
    name = "ventmap.server.shop"

    def ready(self) -> None:
        pre_save.connect(_no_longer_than_kept, dispatch_uid="shop.bounds")
        connection_created.connect(on_connection, dispatch_uid="shop.patience")
        user_logged_in.connect(_signed_in, dispatch_uid="shop.signed_in")


def _no_longer_than_kept(sender: Any, instance: Any, **_: Any) -> None:
    """SQLite keeps a text of any length, whatever its column says; here the column's word holds."""
    if not sender.__module__.startswith("ventmap."):
        return
    for field in sender._meta.concrete_fields:
        value = getattr(instance, field.attname)
        longest = field.max_length if isinstance(field, CharField) else None
        if longest and isinstance(value, str) and len(value) > longest:
            label = field.name.replace("_", " ")
            raise BadInput(f"{label}: {len(value)} characters; {longest} at most.", field.name)


def _signed_in(sender: Any, request: Any, user: Any, **_: Any) -> None:
    """Where a session was opened, for its owner to see."""
    from .models import SignedIn
    from .tries import address_of

    if not request.session.session_key:
        return
    SignedIn.objects.update_or_create(
        session_key=request.session.session_key,
        defaults={
            "user": user,
            "address": address_of(request),
            "browser": str(request.META.get("HTTP_USER_AGENT", ""))[:160],
        },
    )
