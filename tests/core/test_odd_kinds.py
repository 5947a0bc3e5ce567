"""Kinds that break the rules of a four-stroke car: a rotary, an engine in the wind, an automatic."""

from __future__ import annotations

import re
from dataclasses import replace

import numpy as np
import pytest

from tests.core.drives import drive
from tests.core.records import bodies, kit
from tests.core.test_needs import BARE
from ventmap.core.basics import HouseRules, Vehicle, read_record
from ventmap.core.electrics import outputs_of
from ventmap.core.findings import ReviewContext, review
from ventmap.core.grids import judge_grid
from ventmap.core.logs import Log, find_windows, read_log
from ventmap.core.needs import Thing, asks_at, open_asks
from ventmap.core.runsheet import Kit, SheetVehicle, Step, build

BOXES = {body["kind"]: body for body in bodies("devices").values()}
ROTARY = SheetVehicle(2, rotary=True, access=())
AIR = SheetVehicle(2, kind="motorcycle", air_cooled=True, access=())


def sheet(vehicle: SheetVehicle, kind: str = "standalone on an adapted harness", **house) -> dict[str, Step]:
    kits: list[Kit] = [kit(kind, about=BOXES[kind])]
    return {step.key: step for step in build(vehicle, kits, "street", HouseRules(house)).steps}


def words_of(step: Step) -> set[str]:
    told = (step.title, step.do, step.know, step.wrong, step.caution, step.answers, step.reading)
    return set(re.findall(r"[a-z]+", str(told).lower()))


class TestRotary:
    def test_its_oil_stands_under_pressure_though_it_is_fed_at_every_turn(self):
        oil = sheet(ROTARY)["first-start.oil"]
        assert oil.title == "Oil pressure while it cranks"
        assert "metering pump" in oil.do
        # By whichever stroke its record calls it.
        assert sheet(replace(ROTARY, stroke=2))["first-start.oil"] == oil
        assert (
            sheet(SheetVehicle(2, stroke=2, access=()))["first-start.oil"].title == "Oil feeds before it runs"
        )

    @pytest.mark.parametrize("stroke", [4, 2])
    def test_oil_and_exhaust_of_a_log_are_judged_as_of_an_engine_with_a_sump(self, stroke):
        log, _ = drive()
        log.channels["oil_pressure"] = np.where(log.channels["rpm"] > 500, 20.0, 0.0)
        log.channels["egt_1"] = np.full(len(log), 850.0)
        context = ReviewContext(induction="turbo", idle_target=850.0, stroke=stroke, rotary=True)
        kinds = {finding.kind: finding.verdict.value for finding in review(log, context).findings}
        assert kinds["oil_pressure_low"] == "stop"
        assert "exhaust_hot" not in kinds, "850 °C melts a two-stroke's piston, and no rotor"

    def test_leading_and_trailing_plugs_and_both_injectors_of_each_rotor_are_tried(self):
        keys = [one.key for one in outputs_of(2, "port", rotary=True)]
        assert keys.index("coil_2") < keys.index("trailing_1") < keys.index("injector_1")
        assert keys.index("secondary_2") < keys.index("pump")
        assert len(set(keys)) == len(keys)
        labels = {one.key: one.label for one in outputs_of(2, "port", rotary=True)}
        assert labels["coil_1"] == "leading coil 1"
        assert labels["injector_2"] == "primary injector 2"
        timing = sheet(ROTARY)["first-start.base_timing"].do
        assert "leading plug of rotor 1" in timing
        assert "never before the leading one" in timing

    @pytest.mark.parametrize(
        ("faces", "verdict"),
        [
            ([700, 710, 690, 680, 700, 690], "go"),
            ([591, 640, 640, 690, 690, 690], "go"),
            ([589, 640, 640, 640, 640, 640], "hold"),  # below the least
            ([850, 690, 700, 690, 700, 690], "hold"),  # one face 160 above another
            ([710, 710, 710, 600, 620, 610], "hold"),  # 110 behind the other
            ([0, 0, 0, 0, 0, 0], "hold"),
        ],
    )
    def test_compression_by_its_weakest_face(self, faces, verdict):
        about = sheet(ROTARY)["intake.compression"].about
        assert len(about.places) == 6
        result = judge_grid("compression", about, {"kpa": [f"{face}" for face in faces]})
        assert result.complete
        assert result.verdict.value == verdict

    def test_five_faces_of_six_are_no_answer_and_names_say_which(self):
        about = sheet(ROTARY)["intake.compression"].about
        result = judge_grid("compression", about, {"kpa": ["700"] * 5})
        assert not result.complete
        assert about.places[3] == "rotor 2, face 1"

    @pytest.mark.parametrize(
        ("rule", "other", "faces"),
        [
            ("intake.rotor_least", 650.0, [640] * 6),
            ("intake.face_spread", 60.0, [700, 620, 640, 640, 640, 640]),
            ("intake.rotor_spread", 30.0, [700, 700, 700, 640, 640, 640]),
        ],
    )
    def test_its_limits_are_the_house_s(self, rule, other, faces):
        def judged(**house):
            about = sheet(ROTARY, **house)["intake.compression"].about
            return judge_grid("compression", about, {"kpa": [f"{face}" for face in faces]}).verdict.value

        assert (judged(), judged(**{rule: other})) == ("go", "hold")

    def test_at_altitude_a_sound_rotor_reads_less(self):
        about = sheet(replace(ROTARY, barometer_kpa=85.0))["intake.compression"].about
        assert about.low == round(590 * 85.0 / 101.325)


