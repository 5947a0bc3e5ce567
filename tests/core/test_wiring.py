"""Continuity, pin plans, terminators, allotment and torque."""

from __future__ import annotations

import itertools

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ventmap.core.basics import BadInput, Verdict
from ventmap.core.electrics import (
    Demand,
    Pin,
    PinRow,
    allot_io,
    can_termination,
    check_pin_plan,
    common_side,
    ground_call,
    pin_plan_csv,
    read_pin_plan,
)
from ventmap.core.runsheet import Fastener, Wrench, choose_wrench, torque_call, wrench_call


def pair(a: str, b: str):
    return ((a[0], a[1]), (b[0], b[1]))


class TestCommonSide:
    @given(st.integers(2, 8), st.data())
    def test_the_feed_is_found_whichever_way_plugs_are_turned(self, count, data):
        plugs = [str(n + 1) for n in range(count)]
        truth = {plug: data.draw(st.sampled_from("AB")) for plug in plugs}
        # any spanning set of readings will do, in any order and direction
        order = data.draw(st.permutations(plugs))
        joined = [((a, truth[a]), (b, truth[b])) for a, b in itertools.pairwise(order)]
        joined = [pair if data.draw(st.booleans()) else pair[::-1] for pair in joined]
        others = [((p, "BA"["AB".index(s)]), (plugs[0], truth[plugs[0]])) for p, s in truth.items()]
        found = common_side(plugs, joined, others)
        assert found.side == truth
        assert [c.verdict for c in found.calls] == [Verdict.go]

    def test_one_feed_in_each_bank(self):
        feeds = [pair("1A", "2B"), pair("2B", "3A"), pair("4B", "5B"), pair("5B", "6A")]
        silent = [pair("1B", "2B"), pair("2A", "1A"), pair("3B", "1A")]
        silent += [pair("4A", "5B"), pair("5A", "4B"), pair("6B", "4B")]
        found = common_side(list("123456"), feeds, silent, banks=2)
        assert found.side == {"1": "A", "2": "B", "3": "A", "4": "B", "5": "B", "6": "A"}
        assert "each of 2 banks" in str(found.calls[0].because[1].value)
        assert common_side(list("123456"), feeds, silent).calls[0].rule == "wiring.banks", (
            "one bank, two wires"
        )

    def test_pairs_of_a_batch_fired_engine_are_no_feed(self):
        found = common_side(list("1234"), [pair("1A", "4A"), pair("2A", "3A")])
        assert found.calls[0].verdict is Verdict.hold
        assert found.side == {}

    def test_a_plug_left_out_is_named_and_the_others_stand(self):
        found = common_side(list("1234"), [pair("1A", "2A"), pair("2A", "4B")])
        assert found.calls[0].verdict is Verdict.hold
        assert "Plug 3 left out" in found.calls[0].title
        assert found.side == {"1": "A", "2": "A", "4": "B"}

    def test_no_common_side(self):
        found = common_side(list("12"), [], [pair("1A", "2A")])
        assert "No common side" in found.calls[0].title
        assert found.side == {}

    def test_both_sides_on_one_wire_is_a_plug_still_on_its_injector(self):
        found = common_side(list("12"), [pair("1A", "2A"), pair("1A", "2B")])
        assert found.calls[0].verdict is Verdict.stop
        assert "plug 2" in found.calls[0].title
        assert not found.calls[0].may_be_overruled
        assert found.side == {}

    def test_both_sides_common(self):
        found = common_side(list("12"), [pair("1A", "2A"), pair("1B", "2B")])
        assert "Both sides look common" in found.calls[0].title
        assert found.side == {}

    def test_contradictory_readings(self):
        found = common_side(list("123"), [pair("1A", "2A"), pair("2A", "3A")], [pair("1A", "3A")])
        assert "contradict" in found.calls[0].title
        assert found.calls[0].verdict is Verdict.stop

    def test_a_plug_that_is_none_and_too_few(self):
        with pytest.raises(BadInput, match="no plug “9”"):
            common_side(list("12"), [pair("1A", "9A")])
        with pytest.raises(BadInput, match="at least two"):
            common_side(["1"], [])


