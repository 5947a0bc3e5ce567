"""Outputs driven over the link, spark held for a light, figures set live: what is then seen."""

import pytest

from ventmap.core.electrics import outputs_of, pickup_delay_ms, trigger_offset
from ventmap.link.live_settings import drive_output, figure, give_back, lock_spark, set_figure
from ventmap.link.tester import Tester
from ventmap.link.transport import LinkLost
from ventmap.server import bench
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
