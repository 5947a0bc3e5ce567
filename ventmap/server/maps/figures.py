"""Injector figures, set in the newest map of the computer that is written from here."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from django.contrib.auth.models import User

from ventmap.core.basics import BadInput, Call
from ventmap.core.forms import Lineage, out_of_range
from ventmap.core.fuel import DeadTimeTable, beyond_call, figures_call, require_figures
from ventmap.core.maps import tank_call, with_tank

from ..jobs import ledger
from ..jobs.acting import changes_job
from ..jobs.assemble import fuel
from ..jobs.models import Job
from ..jobs.steps import finish
from .judged import settle
from .models import MapVersion
from .parts import main_part
from .services import calibration_of, keep, newest, next_number


@changes_job
def set_parameters(
    job: Job,
    flow: float,
    rated_kpa: float,
    pressure_kpa: float,
    table: dict[str, Any],
    anyway: bool,
    by: User,
) -> tuple[MapVersion | None, list[Call]]:
    """Set injector figures in the newest map. Slips in the dead-time table hold the step back unless
    overruled.
    """
    require_figures(flow, rated_kpa, pressure_kpa)
    base = newest(job)
    calibration = calibration_of(base)
    dead = DeadTimeTable(table["voltages"], table["pressures_kpa"], table["ms"])
    calls = dead.problems()
    beyond = beyond_call(dead, pressure_kpa)
    calls += [beyond] if beyond else []
    if calls and not anyway:
        return None, calls
    changed = with_tank(
        calibration.with_scalars(
            injector_flow=flow, injector_rated_kpa=rated_kpa, fuel_pressure_kpa=pressure_kpa
        ).with_dead_time(dead),
        fuel(job),
    )
    beyond_range = out_of_range(changed)
    if beyond_range:
        raise BadInput(f"The map cannot be: {beyond_range[0].sentence}", beyond_range[0].item)
    number = next_number(job, base)
    changed = replace(
        changed,
        lineage=Lineage(
            number,
            calibration.sha256,
            round=base.round,
            note="injector figures set",
            author=by.username,
        ),
    )
    version = (
        base if changed.same_figures(calibration) else keep(job, changed, by, base, "injector figures set")
    )
    ledger.withdraw(job, "base-map", "injector.")
    ledger.judge(
        job,
        "base-map",
        [
            figures_call(flow, rated_kpa, pressure_kpa, dead),
            tank_call(changed, fuel(job)),
            *calls,
        ],
        by,
    )
    finish(job, "base-map.flow", by)
    finish(job, "base-map.dead_time", by)
    settle(job, main_part(job), by)
    return version, calls