@pytest.mark.parametrize(
    ("ohms", "verdict", "title"),
    [
        (60.4, "go", "Two terminators"),
        (120, "hold", "missing"),
        (40, "hold", "too many"),
        (0.4, "hold", "touch"),
        (2e6, "hold", "Nothing"),
        (85, "hold", "Not a bus"),
    ],
)
def test_can_termination(ohms, verdict, title):
    call = can_termination(ohms)
    assert call.verdict == verdict
    assert title in call.title


def test_grounds_at_rest_and_cranking():
    assert ground_call("block", 0.05).verdict is Verdict.go
    assert ground_call("block", 0.051).verdict is Verdict.stop
    assert ground_call("block", 0.051).protects == "computer"
    assert ground_call("block", 0.19, cranking=True).verdict is Verdict.go
    assert ground_call("block", -0.3, cranking=True).verdict is Verdict.stop


class TestPinPlan:
    plan = [
        PinRow("A", "1", "red", function="battery feed"),
        PinRow("A", "2", "black", function="ground", action="join", to="A 9"),
        PinRow("A", "9", "black", function="ground", action="join", to="A 2"),
        PinRow("A", "5", "blue", function="purge valve", action="pull", insulated=True),
        PinRow("A", "7", "green", function="crank sensor", action="move", to="B 3", label="CKP"),
    ]
    needs = ["battery feed", "ground", "crank sensor"]

    def rules(self, plan, needs=None):
        return {
            call.rule for call in check_pin_plan(plan, needs or self.needs) if call.verdict is not Verdict.go
        }

    def test_a_sound_plan_is_go_with_its_counts(self):
        (call,) = check_pin_plan(self.plan, self.needs)
        assert call.verdict is Verdict.go
        assert {e.label: e.value for e in call.because} == {
            "pins": 5,
            "functions needed": 3,
            "keep": 1,
            "pull": 1,
            "move": 1,
            "join": 2,
        }

    def test_each_fault_by_name(self):
        from dataclasses import replace

        assert self.rules([*self.plan, PinRow("A", "1", function="spare")]) == {"wiring.pin_twice"}
        assert self.rules(self.plan, [*self.needs, "pedal"]) == {"wiring.need_missing"}
        assert self.rules([*self.plan, PinRow("B", "8", function="Crank sensor")]) == {"wiring.need_twice"}
        assert self.rules([replace(row, insulated=False) for row in self.plan]) == {"wiring.pin_bare"}
        assert self.rules([*self.plan, PinRow("B", "3", function="lamp")]) == {"wiring.place_taken"}
        assert self.rules([*self.plan, PinRow("B", "4", function="lamp", action="move")]) == {
            "wiring.move_nowhere"
        }
        assert self.rules([*self.plan, PinRow("B", "4", function="lamp", damaged="spread")]) == {
            "wiring.pin_damaged"
        }

    @given(
        st.lists(
            st.builds(
                PinRow,
                st.sampled_from(["A", "B, C"]),
                st.integers(1, 99).map(str),
                st.sampled_from(["red", 'blue/"x"', ""]),
                st.text("abc ;é", max_size=8).map(str.strip),
                st.sampled_from(["keep", "pull", "move", "join", "insulate"]),
                st.sampled_from(["", "B 3"]),
                st.booleans(),
            ),
            min_size=1,
            max_size=12,
        )
    )
    def test_csv_there_and_back(self, plan):
        assert read_pin_plan(pin_plan_csv(plan)) == plan

    def test_csv_of_others_and_its_refusals(self):
        (row,) = read_pin_plan("\ufeffNumber;Connector;Action;Insulated\n12;A;pull;x\n")
        assert (row.place, row.action, row.insulated) == ("A 12", "pull", True)
        for text, word in (
            ("a,b\n1,2\n", "unknown"),
            ("connector,number,action\nA,1,cut\n", "Line 2"),
            ("", "no pins"),
        ):
            with pytest.raises(BadInput, match=word):
                read_pin_plan(text)


