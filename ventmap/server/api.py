"""The API under /api: nouns in the plural, typed, with its OpenAPI document."""

from __future__ import annotations

import logging
import re
from typing import Any

from django.core.exceptions import BadRequest, RequestDataTooBig, SuspiciousOperation
from django.db import IntegrityError, OperationalError
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse, UnreadablePostError
from django.http.multipartparser import MultiPartParserError
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError
from ninja.security import django_auth

from ventmap.core.basics import VentMapError
from ventmap.link.transport import LinkLost

from .acts import as_act
from .doors import full_disk, is_full
from .dyno.api import router as dyno
from .guide import router as guide
from .health import router as health
from .jobs.api import router as jobs
from .jobs.files_api import router as files
from .jobs.fit_api import router as fit
from .jobs.inquiry import router as inquiry
from .jobs.intake import Overtaken
from .jobs.plan_api import router as plan
from .jobs.rows import NotFound
from .jobs.unknown_api import router as unknown
from .jobs.workshop import LineBusy
from .lists.api import router as lists
from .logs.api import router as logs
from .logs.capture_api import router as captures
from .logs.cold_starts import router as cold_starts
from .logs.look_api import router as log_looks
from .logs.map_api import router as log_sheets
from .logs.own_api import router as own_looks
from .logs.story_api import router as log_stories
from .maps.api import router as maps
from .maps.begun_api import router as begun
from .maps.borrowed_api import router as borrowed
from .maps.catalogue_api import router as catalogue
from .maps.entering import router as entering
from .maps.firmware import router as firmware
from .maps.first_start import router as first_start
from .maps.link_ladder_api import router as link_ladder
from .maps.load_history import router as load_history
from .maps.read_here import router as read_here
from .maps.settings_api import router as settings_of_maps
from .maps.sheet_api import router as sheets
from .maps.to_copy import router as to_copy
from .maps.trying import router as trying
from .practice import router as practice
from .remote.api import router as tuner
from .report.api import router as report
from .shelf.api import router as shelf
from .shop.access import NotAllowed
from .shop.api import router as shop
from .shop.rules_api import router as rules
from .shop.tries import Resting
from .strict import NotPlain, StrictParser, StrictRenderer

log = logging.getLogger(__name__)


class Api(NinjaAPI):
    """Every operation says which refusals it may answer, all of one shape."""

    def get_openapi_schema(self, **options: Any) -> Any:
        document = super().get_openapi_schema(**options)
        document["components"]["schemas"]["Refusal"] = REFUSAL
        answer = {"content": {"application/json": {"schema": {"$ref": "#/components/schemas/Refusal"}}}}
        document["components"]["responses"] = {
            f"Refused{status}": {"description": told, **answer}
            for status, told in {**REFUSALS, **REFUSED_BODIES}.items()
        }
        for operations in document["paths"].values():
            for method, operation in operations.items():
                for status in REFUSALS if method == "get" else {**REFUSALS, **REFUSED_BODIES}:
                    told = {"$ref": f"#/components/responses/Refused{status}"}
                    operation["responses"].setdefault(status, told)
        return document


REFUSAL = {
    "title": "Refusal",
    "type": "object",
    "required": ["sentence", "field"],
    "properties": {
        "sentence": {"type": "string", "description": "what is wrong and what to do"},
        "field": {"anyOf": [{"type": "string"}, {"type": "null"}]},
    },
}
REFUSALS = {
    400: "not an address or a body that is understood",
    401: "not signed in",
    403: "not this person's to do",
    404: "not there",
    409: "overtaken, or in use",
    422: "wrong in a field",
    429: "too many tries",
    502: "the vehicle does not answer",
    503: "busy",
    507: "the disk is full",
}
BUSY = "The shop's records are busy: somebody else's long work is being kept. Nothing of this was; try again."
#: How SQLite and PostgreSQL say that a lock was waited for in vain.
WAITED = re.compile("locked|lock timeout|deadlock|busy")
REFUSED_BODIES = {413: "larger than is taken here", 415: "a form where none belongs"}

