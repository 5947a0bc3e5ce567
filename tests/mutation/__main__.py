"""`bin/mutate`: changes limits and comparisons of core, one at a time, and tells which no test notices.

A mutant lives in the memory of a process of its own, split off from one in which the libraries are loaded; no
file is changed. Results are kept under `build/mutate`, so that a second run does only what changed.
"""

from __future__ import annotations

import argparse
import hashlib
import json
import os
import random
import signal
import subprocess
import sys
import time
from collections import Counter, defaultdict
from pathlib import Path

from tests.conftest import ROOT

from .changes import Change, changes
from .equal import EQUAL

CORE = ROOT / "ventmap" / "core"
KEPT = ROOT / "build" / "mutate"
SUITES = ("tests/core", "tests/truth", "ventmap/core")
#: Works over the server: it would load all of it for every change.
LEFT_OUT = ("--ignore=tests/truth/test_report.py",)
#: Slower than this many times the sound run it hangs: that is noticed too.
PATIENCE, LEAST_S = 8.0, 40.0


def tests_by_file() -> dict[str, list[str]]:
    """Which tests touch which file of core, by one run under coverage; kept until a source changes."""
    state = hashlib.sha256()
    for path in sorted([*CORE.rglob("*.py"), *(ROOT / "tests").rglob("*.py")]):
        state.update(path.read_bytes())
    kept = KEPT / "touched.json"
    if kept.exists() and (told := json.loads(kept.read_text()))["state"] == state.hexdigest():
        return told["tests"]
    print("which tests touch which file", flush=True)
    data = KEPT / "coverage"
    command = [
        sys.executable,
        "-m",
        "pytest",
        "-q",
        "-p",
        "no:django",
        "-p",
        "no:xdist",
        "--cov=ventmap/core",
    ]
    command += ["--cov-context=test", "--cov-report=", *SUITES, *LEFT_OUT]
    subprocess.run(command, env={**os.environ, "COVERAGE_FILE": str(data)}, cwd=ROOT, check=True)
    from coverage import CoverageData

    read = CoverageData(str(data))
    read.read()
    tests: dict[str, list[str]] = {}
    for name in read.measured_files():
        found = {c.split("|")[0] for lines in read.contexts_by_lineno(name).values() for c in lines if c}
        tests[Path(name).relative_to(ROOT).as_posix()] = sorted(found)
    kept.write_text(json.dumps({"state": state.hexdigest(), "tests": tests}))
    return tests


def load_libraries() -> None:
    """What every mutant needs and none changes."""
    import hypothesis
    import numpy
    import pint
    import polars
    import pydantic
    import pytest
    import scipy.optimize

    assert all((hypothesis, numpy, pint, polars, pydantic, pytest, scipy))


class Changed:
    """Loads one module from a changed source."""

    def __init__(self, module: str, path: str, source: str) -> None:
        self.module, self.path, self.source = module, path, source

    def find_spec(self, name: str, path: object = None, target: object = None) -> object:
        if name != self.module:
            return None
        from importlib.machinery import ModuleSpec

        spec = ModuleSpec(name, self, origin=self.path, is_package=self.path.endswith("__init__.py"))
        spec.has_location = True
        return spec

    def create_module(self, spec: object) -> None:
        return None

    def exec_module(self, module: object) -> None:
        exec(compile(self.source, self.path, "exec"), module.__dict__)


def run(tests: list[str], change: tuple[str, str, str] | None) -> int:
    """Pytest's own exit code, in a child of this process."""
    if pid := os.fork():
        return pid
    out = os.open(os.devnull, os.O_WRONLY)
    os.dup2(out, 1)
    os.dup2(out, 2)
    if change:
        sys.meta_path.insert(0, Changed(*change))  # type: ignore[arg-type]
    import pytest

    code = 99
    try:
        code = int(pytest.main(["-x", "-q", "-p", "no:django", "-p", "no:xdist", "-p", "no:cov", *tests]))
    finally:
        os._exit(code)


def wait(pid: int, seconds: float) -> int | None:
    """Exit code, or None where it hung."""
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        done, status = os.waitpid(pid, os.WNOHANG)
        if done:
            return os.waitstatus_to_exitcode(status)
        time.sleep(0.02)
    os.kill(pid, signal.SIGKILL)
    os.waitpid(pid, 0)
    return None