class TestAllotment:
    pins = (
        Pin("A12", ("analog in",)),
        Pin("A13", ("analog in", "temperature in")),
        Pin("B3", ("pwm out", "switched out"), 16.0, 2.0),
        Pin("B4", ("switched out",), 16.0, 0.5),
        Pin("C1", ("can",)),
    )

    def test_the_pin_that_can_do_more_is_left_for_who_needs_it(self):
        found = allot_io(
            [
                Demand("oil pressure", "analog in", 4.5),
                Demand("oil temperature", "temperature in"),
                Demand("fan relay", "switched out", 0, 0.2),
                Demand("boost", "pwm out", 0, 1.0),
            ],
            self.pins,
        )
        assert found.placed == {
            "oil pressure": "A12",
            "oil temperature": "A13",
            "fan relay": "B4",
            "boost": "B3",
        }
        assert found.calls[0].verdict is Verdict.go

    def test_what_cannot_be_placed_says_what_would_make_it_possible(self):
        found = allot_io(
            [
                Demand("flex", "frequency in"),
                Demand("pump", "switched out", 0, 12.0),
                Demand("sensor", "analog in", 12.0),
                Demand("a", "can"),
                Demand("b", "can"),
            ],
            self.pins,
        )
        assert found.placed == {"a": "C1"} or found.placed == {"b": "C1"}
        told = found.because
        assert "expander" in told["flex"]
        assert "relay" in told["pump"]
        assert "divider" in told["sensor"]
        assert "taken" in told["b" if "a" in found.placed else "a"]
        assert found.calls[0].verdict is Verdict.hold

    def test_as_many_as_can_be_are_placed(self):
        # greedy by order would give the first the only pin that the second can use
        found = allot_io(
            [Demand("first", "digital in"), Demand("second", "frequency in")],
            [Pin("F", ("frequency in", "digital in")), Pin("D", ("digital in",))],
        )
        assert found.placed == {"first": "D", "second": "F"}

    def test_refusals(self):
        with pytest.raises(BadInput, match="the type is one of"):
            allot_io([Demand("x", "magic")], self.pins)
        with pytest.raises(BadInput, match="listed twice"):
            allot_io([Demand("x", "can"), Demand("x", "can")], self.pins)


class TestTorque:
    small, middle, large = Wrench("1–5", 5.0), Wrench("5–25", 25.0), Wrench("20–100", 100.0)

    def test_a_wrench_is_true_within_a_fifth_and_the_whole_of_its_range(self):
        assert wrench_call(5.0, self.middle).verdict is Verdict.go
        assert wrench_call(4.9, self.middle).verdict is Verdict.hold
        assert wrench_call(25.0, self.middle).verdict is Verdict.go
        assert wrench_call(25.1, self.middle).verdict is Verdict.hold
        assert choose_wrench(9.0, [self.large, self.middle, self.small]) is self.middle
        assert choose_wrench(0.5, [self.large]) is None

    def test_applied_snug_and_forgotten(self):
        bolt, clip = Fastener("rail", 9.0), Fastener("cover", 4.0, critical=False)
        assert torque_call(bolt, 9.0, self.middle, False, False).verdict is Verdict.go
        assert torque_call(bolt, 9.0, self.large, False, False).verdict is Verdict.hold
        unnamed = torque_call(bolt, 9.0, None, False, False)
        assert unnamed.verdict is Verdict.hold
        assert "which wrench" in unnamed.do_next
        assert "quarter turn" in torque_call(bolt, 10.0, self.middle, False, False).do_next
        assert torque_call(clip, None, None, True, True).verdict is Verdict.go
        assert "critical" in torque_call(bolt, None, None, True, True).do_next
        assert "House rule" in torque_call(clip, None, None, True, False).do_next
        assert torque_call(bolt, None, None, False, True).do_next == "Torque it."
