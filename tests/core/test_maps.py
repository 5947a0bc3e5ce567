"""Maps as files and images, matching, run sheets, boards, corrections on made data."""

from __future__ import annotations

import json
from dataclasses import replace
from pathlib import Path

import jsonschema
import numpy as np
import pytest

from tests.core.drives import drive
from tests.core.records import kit, sized
from ventmap.core.basics import (
    RULES,
    STAGE_KEYS,
    STAGES,
    CalibrationError,
    HouseRules,
    NotEnough,
    Verdict,
    slat,
    worst,
)
from ventmap.core.corrections import CorrectionRules, apply, propose
from ventmap.core.forms import MapConditions, diff, from_image, from_json, to_json
from ventmap.core.fuel import PETROL
from ventmap.core.loading import (
    ASKED,
    LoadBoard,
    Named,
    asked_words,
    charge,
    identity_match,
    interrupted_call,
    load_calls,
)
from ventmap.core.maps import Wanted, match_maps
from ventmap.core.runsheet import Change, SheetVehicle, ShelfInjector, build, revise

ROOT = Path(__file__).resolve().parents[2]
READY = LoadBoard(
    12.7,
    True,
    kept_awake=True,
    in_park=True,
    laptop="mains",
    cable_seated=True,
    saved="equal",
    identity="equal",
    newest=True,
    matched="yes",
    firmware="current",
)


def test_the_file_follows_its_schema_and_returns_equal(base_map):
    document = json.loads(to_json(base_map))
    jsonschema.validate(document, json.loads((ROOT / "formats" / "map.schema.json").read_text()))
    again = from_json(to_json(base_map))
    assert diff(base_map, again) == []
    assert again.sha256 == base_map.sha256
    assert again.image() == base_map.image()


def test_an_image_returns_the_map_and_a_flipped_bit_does_not(base_map):
    image = bytearray(base_map.image(65_536))
    assert len(image) == 65_536
    assert diff(base_map, from_image(bytes(image))) == []
    image[500] ^= 1
    with pytest.raises(CalibrationError, match="not whole"):
        from_image(bytes(image))
    with pytest.raises(CalibrationError, match="erased"):
        from_image(b"\xff" * 2048)
    with pytest.raises(CalibrationError, match="holds 1024"):
        base_map.image(1024)


@pytest.mark.parametrize(
    ("spoil", "word"),
    [
        (lambda d: d["scalars"].update(injector_flow=500), "checksum"),
        (lambda d: d.update(crc32="00000000"), "checksum"),
        (lambda d: d.update(format="other"), "no Vent Map map"),
        (lambda d: d["tables"].pop("ve"), "lacks ve"),
        (lambda d: d["tables"]["ve"]["values"].pop(), "misshapen"),
    ],
)
def test_broken_map_files_are_refused(base_map, spoil, word):
    document = json.loads(to_json(base_map))
    spoil(document)
    with pytest.raises(CalibrationError, match=word):
        from_json(json.dumps(document))
    with pytest.raises(CalibrationError, match="not JSON"):
        from_json(b"\x00\x01")


def test_diff_names_cells(base_map):
    ve = base_map.tables["ve"]
    values = ve.values.copy()
    values[2, 3] += 1.5
    changes = diff(base_map, base_map.with_scalars(rev_limit=6500).with_table("ve", ve.with_values(values)))
    assert [(c.item, c.row, c.column) for c in changes] == [("rev_limit", None, None), ("ve", 2, 3)]
    assert changes[1].x == ve.x[3]
    assert changes[1].y == ve.y[2]


def test_matching_prefers_freer_breathing_and_rules_out_with_reasons(base_map):
    def candidate(name, **about):
        identity = replace(
            base_map.identity, **{k: about.pop(k) for k in ("engine", "computer") if k in about}
        )
        return replace(
            base_map,
            name=name,
            identity=identity,
            conditions=MapConditions(
                **{"induction": "none", "ron": 95.0, "exhaust": "free", "altitude_m": (0.0, 2500.0), **about}
            ),
        )

    wanted = Wanted(
        "T20",
        "FW-P4",
        induction="none",
        ron=95,
        ethanol=0.0,
        altitude_m=1450,
        injector_flow=330.0,
        exhaust="free",
    )
    found = match_maps(
        wanted,
        [
            candidate("stock", exhaust="stock"),
            candidate("race", exhaust="race"),
            candidate("same"),
            candidate("98", ron=98),
            candidate("turbo", induction="turbo"),
            candidate("P3", computer="FW-P3"),
        ],
    )
    assert [m.name for m in found if m.possible] == ["same", "race"]
    reasons = {m.name: m.conflicts[0] for m in found if not m.possible}
    assert "lean" in reasons["stock"]
    assert "98 RON" in reasons["98"]
    assert "induction" in reasons["turbo"]
    assert "FW-P3" in reasons["P3"]
    fixed = match_maps(replace(wanted, parameters_will_be_set=False), [candidate("same")])
    assert not fixed[0].possible
    assert "440" in fixed[0].conflicts[0]