class TestInTheWind:
    def test_no_step_speaks_of_coolant_or_a_thermostat(self):
        for kind in BOXES:
            steps = sheet(AIR, kind)
            spoken = {key for key, step in steps.items() if {"coolant", "thermostat"} & words_of(step)}
            assert spoken == set(), kind
        assert sheet(AIR)["make-safe.coolant"].reading.label == "head"
        assert "coolant" in words_of(sheet(replace(AIR, air_cooled=False))["make-safe.coolant"])

    def judged(
        self, channel: str, celsius: float, air: bool, **house
    ) -> tuple[dict[str, str], dict[str, tuple]]:
        log, _ = drive()
        channels = {name: values for name, values in log.channels.items() if name != "coolant"}
        channels[channel] = np.full(len(log), celsius)
        context = ReviewContext(induction="turbo", idle_target=850.0, air_cooled=air, rules=HouseRules(house))
        found = review(replace(log, channels=channels), context)
        return (
            {finding.kind: finding.verdict.value for finding in found.findings},
            {lack.kind: lack.missing for lack in found.not_checkable},
        )

    def test_its_head_tells_whether_it_is_warm(self):
        assert "not_warm" in self.judged("head_temp", 85.0, True)[0]
        assert "not_warm" not in self.judged("head_temp", 95.0, True)[0]
        assert "not_warm" not in self.judged("head_temp", 85.0, True, **{"warm.head": 80.0})[0]
        assert "not_warm" in self.judged("oil_temp", 65.0, True)[0]
        assert "not_warm" not in self.judged("oil_temp", 75.0, True)[0]
        assert "not_warm" in self.judged("oil_temp", 75.0, True, **{"warm.oil": 80.0})[0]

    def test_a_head_of_150_degrees_is_no_boiling_coolant(self):
        found, lacks = self.judged("coolant", 150.0, True)
        assert "coolant_high" not in found
        assert "not_warm" not in found | lacks
        assert self.judged("coolant", 120.0, False)[0]["coolant_high"] == "stop"

    def test_an_engine_with_coolant_is_not_called_warm_by_its_oil(self):
        assert self.judged("oil_temp", 95.0, False)[1]["not_warm"] == ("coolant",)
        assert self.judged("iat", 40.0, True)[1]["not_warm"]

    @pytest.mark.parametrize("heading", ["Cylinder Head Temp [°C]", "CHT (°C)", "head temperature °C"])
    def test_its_heading_is_known(self, heading):
        rows = "\n".join(f"{n / 10},{1000 + n},{80 + n / 20}" for n in range(200))
        log = read_log(f"time [s],rpm,{heading}\n{rows}\n".encode(), "head.csv")
        assert isinstance(log, Log)
        assert log.has("head_temp")


