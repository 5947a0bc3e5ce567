"""*Has anybody changed this job?* Every open screen asks it all the time: the answer is one look at a number.

Who may ask is Django's own word, believed for `BELIEVED_S`: the number alone tells nobody anything.
"""

from __future__ import annotations

import logging
import re
import time
from typing import Any

from asgiref.sync import sync_to_async
from django.db import DatabaseError, connection

from .doors import App, Receive, Send, header

log = logging.getLogger(__name__)
ADDRESS = re.compile(r"/api/jobs/([^/]+)/revision/?")
#: How long somebody who was let in is not asked again [s].
BELIEVED_S = 10.0
#: So many are remembered; then all are asked again.
MOST = 1_000


@sync_to_async
def _now(number: str) -> int | None:
    from .jobs.models import Job

    try:
        return Job.objects.filter(number=number).values_list("revision", flat=True).first()
    except DatabaseError:
        log.warning("a revision could not be read; Django is asked", exc_info=True)
        connection.close()
        return None


def known_here(app: App) -> App:
    """An application that is asked for a revision only by those whom it has not let in lately."""
    let_in: dict[bytes, float] = {}

    async def asked(scope: dict[str, Any], receive: Receive, send: Send) -> None:
        found = ADDRESS.fullmatch(scope["path"]) if scope["method"] == "GET" else None
        if found is None:
            await app(scope, receive, send)
            return
        cookie, now = header(scope, b"cookie"), time.monotonic()
        if let_in.get(cookie, 0.0) > now:
            revision = await _now(found[1])
            if revision is not None:
                await _tell(send, revision)
                return

        async def answer(message: Any) -> None:
            if message["type"] == "http.response.start" and message["status"] == 200:
                if len(let_in) >= MOST:
                    let_in.clear()
                let_in[cookie] = now + BELIEVED_S
            await send(message)

        await app(scope, receive, answer)

    return asked


async def _tell(send: Send, revision: int) -> None:
    body = str(revision).encode()
    lines = [
        (b"content-type", b"application/json; charset=utf-8"),
        (b"content-length", str(len(body)).encode()),
        (b"cache-control", b"no-store"),
    ]
    await send({"type": "http.response.start", "status": 200, "headers": lines})
    await send({"type": "http.response.body", "body": body})
