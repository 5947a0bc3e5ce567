"""Outputs driven over the link, spark held for a light, figures set live: what is then seen."""

import pytest

from ventmap.core.corrections import CorrectionRules, propose
from ventmap.core.electrics import outputs_of, pickup_delay_ms, trigger_offset
from ventmap.core.forms import Identity
from ventmap.link.live_settings import drive_output, figure, give_back, lock_spark, set_figure
from ventmap.link.logger import USUAL, capture, plan_for, to_log
from ventmap.link.tester import Tester
from ventmap.link.transport import LinkLost
from ventmap.server import bench, rehearsal
from ventmap.standin.route import Leg

CAR = "corvane-estate-20"


def at(key: str = CAR, stock: bool = True, **faults: float):
    car = bench.yard_vehicle(key, seed=3, faults=faults, stock=stock)
    return car, Tester(bench.DirectLine(car))


def heard(name: str, **faults: float) -> tuple[list[str], float]:
    car, tester = at(**faults)
    amps = drive_output(tester, name, 0.5)
    return car.hears(), amps


class TestOutputs:
    def test_each_moves_by_itself_and_stops(self):
        car, tester = at()
        for output in outputs_of(4, "port"):
            if output.kind == "brake":
                continue
            assert drive_output(tester, output.key, 0.5) > 0.5
            assert car.hears() == [output.key]
            give_back(tester, output.key)
            assert car.hears() == []

    @pytest.mark.parametrize(
        ("name", "faults", "moves"),
        [
            ("injector_1", {"crossed_plugs": 1.0}, ["injector_3"]),
            ("injector_4", {"crossed_plugs": 1.0}, ["injector_2"]),
            ("injector_2", {"dead_injector": 2.0}, []),
            ("injector_3", {"dead_injector": 2.0}, ["injector_3"]),
            ("coil_1", {"crossed_coils": 1.0}, ["coil_2"]),
            ("coil_3", {"crossed_coils": 1.0}, ["coil_3"]),
        ],
    )
    def test_a_wrong_plug_moves_another(self, name, faults, moves):
        found, amps = heard(name, **faults)
        assert found == moves
        assert (amps > 0.5) == bool(moves)

    def test_a_relay_that_sticks_goes_on(self):
        car, tester = at(stuck_pump=1.0)
        drive_output(tester, "pump", 2.0)
        give_back(tester, "pump")
        assert car.hears() == ["pump"]

    def test_nothing_is_driven_while_it_turns_nor_what_is_not_there(self):
        car, tester = at()
        for _ in car.drive([Leg("start", 5.0), Leg("idle", 2.0)]):
            pass
        with pytest.raises(LinkLost, match="engine still"):
            drive_output(tester, "injector_1", 0.5)
        with pytest.raises(LinkLost):
            drive_output(at()[1], "injector_5", 0.5)
        with pytest.raises(LinkLost):
            drive_output(at("tarnwood-packhorse-30")[1], "coil_1", 0.5)


class TestTiming:
    def read(self, car, tester, rpm: float) -> float:
        """Spark held at 10°, the light at idle or faster."""
        legs = [Leg("start", 5.0), Leg("idle", 6.0)]
        legs += [Leg("hold", 6.0, rpm=rpm, pedal=12.0)] if rpm > 1500 else []
        lock_spark(tester, 10.0)
        return car.light(legs)

    def test_the_new_offset_puts_it_right(self):
        car, tester = at(trigger_offset=6.0)
        read = self.read(car, tester, 0)
        assert read == pytest.approx(4.0, abs=0.6)
        new = trigger_offset(figure(tester, "trigger_offset"), 10.0, read)
        assert set_figure(tester, "trigger_offset", new) == pytest.approx(new)
        assert car.light([Leg("idle", 3.0)]) == pytest.approx(10.0, abs=0.6)
        # It is kept when the power goes.
        car.computer.power(False)
        car.computer.power(True)
        assert car.engine.offset_off == pytest.approx(-6.0, abs=0.6)

    def test_a_delay_of_the_pickup_grows_with_speed(self):
        slow, fast = (self.read(*at(pickup_delay=0.15), rpm) for rpm in (0, 3000.0))
        # 0.15 ms of a crank that turns 0.006° in a millisecond for each rpm: 0.74° at 820 rpm, 2.7° at 3 000.
        assert slow == pytest.approx(10.0 - 0.74, abs=0.6)
        assert fast == pytest.approx(10.0 - 2.70, abs=0.6)
        assert pickup_delay_ms(fast - slow, 820.0, 3000.0) == pytest.approx(0.15, abs=0.06)


class TestGlobalTrim:
    FAULTS = {"flow_error": -0.09, "dead_time_error_ms": 0.12}

    def split(self, trim: float, named: bool = True):
        """Flow and dead-time error as the log of a drive with global trim shows them."""
        car = bench.rehearsal_vehicle(5, self.FAULTS)
        calibration = bench.rehearsal_map(Identity("T20", "VM-P4", "rehearsal"))
        rehearsal.load(car, calibration)
        tester = Tester(bench.DirectLine(car))
        set_figure(tester, "global_trim", trim)
        line = bench.DirectLine(car, car.drive(bench.fuel_route_of(car.truth)))
        rows = []
        for row in capture(Tester(line), plan_for([*USUAL, *(["global_trim"] if named else [])])):
            rows.append(row)
            if line.ended:
                break
        log = to_log(rows, "warm")
        return propose(log, calibration, CorrectionRules(barometer_kpa=car.truth.barometer_kpa)).split

    def test_what_was_added_to_stay_alive_is_not_taken_for_the_map_s(self):
        bare, added = self.split(0.0), self.split(0.15)
        # By hand: 9 % less flow asks for 1/0.91 − 1 = 9.9 % more fuel.
        for split in (bare, added):
            assert split.flow_error == pytest.approx(1 / 0.91 - 1, abs=0.02)
            assert split.dead_time_error_ms == pytest.approx(0.12, abs=0.06)
        # Passed over, it would hide all of the missing flow.
        assert self.split(0.15, named=False).flow_error < 0.0