class TestAutomatic:
    def test_what_takes_the_computer_s_place_is_asked_what_it_tells_the_gearbox(self):
        car = SheetVehicle(4, access=(), automatic=True)
        for kind, body in BOXES.items():
            steps = {s.key: s for s in build(car, [kit(kind, about=body)], "street", HouseRules({})).steps}
            replaced = kit(kind, about=body).about.replaces_stock
            assert ("plan.gearbox" in steps) == replaced, kind
        step = sheet(car, "plug-in ECU")["plan.gearbox"]
        assert {answer.key: answer.verdict for answer in step.answers}["mute"] == "hold"
        for automatic in (False, None):
            assert "plan.gearbox" not in sheet(replace(car, automatic=automatic), "plug-in ECU")

    @pytest.mark.parametrize(("kind", "wanted"), [("car", True), ("sled", False)])
    def test_it_is_asked_which_gearbox_where_nobody_said_it(self, kind, wanted):
        body = {"model": "Any", "kind": kind, "cylinders": 4, "stroke": 4, "injection": "port"}
        vehicle = read_record(Vehicle, body | {"induction": "none"})
        about = kit("plug-in ECU", about={**BOXES["plug-in ECU"], "gearboxes": ()}).about
        things = [Thing("vehicle", "v", "V", vehicle), Thing("device", "d", "D", about)]
        fields = {ask.question.field for ask in asks_at("plan.fit", open_asks(things))}
        assert ("gearbox_kind" in fields) == wanted


class TestBelt:
    """Speed of the engine rises once and stays: a rolling pull is one all the same, and nothing shifts."""

    @staticmethod
    def ridden(top: float) -> Log:
        time = np.arange(0.0, 40.0, 0.05)
        rpm = np.interp(
            time, [0, 8, 10, 20, 20.5, 26, 27, 40], [1500, 1500, 6900, 7000, 7600, top, 6000, 1500]
        )
        pedal = np.interp(time, [0, 8, 9, 20, 20.2, 26, 26.2, 40], [0, 0, 60, 60, 100, 100, 0, 0])
        rows = zip(time, rpm, pedal, 40 + 0.6 * pedal, strict=True)
        text = "Time (s),RPM,Pedal (%),MAP (kPa)\n" + "\n".join(
            ",".join(f"{v:.2f}" for v in row) for row in rows
        )
        return read_log(text.encode(), "ride.csv")

    def test_full_throttle_near_its_top_is_a_pull_on_a_belt_alone(self):
        log = self.ridden(8000.0)
        pulls = [window for window in find_windows(log, belt=True) if window.kind == "pull"]
        assert [(round(w.from_s), round(w.to_s)) for w in pulls] == [(20, 26)]
        assert not [window for window in find_windows(log) if window.kind == "pull"]

    def test_a_clutch_that_catches_is_no_shift_and_a_lugging_engine_no_pull(self):
        caught = self.ridden(6400.0)
        kinds = [window.kind for window in find_windows(caught, belt=True)]
        assert (kinds.count("pull"), kinds.count("shift")) == (1, 0)
        time = np.arange(0.0, 20.0, 0.05)
        text = "Time (s),RPM,Pedal (%)\n" + "\n".join(
            f"{t:.2f},{1500 + 400 * (8 < t < 14):.0f},{100 * (8 < t < 14):.0f}" for t in time
        )
        still = read_log(text.encode(), "still.csv")
        assert not [window for window in find_windows(still, belt=True) if window.kind == "pull"]

    @pytest.mark.parametrize("kind", ("quad", "sled", "side-by-side", "motorcycle"))
    @pytest.mark.parametrize("gearbox", (None, "belt", "manual"))
    def test_who_drives_through_one(self, kind, gearbox):
        vehicle = Vehicle.model_validate({**BARE, "kind": kind, "gearbox_kind": gearbox})
        usual = kind in ("sled", "side-by-side")
        assert vehicle.belt is (usual if gearbox is None else gearbox == "belt")
