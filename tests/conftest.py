"""What all tests share: the sample logs, a shop of their own, and a signed-in client."""

from __future__ import annotations

import json
import os
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import settings

from tests import milestones, weights
from tests.shopwork import rest_briefly
from ventmap.core.forms import Calibration, Identity
from ventmap.standin import garage

# How long an example takes says nothing on a busy machine: timings belong in `bin/bench`.
# ``quick`` runs with every `bin/test`; ``deep`` in `bin/bench --soak` (VENTMAP_PROFILE=deep).
settings.register_profile("quick", deadline=None, max_examples=40)
settings.register_profile("deep", deadline=None, max_examples=400)
settings.load_profile(os.environ.get("VENTMAP_PROFILE", "quick"))

ROOT = Path(__file__).resolve().parents[1]
collect_ignore = ["bench_screens.py", "bench_sheet.py"]


def pytest_addoption(parser: pytest.Parser) -> None:
    parser.addoption("--night", action="store_true", help="what repeats a walk of the day on other kinds")


def pytest_configure(config: pytest.Config) -> None:
    config.addinivalue_line("markers", "night: repeats a walk of the day on another kind; CI runs it as well")


@pytest.hookimpl(tryfirst=True)
def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    """By day one of each, by night the others."""
    wanted = [item for item in items if bool(item.get_closest_marker("night")) == config.getoption("--night")]
    config.hook.pytest_deselected(items=[item for item in items if item not in set(wanted)])
    known = weights.seconds()
    files = {item.path: known.get(str(item.path.relative_to(ROOT)), weights.UNKNOWN) for item in wanted}
    # Whole files go to whichever worker is free: the longest first.
    items[:] = sorted(wanted, key=lambda item: (-files[item.path], str(item.path)))


def by_night(*given: object, **named: Any) -> Any:
    """A case of a parametrized walk that is left to the night."""
    return pytest.param(*given, marks=pytest.mark.night, **named)


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


def _whole(answer) -> bytes:
    return b"".join(answer.streaming_content) if answer.streaming else answer.content


class Api:
    """The API as a signed-in person uses it."""

    def __init__(self, who: str = "lead") -> None:
        from django.test import Client

        self.client = Client(SERVER_NAME="localhost")
        self.status, self.who = 0, who
        #: Which point of its work the shop stands at, and the mark of its rows there.
        self.place = self.mark = ""
        self.sign_in()

    def sign_in(self) -> None:
        self.call("post", "sessions", {"name": self.who, "phrase": "sorrel pass 1450"})

    def at(self, name: str, reach: Callable[[], object]) -> Any:
        """The shop at a point of its work, from its beginning; what reaching it told."""
        told = milestones.at(name, reach)
        self.sign_in()
        return told

    def played(self, name: str, reach: Callable[[], object]) -> Any:
        """A piece of work that is played once a run from where the shop stands; played anew where anybody did
        something of their own before it.
        """
        if not self.place or self.mark != milestones.mark():
            return reach()
        place = f"{self.place} / {name}"
        told, status = self.at(place, lambda: (reach(), self.status))
        self.stands_at(place)
        self.status = status
        return told

    def stands_at(self, place: str) -> None:
        self.place, self.mark = place, milestones.mark()

    def call(self, method: str, path: str, body: object = None):
        if method == "get":
            answer = self.client.get(f"/api/{path}")
        else:
            answer = getattr(self.client, method)(
                f"/api/{path}", None if body is None else json.dumps(body), content_type="application/json"
            )
        self.status = answer.status_code
        return answer.json() if answer["Content-Type"].startswith("application/json") else _whole(answer)

    def get(self, path: str):
        return self.call("get", path)

    def post(self, path: str, body: object = None):
        return self.call("post", path, body)

    def put(self, path: str, body: object = None):
        return self.call("put", path, body)


def make_sample() -> None:
    from django.core.management import call_command

    call_command("seed_demo")
    rest_briefly()


@pytest.fixture
def shop(transactional_db, settings, tmp_path):
    """The sample shop in a fresh database."""
    settings.MEDIA_ROOT = tmp_path / "files"
    # Hashing pass phrases slowly is Django's own affair, and a third of the time of every test here.
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
    milestones.at("the sample shop", make_sample)


@pytest.fixture
def lead(shop) -> Api:
    api = Api()
    api.stands_at("the sample shop")
    return api


def wave(seconds: float, hz: float = 20.0) -> np.ndarray:
    return np.arange(0.0, seconds, 1.0 / hz)
