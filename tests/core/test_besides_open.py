"""Parts beside a kit that open fuel, coolant or oil, and a set of injectors that goes out and in again."""

from __future__ import annotations

from dataclasses import replace

import pytest

from tests.core.records import bodies, injector, kit
from ventmap.core.basics import HouseRules
from ventmap.core.grids import judge_grid
from ventmap.core.runsheet import (
    BESIDE_KINDS,
    FUEL_GATE,
    Act,
    Beside,
    Kit,
    SheetVehicle,
    Step,
    act_of,
    build,
    direct_ohms,
    may,
    opened_for,
)

BOXES = {body["kind"]: body for body in bodies("devices").values()}
CAR = SheetVehicle(4, access=(), rail_bolt_nm=9.0)
KITS: dict[str, list[Kit]] = {
    "no device": [],
    "a tool at the port": [kit("handheld or phone flasher", about=BOXES["handheld or phone flasher"])],
    "a box": [kit("inline fuel and ignition controller", about=BOXES["inline fuel and ignition controller"])],
}


def sheet(vehicle: SheetVehicle, kits: list[Kit], *parts: Beside) -> dict[str, Step]:
    with_parts = replace(vehicle, besides=tuple(opened_for(part) for part in parts))
    return {step.key: step for step in build(with_parts, kits, "street", HouseRules({})).steps}


def rules(act: Act, steps: dict[str, Step], left: str) -> set[str]:
    return {call.rule for call in may(act, [], list(steps.values()), set(steps) - {left})}


@pytest.mark.parametrize("kits", KITS.values(), ids=KITS)
@pytest.mark.parametrize("kind", BESIDE_KINDS)
@pytest.mark.parametrize("opens", ["", "fuel", "coolant", "oil"])
def test_what_is_opened_for_a_part_is_made_safe_before_it_and_shut_before_anything_runs(kits, kind, opens):
    steps = sheet(CAR, kits, Beside(kind, "the part", opens))
    what = BESIDE_KINDS[kind].opens or opens
    part = steps["fit.blow" if kind == "injectors" else "fit.besides_1"]
    if what == "fuel":
        assert set(FUEL_GATE) <= set(part.needs)
        assert act_of(part) is Act.open_fuel
        assert part.caution
        for act in (Act.power_on, Act.write, Act.start):
            assert "gate.fuel_open" in rules(act, steps, part.key)
    elif what:
        assert steps[f"fit.{what}_level"]
        for act in (Act.start, Act.log, Act.run):
            assert "gate.not_back" in rules(act, steps, f"fit.{what}_level")
    if what == "coolant":
        assert "make-safe.drain" in part.needs or kind == "injectors"
        # Cool is enough to drain it: no fuel is opened by that.
        assert act_of(steps["make-safe.drain"]) is None
    if not what:
        assert "fit.oil_level" not in steps
    order = list(steps)
    assert order.index(part.key) < order.index("fit.power") < order.index("first-start.besides_1")
    assert may(Act.start, [], list(steps.values()), set(steps)) == []


class TestInjectorsOutAndIn:
    SET = Beside("injectors", "cleaned")

    def test_parts_alone_are_a_job_without_a_device_a_map_or_a_goal(self):
        steps = sheet(replace(CAR, prepared=True), [], self.SET)
        assert {"fit.blow", "fit.set", "fit.ohms", "fit.seals", "fit.rail", "first-start.leaks"} <= set(steps)
        assert not {"plan.injectors", "base-map.choose", "load.write", "fit.besides_1"} & set(steps)
        assert "first-start.besides_1" in steps
        # More is asked of it: then they are held against the goal as well.
        assert "plan.injectors" in sheet(replace(CAR, more_power=True), [], self.SET)

    def test_with_a_new_set_in_the_kit_they_are_fitted_once(self):
        new = [kit("plug-in ECU", about=BOXES["plug-in ECU"], injectors="new")]
        keys = list(sheet(CAR, new, self.SET))
        assert keys.count("fit.blow") == 1
        assert not [key for key in keys if key.startswith("fit.blow-")]

    @pytest.mark.parametrize("injection", ["direct", "both", "diesel"])
    def test_direct_ones_go_back_by_their_lines_and_sheet(self, injection):
        car = replace(CAR, injection=injection)
        steps = sheet(car, [], self.SET)
        assert steps["fit.lines"].shuts == "fuel"
        assert "gate.fuel_open" in rules(Act.power_on, steps, "fit.lines")
        assert steps["fit.ohms"].reading.judge == "direct injector"
        code = {"name": "flow", "scale": 0.01, "step": 0.01}
        known = replace(car, stock_injectors=injector(ohms=180_000.0, codes=[code], seat_within_s=45.0))
        steps = sheet(known, [], self.SET)
        assert (steps["fit.ohms"].reading.low, steps["fit.ohms"].reading.high) == (150_000.0, 250_000.0)
        assert steps["fit.sizing"].about.seconds == 45.0
        # A code is entered with the battery on and the injectors seated.
        assert {"fit.power", "fit.rail"} <= set(steps["fit.codes"].needs)
        order = list(steps)
        assert order.index("fit.power") < order.index("fit.codes")
        known = replace(car, stock_injectors=injector(ohms=2.0))
        assert sheet(known, [], self.SET)["fit.ohms"].reading.high == 16.0

    @pytest.mark.parametrize(
        ("ohms", "verdict"),
        [
            (0.4, "hold"),
            (0.5, "go"),
            (16.0, "go"),
            (16.5, "hold"),
            (149e3, "hold"),
            (150e3, "go"),
            (251e3, "hold"),
        ],
    )
    def test_a_coil_or_a_piezo_stack_and_nothing_between(self, ohms, verdict):
        assert direct_ohms("r", "t", ohms).verdict.value == verdict

    def test_it_is_proven_by_a_rail_that_holds_and_an_even_idle(self):
        step = sheet(CAR, [], self.SET)["first-start.besides_1"]
        assert judge_grid("checks", step.about, {"answers": {"1": "yes", "2": "yes"}}).verdict.value == "go"
        assert judge_grid("checks", step.about, {"answers": {"1": "no", "2": "yes"}}).verdict.value == "hold"
