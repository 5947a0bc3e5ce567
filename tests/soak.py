"""What `bin/bench --soak` prints: kills and losses, odd requests, upload peaks, a full disk, load.

Each part is a function of its size: `tests/browser/test_soak.py` runs a short form.
"""

from __future__ import annotations

import io
import json
import os
import random
import signal
import statistics
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np
import polars as pl
from PIL import Image

from tests.browser.conftest import SERVERS, served
from tests.browser.remote import Remote
from tests.cuts import cuts

MB = 10**6


def percentile(values: list[float], share: float) -> float:
    return statistics.quantiles(values, n=100, method="inclusive")[round(100 * share) - 1] if values else 0.0


@contextmanager
def shop(folder: Path | None = None, sample: bool = True) -> Iterator[str]:
    """A server of its own with the sample shop."""
    with tempfile.TemporaryDirectory() as made, served(folder or Path(made), sample) as base:
        yield base


# -- load ---------------------------------------------------------------------------------------------------


@dataclass
class Load:
    """Times of requests [ms], and those that were no answer."""

    times: list[float] = field(default_factory=list)
    errors: list[str] = field(default_factory=list)
    busy: int = 0

    def answered(self, status: int, told: object) -> None:
        """*Busy, try again* in words is an answer, if not the one that was wanted."""
        words = told.get("sentence", "") if isinstance(told, dict) else told if isinstance(told, str) else ""
        if status == 503 and words:
            self.busy += 1
        elif status >= 500:
            self.errors.append(f"{status} {words}")

    @property
    def p95(self) -> float:
        return percentile(self.times, 0.95)


#: What each slat of a job asks for.
SLATS = (
    "plan",
    "kit",
    "parts",
    "baseline",
    "map-parts",
    "load-history",
    "cold-starts",
    "runs",
    "photos",
    "sums",
)


def load(base: str, sessions: int, think_s: float, seconds: float) -> Load:
    """People at tablets, each at a job: floor, slats, readings, notes, now and then a log; and every screen
    asks all the time whether somebody else changed its job.
    """
    told, lock = Load(), threading.Lock()
    tablets = [Remote(base, ("lead", "installer")[n % 2]) for n in range(sessions)]
    ends, log = time.monotonic() + seconds, road(600, 6)

    def person(number: int) -> None:
        chance, api, job = random.Random(number), tablets[number], f"jobs/{1 + number % 6:04d}"
        time.sleep(chance.random() * think_s)

        def read_something() -> object:
            key = chance.choice(["intake.battery", "intake.plugs", "load.battery"])
            return api.post(f"{job}/steps/{key}/done", {"reading": "12.6 V"})

        def act() -> object:
            what = chance.random()
            if what < 0.15:
                return api.get("jobs")
            if what < 0.45:
                return api.get(job)
            if what < 0.8:
                return api.get(f"{job}/{chance.choice(SLATS)}")
            if what < 0.88:
                return read_something()
            if what < 0.98:
                return api.post(f"{job}/notes", {"text": f"seen by {number}", "stage": "fit"})
            return send(api, f"road {number} {chance.random()}.csv", log)

        def timed(done: Callable[[], object]) -> None:
            began = time.monotonic()
            answer = done()
            took = 1000 * (time.monotonic() - began)
            with lock:
                told.times.append(took)
                told.answered(api.status, answer)

        while time.monotonic() < ends:
            timed(act)
            thinks = time.monotonic() + think_s * (0.5 + chance.random())
            while time.monotonic() < thinks:
                revision = api.get(f"{job}/revision")
                told.answered(api.status, revision)
                time.sleep(max(0.0, min(1.5, thinks - time.monotonic())))

    people = [threading.Thread(target=person, args=(n,)) for n in range(sessions)]
    for one in people:
        one.start()
    for one in people:
        one.join()
    return told


