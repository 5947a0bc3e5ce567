"""Writes that are cut, at random: what the computer is left as, and that each has a way on or back."""

from __future__ import annotations

import random
from collections import Counter
from dataclasses import replace

from tests.conftest import make_base_map
from ventmap.core.basics import VentMapError
from ventmap.core.forms import Calibration
from ventmap.core.loading import Cut, ways_on
from ventmap.link import wire
from ventmap.link.loader import LoadStopped, Progress, write_image
from ventmap.link.tester import Tester
from ventmap.server import bench
from ventmap.standin.flashing import LinkDropped
from ventmap.standin.vehicle import PretendVehicle

CAR = "corvane-estate-20"


def cut(vehicle: PretendVehicle, image: bytes, block: int, how: str) -> Cut:
    """A write that ends at a block: link lost, battery fallen, stopped by somebody, or the server gone."""
    reached = Progress("erase", 0, len(image))

    def stopped() -> bool:
        return how == "stopped" and reached.done >= block * wire.BLOCK

    tester = Tester(bench.DirectLine(vehicle))
    try:
        for reached in write_image(tester, image, stopped):
            if reached.phase == "write" and reached.done >= block * wire.BLOCK:
                if how == "battery":
                    vehicle.engine.volts = 10.0
                elif how == "link":
                    raise LinkDropped
                elif how == "killed":
                    break
    except (LinkDropped, LoadStopped):
        pass
    if how == "battery":
        vehicle.engine.volts = 12.6
    written = {"erase": 0, "write": reached.done}.get(reached.phase, len(image))
    return Cut(reached.phase, written, len(image))


def cuts(count: int, seed: int = 5) -> tuple[Counter[str], list[str]]:
    """So many cut writes, each taken on or back at random: (ways taken, faults).

    A fault is a computer that runs, or says that it is whole, after a cut; or a way that does not end in the
    image that it promised.
    """
    drawn, taken, faults = random.Random(seed), Counter[str](), []
    wanted, before = make_base_map(), replace(make_base_map(), name="before")
    for number in range(count):
        fault = _one(drawn, wanted, before, taken)
        if fault:
            faults.append(f"cut {number}: {fault}")
    return taken, faults


def _one(drawn: random.Random, wanted: Calibration, before: Calibration, taken: Counter[str]) -> str:
    image, old = (one.image(wire.FLASH_SIZE) for one in (wanted, before))
    vehicle = bench.yard_vehicle(CAR, seed=3, faults={}, stock=False)
    list(write_image(Tester(bench.DirectLine(vehicle)), old))
    how = drawn.choice(["link", "battery", "stopped", "killed"])
    block = drawn.randrange(1, len(image) // wire.BLOCK)
    left = cut(vehicle, image, block, how)
    if vehicle.memory.whole or vehicle.engine.runtime is not None:
        return f"{how} at block {block}: it is shown as loaded"
    vehicle.computer.power(False)
    vehicle.computer.power(True)
    if vehicle.engine.runtime is not None:
        return f"{how} at block {block}: it runs after a power-off"
    ways = [way.key for way in ways_on("plug-in ECU", left, saved=True, linked=True)]
    if ways[-1] != "bench" or "restart" not in ways:
        return f"{how} at block {block}: no way back"
    way = drawn.choice(ways[:-1])
    taken[f"{how}, {way}"] += 1
    back = old if way == "stock" else image
    try:
        tester = Tester(bench.DirectLine(vehicle))
        list(write_image(tester, back, resume_at=left.written if way == "resume" else 0))
    except VentMapError as error:
        return f"{how} at block {block}, {way}: {error.sentence}"
    if not vehicle.memory.whole or bytes(vehicle.memory.flash) != back:
        return f"{how} at block {block}, {way}: not what was promised"
    return ""
