"""Django for an ASGI server, in threads that stay.

Django's own handler starts a thread for every request, opens the database in it anew, and goes to and fro
between loop and thread for each middleware: more than half of what a small answer costs. Ours are plain.
"""

from __future__ import annotations

from collections.abc import Awaitable, Callable
from concurrent.futures import ThreadPoolExecutor
from typing import Any

from asgiref.sync import sync_to_async
from django.core.handlers.asgi import ASGIHandler
from django.db import close_old_connections
from django.http import HttpRequest
from django.http.response import HttpResponseBase

from .turns import Turns

#: Requests under way; each thread keeps its connection. What waits for a vehicle or a file holds one.
THREADS = 24


class OneThread(ASGIHandler):
    """A request's middleware and view, from first to last in one thread."""

    def __init__(self) -> None:
        super().__init__()
        self._threads = ThreadPoolExecutor(THREADS, thread_name_prefix="request")
        self._turns = Turns()

    def load_middleware(self, is_async: bool = False) -> None:
        super().load_middleware(is_async=False)

    async def __call__(
        self,
        scope: dict[str, Any],
        receive: Callable[[], Awaitable[Any]],
        send: Callable[[Any], Awaitable[None]],
    ) -> None:
        # Without the context that gives each request a thread of its own.
        if scope["type"] != "http":
            raise ValueError(f"Vent Map speaks HTTP, not {scope['type']}.")
        await self.handle(scope, receive, send)

    async def get_response_async(self, request: HttpRequest) -> HttpResponseBase:
        answer = sync_to_async(self._answer, thread_sensitive=False, executor=self._threads)
        async with self._turns.mine():
            return await answer(request)

    def _answer(self, request: HttpRequest) -> HttpResponseBase:
        close_old_connections()
        try:
            return self.get_response(request)
        finally:
            close_old_connections()
