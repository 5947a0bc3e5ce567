"""Another tablet, or a script beside the browser: the API of the running server over HTTP, signed in."""

from __future__ import annotations

import http.cookiejar
import json
import sqlite3
import urllib.error
import urllib.request
from pathlib import Path
from typing import Any


class Remote:
    """The same calls as `tests.conftest.Api`, over the wire."""

    def __init__(self, base: str, who: str = "lead") -> None:
        self.base = base
        self.jar = http.cookiejar.CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))
        self.status = 0
        self.client = self
        self.get("sessions/current")
        self.post("sessions", {"name": who, "phrase": "sorrel pass 1450"})

    def call(self, method: str, path: str, data: bytes | None, kind: str = "application/json") -> Any:
        token = next((cookie.value for cookie in self.jar if cookie.name == "csrftoken"), "") or ""
        headers = {"Content-Type": kind, "X-CSRFToken": token, "Referer": f"{self.base}/"}
        request = urllib.request.Request(
            f"{self.base}/api/{path.removeprefix('/api/')}", data, headers, method=method
        )
        try:
            with self.opener.open(request, timeout=120) as answer:
                self.status, body = answer.status, answer.read()
        except urllib.error.HTTPError as error:
            self.status, body = error.code, error.read()
        return json.loads(body) if body[:1] in b'[{"0123456789tfn' and body else body

    def backdate(self, step: str, seconds: float) -> None:
        """A wait that runs, begun so much earlier: in the served shop itself, for no screen does that."""
        from tests.browser.conftest import SERVERS

        told = Path(f"/proc/{SERVERS[self.base]}/environ").read_bytes().split(b"\0")
        data = next(pair.split(b"=", 1)[1].decode() for pair in told if pair.startswith(b"VENTMAP_DATA="))
        with sqlite3.connect(Path(data) / "ventmap.sqlite3", timeout=20) as records:
            earlier = "UPDATE jobs_timer SET started_at = datetime(started_at, ?)"
            running = "WHERE step = ? AND ended_at IS NULL"
            records.execute(f"{earlier} {running}", (f"-{seconds:g} seconds", step))

    def get(self, path: str) -> Any:
        return self.call("GET", path, None)

    def post(self, path: str, body: object = None) -> Any:
        return self.call("POST", path, json.dumps(body).encode())

    def put(self, path: str, body: object = None, content_type: str = "application/json") -> Any:
        return self.call(
            "PUT", path, body if isinstance(body, bytes) else json.dumps(body).encode(), content_type
        )
