"""How a logger writes its rows (bursts, a clock for each channel, jitter, gaps) changes nothing of what
they show.
"""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.drives import drive
from tests.core.test_seen import TURBO, spoilt
from ventmap.core.findings import review
from ventmap.core.logs import Log, even


class TestClocks:
    """How a logger writes its rows changes nothing of what it shows."""

    KINDS = ("lean_under_load", "knock", "fuel_pressure_drop", "trim_offset", "voltage_low", "overboost")

    def kinds(self, log: Log) -> dict[str, str]:
        return {f.kind: f.verdict.value for f in review(log, TURBO).findings if f.kind in self.KINDS}

    def spoilt(self) -> Log:
        def both(have: dict, mask: dict, time: np.ndarray) -> None:
            have["lambda"][mask["pull2"]] = 0.9
            have["knock"][mask["cruise2"]] = 4.0
            have["rail"][mask["pull2"]] *= 0.8

        return spoilt(both, hz=50.0)

    def written(self, log: Log, rates: dict[str, float], burst_s: float, jitter: float, seed: int) -> Log:
        """The same drive as a logger with a clock for each channel writes it: a row a frame, all else
        blank.
        """
        chance, rows = np.random.default_rng(seed), []
        for n, (name, hz) in enumerate(rates.items()):
            at = np.arange(0.0, log.duration_s, 1.0 / hz)
            own = np.interp(at, log.time_s, np.arange(len(log))).astype(int)
            moved = at + n * burst_s + chance.uniform(0, jitter / hz, len(at))
            rows += [(t, name, float(log.channels[name][row])) for t, row in zip(moved, own, strict=True)]
        rows.sort()
        time = np.array([row[0] for row in rows])
        channels = {name: np.full(len(rows), np.nan) for name in rates}
        for at, (_, name, value) in enumerate(rows):
            channels[name][at] = value
        return Log.from_channels(time, channels, "frames")

    NAMES = ("rpm", "pedal", "map", "map_target", "baro", "lambda", "lambda_target", "knock", "rail",
             "battery", "coolant", "stft_1", "ltft_1", "speed", "pulse")  # fmt: skip

    def test_six_frames_in_half_a_millisecond(self):
        log = self.spoilt()
        burst = self.written(log, dict.fromkeys(self.NAMES, 10.0), 1e-4, 0.0, 1)
        assert burst.rate_hz == pytest.approx(10.0, rel=0.02)
        found = review(burst, TURBO)
        assert [w.kind for w in found.windows].count("pull") == 2
        assert self.kinds(burst) == self.kinds(log)

    @settings(max_examples=12, deadline=None)
    @given(
        st.lists(st.sampled_from([10.0, 20.0, 25.0, 50.0, 100.0]), min_size=15, max_size=15),
        st.sampled_from([0.0, 1e-4, 2e-3]),
        st.floats(0.0, 0.4),
        st.integers(0, 9),
    )
    def test_any_clock_gives_the_same_findings(self, rates, burst_s, jitter, seed):
        log = self.spoilt()
        own = dict(zip(self.NAMES, rates, strict=True))
        assert self.kinds(self.written(log, own, burst_s, jitter, seed)) == self.kinds(log)

    def test_even_rows_stay_as_they_are(self):
        log, _ = drive()
        assert even(log) is log

    def test_a_gap_parts_recordings(self):
        log = self.written(self.spoilt(), dict.fromkeys(("rpm", "pedal"), 10.0), 1e-4, 0.0, 1)
        cut = Log.from_channels(
            np.concatenate([log.time_s[:400], log.time_s[400:] + 60.0]), log.channels, "with a gap"
        )
        apart = even(cut)
        assert len(apart.breaks) == 1
        assert np.diff(apart.time_s).max() > 50.0
