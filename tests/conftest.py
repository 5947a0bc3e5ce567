"""What all tests share: the sample logs, a shop of their own, and a signed-in client."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import settings

from tests import milestones
from ventmap.core.forms import Calibration, Identity
from ventmap.standin import garage

# How long an example takes says nothing on a busy machine: timings belong in `bin/bench`.
settings.register_profile("anywhere", deadline=None)
settings.load_profile("anywhere")

ROOT = Path(__file__).resolve().parents[1]
collect_ignore = ["bench_screens.py", "bench_sheet.py"]


def make_base_map() -> Calibration:
    """A small sound map of the two-litre engine."""
    return garage.two_litre_map(
        name="test",
        identity=Identity("T20", "FW-P4", calibration="T-1", vin="", minimum_firmware="2.0"),
        injector_flow=440.0,
        dead_ms=0.62,
        full_load_lambda=0.88,
        spark_retard=2.0,
    )


@pytest.fixture(scope="session")
def base_map() -> Calibration:
    return make_base_map()


class Api:
    """The API as a signed-in person uses it."""

    def __init__(self, who: str = "lead") -> None:
        from django.test import Client

        self.client = Client(SERVER_NAME="localhost")
        self.status, self.who = 0, who
        self.sign_in()

    def sign_in(self) -> None:
        self.call("post", "sessions", {"name": self.who, "phrase": "sorrel pass 1450"})

    def at(self, name: str, reach: Callable[[], object]) -> Any:
        """The shop at a point of its work, from its beginning; what reaching it told."""
        told = milestones.at(name, reach)
        self.sign_in()
        return told

    def call(self, method: str, path: str, body: object = None):
        if method == "get":
            answer = self.client.get(f"/api/{path}")
        else:
            answer = getattr(self.client, method)(
                f"/api/{path}", None if body is None else json.dumps(body), content_type="application/json"
            )
        self.status = answer.status_code
        return answer.json() if answer["Content-Type"].startswith("application/json") else answer.content

    def get(self, path: str):
        return self.call("get", path)

    def post(self, path: str, body: object = None):
        return self.call("post", path, body)

    def put(self, path: str, body: object = None):
        return self.call("put", path, body)


@pytest.fixture
def shop(transactional_db, settings, tmp_path):
    """The sample shop in a fresh database."""
    settings.MEDIA_ROOT = tmp_path / "files"
    # Hashing pass phrases slowly is Django's own affair, and a third of the time of every test here.
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
    from django.core.management import call_command

    milestones.at("the sample shop", lambda: call_command("seed_demo"))


@pytest.fixture
def lead(shop) -> Api:
    return Api()


def wave(seconds: float, hz: float = 20.0) -> np.ndarray:
    return np.arange(0.0, seconds, 1.0 / hz)
