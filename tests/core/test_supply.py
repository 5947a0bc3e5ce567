"""Pumps, wires, feed lines, spacers, rods and injector care against figures worked by hand."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ventmap.core.basics import BadInput, OutOfRange, Verdict
from ventmap.core.fuel import (
    FUSES,
    WIRES,
    Fitting,
    Gap,
    care_paths,
    fuse_for,
    plan_feed_line,
    plan_stack,
    plan_wire,
    pump_check,
    pump_flow,
    pump_need,
    relay_call,
    voltage_drop,
)
from ventmap.core.runsheet import plan_rod

CURVE = [(300.0, 200.0), (400.0, 170.0), (500.0, 130.0)]


class TestPump:
    def test_need_is_litres_an_hour_with_reserve(self):
        # 4 × 500 cm³/min = 2 l/min = 120 l/h, and 15 %
        assert pump_need(500.0, 4) == pytest.approx(138.0)

    def test_curve_is_straight_between_points_and_follows_voltage(self):
        assert pump_flow(CURVE, 350.0, 13.5) == pytest.approx(185.0)
        assert pump_flow(CURVE, 350.0, 12.15) == pytest.approx(185.0 * 0.9)
        assert pump_flow(list(reversed(CURVE)), 450.0, 13.5) == pytest.approx(150.0)

    def test_beyond_the_curve_nothing_is_guessed(self):
        with pytest.raises(OutOfRange, match="curve ends at 500 kPa"):
            pump_flow(CURVE, 510.0, 13.5)

    def test_a_pump_that_serves_without_boost_may_fail_with_it(self):
        calm = pump_check(CURVE, 600.0, 4, 300.0, 0.0, True)
        boosted = pump_check(CURVE, 600.0, 4, 300.0, 150.0, True)
        fixed = pump_check(CURVE, 600.0, 4, 300.0, 150.0, False)
        assert calm.call.verdict is Verdict.go
        assert calm.need == pytest.approx(165.6)
        assert boosted.kpa == 450
        assert boosted.call.verdict is Verdict.hold
        assert "without boost, too little with it" in boosted.call.do_next
        assert fixed.kpa == 300
        assert fixed.call.verdict is Verdict.go
        assert "Too small" in pump_check(CURVE, 900.0, 4, 300.0, 0.0, True).call.do_next


class TestWire:
    def test_drop_by_ohms_law(self):
        # 10 A over 3 m and back in 1.5 mm²: R = 0.0172·6/1.5 = 0.0688 Ω
        assert voltage_drop(10.0, 3.0, 1.5) == pytest.approx(0.688)

    @given(st.floats(0.2, 46.0))
    def test_a_fuse_is_standard_and_the_next_above(self, current):
        fuse = fuse_for(current)
        assert fuse in FUSES
        assert fuse >= 1.25 * current - 1e-9
        assert all(size < 1.25 * current for size in FUSES if size < fuse)

    def test_a_fuse_never_outlives_its_wire(self):
        with pytest.raises(OutOfRange, match="thicker wire") as wrong:
            fuse_for(14.0, 15.0)
        assert wrong.value.field == "wire_rating_a"
        with pytest.raises(OutOfRange, match="Split the load"):
            fuse_for(60.0)

    @given(st.floats(0.5, 25.0), st.floats(0.3, 6.0))
    def test_the_wire_chosen_is_the_thinnest_that_serves(self, current, length):
        plan = plan_wire(current, length)
        thinner = [area for area in WIRES if area < plan.area_mm2]
        if plan.call.verdict is Verdict.go:
            assert plan.share <= 0.03 + 1e-9
            assert plan.fuse_a <= WIRES[plan.area_mm2]
        for area in thinner:
            assert voltage_drop(current, length, area) / 13.5 > 0.03 or plan.fuse_a > WIRES[area]

    def test_too_thin_a_wire_holds_by_what_is_wrong(self):
        assert "lost on the way" in plan_wire(8.0, 9.0, 1.0).call.do_next
        assert "would not protect" in plan_wire(14.0, 0.3, 0.75).call.do_next

    def test_relay(self):
        assert relay_call(2.0, 3.0).verdict is Verdict.go
        assert relay_call(12.0, 3.0).verdict is Verdict.hold
        assert relay_call(12.0, 3.0, relay=True).verdict is Verdict.go


class TestFeedLine:
    straight = Fitting("8 mm quick, straight", 18.0, 22.0)
    elbow = Fitting("sensor outlet, 90°", 24.0, 20.0)

    def test_cut_is_gap_less_take_up_with_slack_and_insertion(self):
        line = plan_feed_line(
            [
                Gap("tank side", 310.0, self.straight, self.elbow),
                Gap("rail side", 240.0, self.elbow, self.straight, 90.0),
            ],
            14.0,
            86.0,
        )
        assert line.cuts[0].length_mm == pytest.approx((310 - 18 - 24) * 1.05 + 22 + 20)
        assert line.cuts[1].bend_mm == pytest.approx(math.pi * 56 * 0.5)
        assert line.hose_mm == pytest.approx(sum(cut.length_mm for cut in line.cuts))
        assert [where for _, where in line.fittings] == [
            "tank side, upstream end",
            "tank side, downstream end",
            "rail side, upstream end",
            "rail side, downstream end",
        ]
        assert all(call.verdict is Verdict.go for call in line.calls)

    def test_the_drawing_is_to_scale_and_shows_flow(self):
        line = plan_feed_line(
            [Gap("a", 310.0, self.straight, self.elbow), Gap("b", 240.0, self.elbow, self.straight)],
            14.0,
            86.0,
        )
        hoses = [s for s in line.drawing.shapes if s.tone == "hose"]
        assert [s.x2 - s.x for s in hoses] == pytest.approx([cut.length_mm for cut in line.cuts])
        assert hoses[1].x - hoses[0].x2 == pytest.approx(86.0)
        assert any(s.text == "flow" for s in line.drawing.shapes)

    def test_a_bend_too_tight_asks_for_an_elbow(self):
        line = plan_feed_line([Gap("tight", 110.0, self.straight, self.straight, 120.0)], 14.0, 86.0)
        assert line.calls[0].verdict is Verdict.hold
        assert "90° fitting" in line.calls[0].do_next

    def test_fittings_that_fill_the_gap_are_refused_by_name(self):
        with pytest.raises(BadInput, match="short: the two fittings take up 42 mm of a gap of 40 mm"):
            plan_feed_line([Gap("short", 40.0, self.straight, self.elbow)], 14.0, 86.0)


class TestSpacers:
    def test_the_nearest_stack_with_the_fewest_shims(self):
        stack = plan_stack(61.0, 63.6, [0.5, 0.5, 1.0, 1.0, 1.6, 2.0])
        assert stack.shims == (1.0, 1.6)
        assert stack.call.verdict is Verdict.go

    def test_shorter_injectors_and_missing_shims(self):
        assert "shorter" in plan_stack(63.0, 61.0, [1.0]).call.do_next
        assert "order the next size" in plan_stack(60.0, 65.0, [1.0, 2.0]).call.do_next
        assert plan_stack(61.0, 61.05, []).call.do_next == "No spacer is needed."

    @given(st.lists(st.sampled_from([0.5, 0.8, 1.0, 1.6, 2.0]), max_size=7), st.floats(0.2, 5.0))
    def test_a_stack_is_made_of_what_is_there(self, stock, wanted):
        stack = plan_stack(60.0, 60.0 + wanted, stock)
        left = list(stock)
        for shim in stack.shims:
            left.remove(shim)
        assert stack.made == pytest.approx(sum(stack.shims))
        assert len(stack.shims) <= 4


class TestRod:
    sizes = {
        "stock_length_mm": 245.0,
        "sensor_mm": 68.0,
        "coupler_mm": 30.0,
        "stock_rod_mm": 205.0,
        "thread_mm": 6.0,
    }

    def test_length_keeps_the_pedal_where_it_was(self):
        rod = plan_rod(**self.sizes, sensor_overlap_mm=11.0, coupler_overlap_mm=9.0)
        assert rod.rod_mm == pytest.approx(245 - 68 - 30 + 11 + 9)
        assert (rod.change, rod.change_mm) == (
            "cut",
            pytest.approx(38.0),
        )
        # put together it is as long as before: sensor + rod + coupler − overlaps
        assert 68 + rod.rod_mm + 30 - 11 - 9 == pytest.approx(245.0)
        assert rod.needed_mm == (9.0, 6.0)
        assert all(call.verdict is Verdict.go for call in rod.calls)

    def test_too_little_thread_stops_and_protects_people(self):
        rod = plan_rod(**self.sizes, sensor_overlap_mm=8.9, coupler_overlap_mm=9.0)
        bad = [call for call in rod.calls if call.verdict is Verdict.stop]
        assert [call.title for call in bad] == ["Thread in the sensor"]
        assert not bad[0].may_be_overruled

    def test_a_rod_that_cannot_be_made(self):
        rod = plan_rod(120.0, 90.0, 25.0, 100.0, 6.0, 9.0, 6.0)
        assert rod.change == "cannot"
        assert "cannot be made" in rod.calls[-1].do_next
        assert rod.calls[-1].protects == "people"

    def test_longer_and_equal_rods(self):
        assert (
            plan_rod(
                **{**self.sizes, "stock_rod_mm": 150.0}, sensor_overlap_mm=11.0, coupler_overlap_mm=9.0
            ).change
            == "extend"
        )
        assert (
            plan_rod(
                **{**self.sizes, "stock_rod_mm": 167.2}, sensor_overlap_mm=11.0, coupler_overlap_mm=9.0
            ).change
            == "keep"
        )
        with pytest.raises(BadInput, match="steel or aluminium"):
            plan_rod(**self.sizes, sensor_overlap_mm=11.0, coupler_overlap_mm=9.0, sensor_material="brass")


def test_used_cleaned_or_new_counts_the_risk_of_the_whole_set():
    prices = {"used_each": 40.0, "clean_each": 30.0, "new_each": 140.0, "seals_each": 10.0, "direct": True}
    found = care_paths(4, **prices, rework=500.0)
    used, cleaned, new = found.paths
    assert used.outlay == 200
    assert used.expected_rework == pytest.approx((1 - 0.9**4) * 500)
    assert new.outlay == 600
    assert "decoupling rings" in new.renew
    assert "mechanically" in found.call.do_next
    assert "cleaned" in found.call.do_next
    assert cleaned.total < used.total < new.total
    # where opening again is dear enough, new is the cheapest
    assert "new" in care_paths(4, **{**prices, "new_each": 60.0}, rework=2000.0).call.do_next
