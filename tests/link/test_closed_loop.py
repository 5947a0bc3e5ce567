"""The loop closes on evidence: what is wrong on the stand-in shows as a real vehicle would show it, and our
correction puts it right.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from tests.conftest import by_night
from ventmap.core.corrections import CorrectionRules, apply, propose
from ventmap.core.forms import Identity
from ventmap.server import bench, rehearsal

BASE = bench.rehearsal_map(Identity("T20", "VM-P4", "loop"))


def driven(calibration, **faults):
    """A log of the fuel route on a vehicle whose truth differs by `faults`, the truth itself, and its
    barometer.
    """
    vehicle = bench.rehearsal_vehicle(5, faults)
    rehearsal.load(vehicle, calibration)
    log, truth = rehearsal.drive(vehicle)
    return log, truth, vehicle.truth.barometer_kpa


def within(calibration, truth, barometer) -> float:
    return rehearsal.judge(0, calibration, truth, barometer, 0).within_3pct


@pytest.mark.parametrize(
    ("seed", "ve", "flow", "dead", "needs"),
    [
        (1, 0.22, 0.10, 0.25, 3),
        by_night(2, 0.22, -0.10, -0.25, 3),
        (7, 0.10, 0.05, 0.1, 1),
        by_night(14, 0.20, 0.10, -0.25, 4),
    ],
)
def test_a_tenth_a_round_reaches_the_target_and_never_leans_the_engine_under_load(
    seed, ve, flow, dead, needs
):
    """At most a tenth of the fuel a round: what is a third off (seed 14) needs a fourth."""
    rounds = rehearsal.rehearse(
        seed=seed, ve_error=ve, flow_error=flow, dead_time_error_ms=dead, rounds=needs
    )
    assert rounds[-1].within_3pct >= 0.9
    # A cell that is only driven through is never measured, and stays as it was but for the scalars.
    assert rounds[-1].worst_cell < rounds[0].worst_cell + 0.01
    for now in rounds[1:]:
        assert now.leanest_under_load <= max(rounds[0].leanest_under_load, 0.01)
    assert rounds[0].changed == 0
    assert rounds[1].changed > 0


class TestOneErrorAtATime:
    def test_a_wrong_flow_is_wrong_everywhere_alike(self):
        _, truth, _ = driven(BASE, flow_error=0.08)
        # true mixture error: lack of fuel as a fraction; 8 % more flow is about 7.4 % too much fuel wherever
        # the engine runs
        error = truth[:, 2]
        assert np.median(error) == pytest.approx(1 / 1.08 - 1, abs=0.01)
        assert np.percentile(error, 95) - np.percentile(error, 5) < 0.03

    def test_a_wrong_dead_time_is_large_at_idle_and_small_at_load(self):
        _, truth, barometer = driven(BASE, dead_time_error_ms=0.2)
        rpm, kpa, error = truth.T
        idle, load = error[(rpm < 1000) & (kpa < 35)], error[kpa > 0.9 * barometer]
        assert np.median(idle) > 3 * np.median(load) > 0, (
            "the sheet's opening delay is too short: too little fuel"
        )

    @pytest.mark.parametrize("flow", [-0.08, 0.08])
    def test_the_scalar_is_proposed_first_and_has_the_right_size(self, flow):
        log, _, barometer = driven(BASE, flow_error=flow)
        found = propose(log, BASE, CorrectionRules(barometer_kpa=barometer))
        scalar = next(s for s in found.scalars if s.name == "injector_flow")
        assert scalar.new == pytest.approx(440 * (1 + flow), rel=0.015)
        assert found.split is not None

    def test_an_error_of_filling_alone_is_put_right_by_cells(self):
        log, truth, barometer = driven(BASE, ve_error=0.15)
        found = propose(log, BASE, CorrectionRules(barometer_kpa=barometer, take_scalars=False))
        assert not found.scalars
        assert found.changed.sum() > 20
        _, after, _ = driven(apply(BASE, found), ve_error=0.15)
        assert within(BASE, truth, barometer) < 0.7 < 0.85 < within(BASE, after, barometer)


class TestAWrongCorrectionShows:
    def test_the_opposite_of_the_proposal_makes_it_worse(self):
        log, truth, barometer = driven(BASE, ve_error=0.12)
        good = apply(BASE, propose(log, BASE, CorrectionRules(barometer_kpa=barometer, take_scalars=False)))
        table = BASE.tables["ve"]
        mirrored = good.with_table("ve", table.with_values(2 * table.values - good.tables["ve"].values))
        _, better, _ = driven(good, ve_error=0.12)
        _, worse, _ = driven(mirrored, ve_error=0.12)
        assert (
            within(BASE, better, barometer) > within(BASE, truth, barometer) > within(BASE, worse, barometer)
        )

    def test_a_flow_typed_wrong_shows_in_the_log(self):
        typed = replace(BASE, scalars={**BASE.scalars, "injector_flow": 400.0})
        log, _, barometer = driven(typed)
        trims = log.filled("stft_1") + log.filled("ltft_1")
        idle = (log.filled("rpm") < 1000) & (log.filled("rpm") > 500)
        # the map believes in smaller injectors, opens them longer, and the trims take fuel out
        assert np.median(trims[idle]) == pytest.approx(100 * (400 / 440 - 1), abs=2.5)
        assert propose(log, typed, CorrectionRules(barometer_kpa=barometer)).scalars


def test_the_same_seed_is_the_same_drive_and_another_is_not():
    a, b = (driven(BASE, ve_error=0.1)[0] for _ in range(2))
    assert np.array_equal(a.filled("lambda"), b.filled("lambda"))
    assert np.array_equal(a.time_s, b.time_s)
    other = bench.rehearsal_vehicle(6, {"ve_error": 0.1})
    rehearsal.load(other, BASE)
    assert not np.array_equal(rehearsal.drive(other)[0].filled("lambda")[:1000], a.filled("lambda")[:1000])


def test_altitude_leaves_less_air_and_the_maps_answer_does_not_change():
    log, _, barometer = driven(BASE)
    assert barometer == pytest.approx(85.1, abs=0.3)
    assert log.filled("map").max() <= barometer + 1.5
    assert not propose(log, BASE, CorrectionRules(barometer_kpa=barometer)).changed.sum() > 6
