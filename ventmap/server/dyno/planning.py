"""Runs that are still to be made: how many, how, and what may be expected of them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict
from typing import Any

from django.utils import timezone

from ventmap.core.basics import Device, Floats, NotEnough
from ventmap.core.drum import (
    Expected,
    PowerCurve,
    Scatter,
    apart_of,
    between_days,
    expected_of_boost,
    expected_of_goal,
    mean_run,
    on_grid,
    one_more,
    plan_runs,
    run_advice,
    scatter_of,
    to_match,
)
from ventmap.core.runsheet import alters, fitted, stock_again
from ventmap.core.vehicle import diameter_mm, gearing_of

from ..jobs.assemble import kits, on_bench, rules, run_sheet
from ..jobs.idle import rev_limit_of
from ..jobs.models import Job
from ..jobs.rows import devices, steps_done, vehicle_of
from ..logs.reviews import context_of
from ..shelf.services import record_of
from .conditions import conditions_of
from .days import curve_of, day_of, unchanged_pairs
from .judging import factors, goal_air
from .models import Run

#: So many of the shop's latest runs tell the scatter of its drum.
SHOP_RUNS = 30


def run_plan_out(job: Job) -> dict[str, Any]:
    """The runs before as they are held against, the plan of those to come, and what to match."""
    house, (used, shown) = rules(job), factors(job)
    runs = list(job.runs.filter(when="before", counts=True))
    curves = [curve_of(run, used[run.pk]) for run in runs]
    confidence = house["dyno.confidence"] / 100
    mean, band, own = _mean(curves, confidence)
    scatter = scatter_of(own, _shop(job, runs))
    fixed, by = _fixed(job)
    day, source = between_days(unchanged_pairs(), house)
    rows = (
        plan_runs(
            float(mean.power_kw.mean()),
            scatter.share,
            int(house["dyno.repeats"]),
            before=len(runs) if fixed else None,
            confidence=confidence,
            other_day=apart_of(day, source, one_day=False, air=0.0),
        )
        if mean and scatter
        else ()
    )
    found = _expected(job, mean) if mean else ()
    return {
        "before": len(runs),
        "rpm": mean.rpm.tolist() if mean else [],
        "kw": _list(mean.power_kw) if mean else [],
        "low_kw": _list(band[0]) if band else [],
        "high_kw": _list(band[1]) if band else [],
        "peak_kw": round(mean.peak_power[0], 1) if mean else None,
        "peak_rpm": mean.peak_power[1] if mean else None,
        "peak_nm": round(mean.peak_torque[0], 1) if mean else None,
        "confidence": house["dyno.confidence"],
        "scatter_kw": round(scatter.share * float(mean.power_kw.mean()), 2) if mean and scatter else None,
        "scatter_source": scatter.source if scatter else "",
        "days_source": f"{100 * day:.2g} % between days, {source}",
        "today": bool(runs) and {day_of(run) for run in runs} == {timezone.localdate().isoformat()},
        "rows": [_rounded(asdict(row)) for row in rows],
        "expected": [_rounded(asdict(one)) for one in found],
        "advice": _advice(rows, scatter, found, fixed, by, len(runs)),
        "match": [
            asdict(one)
            for one in to_match(
                [conditions_of(run) for run in runs],
                house,
                as_measured=shown.factor == 1.0,
                boosted=vehicle_of(job).boosted,
            )
        ],
        "gear": _gear(job, runs),
    }


def _advice(
    rows: Sequence[Any], scatter: Scatter | None, found: Sequence[Expected], fixed: bool, by: str, before: int
) -> list[str]:
    return list(run_advice(rows, scatter, found, before_fixed=fixed, stock_by=by, before=before))


def _mean(
    curves: list[PowerCurve], confidence: float
) -> tuple[PowerCurve | None, tuple[Floats, Floats] | None, list[float]]:
    """The mean run, between what one more lies, and the mean power of each over the speeds they share."""
    if not curves:
        return None, None, []
    try:
        mean = mean_run(curves)
    except NotEnough:
        # Runs that share no speeds have no mean: they are told by their own call.
        return None, None, []
    runs = on_grid(mean.rpm, curves)
    return mean, one_more(runs, confidence), [float(run.mean()) for run in runs]


def _shop(job: Job, runs: Sequence[Run]) -> list[list[float]]:
    """Mean power of each run of the shop's other groups on the same drum: one job, side, map and day each."""
    drums = {conditions_of(run).drum for run in runs}
    groups: dict[tuple[Any, ...], list[float]] = {}
    for run in Run.objects.filter(counts=True).exclude(job=job).order_by("-id")[:SHOP_RUNS]:
        if conditions_of(run).drum in drums:
            key = (run.job_id, run.when, run.map_id, day_of(run))
            groups.setdefault(key, []).append(float(curve_of(run).power_kw.mean()))
    return list(groups.values())


def _fixed(job: Job) -> tuple[bool, str]:
    """Whether no more runs before can be made, and how the engine is as stock for a minute."""
    by = stock_again(kits(job), len(job.besides))
    done = {row.key for row in steps_done(job) if not row.set_aside}
    opened = any(alters(step) and (step.begun or step.key in done) for step in run_sheet(job).steps)
    on = fitted([record_of(item, Device).kind for item in devices(job)], done)
    return (opened or any(on)) and not by, by


def _expected(job: Job, mean: PowerCurve) -> tuple[Expected, ...]:
    """By the level that is set, and by the goal."""
    house, vehicle = rules(job), vehicle_of(job)
    found, context = [], context_of(job)
    # A diesel burns what is injected, not what it breathes.
    if context.level_adds and vehicle.boosted and vehicle.petrol:
        stock = context.baseline_boost_kpa
        if stock is None and vehicle.boost_kpa is not None:
            stock = vehicle.boost_kpa + job.runs.filter(when="before")[0].pressure_kpa
        if stock is not None:
            found.append(expected_of_boost(context.level_adds, mean, stock))
    if job.power_goal_kw is not None:
        losses = house["dyno.loss_low"] / 100, house["dyno.loss_high"] / 100
        found.append(expected_of_goal(job.power_goal_kw, mean, *losses, goal_air(job, "before")))
    return tuple(found)


def _gear(job: Job, runs: Sequence[Run]) -> dict[str, Any] | None:
    vehicle, house = vehicle_of(job), rules(job)
    limit, tyre = rev_limit_of(job), _tyre_mm(job)
    gearing = gearing_of(vehicle, tyre)
    # The bench's own drum takes its gear by itself: there is nothing to choose until it has.
    if gearing is None or limit is None or (on_bench(job) and not runs):
        return None
    rated = job.fitted.get("tyre_kmh")
    most = min(house["dyno.drum_kmh"], rated or float("inf"))
    found = gearing.on_drum(limit, most, runs[-1].gear if runs else None)
    more = {"told": found.told, "most_kmh": most, "rev_limit": limit, "tyre_kmh": rated}
    return {**_rounded(asdict(found)), **more}


def _tyre_mm(job: Job) -> float | None:
    """The largest that the driven tyre may be, of what is known of it [mm]: a larger one runs faster."""
    known = [job.fitted.get("tyre_mm")]
    known += [diameter_mm(size) for size in (job.fitted.get("tyre_size"), vehicle_of(job).stock_tyre) if size]
    return max((mm for mm in known if mm), default=None)


def _rounded(told: dict[str, Any]) -> dict[str, Any]:
    return {name: round(value, 2) if isinstance(value, float) else value for name, value in told.items()}


def _list(values: Floats) -> list[float]:
    return [round(float(value), 3) for value in values]