api = Api(
    parser=StrictParser(),
    renderer=StrictRenderer(),
    title="Vent Map",
    version="1",
    auth=django_auth,
    docs_url=None,
    openapi_url="/openapi.json",
    urls_namespace="api",
)
for router in (
    unknown,
    lists,
    practice,
    shop,
    rules,
    health,
    guide,
    shelf,
    jobs,
    inquiry,
    plan,
    files,
    fit,
    maps,
    entering,
    link_ladder,
    first_start,
    firmware,
    load_history,
    cold_starts,
    read_here,
    to_copy,
    trying,
    tuner,
    catalogue,
    begun,
    borrowed,
    sheets,
    settings_of_maps,
    log_looks,
    captures,
    own_looks,
    log_stories,
    log_sheets,
    logs,
    dyno,
    report,
):
    api.add_router("", router)
api.add_decorator(as_act, mode="view")

_STATUS: tuple[tuple[type[VentMapError], int], ...] = (
    (NotFound, 404),
    (NotAllowed, 403),
    (Overtaken, 409),
    (LineBusy, 409),
    (Resting, 429),
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


@api.exception_handler(HttpError)
def on_http_error(request: HttpRequest, error: HttpError) -> HttpResponse:
    # Ninja raises one of its own around what the parser said: the parser's is the sentence.
    said = error.__context__ if isinstance(error.__context__, NotPlain) else error
    told = {"sentence": str(said), "field": getattr(said, "field", None)}
    return api.create_response(request, told, status=error.status_code)


@api.exception_handler(Http404)
def on_nowhere(request: HttpRequest, error: Http404) -> HttpResponse:
    return api.create_response(
        request, {"sentence": "There is no such thing here.", "field": None}, status=404
    )


@api.exception_handler(BadRequest)
@api.exception_handler(MultiPartParserError)
@api.exception_handler(SuspiciousOperation)
@api.exception_handler(UnreadablePostError)
def on_broken_body(request: HttpRequest, error: Exception) -> HttpResponse:
    told = {
        "sentence": "The entry did not arrive whole, or is not what belongs here. Send it again.",
        "field": None,
    }
    return api.create_response(request, told, status=413 if isinstance(error, RequestDataTooBig) else 400)


def csrf_failed(request: HttpRequest, reason: str = "") -> HttpResponse:
    """Asked from another page, or from one that was open while the server was made anew."""
    return JsonResponse({"sentence": "Reload the page and do it again.", "field": None}, status=403)


def not_there(request: HttpRequest, exception: Exception) -> HttpResponse:
    return JsonResponse({"sentence": "There is no such address here.", "field": None}, status=404)


@api.exception_handler(IntegrityError)
def on_same_moment(request: HttpRequest, error: IntegrityError) -> HttpResponse:
    """The database keeps one of each: what is there already came from somebody else, just now."""
    told = {
        "sentence": "Somebody entered the same at this moment. Look at what is there, then do it again.",
        "field": None,
    }
    return api.create_response(request, told, status=409)


@api.exception_handler(OperationalError)
def on_busy(request: HttpRequest, error: OperationalError) -> HttpResponse:
    """Another act holds what this one needs, for longer than anybody should wait."""
    if is_full(error):
        return api.create_response(request, {"sentence": full_disk(), "field": "file"}, status=507)
    if not WAITED.search(str(error)):
        return on_fault(request, error)
    return api.create_response(request, {"sentence": BUSY, "field": None}, status=503)


@api.exception_handler(Exception)
def on_fault(request: HttpRequest, error: Exception) -> HttpResponse:
    """A fault of ours: said so, logged with its trace, nothing half-written (every write is one
    transaction).
    """
    if is_full(error):
        return api.create_response(request, {"sentence": full_disk(), "field": "file"}, status=507)
    log.exception("request failed: %s", request.path)
    return api.create_response(
        request,
        {
            "sentence": "Vent Map made a mistake here; nothing was saved. It is in the server's log.",
            "field": None,
        },
        status=500,
    )
