"""The built front end: its one page, its service worker, and what this build is called."""

from __future__ import annotations

import re
from functools import lru_cache

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.views.decorators.csrf import ensure_csrf_cookie

NOT_BUILT = "The screens are not built yet. Run bin/setup."
_BUILD = re.compile(rb'<meta name="build" content="([0-9a-f]+)"')


@ensure_csrf_cookie
def page(request: HttpRequest) -> HttpResponse:
    """The front end; it reads the address itself."""
    return _file("index.html", "text/html")


def worker(request: HttpRequest) -> HttpResponse:
    """The service worker, from the root: there it may serve every screen."""
    return _file("worker.js", "text/javascript")


def _file(name: str, kind: str) -> HttpResponse:
    path = settings.WEB_DIST / name
    if not path.exists():
        return HttpResponse(NOT_BUILT, status=503, content_type="text/plain")
    response = HttpResponse(path.read_bytes(), content_type=f"{kind}; charset=utf-8")
    response["Cache-Control"] = "no-cache"
    return response


def web_build() -> str:
    """What the build that is served is called; empty where none is."""
    path = settings.WEB_DIST / "index.html"
    return _named(path.stat().st_mtime_ns) if path.exists() else ""


@lru_cache(maxsize=2)
def _named(changed: int) -> str:
    found = _BUILD.search((settings.WEB_DIST / "index.html").read_bytes())
    return found.group(1).decode() if found else ""
