"""What runs in the computers of the pretend vehicles: the stock program of each, and the program of a map."""

from __future__ import annotations

import hashlib
import json
from dataclasses import replace
from typing import Literal

import numpy as np

from ventmap.core.basics import CalibrationError, Table2D
from ventmap.core.forms import Calibration, Identity, from_image
from ventmap.core.fuel import PETROL

from .air import settled
from .burn import Burning
from .engine import Program
from .runtime import Runtime, Wiring
from .stock import DieselProgram
from .truth import VehicleTruth

#: Opening of a stock image that is no map of ours: a diesel's.
STOCK = b"VMSTOCK1"
ROWS, COLUMNS = 10, 12
#: Throttle is asked most closely where it opens [%].
THROTTLES = (1.0, 2.0, 3.0, 4.0, 5.5, 7.5, 10.0, 13.0, 17.0, 22.0, 28.0, 36.0, 48.0, 64.0, 82.0, 100.0)
#: From this share of the barometer, within so many kPa, a stock map goes from lambda 1 to full load.
RICH_FROM, RICH_WITHIN_KPA = 0.72, 16.2
#: Where nothing trims, pump fuel with some ethanol leans it: its works keep on the rich side.
UNTRIMMED_RICH = 1.025
#: Middle load, above the pressure from which a film's figures count [kPa].
MIDDLE_KPA = 30.0
FULL_LOAD = {"none": 0.87, "two-stroke": 0.82, "turbo": 0.84, "blower": 0.82}


def wiring_of(truth: VehicleTruth, computer: Literal["stock", "kit"]) -> Wiring:
    """How a computer sits on this engine. One that replaces the stock one senses load by pressure."""
    build = truth.build
    loop = "none" if not build.burn.trims else "wide" if build.charger is not None else "narrow"
    film = build.feed.film
    return Wiring(
        wall_share=film.share + MIDDLE_KPA * film.share_kpa,
        wall_s=film.seconds + MIDDLE_KPA * film.seconds_kpa,
        referenced=build.feed.referenced,
        measured=build.feed.kind != "port",
        loop=loop,
        load="throttle" if build.air.path == "throttle bodies" and computer == "stock" else "manifold",
    )


def stock_map(
    truth: VehicleTruth, identity: Identity, boost_kpa: float, computer: Literal["stock", "kit"] = "stock"
) -> Calibration:
    """A well-made map of a spark-ignition engine, on axes of its own: the stock computer's, or a kit's base.

    A kit's computer senses load by pressure even where the stock one goes by the throttle.
    """
    build, burning = truth.build, Burning(truth)
    by_throttle = build.air.path == "throttle bodies" and computer == "stock"
    top = max(100.0, truth.barometer_kpa + 1.25 * boost_kpa)
    # Behind a throttle that passes no more, a cycle's air is as one over speed: columns by their ratio.
    spaced = np.geomspace if by_throttle else np.linspace
    rpm = np.round(spaced(0.85 * truth.idle_rpm, truth.top_rpm, COLUMNS) / 50) * 50
    load = np.array(THROTTLES) if by_throttle else np.round(np.linspace(20.0, top, ROWS))
    honest = truth.true_filling()
    if by_throttle:
        pressure = np.array([[settled(truth, honest, x, y) for x in rpm] for y in load])
    else:
        pressure = load[:, None] * np.ones(len(rpm))
    filling = np.array(
        [[honest.one(x, kpa) for x, kpa in zip(rpm, row, strict=True)] for row in pressure], dtype=float
    )
    if by_throttle:
        # Less than any map of a shop holds is never asked for: the engine would not run.
        filling = np.maximum(filling * pressure / truth.barometer_kpa, 6.0)
    if not build.burn.trims:
        filling *= UNTRIMMED_RICH
    kind = build.charger.kind if build.charger is not None else "two-stroke" if truth.stroke == 2 else "none"
    rich = FULL_LOAD[kind]
    share = np.clip((pressure - RICH_FROM * truth.barometer_kpa) / RICH_WITHIN_KPA, 0.0, 1.0)
    target = 1.0 - (1.0 - rich) * share
    spark = np.array(
        [
            [_safe_spark(burning, *at) for at in zip(rpm, kpas, mixtures, strict=True)]
            for kpas, mixtures in zip(pressure, target, strict=True)
        ]
    )
    tables = {
        "ve": Table2D(rpm, load, np.round(filling, 2)),
        "lambda_target": Table2D(rpm, load, np.round(target, 3)),
        "spark": Table2D(rpm, load, np.round(np.clip(spark, 2.0, 45.0), 1)),
        "dead_time": truth.dead_time.table,
    }
    if boost_kpa > 0 and build.charger is not None and build.charger.kind == "turbo":
        tables["boost_target"] = Table2D(rpm, [0.0], [np.full(len(rpm), boost_kpa)])
        tables["wastegate_duty"] = Table2D(
            rpm, [0.0], [np.full(len(rpm), 100.0 * boost_kpa / build.charger.most_kpa)]
        )
    # What its works know: petrol, whatever is in the tank.
    scalars = {
        "injector_flow": truth.injector_flow,
        "injector_rated_kpa": truth.injector_rated_kpa,
        "fuel_pressure_kpa": truth.fuel_pressure_kpa,
        "fuel_density": PETROL.density,
        "stoichiometric": PETROL.stoichiometric,
        "displacement_cc": truth.displacement_cc,
        "cylinders": float(truth.cylinders),
        "rev_limit": truth.top_rpm,
        "idle_target": truth.idle_rpm,
    }
    return Calibration(name="stock", identity=identity, scalars=scalars, tables=tables)


