"""The main job on the stand-in, end to end, with the truth hidden from the map."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from typing import Any

import numpy as np

from ventmap.core.basics import BadInput, require_between, under_load
from ventmap.core.corrections import CorrectionRules, apply, propose
from ventmap.core.forms import Calibration, Identity
from ventmap.core.logs import Log
from ventmap.link import wire
from ventmap.link.loader import write_image
from ventmap.link.logger import USUAL, capture, plan_for, to_log
from ventmap.link.tester import Tester

from . import bench


@dataclass(frozen=True)
class Round:
    """State of the map in a round, by the stand-in's truth.

    `within_3pct`: share of driven cells, weighted by time, whose true mixture error is within 3 %.
    `worst_cell`:
    largest error of a driven cell. `leanest_under_load`: worst lack of fuel in a driven cell under load.
    `changed`:
    scalars and cells that the round's map changed.
    """

    round: int
    within_3pct: float
    worst_cell: float
    leanest_under_load: float
    changed: int


def rehearse(
    *,
    seed: int,
    ve_error: float,
    flow_error: float,
    dead_time_error_ms: float,
    rounds: int,
    vehicle_key: str | None = None,
    more: Mapping[str, float] | None = None,
) -> list[Round]:
    """Load, log, propose, accept, load again.

    Parameters
    ----------
    seed : int
    ve_error, flow_error : float
        Peak error of filling, and error of flow (fractions).
    dead_time_error_ms : float
    rounds : int
        Rounds of correction; the result has one entry more, for the base map.
    vehicle_key : str, optional
        A vehicle of the sample shop; the two-litre four of the rehearsals where absent.
    more : mapping, optional
        Other faults by name, with their size.

    Raises
    ------
    BadInput
        For a diesel, whose mixture has no target; for a vehicle or fault that is not known.
    """
    require_between(0.0, 0.5, ve_error=abs(ve_error))
    require_between(0.0, 0.5, flow_error=abs(flow_error))
    require_between(0.0, 0.6, dead_time_error=abs(dead_time_error_ms))
    require_between(0, 20, rounds=rounds)
    faults = {"ve_error": ve_error, "flow_error": flow_error, "dead_time_error_ms": dead_time_error_ms}
    faults |= more or {}
    if vehicle_key is None:
        calibration = bench.rehearsal_map(Identity("T20", "VM-P4", "rehearsal"))
    else:
        make_vehicle(vehicle_key, seed, faults)  # refuses what is not known before anything runs
        calibration = bench.yard_map(vehicle_key, seed)
    history: list[Round] = []
    changed = 0
    for number in range(rounds + 1):
        vehicle = make_vehicle(vehicle_key, seed, faults)
        load(vehicle, calibration)
        log, truth = drive(vehicle)
        history.append(judge(number, calibration, truth, vehicle.truth.barometer_kpa, changed))
        if number == rounds:
            break
        told = CorrectionRules(barometer_kpa=vehicle.truth.barometer_kpa, probe=bench.probe_on(vehicle_key))
        proposal = propose(log, calibration, told)
        changed = int(proposal.changed.sum()) + len(proposal.scalars)
        calibration = apply(calibration, proposal)
    return history


def make_vehicle(key: str | None, seed: int, faults: Mapping[str, float]) -> bench.PretendVehicle:
    """The vehicle of a rehearsal, with an empty computer."""
    if key is None:
        return bench.rehearsal_vehicle(seed, faults)
    vehicle = bench.yard_vehicle(key, seed=seed, faults=faults, stock=False)
    if vehicle.truth.build.burn.kind == "diesel":
        raise BadInput("A diesel has no mixture target: its map is not corrected by lambda.", "vehicle")
    return vehicle


def load(vehicle: bench.PretendVehicle, calibration: Calibration) -> None:
    """Write a map over the protocol and restart the computer."""
    tester = Tester(bench.DirectLine(vehicle))
    for _ in write_image(tester, calibration.image(wire.FLASH_SIZE)):
        pass
    tester.ask("ecu_reset", 1)


def drive(vehicle: bench.PretendVehicle) -> tuple[Log, np.ndarray]:
    """Drive the fuel route unwatched; the log, and the truth as rows of (rpm, kPa, error)."""
    truth: list[tuple[float, float, float]] = []

    def watch(engine: Any) -> None:
        if engine.command.pulse_ms > 0 and engine.rpm > 500 and engine.coolant > 75:
            truth.append((engine.rpm, engine.manifold, engine.true_error))

    line = bench.DirectLine(vehicle, vehicle.drive(bench.fuel_route_of(vehicle.truth)), watch)
    rows = []
    for row in capture(Tester(line), plan_for(USUAL)):
        rows.append(row)
        if line.ended:
            break
    return to_log(rows, "rehearsal"), np.array(truth)


def judge(number: int, calibration: Calibration, truth: np.ndarray, barometer: float, changed: int) -> Round:
    """Hold the map against the truth, cell by cell, weighted by the time spent in each."""
    table = calibration.tables["ve"]
    weights = table.weights(truth[:, 0], truth[:, 1])
    cell = weights.row * len(table.x) + weights.column
    size = table.values.size
    time = np.bincount(cell.ravel(), weights.share.ravel(), minlength=size)
    summed = np.bincount(cell.ravel(), (weights.share * truth[:, 2]).ravel(), minlength=size)
    driven = time > 0.001 * time.sum()
    error = np.where(driven, summed / np.maximum(time, 1e-9), 0.0)
    load_rows = np.repeat(under_load(table.y, barometer), len(table.x))
    within = float(time[driven & (np.abs(error) <= 0.03)].sum() / time[driven].sum())
    leanest = float(error[driven & load_rows].max(initial=0.0))
    return Round(
        number,
        round(within, 4),
        worst_cell=round(float(np.abs(error).max()), 4),
        leanest_under_load=round(leanest, 4),
        changed=changed,
    )


def as_document(history: list[Round]) -> dict[str, Any]:
    return {"rounds": [asdict(entry) for entry in history]}
