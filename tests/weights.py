"""How long each file of tests takes, so that the longest begin first and no worker waits for the last.

usage: .venv/bin/python -m tests.weights JUNIT.xml   (by `bin/test -n 3 --dist loadfile --junitxml JUNIT.xml`)
"""

from __future__ import annotations

import json
import sys
from collections import Counter
from pathlib import Path
from xml.etree import ElementTree

KEPT = Path(__file__).with_name("weights.json")
#: A file that nobody weighed yet [s].
UNKNOWN = 20.0


def seconds() -> dict[str, float]:
    """File → seconds of a worker."""
    return json.loads(KEPT.read_text())


def weigh(report: Path) -> dict[str, float]:
    """What a run's own report says of each file."""
    told: Counter[str] = Counter()
    for case in ElementTree.parse(report).iter("testcase"):
        parts = case.get("classname", "").split(".")
        while parts and parts[-1][:1].isupper():
            parts.pop()
        told["/".join(parts) + ".py"] += float(case.get("time", 0))  # type: ignore[assignment]
    return {name: round(time) for name, time in told.most_common() if time >= 1}


if __name__ == "__main__":
    KEPT.write_text(json.dumps({**seconds(), **weigh(Path(sys.argv[1]))}, indent=1, sort_keys=True) + "\n")
