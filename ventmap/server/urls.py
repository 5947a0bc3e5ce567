"""Addresses: the API, the service worker, and one page for every screen."""

from __future__ import annotations

from django.urls import path, re_path

from .api import api, not_there
from .web import page, worker

handler404 = not_there
urlpatterns = [
    path("api/", api.urls),
    path("worker.js", worker),
    re_path(r"^(?!api/|static/|worker\.js).*$", page),
]
