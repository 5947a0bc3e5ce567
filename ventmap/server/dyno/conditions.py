"""How a run was made: from what was typed to core, and back."""

from __future__ import annotations

from typing import Any

from ventmap.core.basics import BadInput, parse_field, standard_pressure
from ventmap.core.drum import USUAL_HUMIDITY, RunConditions

from ..jobs.assemble import tank
from ..jobs.models import Job
from .models import Run

BENCH_DRUM = "bench drum"


def typed_conditions(job: Job, typed: dict[str, str]) -> RunConditions:
    """Conditions of a run as a person typed them, each with its unit.

    A barometer left empty is taken from the altitude, a humidity left empty as usual: both are told as taken.

    Raises
    ------
    BadInput
        Naming the field.
    """
    if not typed["gear"].strip().isdigit():
        raise BadInput("Enter the gear of the run as a whole number, like 3.", "gear")
    if not typed["intake"].strip():
        raise BadInput(
            "Enter the intake air of the run: without it no run is held against another.", "intake"
        )
    read = {
        name: parse_field(name, typed[name], quantity, unit) if typed[name].strip() else None
        for name, quantity, unit in (
            ("intake", "temperature", "°C"),
            ("barometer", "pressure", "kPa"),
            ("humidity", "fraction", "%"),
            ("tyres", "pressure", "kPa"),
        )
    }
    taken = tuple(name for name in ("barometer", "humidity") if read[name] is None)
    return RunConditions(
        typed["drum"],
        int(typed["gear"]),
        intake_c=read["intake"] or 0.0,
        barometer_kpa=standard_pressure(job.altitude_m) if read["barometer"] is None else read["barometer"],
        humidity=USUAL_HUMIDITY if read["humidity"] is None else read["humidity"],
        fuel=typed["fuel"].strip() or tank(job),
        ramp=typed["ramp"],
        tyre_kpa=read["tyres"],
        taken=taken,
        measured=typed.get("measured", "").strip(),
    )


def conditions_of(run: Run) -> RunConditions:
    told = run.conditions
    return RunConditions(
        told.get("drum") or (BENCH_DRUM if run.samples else "another drum"),
        run.gear,
        intake_c=run.intake_c,
        barometer_kpa=run.pressure_kpa,
        humidity=run.humidity,
        fuel=told.get("fuel", ""),
        ramp=told.get("ramp", ""),
        tyre_kpa=told.get("tyre_kpa"),
        taken=tuple(told.get("taken", ())),
        measured=told.get("measured", ""),
    )


def columns(made: RunConditions) -> dict[str, Any]:
    """Conditions as the columns of a run."""
    return {
        "gear": made.gear,
        "pressure_kpa": round(made.barometer_kpa, 2),
        "intake_c": round(made.intake_c, 2),
        "humidity": round(made.humidity, 4),
        "conditions": {
            "drum": made.drum.strip(),
            "fuel": made.fuel,
            "ramp": made.ramp.strip(),
            "tyre_kpa": made.tyre_kpa,
            "taken": list(made.taken),
            "measured": made.measured,
        },
    }
