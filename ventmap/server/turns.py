"""Whose turn it is: few requests compute at once, in the order in which they came.

Threads of one Python process compute one at a time anyway. Twenty at once only take the interpreter from each
other at every statement to the database, so that all of them end late; two, the others in line, end one after
the other. Measured with twenty people: `docs/performance.md`.
"""

from __future__ import annotations

import asyncio
from collections import deque
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager

#: One computes while the other waits for its statement.
AT_ONCE = 2

#: Who is not done by then [s] is no longer counted: it reads a file, waits for a vehicle or for the database,
#: or computes something long, and nobody stands in line behind it.
TURN_S = 0.2


class Turns:
    """A line for the requests of one event loop; nothing here is touched by another thread."""

    def __init__(self, at_once: int = AT_ONCE, turn_s: float = TURN_S) -> None:
        self._free, self._turn_s = at_once, turn_s
        self._line: deque[asyncio.Future[None]] = deque()

    @asynccontextmanager
    async def mine(self) -> AsyncIterator[None]:
        """Begins when it is our turn, ends when we are done; the turn itself may end before."""
        await self._stand_in_line()
        over = False

        def give_back() -> None:
            nonlocal over
            if not over:
                over = True
                self._next()

        late = asyncio.get_running_loop().call_later(self._turn_s, give_back)
        try:
            yield
        finally:
            late.cancel()
            give_back()

    async def _stand_in_line(self) -> None:
        if self._free:
            self._free -= 1
            return
        called = asyncio.get_running_loop().create_future()
        self._line.append(called)
        try:
            await called
        except asyncio.CancelledError:
            # Gone while in line, or just when it was called: then the next one is.
            if called.done() and not called.cancelled():
                self._next()
            raise

    def _next(self) -> None:
        while self._line:
            called = self._line.popleft()
            if not called.done():
                called.set_result(None)
                return
        self._free += 1