def floor(base: str, jobs: int) -> float:
    """Median of the floor's jobs with so many of them [ms]."""
    api = Remote(base)
    have = len(api.get("jobs"))
    for number in range(max(0, jobs - have)):
        api.post("jobs", {"vehicle": "corvane-estate-20", "registration": f"S{number}", "owner": "Dag"})
    times = []
    for _ in range(9):
        began = time.monotonic()
        api.get("jobs")
        times.append(1000 * (time.monotonic() - began))
    return statistics.median(times)


# -- uploads ------------------------------------------------------------------------------------------------


def resident(pid: int) -> int:
    try:
        return int(Path(f"/proc/{pid}/statm").read_text().split()[1]) * os.sysconf("SC_PAGE_SIZE")
    except (OSError, IndexError):
        return 0


@contextmanager
def watched(pid: int) -> Iterator[list[int]]:
    """The most that a process holds meanwhile [bytes], as the one item of a list."""
    most, stop = [0], threading.Event()

    def look() -> None:
        while not stop.wait(0.05):
            most[0] = max(most[0], resident(pid))

    thread = threading.Thread(target=look)
    thread.start()
    try:
        yield most
    finally:
        stop.set()
        thread.join()


def road(rows: int, columns: int = 24) -> bytes:
    """A log of so many rows."""
    time_s = np.arange(rows) * 0.05
    frame = {
        "Time (s)": time_s,
        "Engine Speed (rpm)": 2000 + 500 * np.sin(time_s),
        "MAP (kPa)": 60 + 0 * time_s,
    }
    frame |= {f"Other {k}": np.round(np.cos(time_s * k), 3) for k in range(columns - 3)}
    return pl.DataFrame(frame).write_csv(float_precision=3).encode()


def odd_files() -> dict[str, bytes]:
    """Small files that ask for much, and a large one that holds nothing."""
    wide, rows = io.BytesIO(), io.BytesIO()
    pl.DataFrame({f"c{n}": [0] for n in range(20_000)}).write_parquet(wide)
    pl.DataFrame({c: np.zeros(150_000_000, np.int8) for c in ("Time", "rpm")}).write_parquet(rows)
    return {
        "20 000 columns.parquet": wide.getvalue(),
        "300 million cells.parquet": rows.getvalue(),
        "8 000 of one name.csv": (
            ",".join(["rpm"] * 8_000) + "\n" + (",".join(["1"] * 8_000) + "\n") * 40
        ).encode(),
        "a clock that falls.csv": b"Time (s),rpm\n"
        + b"".join(b"%d,900\n" % (200_000 - n) for n in range(200_000)),
        "words.csv": b"Time,RPM\n0,1\n1,2\n" + b"lorem ipsum, dolor sit\n" * 4_000_000,
    }


def send(api: Remote, name: str, data: bytes) -> str:
    told = api.call("PUT", f"logs?name={name.replace(' ', '%20')}", data, "application/octet-stream")
    return told.get("sentence", "read") if isinstance(told, dict) else str(told)[:80]


def uploads(base: str, rows: int, at_once: int) -> list[tuple[str, float, float, float, float]]:
    """(what, seconds, most memory of the server [MB], p95 and slowest of other requests [ms]) of each."""
    pid, found = SERVERS[base], []

    def measured(what: str, acts: list[Callable[[], object]]) -> None:
        slow, stop = [], threading.Event()

        def others() -> None:
            api = Remote(base, "installer")
            while not stop.wait(0.05):
                began = time.monotonic()
                api.get("jobs/0001")
                slow.append(1000 * (time.monotonic() - began))

        beside = threading.Thread(target=others)
        beside.start()
        began = time.monotonic()
        with watched(pid) as most:
            threads = [threading.Thread(target=act) for act in acts]
            for thread in threads:
                thread.start()
            for thread in threads:
                thread.join()
        took = time.monotonic() - began
        stop.set()
        beside.join()
        found.append(
            (
                what,
                took,
                most[0] / MB,
                percentile(slow, 0.95) if len(slow) > 1 else 0.0,
                max(slow, default=0.0),
            )
        )

    api = Remote(base)
    for name, data in odd_files().items():
        measured(name, [lambda name=name, data=data: send(api, name, data)])
    data = road(rows)
    people = [Remote(base) for _ in range(at_once)]
    measured(
        f"{at_once} logs of {rows} rows",
        [lambda api=p, n=n: send(api, f"road {n}.csv", data) for n, p in enumerate(people)],
    )
    out = io.BytesIO()
    Image.linear_gradient("L").resize((9_000, 6_600)).convert("RGB").save(out, "JPEG", quality=60)
    picture = out.getvalue()
    measured(
        f"{at_once + 1} pictures of 59 MP",
        [
            lambda n=n: Remote(base).call(
                "PUT", f"jobs/0001/photos?name=p{n}.jpg", picture, "application/octet-stream"
            )
            for n in range(at_once + 1)
        ],
    )
    return found


