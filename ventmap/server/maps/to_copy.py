"""The injectors' figures at this vehicle's pressure, in another program's axes and units."""

from __future__ import annotations

import re
from typing import Any, Literal

from django.http import HttpRequest
from ninja import Router, Schema

from ventmap.core.basics import BadInput, one_figure, standard_pressure
from ventmap.core.fuel import CopyAs, DeadTimeTable, dead_times_to_copy, flow_to_copy

from ..jobs.assemble import fuel, tank
from ..jobs.models import Job
from ..jobs.rows import injectors_of, job_by, vehicle_of

router = Router(tags=["figures to copy"])


class ToCopyOut(Schema):
    injectors: str
    fuel: str
    across_kpa: float
    flow: float
    """By volume on this fuel at this pressure [cm³/min]."""
    flow_lb_h: float
    mass_g_s: float
    density: float
    """Of the fuel in the tank [g/cm³]."""
    text: str
    """The dead times, axes and all; empty where the sheet has none."""
    beyond: int
    """Cells that lie beyond the sheet's own points, and are held at its edge."""
    cells: int


def _axis(text: str, name: str) -> list[float]:
    cells = [cell for cell in re.split(r"[\s;]+", text.strip()) if cell]
    found = [one_figure(cell) for cell in cells]
    if None in found:
        raise BadInput(f"“{text[:30]}”: type its points with blanks between, as 8 10 12 14.", name)
    return sorted({value for value in found if value is not None})


def to_copy(job: Job, volts: str, pressures: str, how: CopyAs) -> dict[str, Any]:
    """Flow and dead times to copy.

    Raises
    ------
    BadInput
        Where the injectors, their pressure or an axis are not known.
    """
    vehicle, injectors = vehicle_of(job), injectors_of(job)
    if injectors is None or job.injectors is None:
        raise BadInput("Choose the injectors in Plan first: the figures are theirs.", "injectors")
    if vehicle.fuel_pressure_kpa is None:
        raise BadInput("The fuel pressure of this vehicle is not known yet: Plan asks it.", "fuel_pressure")
    across = vehicle.fuel_pressure_kpa
    flow = flow_to_copy(injectors.flow, injectors.rated_kpa, injectors.test_fluid, across, fuel(job))
    known = injectors.dead_time
    told = {"text": "", "beyond": 0, "cells": 0}
    if known is not None:
        table = DeadTimeTable(known.voltages, known.pressures_kpa, known.ms)
        axes = _axis(volts, "volts"), _axis(pressures, "pressures")
        told = vars(dead_times_to_copy(table, *axes, standard_pressure(job.altitude_m), how))
    return {
        "injectors": job.injectors.name,
        "fuel": tank(job),
        "across_kpa": across,
        "flow": flow.volume,
        "flow_lb_h": flow.pounds,
        "mass_g_s": flow.mass,
        "density": flow.density,
        **told,
    }


@router.get("/jobs/{number}/figures-to-copy", response=ToCopyOut)
def figures_to_copy(
    request: HttpRequest,
    number: str,
    volts: str = "",
    pressures: str = "",
    rows: Literal["volts", "pressure"] = "volts",
    unit: Literal["ms", "µs"] = "ms",
    pressure: Literal["across", "absolute"] = "across",
    decimal: Literal[".", ","] = ".",
    between: Literal["tab", ";", ","] = "tab",
) -> Any:
    """The injectors' figures, to copy into another program."""
    how = CopyAs(rows=rows, unit=unit, pressure=pressure, decimal=decimal, between=between)
    return to_copy(job_by(number), volts, pressures, how)
