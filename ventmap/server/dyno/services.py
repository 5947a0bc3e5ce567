"""Drum runs, and after held against before."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.contrib.auth.models import User
from django.db import transaction

from ventmap.core.basics import BadInput, Call, Evidence, baseline_call, parse_field, standard_pressure
from ventmap.core.drum import (
    STANDARDS,
    USUAL_HUMIDITY,
    Comparison,
    CorrectionFactor,
    Drum,
    PowerCurve,
    RunConditions,
    compare,
    correction_factor,
    crank_range,
    read_curve,
    reduce_pull,
    same_conditions,
)

from .. import workshop
from ..jobs import ledger
from ..jobs.kit import run_sheet
from ..jobs.models import Job
from ..jobs.sheet import finish, reopen, rules, tank
from ..maps.loading import loaded_map
from .models import Run

GEAR = 3
COOLED_K = 3.0
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
        raise BadInput("Enter the intake air of the run: without it no run is held against another.", "intake")
    read = {name: parse_field(name, typed[name], quantity, unit) if typed[name].strip() else None
        for name, quantity, unit in (
        ("intake", "temperature", "°C"), ("barometer", "pressure", "kPa"), ("humidity", "fraction", "%"), ("tyres", "pressure", "kPa"))}  # fmt: skip
    taken = tuple(name for name in ("barometer", "humidity") if read[name] is None)
    return RunConditions(
        typed["drum"], int(typed["gear"]), read["intake"] or 0.0,
        standard_pressure(job.altitude_m) if read["barometer"] is None else read["barometer"],
        USUAL_HUMIDITY if read["humidity"] is None else read["humidity"],
        typed["fuel"].strip() or tank(job), typed["ramp"], read["tyres"], taken,
    )  # fmt: skip


def conditions_of(run: Run) -> RunConditions:
    told = run.conditions
    return RunConditions(
        told.get("drum") or (BENCH_DRUM if run.samples else "another drum"), run.gear, run.intake_c, run.pressure_kpa, run.humidity,
        told.get("fuel", ""), told.get("ramp", ""), told.get("tyre_kpa"), tuple(told.get("taken", ())),
    )  # fmt: skip


def _columns(made: RunConditions) -> dict[str, Any]:
    """Conditions as the columns of a run."""
    return {
        "gear": made.gear, "pressure_kpa": round(made.barometer_kpa, 2), "intake_c": round(made.intake_c, 2), "humidity": round(made.humidity, 4),
        "conditions": {"drum": made.drum.strip(), "fuel": made.fuel, "ramp": made.ramp.strip(), "tyre_kpa": made.tyre_kpa, "taken": list(made.taken)},
    }  # fmt: skip


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
    made = RunConditions(
        BENCH_DRUM, GEAR, car.truth.ambient_c + COOLED_K, standard_pressure(job.altitude_m), car.truth.relative_humidity, tank(job),
        "the drum's own inertia",
    )  # fmt: skip
    with transaction.atomic():
        run = Run.objects.create(
            job=job, map=version, when=when, by=by, **_columns(made),
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
        Evidence("peak torque from it", round(curve.peak_torque[0], 1), unit="N·m"), Evidence("gear", run.gear), Evidence("intake air", run.intake_c, unit="°C"), Evidence("drum", run.conditions.get("drum", ""))))  # fmt: skip
    _judge_alike(job, run.when, by)
    if job.runs.filter(when=run.when, counts=True).count() >= rules(job)["dyno.repeats"]:
        finish(job, "baseline.runs" if run.when == "before" else "prove.runs", by)


def _judge_alike(job: Job, when: str, by: User) -> None:
    """Whether the runs of one side that count were made alike."""
    stage, rule = ("baseline", "baseline.alike") if when == "before" else ("prove", "prove.alike")
    mine = [conditions_of(run) for run in job.runs.filter(when=when, counts=True)]
    if len(mine) > 1:
        ledger.judge(job, stage, [same_conditions(rule, mine, rules(job))], by)
    else:
        ledger.withdraw_one(job, stage, rule)


def bring_run(job: Job, when: str, text: str, name: str, typed: dict[str, str], by: User) -> Run:
    """A run from another drum's own file, with its standard switched off: wheel power as measured, in the air that was typed."""
    if when not in ("before", "after"):
        raise BadInput("A run is before or after.", "when")
    # Where no map is written from here, what is fitted is what was run.
    version = loaded_map(job) if when == "after" and job.vehicle.body.get("bench_engine") else None
    made, curve = typed_conditions(job, typed), read_curve(text)
    stored = {"rpm": curve.rpm.tolist(), "kw": np.round(curve.power_kw, 4).tolist(), "file": name}
    with transaction.atomic():
        run = Run.objects.create(job=job, map=version, when=when, curve=stored, by=by, **_columns(made))
        _enter_run(job, run, by, f" from {name}")
    return run


