"""Changes that no test can notice, for they change nothing that anybody is told; each with its why."""

from __future__ import annotations

from typing import NamedTuple


class Equal(NamedTuple):
    path: str
    text: str
    why: str


EQUAL: tuple[Equal, ...] = ()
