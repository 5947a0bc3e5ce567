"""The review of a log with what its job knows, made once and kept."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

import numpy as np

from ventmap.core.basics import Device, Evidence, InjectorPiggyback, SensorPiggyback, Verdict
from ventmap.core.findings import Finding, NotCheckable, Review, ReviewContext, review
from ventmap.core.fuel import most_ethanol
from ventmap.core.logs import Probe, Window
from ventmap.core.maps import added_at
from ventmap.core.runsheet import VehicleState

from ..jobs.assemble import rules
from ..jobs.idle import idle_of, rev_limit_of
from ..jobs.models import Job
from ..jobs.rows import device_of, devices, vehicle_of
from ..maps.models import MapVersion
from ..maps.services import calibration_of
from ..maps.state import state_of
from ..shelf.services import record_of
from .models import LogChannel, LogFile
from .reading import unpack
from .review_shape import review_out
from .store import load


def context_of(job: Job | None, *, stock: bool = False, state: VehicleState | None = None) -> ReviewContext:
    """What a job knows of the vehicle that a log does not say; `stock`: of a log before it was touched;
    `state`: what was on the vehicle when it was driven, where that was kept.
    """
    if job is None:
        return ReviewContext(induction="unknown")
    vehicle, device = vehicle_of(job), device_of(job)
    adds = isinstance(device, SensorPiggyback) or bool(device and device.added_boost_kpa)
    concerns = ["boost"] if vehicle.boosted or adds else []
    if job.device:
        concerns += ["mixture", "knock"] if vehicle.petrol else ["smoke"]
    level, warm_up_s = _level(job, state) if not stock else ((), None)
    if level:
        concerns.append("level")
    return ReviewContext(
        induction=vehicle.induction,
        injection="port" if vehicle.injection == "both" else vehicle.injection,
        stroke=vehicle.stroke,
        rotary=vehicle.rotary,
        air_cooled=vehicle.air_cooled,
        belt=vehicle.belt,
        manual=vehicle.gearbox_kind == "manual",
        probe=Probe.of(vehicle),
        window_deg=vehicle.injection_window_deg,
        device=device.kind if device else "",
        ethanol=job.ethanol,
        most_ethanol=most_ethanol([record_of(item, Device) for item in devices(job)], job.ethanol),
        box_lengthens=isinstance(device, InjectorPiggyback) and not stock,
        idle_target=idle_of(job, stock=stock),
        altitude_m=job.altitude_m,
        baseline_boost_kpa=_baseline_boost(job),
        rev_limit=rev_limit_of(job, stock=stock),
        cylinders=vehicle.cylinders,
        banks=vehicle.banks,
        added_boost_kpa=device.added_boost_kpa if device and not stock else None,
        level_adds=level,
        level_warm_up_s=warm_up_s,
        concerns=tuple(concerns),
        rules=rules(job),
    )


def _level(job: Job, state: VehicleState | None) -> tuple[tuple[tuple[float, float], ...], float | None]:
    """Boost over speed that the level which is set adds, and its delay; nothing where it is off, or none is
    in.
    """
    on = (state or state_of(job)).versions
    for version in MapVersion.objects.filter(pk__in=on):
        calibration = calibration_of(version)
        if calibration.form == "level":
            return added_at(calibration), calibration.scalars.get("warm_up_s")
    return (), None


def of_log(row: LogFile) -> ReviewContext:
    """What a log is judged by: today's records of its vehicle, and what was on it when it was driven."""
    return context_of(row.job, stock=row.baseline, state=VehicleState.of(row.state))


def _baseline_boost(job: Job) -> float | None:
    """Peak manifold pressure of the stock log [kPa]; None where there is none."""
    if not vehicle_of(job).boosted:
        return None
    stock = job.logs.filter(baseline=True).values("pk").first()
    kept = stock and LogChannel.objects.filter(log=stock["pk"], name="map").values_list("samples", flat=True)
    samples = kept.first() if kept else None
    return None if samples is None else _most(bytes(samples))


@lru_cache(maxsize=64)
def _most(samples: bytes) -> float:
    """The most of a kept column, but for a few spikes."""
    return float(np.nanpercentile(unpack(samples), 99.5))


def reviewed(row: LogFile) -> dict[str, Any]:
    """The review of a log; made when first asked for, and anew when what it is judged by has changed."""
    context = of_log(row)
    if not row.review or row.review.get("judged_by") != context.mark:
        row.review = review_out(review(load(row), context))
        row.save(update_fields=["review"])
    return row.review


def review_of(row: LogFile) -> Review:
    """The review of a log as the core knows it, from what was kept."""
    kept = reviewed(row)
    return Review(
        findings=tuple(
            Finding(
                kind=found["kind"],
                verdict=Verdict(found["verdict"]),
                title=found["title"],
                from_s=found["from_s"],
                to_s=found["to_s"],
                evidence=tuple(Evidence(**item) for item in found["evidence"]),
                causes=tuple(found["causes"]),
                check=found["check"],
                next=found["next"],
            )
            for found in kept["findings"]
        ),
        checked=tuple(kept["checked"]),
        not_checkable=tuple(
            NotCheckable(item["kind"], tuple(item["missing"]), tuple(item.get("perhaps", ())))
            for item in kept["not_checkable"]
        ),
        windows=tuple(Window(w["kind"], 0, 0, w["from_s"], w["to_s"]) for w in kept["windows"]),
    )
