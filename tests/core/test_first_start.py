"""The first start: what is asked of each kind, in which order, and how it is judged."""

import numpy as np
import pytest

from tests.core.first_start import OUTPUTS, step_of, tried
from ventmap.core.basics import DEVICES, BadInput, DeviceKind, HouseRules
from ventmap.core.electrics import INTERLOCKS, locked, outputs_of, pickup_delay_ms, trigger_offset
from ventmap.core.findings import ColdStart, cold_start_calls, read_cold_start
from ventmap.core.grids import judge_grid
from ventmap.core.loading import next_global_trim
from ventmap.core.logs import Log
from ventmap.core.runsheet import Kit, SheetVehicle, build


class TestOutputs:
    def test_no_spark_is_made_after_fuel_and_no_injector_opens_under_pressure(self):
        kinds = [output.kind for output in outputs_of(3, "port")]
        assert kinds.index("coil") < kinds.index("injector") < kinds.index("pump") == len(kinds) - 1
        for output in OUTPUTS.values():
            if output.kind in ("coil", "injector"):
                assert "no_pressure" in output.interlocks
            assert "still" in output.interlocks

    @pytest.mark.parametrize("exchanged", [0, 1, 2, 3])
    def test_one_alone_cannot_be_exchanged(self, exchanged):
        seen = dict.fromkeys(OUTPUTS, "works")
        coils = [key for key, output in OUTPUTS.items() if output.kind == "coil"]
        seen |= dict.fromkeys(coils[:exchanged], "other")
        titles = [call.title for call in tried(None, **seen).calls]
        assert ("Answers contradict each other" in titles) is (exchanged == 1)

    def test_each_interlock_by_itself_locks_what_it_protects(self):
        every = {lock.key for lock in INTERLOCKS}
        for output in outputs_of(2, "direct"):
            assert locked(output, every) is None
            for key in output.interlocks:
                assert locked(output, every - {key}).key == key

    def test_a_diesel_has_no_coils_and_its_injectors_bite(self):
        found = outputs_of(6, "diesel")
        assert not [one for one in found if one.kind == "coil"]
        assert all("high_voltage" in one.interlocks for one in found if one.kind == "injector")

    def test_complete_only_with_every_answer_and_every_interlock(self):
        assert tried(None).verdict == "go"
        assert tried(None).complete
        for left in ("still", "clear", "no_vapour", "no_pressure", "closed"):
            rest = [lock.key for lock in INTERLOCKS if lock.key != left]
            assert not tried(rest).complete
            assert tried(rest).verdict == "hold"
        assert not tried(None, injector_3="").complete

    @pytest.mark.parametrize(
        ("key", "seen", "verdict"),
        [
            ("injector_3", "other", "stop"),
            ("coil_2", "other", "stop"),
            ("fan_slow", "other", "hold"),
            ("pump", "stays", "stop"),
            ("fan_fast", "stays", "hold"),
            ("brake", "nothing", "hold"),
            ("fan_fast", "absent", "go"),
            ("coil_4", "absent", "go"),
            ("injector_4", "absent", "hold"),
        ],
    )
    def test_what_is_seen_decides(self, key, seen, verdict):
        assert tried(None, **{key: seen}).verdict == verdict

    def test_an_engine_without_any_coil_that_sparks_is_not_through(self):
        assert tried(None, **{f"coil_{n}": "absent" for n in range(1, 5)}).verdict == "hold"


