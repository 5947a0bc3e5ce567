"""Print the API's OpenAPI document."""

from __future__ import annotations

import json
from typing import Any

from django.core.management.base import BaseCommand


class Command(BaseCommand):
    help = "Print the API's OpenAPI document."
    requires_system_checks: list[str] = []

    def handle(self, *args: Any, **options: Any) -> None:
        from ventmap.server.api import api

        self.stdout.write(json.dumps(api.get_openapi_schema(), indent=1, sort_keys=True))
