"""How an injector goes into a rail and a seat, and what that does to the choice in Plan."""

from __future__ import annotations

import pytest

from tests.core.records import injector, kit, seat, sized
from ventmap.core.basics import HouseRules
from ventmap.core.fuel import PETROL, injector_fit
from ventmap.core.runsheet import SheetVehicle, ShelfInjector, build

SEAT = {
    "rail_bore_mm": 14.0,
    "seat_to_rail_mm": 60.0,
    "lower_bore_mm": 14.0,
    "seal_bore_mm": 9.0,
    "plug": "key B",
}
FITTING = {
    "upper_oring_mm": 14.0,
    "seat_to_rail_mm": 60.0,
    "lower_land_mm": 14.0,
    "neck_mm": 9.0,
    "plug": "key B",
}


class TestInjectorFit:
    def test_one_made_for_the_seat_fits_in_every_way(self):
        reasons = injector_fit(seat(**SEAT), injector(**FITTING))
        assert [reason.what for reason in reasons] == ["rail bore", "length", "lower seal", "neck", "plug"]
        assert {reason.result for reason in reasons} == {"fits"}
        assert not any(reason.work for reason in reasons)

    @pytest.mark.parametrize(
        ("change", "what", "result", "word"),
        [
            ({"upper_oring_mm": 11.0}, "rail bore", "fits with work", "top adapters, 11 to 14 mm"),
            ({"upper_oring_mm": 15.0}, "rail bore", "does not fit", ""),
            (
                {"upper_oring_mm": 16.0, "adapter_mm": 14.2},
                "rail bore",
                "fits with work",
                "its top adapters, 16 to 14 mm",
            ),
            ({"upper_oring_mm": 16.0, "adapter_mm": 11.0}, "rail bore", "does not fit", ""),
            ({"seat_to_rail_mm": 62.5}, "length", "fits with work", "spacers of 2.5 mm"),
            ({"seat_to_rail_mm": 48.0}, "length", "fits with work", "extenders of 12.0 mm"),
            ({"seat_to_rail_mm": 35.0}, "length", "does not fit", ""),
            ({"seat_to_rail_mm": 60.15}, "length", "fits", ""),
            ({"lower_land_mm": 10.0}, "lower seal", "fits with work", "lower adapters"),
            ({"lower_land_mm": 14.5}, "lower seal", "does not fit", ""),
            ({"neck_mm": 7.5}, "neck", "fits with work", "collars on the necks, 7.5 to 9 mm"),
            ({"plug": "key D"}, "plug", "fits with work", "an adapter lead for each"),
        ],
    )
    def test_each_difference_is_named_with_its_work(self, change, what, result, word):
        found = {
            reason.what: reason for reason in injector_fit(seat(**SEAT), injector(**{**FITTING, **change}))
        }
        assert found[what].result == result
        assert word in found[what].work
        assert bool(word) == bool(found[what].work)
        assert {reason.result for key, reason in found.items() if key != what} == {"fits"}

    def test_what_nobody_measured_is_not_judged(self):
        assert injector_fit(seat(), injector(**FITTING)) == ()
        assert [r.what for r in injector_fit(seat(plug="key B"), injector(**FITTING))] == ["plug"]

    def test_the_easiest_that_serves_comes_first_and_one_that_does_not_go_in_is_a_stop(self):
        shelf = tuple(
            ShelfInjector(
                key,
                key,
                flow=flow,
                rated_kpa=300.0,
                ohms=12.0,
                fluid=fluid,
                fit=injector_fit(seat(**SEAT), injector(**{**FITTING, **change})),
            )
            for key, flow, fluid, change in (
                ("never", 330.0, "petrol", {"upper_oring_mm": 16.0}),
                ("adapters", 330.0, "petrol", {"plug": "key D"}),
                ("plain", 440.0, "petrol", {}),
                ("heptane", 440.0, "n-heptane", {}),
            )
        )
        plan = sized(
            power_kw=128.0,
            boosted=False,
            cylinders=4,
            fuel=PETROL,
            fuel_pressure_kpa=300.0,
            altitude_m=0.0,
            injectors=shelf,
            rules=HouseRules(),
        )
        assert [choice.key for choice in plan.choices] == ["heptane", "plain", "adapters", "never"]
        by = {choice.key: choice for choice in plan.choices}
        assert by["never"].call.verdict == "stop"
        assert "does not go into a 14 mm bore" in by["never"].call.do_next
        assert by["adapters"].call.verdict == "go"
        assert "Fits with work: an adapter lead" in by["adapters"].call.do_next
        assert by["heptane"].flow == pytest.approx(440 * (0.684 / 0.745) ** 0.5)
        assert "Smallest that serves: heptane." in plan.calls[0].do_next

    def test_a_direct_injector_has_a_driver_of_its_own(self):
        def verdict(**kind):
            shelf = (ShelfInjector("a", "a", flow=840.0, rated_kpa=10_000.0, ohms=1.6, **kind),)
            plan = sized(
                power_kw=150.0,
                boosted=True,
                cylinders=4,
                fuel=PETROL,
                fuel_pressure_kpa=10_000.0,
                altitude_m=0.0,
                injectors=shelf,
                rules=HouseRules(),
                rpm=6000.0,
                window_deg=330.0,
            )
            return plan.choices[0].call.verdict

        assert (verdict(direct=True), verdict()) == ("go", "hold")


def test_what_the_set_needs_is_a_step_with_its_parts_before_fuel_is_opened():
    works = ("top adapters, 11 to 14 mm", "spacers of 2.5 mm under the rail, by the spacer sum")

    def sheet(work):
        fitted = [kit("plug-in ECU", injectors="new", injector_work=work)]
        return {step.key: step for step in build(SheetVehicle(4), fitted, "street", HouseRules()).steps}

    steps = sheet(works)
    assert [row.title for row in steps["fit.adapters"].about.rows] == [
        "Top adapters, 11 to 14 mm",
        "Spacers of 2.5 mm under the rail, by the spacer sum",
    ]
    assert steps["fit.adapters"].consumables == works
    order = list(steps)
    assert order.index("fit.adapters") < order.index("fit.blow")
    assert "fit.adapters" not in sheet(())
