"""Few requests compute at once, in the order in which they came; who takes long holds nobody up."""

from __future__ import annotations

import asyncio
from collections.abc import Coroutine
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from typing import TypeVar

from ventmap.server.turns import Turns

T = TypeVar("T")


def apart(playing: Coroutine[None, None, T]) -> T:
    """In a thread of its own: a browser's loop may run in this one."""
    with ThreadPoolExecutor(1) as thread:
        return thread.submit(asyncio.run, playing).result()


#: No turn ends by itself in a test that is not about that [s].
LONG = 600.0


def test_two_at_once_and_the_others_in_the_order_in_which_they_came() -> None:
    begun: list[int] = []

    async def play() -> list[list[int]]:
        turns, ends, seen = Turns(2, LONG), [asyncio.Event() for _ in range(5)], []

        async def request(number: int) -> None:
            async with turns.mine():
                begun.append(number)
                await ends[number].wait()

        under_way = [asyncio.create_task(request(n)) for n in range(5)]
        for end in (None, 1, 0, 2):
            if end is not None:
                ends[end].set()
            for _ in range(5):
                await asyncio.sleep(0)
            seen.append(list(begun))
        for event in ends:
            event.set()
        await asyncio.gather(*under_way)
        return seen

    assert apart(play()) == [[0, 1], [0, 1, 2], [0, 1, 2, 3], [0, 1, 2, 3, 4]]


def test_who_takes_long_stands_in_nobodys_way_and_gives_no_turn_back_twice() -> None:
    async def play() -> int:
        turns, end = Turns(1, 0.001), asyncio.Event()

        async def slow() -> None:
            async with turns.mine():
                await end.wait()

        first = asyncio.create_task(slow())
        await asyncio.sleep(0)
        async with turns.mine():  # the turn of the first is over, the first is not
            end.set()
            await first
            return turns._free

    assert apart(play()) == 0


def test_who_goes_away_while_in_line_takes_no_turn_along() -> None:
    async def play(called_first: bool) -> int:
        turns, end = Turns(1, LONG), asyncio.Event()

        async def request() -> None:
            async with turns.mine():
                await end.wait()

        first = asyncio.create_task(request())
        await asyncio.sleep(0)
        gone = asyncio.create_task(request())
        await asyncio.sleep(0)
        if called_first:
            end.set()
            await first
        gone.cancel()
        with suppress(asyncio.CancelledError):
            await gone
        end.set()
        await first
        return turns._free

    assert [apart(play(False)), apart(play(True))] == [1, 1]