class TestLoadBoard:
    def test_nothing_is_assumed(self):
        calls = load_calls(LoadBoard(), HouseRules())
        assert len(calls) == 11
        assert {c.verdict for c in calls} == {Verdict.stop}
        assert all(not c.may_be_overruled for c in calls)

    @pytest.mark.parametrize("kind", ["motorcycle", "sled", "watercraft"])
    def test_what_has_no_pedals_and_no_rear_screen_is_not_asked_for_them(self, kind):
        moving = load_calls(replace(READY, in_park=False), HouseRules(), kind)
        words = " ".join(f"{call.title} {call.do_next}" for call in moving).lower()
        words += " ".join(word for row in ASKED for word in asked_words(row, kind).values()).lower()
        assert not [wrong for wrong in ("pedal", "park", "rear screen", "feet") if wrong in words]
        assert worst(load_calls(READY, HouseRules(), kind)) is Verdict.go
        assert worst(moving) is Verdict.stop

    def test_all_go(self):
        assert worst(load_calls(READY, HouseRules())) is Verdict.go

    @pytest.mark.parametrize(
        ("change", "verdict"),
        [
            ({"battery_v": 12.5}, "go"),
            ({"battery_v": 12.4}, "hold"),
            ({"battery_v": 11.9}, "stop"),
            ({"laptop": "battery"}, "hold"),
            ({"saved": "unreadable"}, "hold"),
            ({"identity": "unknown"}, "hold"),
            ({"identity": "differs"}, "stop"),
            ({"newest": False}, "hold"),
            ({"firmware": "older"}, "hold"),
            ({"firmware": "below"}, "stop"),
            ({"kept_awake": False}, "hold"),
            ({"loads_off": False}, "stop"),
        ],
    )
    def test_rows(self, change, verdict):
        assert worst(load_calls(replace(READY, **change), HouseRules())) == verdict

    def test_identity_and_charge(self):
        ours = Named("VIN-A", "X", "C1")

        def found(file=ours, job=ours, answered=ours, known=()):
            return identity_match(file, job, answered, known)[0]

        assert found() == "equal"
        assert found(file=Named("", "X", "C1")) == "equal"
        for side in ("file", "job", "answered"):
            assert found(**{side: Named("VIN-B", "X", "C1")}) == "differs", side
            assert found(**{side: Named("VIN-A", "Y", "C1")}) == "differs", side
        assert found(answered=None) == found(answered=Named("", "X", "C1")) == "unknown"
        assert found(job=Named("", "X")) == found(answered=Named("VIN-A", "X", "other")) == "unknown"
        assert found(answered=Named("VIN-A", "X", "other"), known=("other",)) == "equal"
        assert found(answered=Named("VIN-A", "X", "")) == "equal", "a computer as delivered holds none"
        assert [charge(v) for v in (12.7, 12.45, 12.3, 11.5)] == [100, 75, 50, 0]

    def test_a_cut_write_cannot_be_overruled(self):
        call = interrupted_call(4096, 65_536)
        assert call.verdict is Verdict.stop
        assert not call.may_be_overruled
        assert "ways on stand in Load" in call.do_next


class TestPlan:
    shelf = (
        ShelfInjector("s", "small", flow=200, rated_kpa=300, ohms=12),
        ShelfInjector("m", "middle", flow=330, rated_kpa=300, ohms=12),
        ShelfInjector("l", "large", flow=440, rated_kpa=300, ohms=12),
        ShelfInjector("x", "huge", flow=1400, rated_kpa=300, ohms=12),
    )

    def test_smallest_that_serves(self):
        plan = sized(
            power_kw=128,
            boosted=False,
            cylinders=4,
            fuel=PETROL,
            fuel_pressure_kpa=300,
            altitude_m=1450,
            injectors=self.shelf,
            rules=HouseRules(),
        )
        assert [c.call.verdict.value for c in plan.choices] == ["stop", "go", "go", "hold"]
        assert "middle" in plan.calls[0].do_next
        assert plan.sums[0].result.value == pytest.approx(252.7, abs=0.5)
        assert plan.sums[2].result.value == pytest.approx(84.0, abs=0.1)

    def test_pressure_and_goal_change_the_answer(self):
        plan = sized(
            power_kw=300,
            boosted=True,
            cylinders=4,
            fuel=PETROL,
            fuel_pressure_kpa=300,
            altitude_m=0,
            injectors=self.shelf[:3],
            rules=HouseRules(),
        )
        assert plan.calls[0].verdict is Verdict.stop
        assert len(plan.sums) == 3


