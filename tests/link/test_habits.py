"""What loggers do to a log: a sound vehicle stays sound, and each habit is what it says."""

from __future__ import annotations

import numpy as np
import pytest

from tests.link.test_yard import DIESEL, TURBO, kinds
from tests.truth.driven import HABITS, held_for_nothing, sound, written
from ventmap.core.basics import BadInput
from ventmap.core.logs import read_log
from ventmap.server import bench, drives


@pytest.mark.parametrize("way", HABITS)
def test_a_sound_vehicle_is_held_for_no_habit_of_a_logger(way):
    assert held_for_nothing(way, [3]) == {}


class TestEachHabit:
    def test_a_value_stands_as_often_as_it_is_repeated(self):
        rpm = written(TURBO, 3, "each value three times").channels["rpm"]
        assert (rpm[0:300:3] == rpm[2:302:3]).all()

    def test_channels_are_held_each_for_its_own_time(self):
        log = bench.written_by(sound(TURBO, 3), {"hold": 0.5})
        runs = {
            name: np.diff(np.flatnonzero(np.diff(log.channels[name]) != 0)) for name in ("rpm", "map", "rail")
        }
        assert len({round(float(np.median(steps))) for steps in runs.values()}) > 1

    def test_bursts_and_gaps_and_steps_and_a_heating_probe(self):
        raw = sound(TURBO, 3)
        log = bench.written_by(raw, {"burst": 4.0, "dropout": 2.0, "bytes": 1.0, "heating_probe": 10.0})
        steps = np.diff(log.time_s)
        assert np.mean(steps < 0.001) == pytest.approx(0.75, abs=0.02)
        assert 1.9 < steps.max() < 2.5
        assert (log.channels["map"] == np.round(log.channels["map"])).all()
        assert (log.channels["lambda"][log.time_s < log.time_s[0] + 9.0] == 1.0).all()
        assert not (raw.channels["lambda"][:50] == 1.0).all()

    def test_a_foot_that_stays_at_the_limiter_reads_lean_and_is_not(self):
        log = sound(DIESEL, 3, 0.6)
        assert kinds(DIESEL, log) == set()
        top = np.nanmax(log.channels["rpm"])
        assert top > np.nanmax(sound(DIESEL, 3).channels["rpm"])

    def test_it_is_read_back_from_its_file(self):
        log = written(TURBO, 3, "bursts of three")
        back = read_log(drives.written(log, "plain").encode(), "drive.csv", altitude_m=1450.0)
        assert len(back) == len(log)
        assert (np.diff(back.time_s) > 0).all()

    @pytest.mark.parametrize(("name", "size"), [("stammer", 1.0), ("hold", -1.0), ("repeat", 99.0)])
    def test_what_is_no_habit_is_refused_with_those_that_there_are(self, name, size):
        with pytest.raises(BadInput, match="repeat"):
            bench.check_habits({name: size})
