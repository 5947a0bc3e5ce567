"""Runs on the drum: made, brought, left out."""

from __future__ import annotations

import numpy as np
from django.contrib.auth.models import User

from ventmap.core.basics import BadInput, Evidence, Verdict, standard_pressure
from ventmap.core.drum import RunConditions, read_curve, same_conditions, stock_power_call
from ventmap.core.runsheet import Act

from ..jobs import gate, ledger, workshop
from ..jobs.acting import changing
from ..jobs.assemble import linked, rules, tank
from ..jobs.models import Job
from ..jobs.rows import vehicle_of
from ..jobs.steps import finish, reopen
from ..maps.boxes import runs_beside
from ..maps.loaded import loaded_map
from ..maps.state import state_of
from .conditions import BENCH_DRUM, columns, conditions_of, typed_conditions
from .judging import COOLED_K, curve_of, what_was_in
from .models import Run


def make_run(job: Job, when: str, by: User) -> Run:
    """One pull: before on the stock computer, after on the kit's."""
    if when not in ("before", "after"):
        raise BadInput("A run is before or after.", "when")
    gate.ask(job, Act.run if when == "after" else Act.as_it_came)
    workshop.need_engine(job)
    own = when == "after" and linked(job)
    version = loaded_map(job) if own else None
    if when == "after" and not own:
        car = workshop.beside(job, [calibration for _, _, calibration in runs_beside(job)], warm=True)
    else:
        car = workshop.vehicle(job, "kit" if own else "stock", warm=True)
    if car.engine.runtime is None:
        raise BadInput("The computer holds no map: the engine does not run.", "load")
    with workshop.line_taken(job.pk, "a drum run"):
        time, omega, drum = car.drum_pull()
    made = RunConditions(
        BENCH_DRUM,
        car.drum_gear,
        intake_c=car.truth.ambient_c + COOLED_K,
        barometer_kpa=standard_pressure(job.altitude_m),
        humidity=car.truth.relative_humidity,
        fuel=tank(job),
        ramp="the drum's own inertia",
    )
    with changing(job):
        run = Run.objects.create(
            job=job,
            map=version,
            when=when,
            by=by,
            state=state_of(job, stock=when == "before").plain(),
            **columns(made),
            samples={"time_s": np.round(time, 3).tolist(), "drum_rad_s": np.round(omega, 4).tolist()},
            drum={"inertia": drum.inertia, "parasitic": drum.parasitic, "ratio": drum.ratio},
        )
        _enter_run(job, run, by)
    return run


def _enter_run(job: Job, run: Run, by: User, source: str = "") -> None:
    """The run into the ledger; the step is done with enough of them."""
    curve = curve_of(run)
    number = job.runs.filter(when=run.when).count()
    ledger.write(
        job,
        "baseline" if run.when == "before" else "prove",
        "run",
        f"Run {number} {run.when}{source}",
        by,
        evidence=(
            Evidence("peak at the wheels", round(curve.peak_power[0], 1), unit="kW"),
            Evidence("at", round(curve.peak_power[1]), unit="rpm"),
            Evidence("peak torque from it", round(curve.peak_torque[0], 1), unit="N·m"),
            Evidence("gear", run.gear),
            Evidence("intake air", run.intake_c, unit="°C"),
            Evidence("drum", run.conditions.get("drum", "")),
        ),
    )
    _settle(job, run.when, by)


def _settle(job: Job, when: str, by: User) -> None:
    """Judge the runs of one side that count; its step is done with enough of them that may be of it."""
    _judge_alike(job, when, by)
    sound = when == "after" or _judge_stock(job, by)
    step = "baseline.runs" if when == "before" else "prove.runs"
    if sound and enough(job, when):
        finish(job, step, by)
    else:
        reopen(job, step)


def enough(job: Job, when: str) -> bool:
    """Whether as many runs of a side count as the house asks for."""
    return job.runs.filter(when=when, counts=True).count() >= rules(job)["dyno.repeats"]


def _judge_alike(job: Job, when: str, by: User) -> None:
    """Whether the runs of one side that count were made alike."""
    stage, rule = ("baseline", "baseline.alike") if when == "before" else ("prove", "prove.alike")
    counted = list(job.runs.filter(when=when, counts=True))
    mine = [conditions_of(run) for run in counted]
    if len(mine) > 1:
        ledger.judge(job, stage, [same_conditions(rule, mine, rules(job), maps=what_was_in(counted))], by)
    else:
        ledger.withdraw_one(job, stage, rule)


def _judge_stock(job: Job, by: User) -> bool:
    """Whether the stock runs that count can be of this vehicle; only a hold is entered."""
    peaks = [curve_of(run).peak_power[0] for run in job.runs.filter(when="before", counts=True)]
    stock = vehicle_of(job).power_kw
    # Without the maker's figure there is nothing to hold them against.
    call = stock_power_call(stock, max(peaks)) if peaks and stock is not None else None
    if call is not None and call.verdict is not Verdict.go:
        ledger.judge(job, "baseline", [call], by)
        own = job.ledger.filter(stage="baseline", rule=call.rule, standing=True)
        return own.exclude(overruled_by=None).exists()
    ledger.withdraw_one(job, "baseline", "baseline.runs")
    return True


def bring_run(job: Job, when: str, text: str, name: str, typed: dict[str, str], by: User) -> Run:
    """A run from another drum's own file, with its standard switched off: wheel power as measured, in the air
    that was typed.
    """
    if when not in ("before", "after"):
        raise BadInput("A run is before or after.", "when")
    # Where no map is written from here, what is fitted is what was run.
    version = loaded_map(job) if when == "after" and linked(job) else None
    made = typed_conditions(job, typed)
    curve = read_curve(text, measured=made.measured)
    stored = {"rpm": curve.rpm.tolist(), "kw": np.round(curve.power_kw, 4).tolist(), "file": name}
    with changing(job):
        for other in job.runs.exclude(curve=None):
            if other.curve and (other.curve["rpm"], other.curve["kw"]) == (stored["rpm"], stored["kw"]):
                raise BadInput(
                    "This run is in this job already, sample for sample: one file twice is one run.", "file"
                )
        run = Run.objects.create(
            job=job,
            map=version,
            when=when,
            curve=stored,
            by=by,
            state=state_of(job, stock=when == "before").plain(),
            **columns(made),
        )
        _enter_run(job, run, by, f" from {name}")
    return run


def leave_out(job: Job, run_id: int, counts: bool, by: User) -> None:
    """A run that does not count (a slip, a lifted foot) stays on record, out of the comparison."""
    run = job.runs.filter(pk=run_id).first()
    if run is None:
        raise BadInput("There is no such run.", "run")
    run.counts = counts
    run.save()
    _settle(job, run.when, by)
    stage = "baseline" if run.when == "before" else "prove"
    ledger.write(job, stage, "run", f"Run {'counts again' if counts else 'left out'}", by)
