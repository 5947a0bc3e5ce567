"""The sums by their fields, the grids by what is typed, and other drums' files."""

from __future__ import annotations

import numpy as np
import pytest

from ventmap.core.basics import BadInput, VentMapError, Verdict
from ventmap.core.drum import read_curve
from ventmap.core.grids import judge_grid, settle
from ventmap.core.sums import SUMS, sum_by


@pytest.mark.parametrize("key", SUMS)
def test_every_sum_runs_as_it_opens_and_is_traced(key):
    found = SUMS[key].run({})
    assert found.sums or found.tables
    for item in found.sums:
        assert item.formula
        assert item.source
        assert item.inputs
        assert item.result.value not in ("", None)


class TestTyping:
    def test_units_are_free(self):
        metric = SUMS["injector-pressure"].run({"rail": "350 kPa", "manifold": "180", "flow": "440"})
        mixed = SUMS["injector-pressure"].run(
            {"rail": "50.763 psi", "manifold": "1,8 bar", "flow": "41.905 lb/h"}
        )
        assert mixed.sums[1].result.value == pytest.approx(metric.sums[1].result.value, abs=0.2)

    def test_boost_eats_pressure_on_a_fixed_rail_only(self):
        held = SUMS["injector-pressure"].run(
            {"rail": "350", "manifold": "180", "barometer": "100", "referenced": "yes"}
        )
        fixed = SUMS["injector-pressure"].run(
            {"rail": "350", "manifold": "180", "barometer": "100", "referenced": "no"}
        )
        assert held.sums[0].result.value == 350
        assert fixed.sums[0].result.value == 270

    @pytest.mark.parametrize(
        ("key", "typed", "field", "word"),
        [
            ("fuel-pump", {"rail": "hard"}, "rail", "not a number"),
            ("fuel-pump", {"rail": "3 mm"}, "rail", "does not measure"),
            ("injector-duty", {"stroke": "3"}, "stroke", "choose one of"),
            ("flow-match", {"flows": " "}, "flows", "at least one"),
            ("fuel-pump", {"curve": [{"kpa": "300", "lph": "x"}]}, "curve", "row 1"),
            ("fuel-pump", {"curve": "steep"}, "curve", "list of rows"),
            ("injector-need", {"count": "1e99"}, "count", "not a usable number"),
        ],
    )
    def test_wrong_input_names_the_field_on_the_screen(self, key, typed, field, word):
        with pytest.raises(VentMapError, match=word) as wrong:
            SUMS[key].run(typed)
        assert wrong.value.field == field

    def test_known_answers(self):
        assert (
            SUMS["injection-window"].run({"window": "180", "rpm": "6000", "pulse": "4"}).sums[0].result.value
            == 5.0
        )
        content = SUMS["ethanol-content"].run({"hz": "135", "pulse": "3"})
        assert [s.result.value for s in content.sums] == [85.0, 42.5]
        cost = SUMS["ethanol-cost"].run({"price_new": "1.70"})
        assert cost.sums[-1].result.value == "never at these prices"
        with pytest.raises(BadInput, match="no sum"):
            sum_by("luck")

    @pytest.mark.parametrize("share", (20.0, 55.0))
    def test_two_stages_by_weighing_what_they_spray(self, share):
        """Derived by the mass that is sprayed in a minute, cycle by cycle, not by the sum's own volumes."""
        typed = {"power": "200 kW", "bsfc": "380", "first": "500", "second": "800", "share": f"{share}"}
        found = SUMS["staged-injection"].run({**typed, "rpm": "4000", "ethanol": "0 %"})
        told = {item.title.split(",")[0]: float(item.result.value) for item in found.sums}
        grams = 200 * 380 / 60
        pulse_ms, cycles = told["Both stages with one pulse"], 4000
        sprayed = cycles * pulse_ms / 60_000 * 2 * (500 + 800) * 0.745
        assert sprayed == pytest.approx(grams * share / 100, rel=0.005)
        alone_ms = told["First stage alone"] / 100 * 15.0
        assert cycles * alone_ms / 60_000 * 2 * 500 * 0.745 == pytest.approx(grams * share / 100, rel=0.005)
        verdicts = [call.verdict for call in found.calls]
        assert verdicts == [Verdict.go if share == 20.0 else Verdict.hold, Verdict.go]
        with pytest.raises(VentMapError):
            SUMS["staged-injection"].run({**typed, "share": "0"})

    def test_drawings_come_where_the_trade_draws(self):
        assert {key for key in SUMS if SUMS[key].run({}).drawing} == {"feed-line", "shift-rod"}


