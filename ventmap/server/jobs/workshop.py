"""A job's vehicle at the bench: building it, keeping its computers' memory, talking to it."""

from __future__ import annotations

import itertools
import threading
from collections.abc import Iterator, Sequence
from contextlib import contextmanager

from ventmap.core.basics import BadInput, Computer, Injector
from ventmap.core.forms import Calibration
from ventmap.link.tester import Tester
from ventmap.link.transport import BusLine

from .. import bench
from ..shelf.services import record_of
from .models import Job, PretendComputer
from .rows import device_of, injectors_of, shelf, vehicle_of

_channels = itertools.count(1)
_busy_lock = threading.Lock()
_busy: dict[int, str] = {}


class LineBusy(BadInput):
    """The one line to a vehicle is in use."""


@contextmanager
def line_taken(job_id: int, purpose: str) -> Iterator[None]:
    """Hold the one line to a job's vehicle; a second user is told who has it."""
    with _busy_lock:
        if job_id in _busy:
            raise LineBusy(
                f"The line to this vehicle is in use: {_busy[job_id]}. Wait for it or stop it.", "link"
            )
        _busy[job_id] = purpose
    try:
        yield
    finally:
        with _busy_lock:
            _busy.pop(job_id, None)


def need_engine(job: Job) -> None:
    """Refuse what needs a running engine where the pretend vehicle has a computer only.

    Raises
    ------
    BadInput
        Saying what to bring instead.
    """
    # Another engine never stands in for one that is not here: its log would be a false record.
    if not vehicle_of(job).bench_engine or not bench.has_engine(job.vehicle.key):
        raise BadInput(
            f"The vehicle at this bench has a computer to read and no engine to run as {job.vehicle.name}. "
            "Bring a log file or the drum's own CSV instead.",
            "link",
        )


def setup_of(job: Job, which: str) -> bench.Setup:
    """What the stand-in needs to know of a job; before the kit is chosen there is the stock side alone."""
    if which == "kit":
        if job.device is None or job.injectors is None:
            raise BadInput(
                f"Choose the {'device' if job.device is None else 'injectors'} in Plan first.", "kit"
            )
        need_engine(job)
        if not isinstance(device_of(job), Computer):
            raise BadInput(
                f"{job.device.name} is no computer that answers at this bench: read and clear it with its own"
                " tool, and enter what that shows.",
                "link",
            )
    body = vehicle_of(job)
    if not body.stock_injectors:
        raise BadInput(
            f"No computer at this bench answers as {job.vehicle.name}: read it with your own tester and enter"
            " what it shows.",
            "link",
        )
    stock = record_of(shelf("injector", body.stock_injectors), Injector)
    return bench.Setup(
        vehicle_key=job.vehicle.key,
        vehicle=body,
        device=device_of(job),
        stock_injectors=stock,
        kit_injectors=injectors_of(job) or stock,
        vin=job.vin,
        altitude_m=job.altitude_m,
        ethanol=job.ethanol,
        ron=job.ron or 95.0,
    )


def beside(job: Job, maps: Sequence[Calibration], *, warm: bool) -> bench.PretendVehicle:
    """The job's vehicle on its stock computer, with options written over it and boxes beside it."""
    car = vehicle(job, "stock", warm=warm, kit_on=True)
    bench.fit_boxes(car, maps)
    return car


def vehicle(job: Job, which: str, *, warm: bool, kit_on: bool = False) -> bench.PretendVehicle:
    """The job's vehicle with the memory its computer had when it was last switched off; `kit_on`: whether
    the kit works beside the stock computer.
    """
    setup = setup_of(job, which)
    setup.beside = kit_on
    row = PretendComputer.objects.filter(job=job, which=which).first()
    if row is None:
        row = PretendComputer.objects.create(
            job=job, which=which, memory=bench.new_memory(setup, which).to_document()
        )
    memory = bench.Memory.from_document(row.memory)

    def remember() -> None:
        PretendComputer.objects.filter(pk=row.pk).update(memory=memory.to_document())

    return bench.build_vehicle(setup, which, memory, warm=warm, run=next(_channels), remember=remember)


def deliver_used(job: Job, inside: Calibration) -> None:
    """The kit's computer arrives with somebody's map in it, before anybody here touched it."""
    memory = bench.new_memory(setup_of(job, "kit"), "kit")
    memory.flash[:] = inside.image(len(memory.flash))
    memory.whole = True
    memory.identity["calibration"] = inside.identity.calibration
    PretendComputer.objects.create(job=job, which="kit", memory=memory.to_document())


@contextmanager
def direct(job: Job, which: str, *, warm: bool) -> Iterator[tuple[Tester, bench.PretendVehicle]]:
    """A tester on the job's vehicle, unwatched: time runs as fast as it can."""
    car = vehicle(job, which, warm=warm)
    with line_taken(job.pk, "a read"):
        yield Tester(bench.DirectLine(car)), car


@contextmanager
def unwatched(car: bench.PretendVehicle) -> Iterator[tuple[Tester, None]]:
    """A tester on a vehicle whose line is held already; time runs as fast as it can."""
    yield Tester(bench.DirectLine(car)), None


@contextmanager
def on_bus(
    car: bench.PretendVehicle, driving: Iterator[bench.Leg] | None = None
) -> Iterator[tuple[Tester, bench.BusVehicle]]:
    """A tester on a vehicle in true time, over CAN."""
    channel = f"ventmap-{next(_channels)}"
    with bench.BusVehicle(car, channel, driving) as node:
        line = BusLine(channel)
        try:
            yield Tester(line), node
        finally:
            line.close()
