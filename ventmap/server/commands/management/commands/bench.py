"""Measure what the shop waits for, beside a yardstick taken in the same run."""

from __future__ import annotations

import platform
import resource
import subprocess
import sys
import time
from collections.abc import Callable
from functools import partial
from typing import Any

import numpy as np
import polars as pl
from django.contrib.auth.models import User
from django.core.management.base import BaseCommand

from ventmap.core.findings import ReviewContext, review
from ventmap.core.forms import Identity
from ventmap.core.logs import read_log
from ventmap.link import wire
from ventmap.link.loader import write_image
from ventmap.link.port import Port
from ventmap.link.tester import Tester
from ventmap.server import bench, rehearsal
from ventmap.server.drives import drive
from ventmap.server.jobs.assemble import run_sheet
from ventmap.server.jobs.models import Job
from ventmap.server.logs import services, store

ROWS = 1_000_000


class Command(BaseCommand):
    help = "Measure imports, reviews, views, the stand-in and a write."

    def handle(self, *args: Any, **options: Any) -> None:
        self.stdout.write(
            f"{platform.machine()}, {platform.python_implementation()} {platform.python_version()}\n\n| what"
            " | measured | wanted |\n|---|---|---|"
        )
        by = User.objects.first()
        assert by is not None
        vehicle = bench.rehearsal_vehicle(1, {})
        rehearsal.load(vehicle, bench.rehearsal_map(Identity("T20", "VM-P4", "bench")))
        seconds, (log, _) = self._time(lambda: rehearsal.drive(vehicle))
        self._row("stand-in, unwatched and logged", f"{log.duration_s / seconds:.0f}× real time", "≥ 50×")
        self._yard()
        path = store.folder() / "bench.csv"
        names = list(log.channels)
        times = -(-ROWS // len(log))
        columns = {
            store.heading(n): np.tile(np.round(log.filled(n).astype(float), 3), times)[:ROWS] for n in names
        }
        extra = {
            f"Other {k}": np.round(np.random.default_rng(k).normal(50, 9, ROWS), 3)
            for k in range(24 - len(names))
        }
        pl.DataFrame({"Time (s)": np.arange(ROWS) * 0.05, **columns, **extra}).write_csv(
            path, float_precision=3
        )
        bare, frame = self._time(lambda: pl.read_csv(path))
        del frame
        file = path.read_bytes()
        taken = min(self._time(lambda: read_log(file, "bench.csv"))[0] for _ in range(2))
        self._row(
            f"read 1 000 000 × 24 ({path.stat().st_size / 1e6:.0f} MB), named and in canonical units",
            f"{taken:.1f} s = {taken / bare:.1f}× bare read of {bare:.2f} s",
            "≤ 1.5×",
        )
        taken, row = self._time(lambda: services.bring(path, "bench.csv", by))
        self._row(
            "dropped: read apart, judged, packed and kept",
            f"{taken:.1f} s = {taken / bare:.1f}× the bare read",
            "≤ 2.5×",
        )
        script = (
            f"from ventmap.core.logs import read_log; read_log(open({str(path)!r}, 'rb').read(), 'a.csv')"
        )
        subprocess.run([sys.executable, "-c", script], check=True)
        most = resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss / 1e6
        self._row("peak memory of its reader", f"{most:.2f} GB", "≤ 1 GB")
        whole = store.load(row)
        taken, _ = self._time(lambda: review(whole, ReviewContext()))
        self._row("review of it", f"{taken:.2f} s = {taken / bare:.1f}× the bare read", "≤ 0.6×")
        ten = whole.slice(0, 12_000)
        self._row(
            "review of 10 min at 20 Hz",
            f"{self._time(lambda: review(ten, ReviewContext()))[0]:.3f} s",
            "≤ 0.2 s",
        )
        lanes = min(self._time(lambda: store.lanes(row, names[:8], 0, 50_000, 2000))[0] for _ in range(3))
        self._row("8 channels at 2 000 px", f"{1000 * lanes:.0f} ms", "≤ 60 ms")
        self._write()
        self._sheets()

    def _yard(self) -> None:
        """Every pretend vehicle, unwatched and logged; and how long the slowest takes to stand ready."""
        ready, speeds = 0.0, {}
        for key in bench.yard.vehicles():
            taken, _ = self._time(partial(bench.yard_vehicle, key, seed=1, faults={}, stock=True))
            ready = max(ready, taken)
            seconds, log = self._time(partial(drive, key, faults={}, minutes=2.0))
            speeds[key] = log.duration_s / seconds
        slowest, fastest = min(speeds, key=lambda key: speeds[key]), max(speeds.values())
        self._row(
            "the twelve pretend vehicles, unwatched and logged",
            f"{speeds[slowest]:.0f}× ({slowest}) to {fastest:.0f}× real time",
            "≥ 100×",
        )
        self._row("the slowest of them ready to start", f"{1000 * ready:.0f} ms", "≤ 1 s")

    def _sheets(self) -> None:
        """The run sheet of every sample job, from its rows; a job keeps the sheet it built, so each is
        fetched anew.
        """

        def built(pk: int) -> float:
            return self._time(lambda: run_sheet(Job.objects.get(pk=pk)))[0]

        slowest = max(min(built(pk) for _ in range(3)) for pk in Job.objects.values_list("pk", flat=True))
        self._row("run sheet of the slowest sample job", f"{1000 * slowest:.0f} ms", "≤ 50 ms")

    def _write(self) -> None:
        """A write of 256 KiB against the bare rate of the same ISO-TP link."""
        import threading

        import can

        size = wire.FLASH_SIZE
        ends = [
            Port(can.Bus(interface="virtual", channel="bench"), *ids)
            for ids in ((wire.REQUEST_ID, wire.RESPONSE_ID), (wire.RESPONSE_ID, wire.REQUEST_ID))
        ]
        stop = threading.Event()

        def echo() -> None:
            while not stop.is_set():
                if ends[1].receive(0.05) is not None:
                    ends[1].send(b"\x76\x01")

        threading.Thread(target=echo, daemon=True).start()

        def bare() -> None:
            for _ in range(4 * size // wire.BLOCK):
                ends[0].send(b"\x36\x01" + bytes(wire.BLOCK))
                ends[0].receive(10.0)

        rate = 4 * size / self._time(bare)[0]
        stop.set()
        vehicle = bench.rehearsal_vehicle(2, {})
        image = bench.rehearsal_map(Identity("T20", "VM-P4", "bench")).image(size)
        from ventmap.server.jobs.workshop import on_bus

        written, began, spent, first = 0, 0.0, 0.0, 0
        with on_bus(vehicle) as (tester, _):
            for _ in range(4):
                for progress in write_image(Tester(tester.line), image):
                    if progress.phase == "erase":
                        began = 0.0
                    elif progress.phase == "write" and not began:
                        began, first = time.perf_counter(), progress.done
                    elif progress.phase == "write" and progress.done == size:
                        written += size - first
                        spent += time.perf_counter() - began
        share = written / spent / rate
        self._row(
            "writing 256 KiB (four images), blocks alone",
            f"{100 * share:.0f} % of the bare link's {rate / 1000:.0f} kB/s",
            "≥ 80 %",
        )

    def _row(self, what: str, measured: str, wanted: str) -> None:
        self.stdout.write(f"| {what} | {measured} | {wanted} |")

    @staticmethod
    def _time(action: Callable[[], Any]) -> tuple[float, Any]:
        began = time.perf_counter()
        result = action()
        return time.perf_counter() - began, result