class TestTiming:
    def judged(self, rules: HouseRules | None = None, **typed: str):
        return judge_grid("base_timing", step_of("base_timing", rules=rules).about, typed)

    def test_by_hand_and_by_the_sum(self):
        # 4° under the light of 10° locked: the edge passes 6° later than set, at 54° of 60°.
        assert trigger_offset(60.0, 10.0, 4.0) == 54.0
        found = self.judged(read="4", old="60")
        assert found.view == {"offset": 54.0, "off": True}
        assert not found.complete
        assert found.verdict == "stop"
        assert not self.judged(read="4", old="60", new="54").complete
        assert self.judged(read="4", old="60", new="54", again="10", high="9.5").verdict == "go"
        assert self.judged(read="4", old="60", new="54", again="8", high="8").verdict == "hold"

    def test_what_moves_with_speed_is_no_offset(self):
        assert self.judged(read="10", high="8.5").verdict == "hold"
        assert self.judged(read="10", high="4").verdict == "stop"
        assert not self.judged(read="10").complete
        assert pickup_delay_ms(-2.16, 600.0, 3000.0) == pytest.approx(0.15)
        with pytest.raises(BadInput):
            pickup_delay_ms(-1.0, 2800.0, 3000.0)

    def test_house_rules_decide(self):
        wide = HouseRules({"start.timing_hold": 2.0, "start.timing_stop": 8.0, "start.timing_rpm": 2500.0})
        assert self.judged(wide, read="8.5", high="8.5").verdict == "go"
        assert self.judged(wide, read="4", old="60").verdict == "hold"
        assert "2500 rpm" in step_of("base_timing", rules=wide).do

    def test_only_a_standalone_that_sparks_is_timed(self):
        for kind in DeviceKind:
            keys = {step.key for step in build(SheetVehicle(4), [Kit(kind)], "street", HouseRules()).steps}
            assert ("first-start.base_timing" in keys) == (kind == "standalone on an adapted harness")
        diesel = build(
            SheetVehicle(4, injection="diesel"), [Kit(DeviceKind.standalone)], "street", HouseRules()
        )
        assert "first-start.base_timing" not in {step.key for step in diesel.steps}


@pytest.mark.parametrize("kind", DeviceKind)
@pytest.mark.parametrize("here", [True, False])
def test_every_kind_is_asked_for_something_of_its_own(kind, here):
    vehicle = SheetVehicle(4, prepared=here, idle_rpm=850.0)
    keys = [step.key for step in build(vehicle, [Kit(kind)], "street", HouseRules()).of("first-start")]
    common = {
        f"first-start.{name}" for name in ("running", "start", "leaks", "charging", "idle", "ground_cranking")
    }
    assert len(set(keys) - common) >= 1, keys
    runs = next(n for n, key in enumerate(keys) if key in ("first-start.running", "first-start.start"))
    if DEVICES[kind].written_here:
        assert keys.index("first-start.outputs") < runs
    # What touches neither fuel nor coolant is looked at for no leak.
    assert keys[runs + 1] == ("first-start.leaks" if DEVICES[kind].retunes else "first-start.charging")


def test_global_trim_goes_by_steps_and_not_for_good():
    trim, rules = 0.0, HouseRules()
    for wanted in (0.05, 0.1, 0.15, 0.2, 0.25):
        trim = next_global_trim(trim, 1, rules)
        assert trim == pytest.approx(wanted)
    with pytest.raises(BadInput, match="25 %"):
        next_global_trim(trim, 1, rules)
    assert next_global_trim(trim, 0, rules) == 0.0
    gentle = HouseRules({"start.trim_step": 2.0, "start.trim_most": 6.0})
    assert next_global_trim(0.04, 1, gentle) == pytest.approx(0.06)
    with pytest.raises(BadInput):
        next_global_trim(0.06, 1, gentle)


def test_house_rules_decide_what_a_cold_start_is():
    seen = ColdStart(coolant_c=45.0, crank_s=4.0, lowest_rpm=700.0, idle_rpm=900.0, mixture=1.12)
    held = {call.rule for call in cold_start_calls(seen, 850.0) if call.verdict != "go"}
    assert held == {"cold.cold", "cold.crank", "cold.mixture"}
    wide = HouseRules({"cold.coolant": 50.0, "cold.crank_s": 5.0, "cold.lean": 14.0})
    assert all(call.verdict == "go" for call in cold_start_calls(seen, 850.0, rules=wide))
    # A diesel has no mixture to be sane.
    assert "cold.mixture" not in {call.rule for call in cold_start_calls(seen, 850.0, petrol=False)}


def test_a_log_that_begins_with_the_engine_running_tells_no_cranking():
    time = np.arange(0.0, 40.0, 0.1)
    rpm = np.full(len(time), 1000.0)
    seen = read_cold_start(Log(time, {"rpm": rpm, "coolant": np.full(len(time), 10.0)}), 850.0)
    assert seen.crank_s is None
    assert seen.idle_rpm == pytest.approx(1000.0)
    assert seen.mixture is None
    rpm[:30] = 0.0
    rpm[30:45] = 220.0
    rpm[200:210] = 0.0  # it dies, and is started again
    seen = read_cold_start(Log(time, {"rpm": rpm, "coolant": np.full(len(time), 10.0)}), 850.0)
    assert seen.crank_s == pytest.approx(1.5)
    assert seen.lowest_rpm == 0.0
