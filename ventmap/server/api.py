"""The API under /api: nouns in the plural, typed, with its OpenAPI document."""

from __future__ import annotations

import logging
from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, ValidationError
from ninja.security import django_auth

from ventmap.core.basics import VentMapError
from ventmap.link.transport import LinkLost

from .dyno.api import router as dyno
from .jobs.api import router as jobs
from .jobs.fit_api import router as fit
from .jobs.inquiry import router as inquiry
from .jobs.intake import Overtaken
from .jobs.plan_api import router as plan
from .jobs.rows import NotFound
from .jobs.workshop import LineBusy
from .logs.api import router as logs
from .maps.api import router as maps
from .maps.first_start import router as first_start
from .report.api import router as report
from .shelf.api import router as shelf
from .shop.access import NotAllowed
from .shop.api import router as shop
from .shop.rules_api import router as rules

log = logging.getLogger(__name__)
api = NinjaAPI(
    title="Vent Map",
    version="1",
    auth=django_auth,
    docs_url=None,
    openapi_url="/openapi.json",
    urls_namespace="api",
)
for router in (shop, rules, shelf, jobs, inquiry, plan, fit, maps, first_start, logs, dyno, report):
    api.add_router("", router)

_STATUS: tuple[tuple[type[VentMapError], int], ...] = (
    (NotFound, 404),
    (NotAllowed, 403),
    (Overtaken, 409),
    (LineBusy, 409),
    (LinkLost, 502),
    (VentMapError, 422),
)


@api.exception_handler(VentMapError)
def on_trade_error(request: HttpRequest, error: VentMapError) -> HttpResponse:
    """Every error of ours is a sentence and the input that it is about."""
    status = next(code for kind, code in _STATUS if isinstance(error, kind))
    return api.create_response(request, {"sentence": error.sentence, "field": error.field}, status=status)


@api.exception_handler(ValidationError)
def on_bad_shape(request: HttpRequest, error: ValidationError) -> HttpResponse:
    first: Any = error.errors[0]
    name = str(first["loc"][-1])
    return api.create_response(
        request, {"sentence": f"{name.replace('_', ' ')}: {first['msg'].lower()}.", "field": name}, status=422
    )


@api.exception_handler(AuthenticationError)
def on_stranger(request: HttpRequest, error: AuthenticationError) -> HttpResponse:
    return api.create_response(request, {"sentence": "Sign in first.", "field": None}, status=401)


@api.exception_handler(Exception)
def on_fault(request: HttpRequest, error: Exception) -> HttpResponse:
    """A fault of ours: said so, logged with its trace, nothing half-written (every write is one
    transaction).
    """
    log.exception("request failed: %s", request.path)
    return api.create_response(
        request,
        {
            "sentence": "Vent Map made a mistake here; nothing was saved. It is in the server's log.",
            "field": None,
        },
        status=500,
    )
