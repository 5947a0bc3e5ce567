"""The application that uvicorn serves."""

import json
import os
from collections.abc import Awaitable, Callable
from typing import Any

from django.core.asgi import get_asgi_application
from servestatic import ServeStaticASGI

from . import quiet

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "ventmap.server.settings")


def _with_screens() -> Callable[..., Awaitable[None]]:
    """Django, and before it the built screens: their files pass no middleware, and a hash in each name lets a
    browser keep them.
    """
    django = get_asgi_application()
    from django.conf import settings

    if not settings.WEB_DIST.exists():
        return django
    return ServeStaticASGI(
        django,
        root=settings.WEB_DIST,
        prefix="static",
        max_age=365 * 24 * 3600,
        allow_all_origins=False,
        immutable_file_test=r"/assets/.+-[A-Za-z0-9_-]{8}\.",
    )


_django = _with_screens()


async def application(
    scope: dict[str, Any], receive: Callable[[], Awaitable[Any]], send: Callable[[Any], Awaitable[None]]
) -> None:
    """Django, behind one check: a body that is too large is refused before a byte of it is stored."""
    if scope["type"] == "lifespan":
        while True:
            message = await receive()
            await send({"type": f"{message['type']}.complete"})
            if message["type"] == "lifespan.shutdown":
                return
    if scope["type"] == "http":
        quiet.touch()
        from django.conf import settings

        length = next(
            (int(value) for name, value in scope["headers"] if name == b"content-length" and value.isdigit()),
            0,
        )
        if length > settings.LARGEST_UPLOAD:
            sentence = (
                f"The file is larger than {settings.LARGEST_UPLOAD // 10**6} MB. Split the log and drop the"
                " parts."
            )
            body = json.dumps({"sentence": sentence, "field": "file"}).encode()
            await send(
                {
                    "type": "http.response.start",
                    "status": 413,
                    "headers": [(b"content-type", b"application/json"), (b"connection", b"close")],
                }
            )
            await send({"type": "http.response.body", "body": body})
            return
    await _django(scope, receive, send)  # type: ignore[arg-type]
