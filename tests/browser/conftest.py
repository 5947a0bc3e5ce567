"""Chromium against the real server: the command people run, with a data folder of its own."""

from __future__ import annotations

import atexit
import os
import select
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import urllib.error
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest
from playwright.sync_api import Page, Request, StorageState, expect

from tests.browser.remote import Remote
from tests.conftest import ROOT

os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args):
    return {
        **browser_type_launch_args,
        "executable_path": "/usr/bin/chromium",
        "args": ["--no-sandbox", "--disable-gpu", "--disable-background-networking"],
    }


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args):
    return {
        **browser_context_args,
        "viewport": {"width": 1280, "height": 800},
        "locale": "en-GB",
        "accept_downloads": True,
        # Only what is about a tablet away from Wi-Fi pays for a worker that lays the whole shell by.
        "service_workers": "block",
    }


#: Address to process of each server that runs.
SERVERS: dict[str, int] = {}


@contextmanager
def frozen(address: str) -> Iterator[None]:
    """The server's process stands still, so that what a person does meanwhile comes in time."""
    os.kill(SERVERS[address], signal.SIGSTOP)
    try:
        yield
    finally:
        os.kill(SERVERS[address], signal.SIGCONT)


def _sample() -> Path:
    """The sample shop's data folder, made once for all workers; each server begins on a copy."""
    run = os.environ.get("PYTEST_XDIST_TESTRUNUID", str(os.getpid()))
    kept = Path(tempfile.gettempdir()) / f"ventmap-sample-{run}"
    made = kept / "made"
    try:
        kept.mkdir()
    except FileExistsError:
        for _ in range(3000):
            if made.exists():
                return kept / "data"
            select.select([], [], [], 0.1)
        raise AssertionError("another worker did not end making the sample shop") from None
    atexit.register(shutil.rmtree, kept, ignore_errors=True)
    env = {**os.environ, "VENTMAP_DATA": str(kept / "data")}
    once = (
        "from django.core.management import call_command;"
        "call_command('migrate', verbosity=0); call_command('seed_demo');"
        "from tests.shopwork import rest_briefly; rest_briefly()"
    )
    command = [sys.executable, str(ROOT / "manage.py"), "shell", "--verbosity", "0", "-c", once]
    subprocess.run(command, env=env, cwd=ROOT, check=True)
    made.touch()
    return kept / "data"


@contextmanager
def served(folder: Path, sample: bool, more: dict[str, str] | None = None) -> Iterator[str]:
    """The server by the command people run, with a data folder of its own."""
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    env = {**os.environ, "VENTMAP_DATA": str(folder), **(more or {})}
    if sample:
        shutil.copytree(_sample(), folder, dirs_exist_ok=True)
    manage = [sys.executable, str(ROOT / "manage.py")]
    server = subprocess.Popen([*manage, "serve", "--port", str(port)], env=env)
    base = f"http://127.0.0.1:{port}"
    SERVERS[base] = server.pid
    for _ in range(600):
        try:
            urllib.request.urlopen(f"{base}/floor", timeout=2)
            break
        except (urllib.error.URLError, OSError):
            assert server.poll() is None, "the server ended before it answered"
            select.select([], [], [], 0.1)
    yield base
    server.terminate()
    server.wait(20)


@pytest.fixture(scope="module")
def address(tmp_path_factory):
    """The sample shop, served."""
    with served(tmp_path_factory.mktemp("data"), sample=True) as base:
        yield base


@pytest.fixture(scope="module")
def lead_state(address: str) -> StorageState:
    """Cookies of the lead, signed in once for a file; the sign-in's own screen has tests of its own."""
    jar = Remote(address).jar
    cookies = [
        {"name": one.name, "value": one.value, "domain": "127.0.0.1", "path": "/"} for one in jar if one.value
    ]
    return {"cookies": cookies, "origins": []}  # type: ignore[typeddict-item]


@pytest.fixture
def page(page: Page) -> Page:
    """A page that is not led away from what it is still sending: a test's hand is quicker than a person's."""
    under_way: set[Request] = set()
    page.on("request", lambda asked: under_way.add(asked) if asked.method != "GET" else None)
    for ended in ("requestfinished", "requestfailed"):
        page.on(ended, lambda asked: under_way.discard(asked))  # type: ignore[call-overload]

    def sent_first(go):
        def led(*words, **named):
            page.evaluate("0")
            while under_way:
                under_way.pop().response()
            return go(*words, **named)

        return led

    page.goto, page.reload = sent_first(page.goto), sent_first(page.reload)  # type: ignore[method-assign]
    return page


@pytest.fixture
def signed_in(page: Page, address: str, lead_state: StorageState) -> Page:
    page.set_default_timeout(30_000)
    expect.set_options(timeout=30_000)
    faults: list[str] = []
    page.on("pageerror", lambda error: faults.append(str(error)))
    page.context.add_cookies(lead_state["cookies"])  # type: ignore[arg-type]
    page.goto(f"{address}/floor")
    expect(page.get_by_role("heading", name="On the floor")).to_be_visible()
    yield page
    assert faults == []
