"""Addresses: the API, and one page for every screen."""

from __future__ import annotations

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.urls import path, re_path
from django.views.decorators.csrf import ensure_csrf_cookie

from .api import api, not_there


@ensure_csrf_cookie
def page(request: HttpRequest) -> HttpResponse:
    """The front end; it reads the address itself."""
    index = settings.WEB_DIST / "index.html"
    if not index.exists():
        return HttpResponse(
            "The screens are not built yet. Run bin/setup.", status=503, content_type="text/plain"
        )
    response = HttpResponse(index.read_bytes(), content_type="text/html; charset=utf-8")
    response["Cache-Control"] = "no-cache"
    return response


handler404 = not_there
urlpatterns = [path("api/", api.urls), re_path(r"^(?!api/|static/).*$", page)]
