"""Drum runs, and after held against before."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.contrib.auth.models import User
from django.db import transaction

from ventmap.core.air import standard_pressure
from ventmap.core.calls import Evidence
from ventmap.core.drum_file import read_curve
from ventmap.core.dyno import STANDARDS, Comparison, CorrectionFactor, Curve, Drum, compare, correction_factor, crank_range, reduce_pull
from ventmap.core.errors import BadInput
from ventmap.core.readings import baseline_call

from .. import workshop
from ..jobs import ledger
from ..jobs.kit import run_sheet
from ..jobs.models import Job
from ..jobs.sheet import finish, reopen, rules
from ..maps.loading import loaded_map
from .models import Run

GEAR = 3
COOLED_K = 3.0


def make_run(job: Job, when: str, by: User) -> Run:
    """One pull: before on the stock computer, after on the kit's."""
    if when not in ("before", "after"):
        raise BadInput("A run is before or after.", "when")
    version = loaded_map(job) if when == "after" else None
    which = "kit" if when == "after" else "stock"
    workshop.need_engine(job)
    car = workshop.vehicle(job, which, warm=True)
    if car.engine.runtime is None:
        raise BadInput("The computer holds no map: the engine does not run.", "load")
    with workshop.line_taken(job.pk, "a drum run"):
        time, omega, drum = car.drum_pull(GEAR)
    intake = car.truth.ambient_c + COOLED_K
    with transaction.atomic():
        run = Run.objects.create(
            job=job, map=version, when=when, gear=GEAR, pressure_kpa=round(standard_pressure(job.altitude_m), 2), intake_c=intake,
            humidity=car.truth.relative_humidity, by=by,
            samples={"time_s": np.round(time, 3).tolist(), "drum_rad_s": np.round(omega, 4).tolist()},
            drum={"inertia": drum.inertia, "parasitic": drum.parasitic, "ratio": drum.ratio},
        )  # fmt: skip
        _enter_run(job, run, by)
    return run


def _enter_run(job: Job, run: Run, by: User, source: str = "") -> None:
    """The run into the ledger; the step is done with enough of them."""
    curve = curve_of(run)
    number = job.runs.filter(when=run.when).count()
    ledger.write(job, "baseline" if run.when == "before" else "prove", "run", f"Run {number} {run.when}{source}", by, evidence=(
        Evidence("peak at the wheels", round(curve.peak_power[0], 1), unit="kW"), Evidence("at", round(curve.peak_power[1]), unit="rpm"),
        Evidence("peak torque from it", round(curve.peak_torque[0], 1), unit="N·m"), Evidence("gear", run.gear)))  # fmt: skip
    if job.runs.filter(when=run.when, counts=True).count() >= rules(job)["dyno.repeats"]:
        finish(job, "baseline.runs" if run.when == "before" else "prove.runs", by)


def bring_run(job: Job, when: str, text: str, name: str, by: User) -> Run:
    """A run from another drum's own file, with its standard switched off: wheel power as measured."""
    if when not in ("before", "after"):
        raise BadInput("A run is before or after.", "when")
    # Where no map is written from here, what is fitted is what was run.
    version = loaded_map(job) if when == "after" and job.vehicle.body.get("bench_engine") else None
    curve = read_curve(text)
    stored = {"rpm": curve.rpm.tolist(), "kw": np.round(curve.power_kw, 4).tolist(), "file": name}
    with transaction.atomic():
        run = Run.objects.create(
            job=job, map=version, when=when, gear=GEAR, pressure_kpa=round(standard_pressure(job.altitude_m), 2), intake_c=20.0, humidity=0.4,
            curve=stored, by=by,
        )  # fmt: skip
        _enter_run(job, run, by, f" from {name}")
    return run


def curve_of(run: Run, factor: float = 1.0) -> Curve:
    if run.curve:
        rpm, kw = np.array(run.curve["rpm"]), np.array(run.curve["kw"]) * factor
        return Curve(rpm, kw, kw * 9549.3 / rpm)
    drum = Drum(run.drum["inertia"], tuple(run.drum["parasitic"]), run.drum["ratio"])
    return reduce_pull(run.samples["time_s"], run.samples["drum_rad_s"], drum, factor=factor)


