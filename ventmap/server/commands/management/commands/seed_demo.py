"""Fill an empty shop with the sample shop, from the files in demo/."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import Group, User
from django.core.management.base import BaseCommand, CommandParser
from django.db import transaction

from ventmap.server.day import own_clock, play
from ventmap.server.practice import put_in, sample
from ventmap.server.shop.access import ROLES
from ventmap.server.shop.models import House

#: When the jobs of the sample were opened, before the first act of its day.
OPENED_H_AGO = 96.0


class Command(BaseCommand):
    help = "Fill an empty shop with the sample shop."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--day", action="store_true", help="and with a working day on its jobs")
        parser.add_argument("--record", action="store_true", help="capture the day's own logs anew")

    def handle(self, *args: Any, **options: Any) -> None:
        if User.objects.exists():
            self.stdout.write("The shop has people already; nothing was changed.")
            return
        if not options["day"]:
            self._put_in()
            return
        with own_clock() as clock:
            clock.back_to(OPENED_H_AGO)
            self._put_in()
            play(clock, self.stdout.write, options["record"])

    @transaction.atomic
    def _put_in(self) -> None:
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
