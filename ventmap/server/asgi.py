"""The application that uvicorn serves."""

import os
from collections.abc import Awaitable, Callable
from typing import Any

import django
from servestatic import ServeStaticASGI

from . import quiet
from .doors import behind_doors
from .one_thread import OneThread
from .revisions import known_here

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "ventmap.server.settings")


def _with_screens() -> Callable[..., Awaitable[None]]:
    """Django, and before it the built screens: their files pass no middleware, and a hash in each name lets a
    browser keep them.
    """
    django.setup(set_prefix=False)
    application = OneThread()
    from django.conf import settings

    if not settings.WEB_DIST.exists():
        return application
    return ServeStaticASGI(
        application,
        root=settings.WEB_DIST,
        prefix="static",
        max_age=365 * 24 * 3600,
        allow_all_origins=False,
        immutable_file_test=r"/assets/.+-[A-Za-z0-9_-]{8}\.",
    )


_behind = behind_doors(known_here(_with_screens()))


async def application(
    scope: dict[str, Any], receive: Callable[[], Awaitable[Any]], send: Callable[[Any], Awaitable[None]]
) -> None:
    """The screens and Django, behind the doors."""
    if scope["type"] == "lifespan":
        while True:
            message = await receive()
            await send({"type": f"{message['type']}.complete"})
            if message["type"] == "lifespan.shutdown":
                return
    if scope["type"] == "http":
        quiet.touch()
        await _behind(scope, receive, send)