def _safe_spark(burning: Burning, rpm: float, kpa: float, mixture: float) -> float:
    """What its works set: short of best torque, well short of knock, late at idle [°]."""
    spec, idle_rpm = burning.spec, burning.truth.idle_rpm
    best = burning.best_spark(rpm, kpa, mixture)
    limit = best + spec.margin - spec.boost_margin * max(0.0, kpa - 60.0)
    idle = 12.0 * max(0.0, min(1.0, (1.9 * idle_rpm - rpm) / idle_rpm)) if kpa < 60.0 else 0.0
    return min(best - spec.stock_retard, limit - 4.0) - idle


def _tuned(made: Calibration, size: float) -> Calibration:
    """Somebody's tune over the works' map: richer and earlier everywhere."""
    target, spark = made.tables["lambda_target"], made.tables["spark"]
    richer = Table2D(target.x, target.y, target.values * (1.0 - 0.06 * size))
    earlier = Table2D(spark.x, spark.y, spark.values + 2.0 * size)
    return made.with_table("lambda_target", richer).with_table("spark", earlier)


def stock_image(truth: VehicleTruth, identity: Identity, boost_kpa: float, size: int) -> bytes:
    """What the stock computer's flash holds as the vehicle left its works."""
    stacked = truth.faults.stacked_maps
    if stacked:
        identity = replace(identity, calibration=f"{identity.calibration}-S")
    if truth.build.burn.kind != "diesel":
        made = stock_map(truth, identity, boost_kpa)
        return (_tuned(made, stacked) if stacked else made).image(size)
    boost_kpa += 20.0 * stacked
    told = {"calibration": identity.calibration, "engine": identity.engine, "boost_kpa": boost_kpa}
    text = json.dumps(told, sort_keys=True).encode()
    body = b""
    while len(body) < size // 4:  # a program of its own make: bytes that nobody here reads
        body += hashlib.sha256(text + len(body).to_bytes(4, "big")).digest()
    head = STOCK + len(text).to_bytes(2, "big") + text
    return (head + body).ljust(size, b"\xff")


def program_of(
    image: bytes, truth: VehicleTruth, computer: Literal["stock", "kit"], learned: float = 0.0
) -> tuple[Program, str, str]:
    """The program that starts from a flash image, its calibration's name, and the map's SHA-256.

    Raises
    ------
    CalibrationError
        If the image is neither a stock one nor a map.
    """
    if image.startswith(STOCK):
        size = int.from_bytes(image[8:10], "big")
        told = json.loads(image[10 : 10 + size])
        burn = truth.build.burn
        diesel = DieselProgram(
            truth, burn.full_mg, boost_kpa=float(told["boost_kpa"]), smoke_lambda=burn.smoke_lambda
        )
        return diesel, str(told["calibration"]), hashlib.sha256(image).hexdigest()
    calibration = from_image(image)
    if calibration.form != "full":
        raise CalibrationError("This image is not one that an engine runs on.")
    program = Runtime(calibration, learned, wiring_of(truth, computer))
    return program, calibration.identity.calibration, hashlib.sha256(calibration.image()).hexdigest()
