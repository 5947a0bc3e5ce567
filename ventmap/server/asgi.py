"""The application that uvicorn serves."""

import json
import os
from collections.abc import Awaitable, Callable
from typing import Any

from django.core.asgi import get_asgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "ventmap.server.settings")
_django = get_asgi_application()


async def application(scope: dict[str, Any], receive: Callable[[], Awaitable[Any]], send: Callable[[Any], Awaitable[None]]) -> None:
    """Django, behind one check: a body that is too large is refused before a byte of it is stored."""
    if scope["type"] == "lifespan":
        while True:
            message = await receive()
            await send({"type": f"{message['type']}.complete"})
            if message["type"] == "lifespan.shutdown":
                return
    if scope["type"] == "http":
        from django.conf import settings

        length = next((int(value) for name, value in scope["headers"] if name == b"content-length" and value.isdigit()), 0)
        if length > settings.LARGEST_UPLOAD:
            sentence = f"The file is larger than {settings.LARGEST_UPLOAD // 10**6} MB. Split the log and drop the parts."
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
