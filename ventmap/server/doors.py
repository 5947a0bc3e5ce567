"""The doors: who may bring how much, asked before a byte is stored, on every address.

Django reads a whole body before it looks at who sent it. Here it is the other way round: the address
gives the limit, the session gives the person, and bytes are counted while they come.
"""

from __future__ import annotations

import errno
import json
import logging
import re
from collections.abc import Awaitable, Callable
from dataclasses import dataclass
from functools import cache
from http.cookies import CookieError, SimpleCookie
from typing import Any
from urllib.parse import parse_qs, unquote_to_bytes

from asgiref.sync import sync_to_async

from ventmap.core.basics import BadInput

log = logging.getLogger(__name__)
Receive = Callable[[], Awaitable[Any]]
Send = Callable[[Any], Awaitable[None]]
App = Callable[[dict[str, Any], Receive, Send], Awaitable[None]]

MB = 10**6
#: A body up to this is held in memory until Django has asked who sent it.
SMALL = 65_536
LONGEST_PATH, LONGEST_QUERY = 1_000, 8_000
HEADERS = (
    (b"x-content-type-options", b"nosniff"),
    (b"x-frame-options", b"DENY"),
    (b"referrer-policy", b"same-origin"),
    (b"cross-origin-opener-policy", b"same-origin"),
)


@cache
def headers() -> tuple[tuple[bytes, bytes], ...]:
    """What every answer says, static files and refusals too: of what a page may be made among it."""
    from django.conf import settings

    policy = settings.CONTENT_SECURITY_POLICY["DIRECTIVES"]
    told = "; ".join(f"{name} {' '.join(sources)}" for name, sources in policy.items())
    return *HEADERS, (b"content-security-policy", told.encode())


@dataclass(frozen=True)
class Door:
    """What an address takes: bytes, what they are, and whether a viewer may bring them."""

    method: str
    path: re.Pattern[str]
    most: int
    what: str
    field: str
    worker: bool = True


@cache
def _doors() -> tuple[Door, ...]:
    from django.conf import settings

    def door(method: str, path: str, most: int, what: str, field: str = "file", worker: bool = True) -> Door:
        return Door(method, re.compile(rf"/api/{path}/?"), most, what, field, worker)

    return (
        # With a job a log is work; a look without one is anybody's.
        door("PUT", "logs", settings.LARGEST_UPLOAD, "log", worker=False),
        door("PUT", r"jobs/[^/]+/photos", 50 * MB, "picture", "photo"),
        door("PUT", r"jobs/[^/]+/(files|held-files)", 64 * MB, "file"),
        door("POST", r"jobs/[^/]+/maps/files", 4 * MB + SMALL, "map"),
        door("PUT", r"lists/[^/]+/(columns|dry-run|rows)", 10 * MB, "list"),
        door("PUT", r"shelf-files/current", 20 * MB, "shelf file"),
        door("PUT", r"jobs/[^/]+/steps/[^/]+/pin-plan", 1 * MB, "pin plan"),
        door("PUT", r"jobs/[^/]+/run-files", 20 * MB, "run"),
        # A source of logs has its DBC file with it.
        door("PUT", r"logs/[^/]+/columns", 6 * MB, "entry", "body", worker=False),
        door("PUT", r"shelf-items", 6 * MB, "thing", "body"),
    )


JSON_DOOR = Door("", re.compile(""), 1 * MB, "entry", "body", worker=False)
#: Where nobody is signed in yet.
OPEN = re.compile(r"/api/(sessions|shops)/?")


def door_of(method: str, path: str) -> Door:
    return next((d for d in _doors() if d.method == method and d.path.fullmatch(path)), JSON_DOOR)


def larger(door: Door) -> str:
    """What is said of a body that is larger than its door."""
    most = f"{door.most // MB} MB"
    cure = {"log": " Split the log and drop the parts.", "picture": " Take it at a smaller size."}
    return f"This {door.what} is larger than {most}, the most that is taken here.{cure.get(door.what, '')}"


def full_disk() -> str:
    import shutil

    from django.conf import settings

    free = shutil.disk_usage(settings.DATA).free / MB
    return f"The disk is full: free {free:.0f} MB. Nothing of this was kept; make room and do it again."


#: Least free space for a write to a vehicle: its notes and its read-back are kept while it runs.
LEAST_FREE = 50 * MB


def need_room() -> None:
    """Refuse to begin a write to a vehicle where the record of it might not be kept.

    Raises
    ------
    BadInput
    """
    import shutil

    from django.conf import settings

    free = shutil.disk_usage(settings.DATA).free
    if free < LEAST_FREE:
        raise BadInput(
            f"The disk is nearly full: free {free / MB:.0f} MB. Make room first: the record of a write must"
            " be kept.",
            "disk",
        )


def is_full(error: BaseException) -> bool:
    """Whether an error says that the disk is full, as the system or as SQLite says it."""
    return getattr(error, "errno", None) in (errno.ENOSPC, errno.EDQUOT) or "disk is full" in str(error)


