"""Fill an empty shop with the sample shop, from the files in demo/."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import Group, User
from django.core.management.base import BaseCommand
from django.db import transaction

from ventmap.server.practice import put_in, sample
from ventmap.server.shop.access import ROLES
from ventmap.server.shop.models import House


class Command(BaseCommand):
    help = "Fill an empty shop with the sample shop."

    @transaction.atomic
    def handle(self, *args: Any, **options: Any) -> None:
        if User.objects.exists():
            self.stdout.write("The shop has people already; nothing was changed.")
            return
        shop = sample()
        House.objects.update_or_create(pk=1, defaults={**shop["house"], "is_sample": True})
        for name in ROLES:
            Group.objects.get_or_create(name=name)
        for entry in shop["people"]:
            user = User.objects.create_user(
                entry["username"],
                password=shop["pass_phrase"],
                first_name=entry["first"],
                last_name=entry["last"],
            )
            user.groups.add(Group.objects.get(name=entry["role"]))
        put_in(User.objects.get(username="lead"), practice=False)