def curve_of(run: Run, factor: float = 1.0) -> PowerCurve:
    if run.curve:
        rpm, kw = np.array(run.curve["rpm"]), np.array(run.curve["kw"]) * factor
        return PowerCurve(rpm, kw, kw * 9549.3 / rpm)
    drum = Drum(run.drum["inertia"], tuple(run.drum["parasitic"]), run.drum["ratio"])
    return reduce_pull(run.samples["time_s"], run.samples["drum_rad_s"], drum, factor=factor)


def leave_out(job: Job, run_id: int, counts: bool, by: User) -> None:
    """A run that does not count (a slip, a lifted foot) stays on record, out of the comparison."""
    run = job.runs.filter(pk=run_id).first()
    if run is None:
        raise BadInput("There is no such run.", "run")
    run.counts = counts
    run.save()
    _judge_alike(job, run.when, by)
    stage = "baseline" if run.when == "before" else "prove"
    ledger.write(job, stage, "run", f"Run {'counts again' if counts else 'left out'}", by)
    if job.runs.filter(when=run.when, counts=True).count() < rules(job)["dyno.repeats"]:
        reopen(job, "baseline.runs" if run.when == "before" else "prove.runs")


def _factors(job: Job) -> tuple[dict[int, float], CorrectionFactor]:
    """Each run's own factor, and the judgement to show: where one lies outside its standard, all are left as measured."""
    found = {run.pk: correction_factor(job.standard, run.pressure_kpa, run.intake_c, run.humidity) for run in job.runs.all()}
    outside = next((factor for factor in found.values() if not factor.valid), None)
    if outside is not None:
        return dict.fromkeys(found, 1.0), outside
    shown = next(iter(found.values()), None) or correction_factor(job.standard, standard_pressure(job.altitude_m), 20.0, USUAL_HUMIDITY)
    return {pk: factor.factor for pk, factor in found.items()}, shown


def compared(job: Job) -> Comparison:
    """Runs that count, after against before, each in its own air under one standard; as measured where that does not hold here."""
    used, _ = _factors(job)
    curves = {when: [curve_of(r, used[r.pk]) for r in job.runs.filter(when=when, counts=True)] for when in ("before", "after")}
    house = rules(job)
    return compare(curves["before"], curves["after"], job.goal, sigma=house["dyno.sigma"], repeats=int(house["dyno.repeats"]))


def _alike(job: Job) -> Call:
    """Whether after was made as before was."""
    return same_conditions("dyno.alike", [conditions_of(run) for run in job.runs.filter(counts=True)], rules(job))


def runs_out(job: Job) -> dict[str, Any]:
    used, _ = _factors(job)
    rows = []
    for run in job.runs.select_related("map"):
        curve, made = curve_of(run, used[run.pk]), conditions_of(run)
        rows.append({
            "id": run.pk, "when": run.when, "at": run.at, "map": run.map.version if run.map else "stock" if run.when == "before" else "as fitted", "counts": run.counts,
            "pressure_kpa": run.pressure_kpa, "intake_c": run.intake_c, "humidity": run.humidity, "gear": run.gear,
            "drum": made.drum, "fuel": made.fuel, "ramp": made.ramp, "tyre_kpa": made.tyre_kpa, "taken": list(made.taken),
            "peak_kw": round(curve.peak_power[0], 2), "peak_kw_rpm": curve.peak_power[1], "peak_nm": round(curve.peak_torque[0], 1),
            "peak_nm_rpm": curve.peak_torque[1], "rpm": curve.rpm.tolist(), "kw": np.round(curve.power_kw, 3).tolist(),
        })  # fmt: skip
    return {
        "runs": rows, "repeats": int(rules(job)["dyno.repeats"]), "standards": list(STANDARDS), "standard": job.standard, "fuel": tank(job),
    }  # fmt: skip


def comparison_out(job: Job) -> dict[str, Any]:
    from ..schemas import call_out

    (_, factor), found, house = _factors(job), compared(job), rules(job)
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
        "calls": [call_out(factor.call), call_out(_alike(job)), *(call_out(c) for c in found.calls)],
    }  # fmt: skip


@transaction.atomic
def judge_gain(job: Job, by: User) -> dict[str, Any]:
    """Enter the comparison into the ledger."""
    found = compared(job)
    open_before = [step.title for step in run_sheet(job).of("baseline") if not job.steps_done.filter(key=step.key).exists()]
    before = baseline_call(open_before)
    ledger.judge(job, "prove", [_factors(job)[1].call, _alike(job), *found.calls, before], by)
    if before.verdict == "go":
        finish(job, "prove.claim", by)
    return comparison_out(job)


@transaction.atomic
def set_standard(job: Job, standard: str, by: User) -> dict[str, Any]:
    if standard not in STANDARDS:
        raise BadInput(f"There is no standard “{standard}”.", "standard")
    job.standard = standard
    job.save()
    ledger.judge(job, "prove", [_factors(job)[1].call], by)
    return runs_out(job)