def key_of(change: Change, source: str) -> str:
    return hashlib.sha256(f"{change}{source}".encode()).hexdigest()[:24]


def asked_files(places: list[str]) -> list[Path]:
    paths = [CORE / place if not (ROOT / place).exists() else ROOT / place for place in places] or [CORE]
    return sorted({file for path in paths for file in (path.rglob("*.py") if path.is_dir() else [path])})


def main() -> int:
    parser = argparse.ArgumentParser(prog="bin/mutate", description=__doc__)
    parser.add_argument("places", nargs="*", help="rooms (findings) or files; the whole of core without")
    parser.add_argument("--share", type=float, default=1.0, help="so many of them, by a fixed seed")
    parser.add_argument("--processes", type=int, default=2)
    asked = parser.parse_args()
    KEPT.mkdir(parents=True, exist_ok=True)
    touched = tests_by_file()
    load_libraries()
    kept_at = KEPT / "results.json"
    results: dict[str, str] = json.loads(kept_at.read_text()) if kept_at.exists() else {}
    todo: list[tuple[str, Change, str]] = []
    every: list[tuple[str, Change]] = []
    for path in asked_files(asked.places):
        for change, source in changes(path, ROOT):
            if random.Random(str(change)).random() >= asked.share:
                continue
            key = key_of(change, source)
            every.append((key, change))
            if key not in results:
                todo.append((key, change, source))
    print(f"{len(every)} changes, {len(todo)} of them new", flush=True)
    sound: dict[str, float] = {}
    at_work: dict[int, tuple[str, Change, float, float]] = {}
    # Tests of one file run quickest first: what notices a change is mostly near.
    while todo or at_work:
        while todo and len(at_work) < asked.processes:
            key, change, source = todo.pop(0)
            tests = touched.get(change.path, [])
            if not tests:
                results[key] = "no test"
                continue
            if change.path not in sound:
                began = time.monotonic()
                assert wait(run(tests, None), 900.0) == 0, f"the sound tests of {change.path} fail"
                sound[change.path] = time.monotonic() - began
            module = change.path.removesuffix(".py").removesuffix("/__init__").replace("/", ".")
            patience = max(LEAST_S, PATIENCE * sound[change.path])
            pid = run(tests, (module, str(ROOT / change.path), source))
            at_work[pid] = key, change, time.monotonic(), patience
        for pid, (key, change, began, patience) in list(at_work.items()):
            done, status = os.waitpid(pid, os.WNOHANG)
            hung = not done and time.monotonic() - began > patience
            if hung:
                os.kill(pid, signal.SIGKILL)
                os.waitpid(pid, 0)
            if done or hung:
                noticed = hung or os.waitstatus_to_exitcode(status) != 0
                results[key] = "noticed" if noticed else "lived"
                if not noticed:
                    print(f"lived {change.path}:{change.line}: {change.was}  →  {change.becomes}", flush=True)
                del at_work[pid]
                kept_at.write_text(json.dumps(results))
        time.sleep(0.02)
    return tell(every, results)


def tell(every: list[tuple[str, Change]], results: dict[str, str]) -> int:
    """Figures by room, and what lives with why it is equal; 1 where less than nine tenths are noticed."""
    rooms: dict[str, Counter[str]] = defaultdict(Counter)
    for key, change in every:
        outcome = results[key]
        if outcome != "noticed" and any(
            change.path.endswith(one.path) and one.text in change.was for one in EQUAL
        ):
            outcome = "equal"
        rooms[change.path.split("/")[2]][outcome] += 1
    short = False
    print("| room | changes | noticed | equal | lived |\n|---|---|---|---|---|")
    for room, counts in sorted(rooms.items()):
        total = sum(counts.values())
        noticed = counts["noticed"] / max(total - counts["equal"], 1)
        lived = counts["lived"] + counts["no test"]
        short |= noticed < 0.9
        print(f"| {room} | {total} | {100 * noticed:.0f} % | {counts['equal']} | {lived} |")
    return int(short)


if __name__ == "__main__":
    sys.exit(main())