# -- kills --------------------------------------------------------------------------------------------------


def kills(times: int, seed: int = 1) -> tuple[int, int, int]:
    """(writes acknowledged, of them lost, starts that failed) over so many kills of a working server."""
    chance, lost = random.Random(seed), 0
    with tempfile.TemporaryDirectory() as folder:
        data, said, failed = Path(folder), [], 0
        with served(data, sample=True):
            pass
        for number in range(times):
            try:
                with served(data, sample=False) as base:
                    api, ends = Remote(base), time.monotonic() + 60.0
                    kept = {e["title"] for e in ledger(api)}
                    lost += len([text for text in said if text not in kept])
                    said = [text for text in said if text in kept]

                    told = (api, f"kill {number}", ends, said)
                    writing = threading.Thread(target=_notes, args=told)
                    writing.start()
                    # Killed after so many acknowledged writes, however slow the machine is.
                    enough = len(said) + chance.randint(6, 25)
                    while len(said) < enough and time.monotonic() < ends:
                        time.sleep(0.001)
                    os.kill(SERVERS[base], signal.SIGKILL)
                    writing.join()
            except AssertionError:
                failed += 1
        with served(data, sample=False) as base:
            kept = {e["title"] for e in ledger(Remote(base))}
            lost += len([text for text in said if text not in kept])
    return len(said), lost, failed


def cut_capture(seconds: float) -> tuple[float, dict, str]:
    """A server killed while it captures a log in true time: seconds that were seen of it, the log that stands
    after the next start, and what the job is told.
    """
    with tempfile.TemporaryDirectory() as folder:
        data = Path(folder)
        with suppress(AssertionError), served(data, sample=True) as base:
            api = Remote(base)
            api.post("jobs/0001/captures", {"watched": True, "baseline": True})
            assert api.status == 200, api.status
            while (seen := api.get("jobs/0001/captures/current"))["at_s"] < seconds:
                assert seen["state"] == "running", seen
            os.kill(SERVERS[base], signal.SIGKILL)
        with served(data, sample=False) as base:
            api = Remote(base)
            logs = api.get("logs?job=0001&baseline=true")
            told = next(line["text"] for line in ledger(api) if line["title"] == "Cut short: capture")
            assert not list((data / "captures").glob("*"))
            return seen["at_s"], api.get(f"logs/{logs[0]['id']}") if logs else {}, told


def _notes(api: Remote, what: str, ends: float, said: list[str]) -> None:
    """Write notes until the server is gone; those that it acknowledged are said."""
    count = 0
    with suppress(Exception):
        while time.monotonic() < ends:
            text = f"{what} note {count}"
            api.post("jobs/0001/notes", {"text": text, "stage": "fit"})
            if api.status == 200:
                said.append(text)
            count += 1


def ledger(api: Remote) -> list[dict]:
    """Every line of a job's ledger."""
    return api.get("jobs/0001/ledger")


# -- a full disk --------------------------------------------------------------------------------------------


