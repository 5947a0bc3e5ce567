"""Signing in and out, who is here, and the units on offer."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.contrib.auth.models import User
from django.http import HttpRequest
from django.middleware.csrf import get_token
from ninja import Router, Schema
from ninja.errors import HttpError
from ninja.utils import check_csrf

from ventmap.core.basics import STAGES, conversions, parse

from ..schemas import Sentence
from .access import full_name, person, role
from .models import House

router = Router(tags=["shop"])


class SignIn(Schema):
    name: str
    phrase: str


class StageOut(Schema):
    key: str
    label: str
    purpose: str


class SessionOut(Schema):
    signed_in: bool
    name: str = ""
    username: str = ""
    role: str = ""
    house: str = ""
    town: str = ""
    altitude_m: float = 0.0
    currency: str = ""
    sample: bool = False
    fresh: bool = False
    """Nobody is here yet: the first one names the shop and becomes its lead."""
    largest_upload: int = 0
    conversions: dict[str, Any] = {}
    stages: list[StageOut] = []


class Typed(Schema):
    text: str
    quantity: str
    unit: str | None = None


class Read(Schema):
    value: float


def _session(request: HttpRequest) -> dict[str, Any]:
    get_token(request)
    if not request.user.is_authenticated:
        return {"signed_in": False, "sample": House.current().is_sample, "fresh": not User.objects.exists()}
    user, house = person(request), House.current()
    return {
        "signed_in": True,
        "name": full_name(user),
        "username": user.username,
        "role": role(user),
        "house": house.name,
        "town": house.town,
        "altitude_m": house.altitude_m,
        "currency": house.currency,
        "sample": house.is_sample,
        "largest_upload": settings.LARGEST_UPLOAD,
        "conversions": conversions(),
        "stages": [vars(stage) for stage in STAGES],
    }


@router.get("/sessions/current", response=SessionOut, auth=None)
def current_session(request: HttpRequest) -> dict[str, Any]:
    return _session(request)


@router.post("/sessions", response={200: SessionOut, 401: Sentence, 403: Sentence}, auth=None)
def sign_in(request: HttpRequest, body: SignIn) -> Any:
    if check_csrf(request) is not None:
        raise HttpError(403, "Reload the page and sign in again.")
    user = authenticate(request, username=body.name.strip(), password=body.phrase)
    if user is None:
        return 401, {
            "sentence": (
                "Name and pass phrase do not belong together. After eight tries the name rests for a quarter"
                " of an hour."
            ),
            "field": "phrase",
        }
    login(request, user)
    return 200, _session(request)


@router.delete("/sessions/current", response=SessionOut)
def sign_out(request: HttpRequest) -> dict[str, Any]:
    logout(request)
    return {"signed_in": False}


@router.post("/figures", response=Read)
def read_figure(request: HttpRequest, body: Typed) -> dict[str, float]:
    """A typed figure in its canonical unit: the one place where units are understood."""
    return {"value": parse(body.text, body.quantity, body.unit)}
