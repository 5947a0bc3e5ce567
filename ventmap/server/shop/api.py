"""Signing in and out, who is here, and the units on offer."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.contrib.auth.models import User
from django.contrib.sessions.models import Session
from django.http import HttpRequest
from django.middleware.csrf import get_token
from ninja import Router, Schema
from ninja.errors import HttpError
from ninja.utils import check_csrf

from ventmap.core.basics import STAGES, BadInput, conversions, parse

from ..schemas import Sentence
from ..web import web_build
from . import tries
from .access import full_name, person, plain_name, role
from .acts import asks, waits
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
    build: str = ""
    """Which screens the server has: a tablet that kept older ones says so."""
    conversions: dict[str, Any] = {}
    stages: list[StageOut] = []


class SignedInOut(Schema):
    id: int
    address: str
    browser: str
    at: datetime
    here: bool


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
        "build": web_build(),
        "conversions": conversions(),
        "stages": [vars(stage) for stage in STAGES],
    }


@router.get("/sessions/current", response=SessionOut, auth=None)
def current_session(request: HttpRequest) -> dict[str, Any]:
    return _session(request)


@router.post("/sessions", response={200: SessionOut, 401: Sentence}, auth=None)
@waits("a wrong try is kept though it is refused")
def sign_in(request: HttpRequest, body: SignIn) -> Any:
    if check_csrf(request) is not None:
        raise HttpError(403, "Reload the page and sign in again.")
    name = plain_name(body.name)[:60]
    tries.ask(request, name)
    user = authenticate(request, username=name, password=body.phrase)
    if user is None:
        tries.wrong(request, name)
        return 401, {
            "sentence": (
                "Name and pass phrase do not belong together. After five wrong tries the name rests here,"
                " each time longer."
            ),
            "field": "phrase",
        }
    tries.right(request, name)
    login(request, user)
    return 200, _session(request)


@router.delete("/sessions/current", response=SessionOut)
def sign_out(request: HttpRequest) -> dict[str, Any]:
    logout(request)
    return {"signed_in": False}


@router.get("/sessions", response=list[SignedInOut])
def sessions(request: HttpRequest) -> Any:
    """Where I am signed in."""
    rows = person(request).signed_in.filter(session_key__in=Session.objects.values("session_key"))
    here = request.session.session_key
    return [{**vars(row), "here": row.session_key == here} for row in rows]


@router.delete("/sessions/{session_id}", response=list[SignedInOut])
def end_session(request: HttpRequest, session_id: int) -> Any:
    """End a session of my own, wherever it is."""
    row = person(request).signed_in.filter(pk=session_id).first()
    if row is None:
        raise BadInput("This session has ended.", "session")
    Session.objects.filter(session_key=row.session_key).delete()
    row.delete()
    return sessions(request)


@router.post("/figures", response=Read)
@asks
def read_figure(request: HttpRequest, body: Typed) -> dict[str, float]:
    """A typed figure in its canonical unit: the one place where units are understood."""
    return {"value": parse(body.text, body.quantity, body.unit)}