async def refuse(send: Send, status: int, sentence: str, field: str | None) -> None:
    body = json.dumps({"sentence": sentence, "field": field}).encode()
    lines = [
        (b"content-type", b"application/json"),
        (b"content-length", str(len(body)).encode()),
        (b"connection", b"close"),
        *headers(),
    ]
    await send({"type": "http.response.start", "status": status, "headers": lines})
    await send({"type": "http.response.body", "body": body})


def header(scope: dict[str, Any], name: bytes) -> bytes:
    return next((value for key, value in scope["headers"] if key == name), b"")


def _host_wrong(scope: dict[str, Any]) -> bool:
    from django.conf import settings
    from django.http.request import split_domain_port, validate_host

    domain, _ = split_domain_port(header(scope, b"host").decode("latin-1"))
    return not (domain and validate_host(domain, settings.ALLOWED_HOSTS))


def address_wrong(scope: dict[str, Any]) -> str:
    """What is wrong with an address, by `raw_path` and `query_string`; empty where nothing is."""
    raw, query = scope.get("raw_path") or b"", scope.get("query_string") or b""
    if len(raw) > LONGEST_PATH or len(query) > LONGEST_QUERY:
        return "This address is too long."
    for part in (raw, query.replace(b"+", b" ")):
        plain = unquote_to_bytes(part)
        if b"\x00" in plain:
            return "This address holds a character that no name has."
        try:
            plain.decode()
        except UnicodeDecodeError:
            return "This address is not text."
    return ""


@sync_to_async
def _person(scope: dict[str, Any]) -> tuple[bool, bool]:
    """(signed in, may change a job) by the session's cookie alone."""
    from importlib import import_module

    from django.conf import settings
    from django.contrib.auth import get_user
    from django.http import HttpRequest

    from .shop.access import VIEWER, role

    try:
        cookies = SimpleCookie(header(scope, b"cookie").decode("latin-1"))
    except CookieError:
        return False, False
    morsel = cookies.get(settings.SESSION_COOKIE_NAME)
    request = HttpRequest()
    request.session = import_module(settings.SESSION_ENGINE).SessionStore(morsel.value if morsel else None)
    user = get_user(request)
    return user.is_authenticated, user.is_authenticated and role(user) != VIEWER  # type: ignore[arg-type]


async def _unwanted(
    scope: dict[str, Any], door: Door, length: int | None
) -> tuple[int, str, str | None] | None:
    """Why a body is not even begun to be read; None where it may come."""
    if length is not None and length > door.most:
        return 413, larger(door), door.field
    if length is not None and length <= SMALL:
        return None
    if OPEN.fullmatch(scope["path"]):
        return 413, "This entry is larger than any name and pass phrase.", "body"
    there, may = await _person(scope)
    if not there:
        return 401, "Sign in first.", None
    query = parse_qs(scope.get("query_string", b"").decode())
    if not may and (door.worker or query.get("job", [""])[0]):
        return 403, "You may look but not change. Ask the lead for the installer role.", "person"
    return None


def counted(receive: Receive, door: Door, told: list[bool]) -> Receive:
    """Bytes are counted while they come; one too many ends the request."""
    came = 0

    async def take() -> Any:
        nonlocal came
        message = await receive()
        if message["type"] == "http.request":
            came += len(message.get("body", b""))
            if came > door.most:
                told[0] = True
                return {"type": "http.disconnect"}
        return message

    return take


def behind_doors(app: App) -> App:
    """An application behind the doors: host, address, length, person, count; then it is asked."""

    async def guarded(scope: dict[str, Any], receive: Receive, send: Send) -> None:
        wrong = "This is not an address of this shop." if _host_wrong(scope) else address_wrong(scope)
        if wrong:
            await refuse(send, 400, wrong, None)
            return
        door = door_of(scope["method"], scope["path"])
        if scope["method"] not in ("GET", "HEAD", "OPTIONS"):
            told = header(scope, b"content-length")
            length = int(told) if told.isdigit() else None
            if length is None and not header(scope, b"transfer-encoding"):
                length = 0
            unwanted = await _unwanted(scope, door, length)
            if unwanted:
                await refuse(send, *unwanted)
                return
        too_large, began = [False], False

        async def answer(message: Any) -> None:
            nonlocal began
            if message["type"] == "http.response.start":
                began = True
                have = {name.lower() for name, _ in message.get("headers", ())}
                message["headers"] = [
                    *message.get("headers", ()),
                    *(pair for pair in headers() if pair[0] not in have),
                ]
            await send(message)

        try:
            await app(scope, counted(receive, door, too_large), answer)
        except Exception as error:
            if began:
                raise
            if is_full(error):
                await refuse(send, 507, full_disk(), "file")
                return
            log.exception("request failed: %s", scope["path"])
            await refuse(
                send, 500, "Vent Map made a mistake here; nothing was saved. It is in the server's log.", None
            )
            return
        if too_large[0] and not began:
            await refuse(send, 413, larger(door), door.field)

    return guarded
