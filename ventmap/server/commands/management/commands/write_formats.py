"""Writes the published schemas in formats/ from the records. usage: manage.py write_formats"""

from __future__ import annotations

import json
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand

from ventmap.core.basics import shelf_schema
from ventmap.core.corrections import package_schema, reply_schema
from ventmap.core.forms import map_schema
from ventmap.server.bench import standin_schema


def published() -> dict[str, str]:
    """File name → text of each schema."""
    schemas = {
        "shelf.schema.json": shelf_schema(),
        "map.schema.json": map_schema(),
        "standin.schema.json": standin_schema(),
        "round-package.schema.json": package_schema(),
        "round-reply.schema.json": reply_schema(),
    }
    return {name: json.dumps(schema, indent=1, ensure_ascii=False) + "\n" for name, schema in schemas.items()}


class Command(BaseCommand):
    help = "Write the published schemas in formats/ from the records."

    def handle(self, *args: Any, **options: Any) -> None:
        for name, text in published().items():
            (settings.BASE / "formats" / name).write_text(text, encoding="utf-8")
            self.stdout.write(name)