class TestGrids:
    def test_compression_within_range_and_near_the_best(self):
        about = {"cylinders": 4, "low": 1000, "high": 1500, "spread": 0.12, "leak_most": 0.2}
        good = judge_grid("compression", about, {"kpa": ["12.4 bar", "1250", "181 psi", "1230"]})
        assert good.complete
        assert good.verdict is Verdict.go
        weak = judge_grid("compression", about, {"kpa": ["1300", "1290", "1120", "1280"]})
        assert [c.title for c in weak.calls if c.verdict is Verdict.hold] == ["Compression, cylinder 3"]
        half = judge_grid("compression", about, {"kpa": ["1300", "", "1290"]})
        assert not half.complete
        with pytest.raises(BadInput, match="cylinder 2"):
            judge_grid("compression", about, {"kpa": ["1300", "lots", "1", "1"]})

    def test_leak_down_in_its_place(self):
        about = {"cylinders": 3, "low": 1000, "high": 1500, "spread": 0.12, "leak_most": 0.2}
        assert (
            judge_grid(
                "compression", about, {"how": "leak-down", "leak": ["8", "9 %", "0.2 fraction"]}
            ).verdict
            is Verdict.go
        )
        weak = judge_grid(
            "compression", about, {"how": "leak-down", "leak": ["8", "9", "21"], "kpa": ["1", "1", "1"]}
        )
        assert [(c.title, c.because[0].value) for c in weak.calls if c.verdict is Verdict.hold] == [
            ("Leak-down, cylinder 3", 21.0)
        ]
        assert not judge_grid("compression", about, {"how": "leak-down", "leak": ["8", ""]}).complete
        with pytest.raises(BadInput, match="between 0 and 100"):
            judge_grid("compression", about, {"how": "leak-down", "leak": ["8", "9", "210"]})

    def test_an_injector_set_is_one_revision_with_a_narrow_spread(self):
        about = {"count": 4}
        assert judge_grid("injector_set", about, {"revisions": ["f33 a"] * 4}).verdict is Verdict.go
        mixed = judge_grid("injector_set", about, {"revisions": ["F33 A", "F33 A", "F33 B", "F33 A"]})
        assert "Mixed revisions" in mixed.calls[0].do_next
        assert mixed.verdict is Verdict.hold
        wide = judge_grid(
            "injector_set", about, {"revisions": ["A"] * 4, "flows": ["430", "440", "450", "440"]}
        )
        assert wide.calls[1].verdict is Verdict.hold

    fields = [{"name": "flow", "scale": 0.02, "offset": -10.0, "step": 0.04}]

    @pytest.mark.parametrize(
        ("read", "words", "verdict"),
        [
            (["0.24", "0.6", "0.11", "0.4"], ["fine", "fine", "fine", "fine"], Verdict.go),
            (["0.24", "0.1", "0.6", "0.4"], ["fine", "crossed", "crossed", "fine"], Verdict.stop),
            (["0.24", "0.6", "0.1", "0.9"], ["fine", "fine", "fine", "wrong"], Verdict.stop),
        ],
    )
    def test_body_codes_fine_crossed_wrong(self, read, words, verdict):
        data = {"codes": [["512"], ["530"], ["505"], ["520"]], "read": [[value] for value in read]}
        found = judge_grid("body_codes", {"cylinders": 4, "fields": self.fields}, data)
        assert found.view["entry"] == [[0.24], [0.6], [0.1], [0.4]]
        assert [row[0] for row in found.view["words"]] == words
        assert found.verdict is verdict
        assert found.complete

    def test_body_codes_before_reading_back_and_with_letters(self):
        about = {"cylinders": 2, "fields": self.fields}
        half = judge_grid("body_codes", about, {"codes": [["512"], ["530"]]})
        assert not half.complete
        assert half.view["entry"] == [[0.24], [0.6]]
        with pytest.raises(BadInput, match="digits only"):
            judge_grid("body_codes", about, {"codes": [["5I2"], ["530"]]})

    def test_seal_timers_overrun_is_sized_again(self):
        about = {"cylinders": 2, "seconds": 60}
        over = judge_grid(
            "seal_timers", about, {"seals": [{"cylinder": 1, "seconds": 61}, {"cylinder": 2, "seconds": 42}]}
        )
        assert over.verdict is Verdict.hold
        assert "Size it again" in over.calls[0].do_next
        assert not judge_grid("seal_timers", about, {"seals": [{"cylinder": 1, "seconds": 30}]}).complete

    def test_polarity_grid_draws_sides_and_turned_plugs(self):
        about = {"plugs": ["1", "2", "3"], "pins": ["A", "B"]}
        readings = [
            {"a": ["1", "B"], "b": ["2", "A"], "beeps": True},
            {"a": ["1", "B"], "b": ["3", "B"], "beeps": True},
            {"a": ["1", "B"], "b": ["2", "B"], "beeps": False},
            {"a": ["1", "A"], "b": ["2", "A"], "beeps": False},
            {"a": ["3", "A"], "b": ["2", "A"], "beeps": False},
        ]
        found = judge_grid("common_side", about, {"readings": readings})
        assert found.view["side"] == {"1": "B", "2": "A", "3": "B"}
        assert found.view["turned"] == ["2"]
        assert found.complete
        with pytest.raises(BadInput, match="one of A, B"):
            judge_grid(
                "common_side", about, {"readings": [{"a": ["1", "C"], "b": ["2", "A"], "beeps": True}]}
            )

    def test_grounds_torque_and_pins(self):
        grounds = judge_grid(
            "grounds",
            {"grounds": ["block", "strap"]},
            {"rows": [{"name": "block", "static": "20 mV"}]},
        )
        assert not grounds.complete
        assert {c.verdict for c in grounds.calls} == {Verdict.go, Verdict.hold}
        cranking = judge_grid(
            "grounds",
            {"grounds": ["block"], "cranking": True},
            {"rows": [{"name": "block", "cranking": "0.3"}]},
        )
        assert cranking.verdict is Verdict.stop
        about = {"fasteners": [{"name": "rail", "nm": 9}], "wrenches": [{"name": "5–25", "high_nm": 25}]}
        torque = judge_grid(
            "torque", about, {"rows": [{"name": "rail", "applied": "6.64 lb·ft", "wrench": "25"}]}
        )
        assert torque.verdict is Verdict.go
        assert torque.view["wrench"] == {"rail": "5–25"}
        pins = judge_grid(
            "pin_plan",
            {"needs": ["ground"]},
            {"rows": [{"connector": "A", "number": "4", "function": "ground"}]},
        )
        assert pins.verdict is Verdict.go
        with pytest.raises(BadInput, match="Row 1"):
            judge_grid("pin_plan", {}, {"rows": [{"number": "4"}]})
        with pytest.raises(BadInput, match="no grid"):
            judge_grid("tea", {}, {})

    def test_the_ledger_gets_one_line_when_all_is_well_and_each_fault_otherwise(self):
        about = {"grounds": ["a", "b"]}
        good = settle(
            judge_grid("grounds", about, {"rows": [{"name": n, "static": "10 mV"} for n in "ab"]}),
            "Grounds",
            "step.x",
        )
        assert [(c.rule, c.verdict) for c in good] == [("step.x", Verdict.go)]
        assert len(good[0].because) == 2
        bad = settle(
            judge_grid("grounds", about, {"rows": [{"name": n, "static": "90 mV"} for n in "ab"]}),
            "Grounds",
            "step.x",
        )
        assert [c.rule for c in bad] == ["step.x", "step.x#2"]