class TestRunSheet:
    vehicle = SheetVehicle(4)

    def test_in_practitioners_order_with_cautions_before_fuel(self):
        steps = build(self.vehicle, [kit("plug-in ECU", injectors="f33")], "street", HouseRules()).steps
        order = [STAGE_KEYS.index(step.stage) for step in steps]
        assert order == sorted(order)
        assert {step.stage for step in steps} == set(STAGE_KEYS)
        keys = [step.key for step in steps]
        # The fuse runs the engine: what is read of its heat is read after it.
        assert keys.index("make-safe.fuse") < keys.index("make-safe.coolant") < keys.index("fit.blow")
        assert "extinguisher" in next(s for s in steps if s.key == "make-safe.fuse").caution
        limit = next(s for s in steps if s.key == "make-safe.coolant").reading
        assert limit
        assert limit.high == RULES["safe.coolant"].default

    def test_a_change_keeps_what_is_done(self):
        first = build(self.vehicle, [kit("plug-in ECU", injectors="f33")], "street", HouseRules())
        fresh, difference = revise(
            first,
            Change(
                self.vehicle,
                (kit("plug-in ECU", injectors=None),),
                "street",
                HouseRules(),
                ("make-safe.fuse", "intake.leaks"),
            ),
        )
        assert difference["kept"] == ("make-safe.fuse",)
        assert "fit.seals" in difference["dropped"]
        assert any("before the change" in step.title for step in fresh.steps)
        assert fresh.next_open([step.key for step in fresh.steps]) is None

    def test_slats(self):
        stop = interrupted_call(0, 1)
        hold = load_calls(replace(READY, newest=False), HouseRules())
        assert [
            slat(STAGES[0], done, 4, calls).state
            for done, calls in ((0, []), (2, []), (4, []), (4, hold), (4, [*hold, stop]))
        ] == [
            "shut",
            "ajar",
            "open",
            "held",
            "stopped",
        ]


class TestCorrections:
    """On a made drive whose mixture is wrong by a known law."""

    def spoiled(self, base_map, law):
        log, mask = drive(20.0, boost=0.0)
        log.channels["coolant"][:] = 88
        log.channels["lambda"] *= law(log, mask).astype(np.float32)
        return log

    def test_flow_and_dead_time_come_as_scalars(self, base_map):
        def law(log, mask):
            dead = base_map.tables["dead_time"].at(np.full(len(log), 300.0), log.channels["battery"])
            effective = np.maximum(log.channels["pulse"] - dead, 0.3)
            return 1 + 0.05 + 0.12 / effective

        proposal = propose(self.spoiled(base_map, law), base_map, CorrectionRules(barometer_kpa=98))
        flow, dead = proposal.scalars
        assert flow.new == pytest.approx(440 / 1.05, rel=0.01)
        assert dead.new == pytest.approx(0.12, abs=0.03)
        assert dead.interval[0] < 0.12 < dead.interval[1]
        assert np.abs(proposal.new / proposal.old - 1)[proposal.measured].max(initial=0) < 0.02

    def test_cells_move_only_on_evidence_and_within_their_step(self, base_map):
        proposal = propose(
            self.spoiled(base_map, lambda log, mask: np.where(mask["cruise"] | mask["cruise2"], 1.25, 1.0)),
            base_map,
            CorrectionRules(barometer_kpa=98, take_scalars=False),
        )
        change = proposal.new / proposal.old - 1
        assert change.max() == pytest.approx(0.10, abs=0.002), "a round moves a cell by 10 % at most"
        assert np.all(change[~proposal.measured & ~proposal.filled] == 0)
        assert np.all(proposal.samples[proposal.measured] >= 10)
        assert proposal.calls[0].verdict is Verdict.hold

    def test_under_load_fuel_is_taken_out_with_a_margin(self, base_map):
        proposal = propose(
            self.spoiled(base_map, lambda log, mask: np.full(len(log), 0.93)),
            base_map,
            CorrectionRules(barometer_kpa=98, take_scalars=False),
        )
        change = proposal.new / proposal.old - 1
        load = base_map.tables["ve"].y >= 0.8 * 98
        assert change[~load].min() == pytest.approx(-0.07, abs=0.01)
        assert change[load].min() >= -0.058

    def test_a_sound_mixture_asks_for_nothing(self, base_map):
        proposal = propose(
            self.spoiled(base_map, lambda log, mask: np.ones(len(log))),
            base_map,
            CorrectionRules(barometer_kpa=98),
        )
        assert not proposal.changed.any()
        assert not proposal.scalars
        assert proposal.within > 0.99
        assert proposal.calls[0].verdict is Verdict.go

    def test_accepting_some_keeps_lineage(self, base_map):
        proposal = propose(
            self.spoiled(base_map, lambda log, mask: np.full(len(log), 1.06)),
            base_map,
            CorrectionRules(barometer_kpa=98, take_scalars=False),
        )
        one = np.zeros(proposal.changed.shape, bool)
        one[tuple(np.argwhere(proposal.changed)[0])] = True
        made = apply(base_map, proposal, cells=one)
        assert [c.item for c in diff(base_map, made)] == ["ve"]
        assert made.lineage.parent == base_map.sha256
        assert made.lineage.version == "r1"

    def test_cold_or_bare_logs_are_refused(self, base_map):
        log, _ = drive()
        log.channels["coolant"][:] = 40
        with pytest.raises(NotEnough, match="warm"):
            propose(log, base_map)
        del log.channels["pulse"]
        with pytest.raises(NotEnough, match="Injector pulse"):
            propose(log, base_map)