def leave_out(job: Job, run_id: int, counts: bool, by: User) -> None:
    """A run that does not count (a slip, a lifted foot) stays on record, out of the comparison."""
    run = job.runs.filter(pk=run_id).first()
    if run is None:
        raise BadInput("There is no such run.", "run")
    run.counts = counts
    run.save()
    stage = "baseline" if run.when == "before" else "prove"
    ledger.write(job, stage, "run", f"Run {'counts again' if counts else 'left out'}", by)
    if job.runs.filter(when=run.when, counts=True).count() < rules(job)["dyno.repeats"]:
        reopen(job, "baseline.runs" if run.when == "before" else "prove.runs")


def _standard(job: Job) -> CorrectionFactor:
    run = job.runs.first()
    if run is None:
        return correction_factor(job.standard, standard_pressure(job.altitude_m), 20.0, 0.4)
    return correction_factor(job.standard, run.pressure_kpa, run.intake_c, run.humidity)


def compared(job: Job) -> Comparison:
    """Runs that count, after against before, under one standard; measured where the standard does not hold here."""
    factor = _standard(job)
    used = factor.factor if factor.valid else 1.0
    curves = {when: [curve_of(r, used) for r in job.runs.filter(when=when, counts=True)] for when in ("before", "after")}
    house = rules(job)
    return compare(curves["before"], curves["after"], job.goal, sigma=house["dyno.sigma"], repeats=int(house["dyno.repeats"]))


def runs_out(job: Job) -> dict[str, Any]:
    factor = _standard(job)
    used = factor.factor if factor.valid else 1.0
    rows = []
    for run in job.runs.select_related("map"):
        curve = curve_of(run, used)
        rows.append({
            "id": run.pk, "when": run.when, "at": run.at, "map": run.map.version if run.map else "stock" if run.when == "before" else "as fitted", "counts": run.counts,
            "pressure_kpa": run.pressure_kpa, "intake_c": run.intake_c, "humidity": run.humidity, "gear": run.gear,
            "peak_kw": round(curve.peak_power[0], 2), "peak_kw_rpm": curve.peak_power[1], "peak_nm": round(curve.peak_torque[0], 1),
            "peak_nm_rpm": curve.peak_torque[1], "rpm": curve.rpm.tolist(), "kw": np.round(curve.power_kw, 3).tolist(),
        })  # fmt: skip
    return {"runs": rows, "repeats": int(rules(job)["dyno.repeats"]), "standards": list(STANDARDS), "standard": job.standard}


def comparison_out(job: Job) -> dict[str, Any]:
    from ..schemas import call_out

    factor, found, house = _standard(job), compared(job), rules(job)
    low, high = crank_range(found.peak_after[0], house["dyno.loss_low"] / 100, house["dyno.loss_high"] / 100)
    shown = lambda values: np.round(values, 3).tolist()  # noqa: E731
    return {
        "rpm": found.rpm.tolist(), "before_kw": shown(found.before_kw), "after_kw": shown(found.after_kw), "gain_kw": shown(found.gain_kw),
        "limit_kw": shown(np.nan_to_num(found.limit_kw)), "before_nm": shown(found.before_nm), "after_nm": shown(found.after_nm),
        "claimable": found.claimable.tolist(), "peak_before": list(found.peak_before), "peak_after": list(found.peak_after),
        "mean_gain_kw": round(found.mean_gain_kw, 2), "mean_limit_kw": round(float(np.nan_to_num(found.mean_limit_kw)), 2),
        "torque_band": list(found.torque_band), "score": round(found.score, 1), "score_parts": {k: round(v, 1) for k, v in found.score_parts.items()},
        "factor": round(factor.factor, 4), "factor_valid": factor.valid, "standard": factor.standard,
        "sigma": house["dyno.sigma"], "crank_kw": [round(low, 0), round(high, 0)],
        "calls": [call_out(factor.call), *(call_out(c) for c in found.calls)],
    }  # fmt: skip


@transaction.atomic
def judge_gain(job: Job, by: User) -> dict[str, Any]:
    """Enter the comparison into the ledger."""
    found = compared(job)
    open_before = [step.title for step in run_sheet(job).of("baseline") if not job.steps_done.filter(key=step.key).exists()]
    before = baseline_call(open_before)
    ledger.judge(job, "prove", [_standard(job).call, *found.calls, before], by)
    if before.verdict == "go":
        finish(job, "prove.claim", by)
    return comparison_out(job)


@transaction.atomic
def set_standard(job: Job, standard: str, by: User) -> dict[str, Any]:
    if standard not in STANDARDS:
        raise BadInput(f"There is no standard “{standard}”.", "standard")
    job.standard = standard
    job.save()
    ledger.judge(job, "prove", [_standard(job).call], by)
    return runs_out(job)
