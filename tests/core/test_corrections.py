"""A round of correction, cell by cell: logs that dwell on known places of the map with a known error."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ventmap.core.basics import HouseRules, NotEnough, Verdict
from ventmap.core.corrections import CorrectionRules, apply, propose
from ventmap.core.forms import diff
from ventmap.core.logs import Log

HZ = 20.0
PLAIN = CorrectionRules(barometer_kpa=85.0, take_scalars=False)


class Dwell:
    """A warm drive that stands still on cells of the filling table, one after the other.

    `places` are (row, column); `error` is what the mixture sensor shows there, as a fraction of the target.
    """

    def __init__(self, calibration, places, error, seconds=6.0):
        table = calibration.tables["ve"]
        rows = int(seconds * HZ)
        each = lambda values: np.repeat(np.asarray(values, float), rows)  # noqa: E731
        self.places, self.rows = places, rows
        n = rows * len(places)
        self.time = np.arange(n) / HZ
        self.channels = {
            "rpm": each([table.x[column] for _, column in places]),
            "map": each([table.y[row] for row, _ in places]),
            "pedal": np.full(n, 20.0),
            "lambda_target": np.ones(n),
            "lambda": 1.0 + each(error),
            "pulse": np.full(n, 4.0),
            "coolant": np.full(n, 88.0),
            "speed": np.full(n, 60.0),
            "battery": np.full(n, 14.0),
        }

    def at(self, place: int) -> slice:
        return slice(place * self.rows, (place + 1) * self.rows)

    def log(self) -> Log:
        return Log.from_channels(self.time, self.channels, "dwell")


def change(proposal):
    return proposal.new / proposal.old - 1


CELLS = [(3, 3), (3, 6), (5, 3), (5, 6)]


#: Places about one that was not driven, and errors that rise smoothly past it.
AROUND = (
    [(3, 1), (3, 2), (3, 4), (3, 5), (2, 2), (2, 4), (4, 2), (4, 4)],
    [0.02, 0.04, 0.08, 0.10, 0.04, 0.08, 0.04, 0.08],
)


class TestEvidence:
    @pytest.mark.parametrize("wrong", range(4))
    def test_only_the_cell_that_is_wrong_moves_and_by_its_error(self, base_map, wrong):
        error = [0.06 if n == wrong else 0.0 for n in range(4)]
        moved = change(propose(Dwell(base_map, CELLS, error).log(), base_map, PLAIN))
        assert moved[CELLS[wrong]] == pytest.approx(0.06, abs=0.004)
        others = [abs(moved[cell]) for n, cell in enumerate(CELLS) if n != wrong]
        assert max(others) == 0

    def test_trims_say_the_same_as_the_sensor(self, base_map):
        open_loop = Dwell(base_map, CELLS, [0.05] * 4)
        closed_loop = Dwell(base_map, CELLS, [0.0] * 4)
        closed_loop.channels["stft_1"] = np.full(len(closed_loop.time), 1.0)
        closed_loop.channels["ltft_1"] = np.full(len(closed_loop.time), 4.0)
        by_sensor, by_trim = (propose(d.log(), base_map, PLAIN) for d in (open_loop, closed_loop))
        assert change(by_trim) == pytest.approx(change(by_sensor), abs=0.001)

    def test_too_few_samples_leave_the_cell_as_it_is(self, base_map):
        long = Dwell(base_map, [*CELLS], [0.06] * 4)
        short = Dwell(base_map, [CELLS[0]] * 3 + [CELLS[1]], [0.0] * 3 + [0.06], seconds=0.45)
        assert change(propose(long.log(), base_map, PLAIN))[CELLS[1]] > 0
        proposal = propose(short.log(), base_map, PLAIN)
        assert proposal.samples[CELLS[1]] < 10
        assert change(proposal)[CELLS[1]] == 0

    def test_samples_that_disagree_leave_it_and_say_so(self, base_map):
        drive = Dwell(base_map, CELLS, [0.06] * 4)
        drive.channels["lambda"][drive.at(2)] += np.where(np.arange(drive.rows) % 40 < 20, 0.09, -0.09)
        proposal = propose(drive.log(), base_map, PLAIN)
        assert change(proposal)[CELLS[2]] == 0
        assert change(proposal)[CELLS[0]] > 0
        assert [call.verdict for call in proposal.calls if call.rule == "correct.spread"] == [Verdict.hold]

    @pytest.mark.parametrize("upset", ["cold", "overrun", "fast pedal", "no fuel", "beyond the sensor"])
    def test_what_judges_no_mixture_is_left_out(self, base_map, upset):
        drive = Dwell(base_map, CELLS, [0.0] * 4)
        rows = drive.at(1)
        drive.channels["lambda"][rows] = 1.09
        if upset == "cold":
            drive.channels["coolant"][rows] = 60
        elif upset == "overrun":
            drive.channels["pedal"][rows], drive.channels["rpm"][rows] = 0, 3500
            drive.channels["pedal"][:2] = 0
        elif upset == "fast pedal":
            drive.channels["pedal"][rows] = 30 + 25 * np.sin(np.arange(drive.rows) * 0.9)
        elif upset == "no fuel":
            drive.channels["pulse"][rows] = 0
        else:
            drive.channels["lambda"][rows] = 1.6
        proposal = propose(drive.log(), base_map, PLAIN)
        assert np.abs(change(proposal)).max() == 0
        assert proposal.used > 3 * drive.rows * 0.7

    @pytest.mark.parametrize("delay", [0.1, 0.3, 0.5])
    def test_the_sensors_delay_is_read_from_the_overruns_and_taken_out(self, base_map, delay):
        drive = Dwell(base_map, [(3, 3), (5, 3)] * 6, [0.0] * 12, seconds=5.0)
        for place in range(0, 12, 3):
            cut = slice(drive.at(place).start + 40, drive.at(place).start + 70)
            drive.channels["pulse"][cut] = 0.0
            lagging = slice(cut.start + round(delay * HZ), cut.stop + round(delay * HZ))
            drive.channels["lambda"][lagging] = 1.8
        assert propose(drive.log(), base_map, PLAIN).delay_s == pytest.approx(delay, abs=0.06)


@pytest.mark.parametrize("how", ["some", "all", "infinite"])
@pytest.mark.parametrize(
    "channel",
    [
        "rpm",
        "map",
        "lambda",
        "lambda_target",
        "pulse",
        "stft_1",
        "battery",
        "coolant",
        "pedal",
        "global_trim",
    ],
)
def test_blanks_and_infinities_give_a_right_answer_or_a_sentence(base_map, channel, how):
    drive = Dwell(base_map, CELLS, [0.06] * 4)
    values = np.array(drive.channels.get(channel, np.zeros(len(drive.time))), float)
    values[{"some": slice(5, None, 7), "all": slice(None), "infinite": slice(50, 60)}[how]] = (
        np.inf if how == "infinite" else np.nan
    )
    drive.channels[channel] = values
    try:
        proposal = propose(drive.log(), base_map, PLAIN)
    except NotEnough as refused:
        assert how == "all"
        assert "log" in refused.field
    else:
        assert change(proposal)[CELLS[2]] == pytest.approx(0.06, abs=0.004)
        assert np.isfinite(proposal.margin).all()
        assert np.isfinite(proposal.next_within)


def test_one_lean_cell_under_load_among_sound_ones_is_told_and_gets_what_was_measured(base_map):
    """A surface that smooths it away would say *go* of an engine that is lean there."""
    places = [(row, column) for row in (5, 6, 7) for column in (3, 4, 5, 6, 7)] * 2
    lean = (6, 5)
    drive = Dwell(base_map, places, [0.09 if place == lean else 0.0 for place in places], seconds=4.0)
    proposal = propose(drive.log(), base_map, PLAIN)
    assert base_map.tables["ve"].y[lean[0]] >= 0.8 * 85.0
    assert proposal.error[lean] == pytest.approx(0.09, abs=0.005)
    assert change(proposal)[lean] == pytest.approx(0.09, abs=0.005)
    assert proposal.within < 0.96


class TestLimits:
    def test_a_round_goes_a_tenth_at_most(self, base_map):
        assert change(
            propose(Dwell(base_map, CELLS, [0.3] * 4).log(), base_map, PLAIN)
        ).max() == pytest.approx(0.10, abs=0.001)

    def test_the_device_own_bounds_win(self, base_map):
        rules = CorrectionRules(barometer_kpa=85.0, take_scalars=False, bounds=(-0.02, 0.04))
        moved = change(propose(Dwell(base_map, CELLS, [0.09, -0.09, 0.09, -0.09]).log(), base_map, rules))
        assert moved.max() == pytest.approx(0.04, abs=0.001)
        assert moved.min() == pytest.approx(-0.02, abs=0.001)

    def test_in_boost_a_road_log_takes_out_three_percent_at_most_and_a_drum_more(self, base_map):
        top = len(base_map.tables["ve"].y) - 1
        drive = Dwell(base_map, [(top, 3), (top, 6)], [-0.09, -0.09])
        for on_drum, least in ((False, -0.03), (True, -0.075)):
            rules = CorrectionRules(barometer_kpa=60.0, take_scalars=False, on_drum=on_drum)
            assert change(propose(drive.log(), base_map, rules)).min() == pytest.approx(least, abs=0.002)

    def test_between_two_cells_it_is_filled_and_marked_as_not_measured(self, base_map):
        proposal = propose(Dwell(base_map, *AROUND).log(), base_map, PLAIN)
        assert proposal.filled[3, 3]
        assert not proposal.measured[3, 3]
        assert change(proposal)[3, 3] == pytest.approx(0.06, abs=0.006)

    def test_between_two_that_say_nothing_of_each_other_nobody_knows_and_it_stays(self, base_map):
        proposal = propose(Dwell(base_map, [(3, 2), (3, 4)], [0.09, -0.09]).log(), base_map, PLAIN)
        assert not proposal.filled.any()
        assert change(proposal)[3, 3] == 0
        assert proposal.margin[3, 3] > 3 * proposal.margin[3, 2]

    def test_a_filled_cell_under_load_never_loses_fuel(self, base_map):
        top = len(base_map.tables["ve"].y) - 1
        proposal = propose(Dwell(base_map, [(top, 2), (top, 4)], [-0.06, -0.06]).log(), base_map, PLAIN)
        assert change(proposal)[top, 3] == 0
        assert change(proposal)[top, 2] < 0

    @settings(max_examples=25)
    @given(
        st.lists(
            st.tuples(st.integers(0, 7), st.integers(0, 11), st.floats(-0.4, 0.45)), min_size=1, max_size=8
        ),
        st.booleans(),
    )
    def test_whatever_was_driven_no_round_leaves_its_bounds(self, base_map, driven, scalars):
        table = base_map.tables["ve"]
        places = [(min(row, len(table.y) - 1), min(column, len(table.x) - 1)) for row, column, _ in driven]
        rules = CorrectionRules(barometer_kpa=60.0, take_scalars=scalars)
        proposal = propose(
            Dwell(base_map, places, [error for *_, error in driven], seconds=3.0).log(), base_map, rules
        )
        moved = change(proposal)
        boost = table.y > 65.0
        assert np.abs(moved).max() <= 0.1 + 2e-4
        assert moved[boost].min() >= -0.03 - 2e-4
        assert np.all(moved[~(proposal.measured | proposal.filled)] == 0)


class TestScalars:
    def drive(self, base_map, flow, dead):
        pulses = [2.0, 3.0, 5.0, 9.0, 14.0]
        drive = Dwell(base_map, [(2, 3), (3, 4), (4, 5), (5, 6), (6, 7)], [0.0] * 5)
        across = np.full(len(drive.time), base_map.scalars["fuel_pressure_kpa"])
        for place, pulse in enumerate(pulses):
            drive.channels["pulse"][drive.at(place)] = pulse
        effective = drive.channels["pulse"] - base_map.tables["dead_time"].at(
            across, drive.channels["battery"]
        )
        # So much less is delivered: by flow everywhere, by dead time of each pulse its own length.
        drive.channels["lambda"] = (1.0 + flow) / (1.0 - dead / effective)
        return drive.log()

    @pytest.mark.parametrize(("flow", "dead"), [(0.06, 0.0), (-0.05, 0.1), (0.03, -0.15), (0.0, 0.2)])
    def test_flow_and_dead_time_are_told_apart(self, base_map, flow, dead):
        proposal = propose(self.drive(base_map, flow, dead), base_map, CorrectionRules(barometer_kpa=120.0))
        found = {s.name: s for s in proposal.scalars}
        assert proposal.split.flow_error == pytest.approx(flow, abs=0.005)
        assert proposal.split.dead_time_error_ms == pytest.approx(dead, abs=0.01)
        low, high = found["dead_time"].interval
        assert low - 0.01 <= dead <= high + 0.01
        # What the whole of it would move at the shortest pulse, by hand; a round moves a tenth at most.
        shortest = 2.0 - float(base_map.tables["dead_time"].at([85.0], [14.0])[0])
        part = min(1.0, 0.10 / abs((1 + flow) / (1 - dead / shortest) - 1))
        assert found["dead_time"].new == pytest.approx(part * dead, rel=0.10, abs=0.006)
        assert found["injector_flow"].new == pytest.approx(
            base_map.scalars["injector_flow"] / (1 + part * flow), rel=0.005
        )
        assert ("correct.scalar" in {call.rule for call in proposal.calls}) == (part < 1)

    def test_what_cannot_be_told_apart_moves_no_scalar(self, base_map):
        """Cells of one pulse that differ by 6 %: the filling table, and no figure of the injector."""
        log = self.drive(base_map, 0.08, 0.0)
        rows = len(log) // 5
        log.channels["lambda"][2 * rows : 3 * rows] *= 1.06
        rules = HouseRules({"correct.explains": 10.0})
        proposal = propose(log, base_map, CorrectionRules(rules, barometer_kpa=120.0))
        assert not proposal.scalars
        told = next(call for call in proposal.calls if call.rule == "correct.split")
        assert told.verdict == "hold"
        loose = HouseRules({"correct.explains": 10.0, "correct.apart": 5.0})
        assert propose(log, base_map, CorrectionRules(loose, barometer_kpa=120.0)).scalars

    def test_an_error_that_no_scalar_explains_is_left_to_the_cells(self, base_map):
        log = self.drive(base_map, 0.0, 0.0)
        rows = len(log) // 5
        for place, error in enumerate((0.05, -0.05, 0.06, -0.06, 0.05)):
            log.channels["lambda"][place * rows : (place + 1) * rows] = 1 + error
        proposal = propose(log, base_map, CorrectionRules(barometer_kpa=120.0))
        assert not proposal.scalars
        assert proposal.split.explained < 0.7
        assert proposal.measured.sum() >= 4

    def test_the_next_map_changes_fuel_and_never_spark(self, base_map):
        proposal = propose(
            self.drive(base_map, 0.05, 0.1), base_map, CorrectionRules(HouseRules(), barometer_kpa=120.0)
        )
        made = apply(base_map, proposal, author="Mara Tallis", note="first round")
        assert {c.item for c in diff(base_map, made)} == {"injector_flow", "dead_time", "ve"}
        assert (made.lineage.version, made.lineage.parent, made.lineage.author) == (
            "r1",
            base_map.sha256,
            "Mara Tallis",
        )
        again = propose(self.drive(base_map, 0.0, 0.0), made, CorrectionRules(barometer_kpa=120.0))
        assert again.within == 1.0
        assert again.calls[0].verdict is Verdict.go


class TestScalarsUnderLoad:
    """A flow figure that takes fuel away everywhere must not leave a cell under load leaner than it was
    found.
    """

    PULSES = {
        (1, 1): 2.0,
        (1, 3): 3.0,
        (2, 3): 4.0,
        (2, 5): 8.0,
        (3, 3): 6.0,
        (3, 6): 3.0,
        (5, 3): 5.0,
        (5, 6): 9.0,
        (6, 6): 4.0,
    }
    RICH, SHORT = (5, 3), (6, 6)

    def found(self, base_map, rich=-0.08, **house):
        """Rich by so much wherever it was driven, but for one place under load that is 6 % short."""
        drive = Dwell(
            base_map, list(self.PULSES), [0.06 if place == self.SHORT else rich for place in self.PULSES]
        )
        for n, pulse in enumerate(self.PULSES.values()):
            drive.channels["pulse"][drive.at(n)] = pulse
        rules = HouseRules(
            {
                "correct.explains": 10.0,
                "correct.apart": 30.0,
                **{key.replace("_", ".", 1): value for key, value in house.items()},
            }
        )
        proposal = propose(drive.log(), base_map, CorrectionRules(rules, barometer_kpa=85.0))
        made = apply(base_map, proposal)
        flow = base_map.scalars["injector_flow"] / made.scalars["injector_flow"]
        return proposal, flow * made.tables["ve"].values / base_map.tables["ve"].values - 1, flow - 1

    def test_a_cell_that_needs_fuel_gets_it_beyond_the_step_that_the_scalar_took(self, base_map):
        proposal, fuel, scalar = self.found(base_map, rich=-0.12)
        assert {s.name for s in proposal.scalars} == {"injector_flow", "dead_time"}
        assert scalar < -0.04
        assert fuel[self.SHORT] == pytest.approx(0.06, abs=0.03)
        assert change(proposal)[self.SHORT] > 0.1 - 1e-9
        held = self.found(base_map, rich=-0.12, correct_step=2.0)[1]
        assert 0.0 <= held[self.SHORT] <= 0.045, "fuel moves by no more than the house's step"

    def test_without_evidence_a_cell_keeps_its_fuel_under_load_and_follows_the_scalar_elsewhere(
        self, base_map
    ):
        proposal, fuel, scalar = self.found(base_map)
        load = base_map.tables["ve"].y >= 0.8 * 85.0
        bare = proposal.samples < 1
        assert fuel[load][bare[load]].min() > -0.012
        assert proposal.filled[load][bare[load]].all()
        assert not proposal.measured[bare].any()
        apart = bare[~load] & ~proposal.filled[~load]
        assert apart.sum() > 40
        assert fuel[~load][apart] == pytest.approx(scalar, abs=1e-3)

    def test_what_is_rich_under_load_stays_a_margin_on_the_rich_side(self, base_map):
        _, fuel, _ = self.found(base_map)
        assert -0.08 < fuel[self.RICH] < -0.05


def held(base_map, error: float, rule: str, value: float, places=CELLS, **more):
    house = HouseRules({rule: value})
    drive = Dwell(base_map, places, [error] * len(places), **more)
    return propose(
        drive.log(), base_map, CorrectionRules(barometer_kpa=85.0, take_scalars=False, house=house)
    )


class TestHouseRules:
    @pytest.mark.parametrize("step", [5.0, 8.0])
    def test_a_round_moves_a_cell_by_at_most_its_step(self, base_map, step):
        found = change(held(base_map, 0.2, "correct.step", step))
        assert found[CELLS[0]] == pytest.approx(step / 100, abs=1e-3)

    @pytest.mark.parametrize("most", [1.0, 4.0])
    def test_boost_is_leaned_by_at_most_its_own_limit(self, base_map, most):
        table = base_map.tables["ve"]
        row = int(np.argmax(table.y > 95.0))
        found = change(held(base_map, -0.15, "correct.lean_boost", most, [(row, 3), (row, 6)]))
        assert found[row, 3] == pytest.approx(-most / 100, abs=1e-3)

    def test_what_is_less_sure_than_the_house_wants_is_not_filled(self, base_map):
        drive, filled = Dwell(base_map, *AROUND), {}
        for sure in (4.0, 0.2):
            rules = CorrectionRules(
                HouseRules({"correct.sure": sure}), barometer_kpa=85.0, take_scalars=False
            )
            filled[sure] = propose(drive.log(), base_map, rules).filled[3, 3]
        assert filled == {4.0: True, 0.2: False}

    @pytest.mark.parametrize(("samples", "moves"), [(15, True), (25, False)])
    def test_a_cell_needs_so_many_samples(self, base_map, samples, moves):
        """One second at 20 Hz on each of three cells leaves about 20 in the middle of it."""
        found = held(base_map, 0.06, "correct.samples", samples, [CELLS[0], CELLS[3], CELLS[1]], seconds=1.0)
        assert bool(change(found)[CELLS[3]] > 0) is moves, found.samples[CELLS[3]]

    @pytest.mark.parametrize(("done", "verdict"), [(70.0, "go"), (80.0, "hold")])
    def test_the_targets_hold_from_so_many_driven_cells(self, base_map, done, verdict):
        house = HouseRules({"correct.done": done})
        drive = Dwell(base_map, CELLS, [0.0, 0.0, 0.0, 0.08])
        rules = CorrectionRules(barometer_kpa=85.0, take_scalars=False, house=house)
        call = next(c for c in propose(drive.log(), base_map, rules).calls if c.rule == "correct.within")
        assert call.verdict == verdict, call.because
