"""Runs held against each other."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
from django.contrib.auth.models import User

from ventmap.core.basics import (
    BadInput,
    Call,
    Floats,
    Verdict,
    after_call,
    baseline_call,
    standard_pressure,
)
from ventmap.core.drum import (
    STANDARDS,
    USUAL_HUMIDITY,
    VALID,
    Comparison,
    CorrectionFactor,
    DieselEngine,
    apart_of,
    between_days,
    compare,
    correction_factor,
    crank_range,
    diesel_engine,
    goal_call,
    same_conditions,
    standards_for,
    to_one_air,
)
from ventmap.core.fuel import bsfc_rule
from ventmap.core.runsheet import PARTS, Act, VehicleState, one_state

from ..jobs import gate, ledger
from ..jobs.acting import changes_job
from ..jobs.assemble import linked, rules, run_sheet, tank
from ..jobs.models import Job
from ..jobs.rows import vehicle_of
from ..jobs.steps import finish
from ..maps.loaded import in_computer
from .conditions import conditions_of
from .days import curve_of, one_day, unchanged_pairs
from .models import Run

COOLED_K = 3.0


def _diesel(job: Job) -> DieselEngine | None:
    """What a standard's diesel formula asks of this engine; None for spark ignition, or where a record of
    it is not known.
    """
    vehicle = vehicle_of(job)
    if vehicle.petrol:
        return None
    runs = job.runs.filter(counts=True).order_by("id")
    rpm = curve_of(runs[0]).peak_power[1] if runs else (vehicle.rev_limit or 4000.0)
    return diesel_engine(
        vehicle.power_kw,
        rules(job)[bsfc_rule(vehicle)],
        rpm,
        vehicle.displacement_cc,
        vehicle.boost_kpa,
        standard_pressure(job.altitude_m),
        vehicle.induction == "turbo",
    )


def _standards(job: Job) -> tuple[str, ...]:
    """Standards that may be chosen for this engine."""
    return standards_for(vehicle_of(job).petrol, _diesel(job))


def factors(job: Job) -> tuple[dict[int, float], CorrectionFactor]:
    """Each run's own factor, and the judgement to show: where one lies outside its standard, all are left as
    measured.
    """
    diesel = _diesel(job)
    standard = job.standard if job.standard in _standards(job) else "none"
    found = {
        run.pk: correction_factor(standard, run.pressure_kpa, run.intake_c, run.humidity, diesel)
        for run in job.runs.all()
    }
    outside = next((factor for factor in found.values() if not factor.valid), None)
    if outside is not None:
        return dict.fromkeys(found, 1.0), outside
    shown = next(iter(found.values()), None) or correction_factor(
        standard, standard_pressure(job.altitude_m), 20.0, USUAL_HUMIDITY, diesel
    )
    return {pk: factor.factor for pk, factor in found.items()}, shown


def compared(job: Job) -> Comparison:
    """Runs that count, after against before, each in its own air under one standard; as measured where that
    does not hold here.
    """
    used, _ = factors(job)
    sides = {when: list(job.runs.filter(when=when, counts=True)) for when in ("before", "after")}
    air, unsure = {run.pk: 1.0 for side in sides.values() for run in side}, 0.0
    if all(factor == 1.0 for factor in used.values()):
        air, unsure = _one_air(sides, vehicle_of(job).boosted)
    curves = {when: [curve_of(r, used[r.pk] * air[r.pk]) for r in side] for when, side in sides.items()}
    house = rules(job)
    sd, source = between_days(unchanged_pairs(), house)
    return compare(
        curves["before"],
        curves["after"],
        job.goal,
        confidence=house["dyno.confidence"] / 100,
        repeats=int(house["dyno.repeats"]),
        apart=apart_of(sd, source, one_day([*sides["before"], *sides["after"]]), unsure),
    )


def _one_air(sides: dict[str, list[Run]], boosted: bool) -> tuple[dict[int, float], float]:
    """Factors that bring runs as measured to one air, and what is unsure of it."""
    made = {when: [conditions_of(run) for run in side] for when, side in sides.items()}
    before, after, unsure = to_one_air(made["before"], made["after"], boosted)
    runs = [*sides["before"], *sides["after"]]
    return {run.pk: factor for run, factor in zip(runs, [*before, *after], strict=True)}, unsure


def _alike(job: Job) -> Call:
    """Whether after was made as before was."""
    used, _ = factors(job)
    counted = list(job.runs.filter(counts=True).select_related("map"))
    return same_conditions(
        "dyno.alike",
        [conditions_of(run) for run in counted],
        rules(job),
        as_measured=all(factor == 1.0 for factor in used.values()),
        boosted=vehicle_of(job).boosted,
        maps=what_was_in([run for run in counted if run.when == "after"]),
    )


def what_was_in(runs: Sequence[Run]) -> list[str]:
    """What each run was made with: maps, levels, injectors; runs of two of them are two groups."""
    states = [VehicleState.of(run.state) or VehicleState(run.map.version if run.map else "") for run in runs]
    apart = one_state(states)
    parts = [name for name, word in PARTS.items() if word in apart and word != "fuel"] or ["inside"]
    return [", ".join(filter(None, (getattr(state, name) for name in parts))) for state in states]


def _map_of(run: Run) -> str:
    if run.map is not None:
        return run.map.version
    return run.state.get("inside") or ("stock" if run.when == "before" else "as fitted")


def runs_out(job: Job) -> dict[str, Any]:
    used, _ = factors(job)
    rows = []
    for run in job.runs.select_related("map"):
        curve, made = curve_of(run, used[run.pk]), conditions_of(run)
        rows.append(
            {
                "id": run.pk,
                "when": run.when,
                "at": run.at,
                "map": _map_of(run),
                "counts": run.counts,
                "pressure_kpa": run.pressure_kpa,
                "intake_c": run.intake_c,
                "humidity": run.humidity,
                "gear": run.gear,
                "drum": made.drum,
                "fuel": made.fuel,
                "ramp": made.ramp,
                "tyre_kpa": made.tyre_kpa,
                "taken": list(made.taken),
                "peak_kw": round(curve.peak_power[0], 2),
                "peak_kw_rpm": curve.peak_power[1],
                "peak_nm": round(curve.peak_torque[0], 1),
                "peak_nm_rpm": curve.peak_torque[1],
                "rpm": curve.rpm.tolist(),
                "kw": np.round(curve.power_kw, 3).tolist(),
            }
        )
    return {
        "runs": rows,
        "repeats": int(rules(job)["dyno.repeats"]),
        "standards": list(_standards(job)),
        "standard": job.standard,
        "fuel": tank(job),
    }


def comparison_out(job: Job) -> dict[str, Any]:
    from ..schemas import call_out

    (_, factor), found, house = factors(job), compared(job), rules(job)
    low, high = crank_range(found.peak_after[0], house["dyno.loss_low"] / 100, house["dyno.loss_high"] / 100)
    return {
        "rpm": found.rpm.tolist(),
        "before_kw": _shown(found.before_kw),
        "after_kw": _shown(found.after_kw),
        "gain_kw": _shown(found.gain_kw),
        "gain_low_kw": _shown(found.gain_kw - np.nan_to_num(found.limit_kw)),
        "gain_high_kw": _shown(found.gain_kw + np.nan_to_num(found.limit_kw)),
        "scatter_known": not bool(np.isnan(found.limit_kw).any()),
        "claimable_share": round(float(found.claimable.mean()), 4),
        "limit_kw": _shown(found.limit_kw),
        "before_nm": _shown(found.before_nm),
        "after_nm": _shown(found.after_nm),
        "claimable": found.claimable.tolist(),
        "peak_before": list(found.peak_before),
        "peak_after": list(found.peak_after),
        "mean_gain_kw": round(found.mean_gain_kw, 2),
        "mean_limit_kw": None if np.isnan(found.mean_limit_kw) else round(found.mean_limit_kw, 2),
        "torque_band": list(found.torque_band),
        "score": round(found.score, 1),
        "score_parts": {k: round(v, 1) for k, v in found.score_parts.items()},
        "factor": round(factor.factor, 4),
        "factor_valid": factor.valid,
        "factor_bounds": list(VALID),
        "unlike": [call_out(call) for call in [_alike(job)] if call.verdict is not Verdict.go],
        "standard": factor.standard,
        "confidence": house["dyno.confidence"],
        "crank_kw": [round(low, 0), round(high, 0)],
        "calls": [call_out(call) for call in _calls(job, found, factor)],
    }


def _shown(values: Floats) -> list[float | None]:
    """Figures for a screen; where there is none, nothing."""
    return [None if np.isnan(value) else round(float(value), 3) for value in values]


def goal_air(job: Job, when: str) -> float | None:
    """The barometer of runs that are as measured, where the engine breathes it; None where a standard, or
    boost that is held, makes it one of sea level."""
    used, _ = factors(job)
    air = [run.pressure_kpa for run in job.runs.filter(when=when, counts=True)]
    if vehicle_of(job).boosted or not air or any(factor != 1.0 for factor in used.values()):
        return None
    return float(np.mean(air))


def _calls(job: Job, found: Comparison, factor: CorrectionFactor) -> list[Call]:
    """Everything that weighs on a claim: air, likeness, gain, the goal, and whether a map was in at all."""
    house = rules(job)
    losses = house["dyno.loss_low"] / 100, house["dyno.loss_high"] / 100
    calls = [
        factor.call,
        _alike(job),
        *found.calls,
    ]
    if job.power_goal_kw is not None:
        calls.append(goal_call(job.power_goal_kw, found.peak_after[0], *losses, goal_air(job, "after")))
    if job.maps.filter(part="").exists() and linked(job):
        inside = in_computer(job)
        calls.append(after_call(inside.version.version if inside.version else "", inside.sentence))
    return calls


@changes_job
def judge_gain(job: Job, by: User) -> dict[str, Any]:
    """Enter the comparison into the ledger."""
    gate.ask(job, Act.claim)
    found = compared(job)
    open_before = [
        step.title
        for step in run_sheet(job).of("baseline")
        if not job.steps_done.filter(key=step.key, set_aside="").exists()
    ]
    before = baseline_call(open_before)
    ledger.judge(job, "prove", [*_calls(job, found, factors(job)[1]), before], by)
    if before.verdict == "go":
        finish(job, "prove.claim", by)
    return comparison_out(job)


@changes_job
def set_standard(job: Job, standard: str, by: User) -> dict[str, Any]:
    if standard not in STANDARDS:
        raise BadInput(f"There is no standard “{standard}”.", "standard")
    if standard not in _standards(job):
        offered = ", ".join(name for name in _standards(job) if name != "none")
        raise BadInput(
            f"The formula of {standard} is for spark ignition; this is a diesel. "
            + (
                f"Choose {offered}." if offered else "Power, displacement and boost on its sheet open others."
            ),
            "standard",
        )
    job.standard = standard
    job.save()
    ledger.judge(job, "prove", [factors(job)[1].call], by)
    return runs_out(job)
