"""Seven made-up datalogs in four dialects, with what each holds; kept here, so that none is passed over."""

from __future__ import annotations

import json
import zipfile
from functools import cache
from typing import Any

from tests.conftest import ROOT

FILE = ROOT / "tests" / "samples" / "bench-logs.zip"


@cache
def bench_log(name: str) -> bytes:
    with zipfile.ZipFile(FILE) as logs:
        return logs.read(name)


def expected() -> dict[str, Any]:
    """Log → what it holds."""
    return json.loads(bench_log("expected.json"))