def full_disk(size_mb: int = 40) -> list[str]:
    """What is answered on a disk without room, and after room was made; empty where none may be mounted."""
    with tempfile.TemporaryDirectory() as folder:
        mount = ["mount", "-t", "tmpfs", "-o", f"size={size_mb}M", "tmpfs", folder]
        if subprocess.run(mount, capture_output=True).returncode:
            return []
        try:
            told = []
            with served(Path(folder), sample=True) as base:
                api, filler = Remote(base), Path(folder) / "filler"
                data = road(4_000)
                told.append(f"with room: {send(api, 'road.csv', data)}")
                with suppress(OSError), filler.open("wb") as out:
                    while True:
                        out.write(b"\0" * 65_536)
                        out.flush()
                told.append(f"full, a log: {api.status} {send(api, 'road.csv', data)} [{api.status}]")
                note = api.post("jobs/0001/notes", {"text": "full", "stage": "fit"})
                told.append(f"full, a note: [{api.status}] {note.get('sentence', 'kept')}")
                api.get("jobs/0001")
                told.append(f"full, looking: [{api.status}]")
                filler.unlink()
                told.append(f"room again: {send(api, 'road.csv', data)}")
                orphans = api.get("health")["orphans"]
                told.append(f"files that belong to nothing: {orphans}")
            return told
        finally:
            subprocess.run(["umount", "-l", folder], capture_output=True)


# -- odd requests -------------------------------------------------------------------------------------------


def odd_requests(base: str, count: int, seed: int = 7) -> tuple[dict[int, int], list[str]]:
    """Statuses and faults of so many odd requests over the wire."""
    import django

    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "ventmap.server.settings")
    django.setup()
    from tests import fuzz
    from tests.server.test_fuzz import DOCUMENT, LEAVE

    people = {role: Remote(base, role or "nobody") for role in ("lead", "installer", "viewer", "")}

    def ask(asked: fuzz.Asked) -> tuple[int, bytes, str]:
        from urllib.parse import quote, urlencode

        path = quote(asked.path, safe="/%") + (f"?{urlencode(asked.query)}" if asked.query else "")
        api = people[asked.role]
        answer = api.call(asked.method.upper(), path, asked.body, asked.kind or "application/json")
        body = answer if isinstance(answer, bytes) else json.dumps(answer).encode()
        return api.status, body, "application/json" if not isinstance(answer, bytes) else ""

    statuses, faults = fuzz.run(ask, DOCUMENT, count, seed, LEAVE)
    return dict(statuses), faults


def main() -> None:
    began = time.monotonic()

    def say(line: str) -> None:
        print(f"[{time.monotonic() - began:5.0f} s] {line}", flush=True)

    written, lost, failed = kills(15)
    say(f"kills: 15; {written} writes acknowledged, {lost} lost, {failed} starts that failed")
    for line in full_disk() or ["no disk could be mounted here: skipped"]:
        say(f"full disk: {line}")
    with shop() as base:
        found = load(base, 20, 1.0, 60.0)
        told = f"{len(found.times)} requests, p95 {found.p95:.0f} ms, {found.busy} told busy,"
        told += f" {len(found.errors)} errors"
        say(f"load: 20 sessions, 60 s: {told}")
        for what, took, most, p95, slow in uploads(base, 1_000_000, 3):
            beside = f"other requests p95 {p95:.0f} ms, slowest {slow:.0f} ms"
            say(f"upload: {what}: {took:.1f} s, server {most:.0f} MB, {beside}")
        say(f"floor with 500 jobs: {floor(base, 500):.0f} ms")
    with shop() as base:
        statuses, faults = odd_requests(base, 50_000)
        say(f"odd requests: {sum(statuses.values())}, {statuses}, faults {len(faults)}")
        for fault in faults[:10]:
            say(fault)
    taken, wrong = cuts(200)
    say(f"cut writes: 200, {dict(taken)}, faults {len(wrong)}")
    for fault in wrong[:10]:
        say(fault)
    if lost or failed or faults or wrong:
        sys.exit(1)


if __name__ == "__main__":
    main()
