"""Fill an empty shop with the sample shop, from the files in demo/."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.auth.models import Group, User
from django.core.management.base import BaseCommand
from django.db import transaction

from ventmap.core.maps import from_json
from ventmap.server.jobs.intake import open_job
from ventmap.server.jobs.kit import change_kit
from ventmap.server.shelf.models import ShelfItem
from ventmap.server.shop.access import ROLES
from ventmap.server.shop.models import House

DEMO = Path(settings.BASE) / "demo"


class Command(BaseCommand):
    help = "Fill an empty shop with the sample shop."

    @transaction.atomic
    def handle(self, *args: Any, **options: Any) -> None:
        if User.objects.exists():
            self.stdout.write("The shop has people already; nothing was changed.")
            return
        shop = json.loads((DEMO / "shop.json").read_text(encoding="utf-8"))
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
        for file in sorted((DEMO / "shelf").glob("*.json")):
            for item in json.loads(file.read_text(encoding="utf-8")):
                ShelfItem.objects.create(
                    kind=item["kind"], key=item["key"], name=item["name"], body=item["body"]
                )
        for file in sorted((DEMO / "maps").glob("*.json")):
            calibration = from_json(file.read_text(encoding="utf-8"))
            ShelfItem.objects.create(
                kind="map",
                key=file.stem,
                name=calibration.name,
                body=json.loads(file.read_text(encoding="utf-8")),
            )
        lead = User.objects.get(username="lead")
        for entry in shop["jobs"]:
            job = open_job(entry["vehicle"], entry["registration"], entry["owner"], lead)
            for key, value in entry.get("details", {}).items():
                setattr(job, key, value)
            job.save()
            if "devices" in entry:
                change_kit(job, entry["devices"], entry.get("pump", ""), lead)
