"""Two rules that are softer for a diesel: what they let pass, and what they still stop."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from tests.core.drives import drive
from ventmap.core.basics import HouseRules
from ventmap.core.findings import ReviewContext, review

DIESEL = ReviewContext(induction="turbo", injection="diesel", idle_target=720.0)
PETROL = ReviewContext(induction="turbo", injection="port", idle_target=850.0)


def diesel():
    """A sound drive of a diesel: rail by speed and demand, lean at no load, never richer than its smoke."""
    log, mask = drive()
    rpm, pedal = log.channels["rpm"], log.channels["pedal"]
    log.channels["rail"] = 30_000.0 + 25.0 * np.clip(rpm - 720.0, 0.0, None) + 500.0 * pedal
    log.channels["lambda"] = np.where(pedal > 80.0, 1.35, np.where(pedal < 3.0, 9.0, 3.0)) + 0.02 * np.sin(
        rpm
    )
    log.channels.pop("lambda_target", None)
    return log, mask


def kinds(log, context):
    return {found.kind for found in review(log, context).findings}


def test_a_rail_that_rises_in_a_pull_is_no_fault_and_one_that_sags_is():
    log, mask = diesel()
    assert "fuel_pressure_drop" not in kinds(log, DIESEL)
    rows = np.flatnonzero(mask["pull"])
    late = rows[len(rows) // 2 :]
    for share, told in ((0.05, False), (0.25, True)):
        sagging, _ = diesel()
        sagging.channels["rail"][late] = (1.0 - share) * sagging.channels["rail"][late[0]]
        assert ("fuel_pressure_drop" in kinds(sagging, DIESEL)) is told, share


def test_a_lean_idle_is_a_diesel_s_and_on_petrol_a_broken_sensor():
    log, mask = diesel()
    found = kinds(log, DIESEL)
    assert "sensor_implausible" not in found
    assert "lean_under_load" not in found
    assert "sensor_implausible" in kinds(log, PETROL)
    log.channels["lambda"][mask["idle"]] = 40.0
    assert "sensor_implausible" in kinds(log, DIESEL), "leaner than air is no mixture on any engine"


@pytest.mark.parametrize(
    ("mixture", "told"),
    [(1.4, None), (1.17, None), (1.12, "hold"), (1.05, "hold"), (1.0, "stop"), (0.9, "stop")],
)
def test_smoke_is_what_a_diesel_is_held_to(mixture, told):
    log, mask = diesel()
    log.channels["lambda"][mask["pull"] | mask["pull2"]] = mixture
    found = {one.kind: one.verdict.value for one in review(log, DIESEL).findings}
    assert found.get("smoke") == told
    assert set(found) <= {"smoke"}
    short, _ = diesel()
    short.channels["lambda"][np.flatnonzero(mask["pull"])[20:24]] = 0.9
    assert "smoke" not in kinds(short, DIESEL), "a fifth of a second is the sensor's own"
    assert "smoke" not in kinds(log, PETROL)


def test_the_shop_sets_its_own_smoke_limit():
    log, mask = diesel()
    log.channels["lambda"][mask["pull"]] = 1.1
    for changed, told in (({"smoke.lambda": 1.05}, None), ({"smoke.stop": 1.12}, "stop"), ({}, "hold")):
        context = replace(DIESEL, rules=HouseRules(changed=changed))
        found = {one.kind: one.verdict.value for one in review(log, context).findings}
        assert found.get("smoke") == told, changed
