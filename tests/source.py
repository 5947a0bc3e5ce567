"""Reading our own source."""

from __future__ import annotations

import ast
import gc


def parsed(text: str) -> ast.Module:
    """The tree of a source. Python 3.11 loses count of its depth where objects are collected meanwhile
    (CPython issue 106905): nothing is collected while it is built.
    """
    gc.disable()
    try:
        return ast.parse(text)
    finally:
        gc.enable()