class TestDrumFile:
    rpm = np.arange(2000, 6001, 250)

    def text(self, head: str, values, comma=",", decimal="."):
        rows = [f"{r}{comma}{v:.2f}".replace(".", decimal) for r, v in zip(self.rpm, values, strict=True)]
        return "\n".join([head, *rows])

    def test_power_in_any_unit_and_torque(self):
        kw = 20 + 0.015 * self.rpm
        plain = read_curve(self.text("rpm,Power (kW)", kw), measured="wheels")
        horse = read_curve(self.text("Engine Speed [rpm];Power [hp]", kw / 0.7457, ";", ","), measured="hubs")
        torque = read_curve(self.text("RPM\tTorque N·m", kw * 9549.3 / self.rpm, "\t"), measured="wheels")
        for curve in (plain, horse, torque):
            assert curve.rpm[0] == 2000
            assert np.interp(4100, curve.rpm, curve.power_kw) == pytest.approx(81.5, rel=0.002)

    @pytest.mark.parametrize(
        ("text", "word"),
        [
            ("rpm,wheel kW\n1,2\n", "at least 8 rows"),
            ("speed,force\n" + "1,2\n" * 9, "must name rpm"),
            ("rpm,wheel kW\n" + "1000,2\n" * 9, "at least 1000 rpm"),
            ("rpm,wheel kW\n" + "1000,20\n" * 5 + "x,9\n" * 5, "Line 7"),
        ],
    )
    def test_refusals(self, text, word):
        with pytest.raises(BadInput, match=word):
            read_curve(text)
