"""The vehicle comes apart and goes together: what is opened brings its own steps, by itself."""

from __future__ import annotations

import json

import pytest

from tests.conftest import ROOT
from ventmap.core.basics import DEVICES, AccessItem, AccessList, BadInput, HouseRules, read_body
from ventmap.core.grids import STATES, judge_grid
from ventmap.core.needs import access_rows, question_of, read_answer
from ventmap.core.runsheet import (
    ACCESS,
    BESIDE_KINDS,
    CAUTIONS,
    FUEL_GATE,
    Act,
    Beside,
    Kit,
    SheetVehicle,
    Step,
    build,
    may,
)

COVER = AccessItem(name="engine cover", care="brittle")
BOX = Kit("inline fuel and ignition controller", name="Box", hose=False)
FLASHER = Kit("handheld or phone flasher", name="Tool", hose=False)
BARE = {"model": "Any", "kind": "car", "cylinders": 4, "stroke": 4, "injection": "port", "induction": "none"}
#: What is opened → steps that it alone brings in.
BRINGS = {
    "fuel": {"make-safe.relieved"},
    "coolant": {"make-safe.drain", "fit.coolant_level"},
    "oil": {"fit.oil_level"},
    "refrigerant": {"make-safe.refrigerant"},
}


def sheet(*items: AccessItem, kit: Kit = BOX, known: bool = True) -> dict[str, Step]:
    vehicle = SheetVehicle(4, access=items if known else None)
    return {step.key: step for step in build(vehicle, [kit], "street", HouseRules({})).steps}


@pytest.mark.parametrize("what", CAUTIONS)
def test_what_is_opened_brings_its_own_steps_and_its_caution_before_it(what):
    closed, opened = sheet(COVER), sheet(COVER, AccessItem(name="a line", opens=what))
    assert BRINGS[what] <= set(opened) - set(closed)
    assert CAUTIONS[what] in opened[ACCESS].caution
    assert CAUTIONS[what] not in closed[ACCESS].caution
    order = list(opened)
    assert all(order.index(key) < order.index(ACCESS) for key in BRINGS[what] if key.startswith("make-safe"))
    assert order.index("fit.refit") < order.index("fit.power") < order.index("fit.covers")


def test_fuel_on_the_way_is_relieved_like_fuel_of_the_kit():
    steps = sheet(AccessItem(name="tank", opens="fuel", nm=22.0))
    assert set(FUEL_GATE) <= set(steps[ACCESS].needs)
    done = [*FUEL_GATE, ACCESS]
    barred = {call.rule for call in may(Act.power_on, [], list(steps.values()), done)}
    assert "gate.fuel_open" in barred
    done += [key for key, step in steps.items() if set(step.needs) & set(FUEL_GATE)]
    assert may(Act.power_on, [], list(steps.values()), done) == []


@pytest.mark.parametrize("what", ["coolant", "oil"])
def test_no_engine_runs_without_what_ran_out(what):
    steps = list(sheet(AccessItem(name="a hose", opens=what)).values())
    every = [step.key for step in steps]
    for key in ("fit.refit", f"fit.{what}_level"):
        left = [one for one in every if one != key]
        for act in (Act.start, Act.log, Act.run):
            assert [call.rule for call in may(act, [], steps, left)] == ["gate.not_back"], (key, act)
        assert may(Act.power_on, [], steps, left) == []
    assert may(Act.start, [], steps, every) == []
    # Nothing was taken off: it is set aside, and nothing has to go back.
    assert may(Act.start, [], steps, [key for key in every if key not in (ACCESS, "fit.refit")]) == []


def test_it_is_asked_where_something_is_fitted_and_only_there():
    assert ACCESS in sheet(known=False)
    assert ACCESS not in sheet()
    assert not {ACCESS, "fit.refit", "fit.covers"} & set(sheet(COVER, kit=FLASHER))


def test_it_goes_back_in_the_other_order_and_what_is_torqued_before_the_covers():
    torqued = [AccessItem(name=name, nm=9.0) for name in ("plenum", "bracket")]
    steps = sheet(COVER, AccessItem(name="duct"), *torqued)
    assert [item.name for item in steps["fit.refit"].about.items] == ["bracket", "plenum"]
    assert [item.name for item in steps["fit.covers"].about.items] == ["duct", "engine cover"]
    assert not steps["fit.refit"].about.counted
    assert steps["fit.covers"].about.counted, "what is left over is counted last"


def test_the_way_in_is_done_when_everything_is_off():
    about = {"items": [COVER.model_dump(), {"name": "duct"}]}
    row = {"name": "engine cover", "off": True, "found": "a clip broke"}
    half = judge_grid("access", about, {"rows": [row]})
    assert not half.complete
    assert ("engine cover", "a clip broke") in [(e.label, e.value) for e in half.calls[0].because]
    whole = judge_grid("access", about, {"rows": [row, {"name": "duct", "off": True}]})
    assert (whole.complete, whole.verdict) == (True, "go")


def test_lists_of_the_starter_shelf_begin_a_vehicle_of_any_layout():
    shelf = json.loads((ROOT / "ventmap" / "server" / "shelf" / "starter.json").read_text())
    lists = [item for item in shelf if item["kind"] == "access"]
    assert len(lists) >= 12
    question = question_of("vehicle", "access")
    for item in lists:
        made = read_body("access", item["body"])
        assert isinstance(made, AccessList)
        assert made.source
        typed = read_answer(question, access_rows(made.items))
        kept = read_body("vehicle", {**BARE, "access": typed})
        assert kept.access == made.items, item["key"]


BOXES = [kind for kind, record in DEVICES.items() if not (record.replaces_stock or record.rewrites_stock)]


@pytest.mark.parametrize("kind", DEVICES)
@pytest.mark.parametrize("where", ["car", "watercraft"])
def test_a_box_that_takes_nothing_s_place_is_put_somewhere_for_reasons(kind, where):
    kit = Kit(kind, name="Box", about=DEVICES[kind](kind=kind))
    vehicle = SheetVehicle(4, kind=where, access=())
    steps = {step.key: step for step in build(vehicle, [kit], "street", HouseRules({})).steps}
    assert ("fit.mount" in steps) == (kind in BOXES)
    assert ("fit.connectors" in steps) == (not DEVICES[kind].rewrites_stock)
    if "fit.mount" not in steps:
        return
    rows = steps["fit.mount"].about.rows
    assert ("splash" in [row.key for row in rows]) == (where == "watercraft")
    every = {row.key: "yes" for row in rows}
    assert judge_grid("checks", steps["fit.mount"].about, {"answers": every}).verdict == "go"
    for row in rows:
        held = judge_grid("checks", steps["fit.mount"].about, {"answers": {**every, row.key: "no"}})
        assert (held.complete, held.verdict) == (True, "hold")
        left = judge_grid("checks", steps["fit.mount"].about, {"answers": {**every, row.key: ""}})
        assert not left.complete
    with pytest.raises(BadInput):
        judge_grid("checks", steps["fit.mount"].about, {"answers": {**every, rows[0].key: "maybe"}})


@pytest.mark.parametrize("state", STATES)
def test_a_plug_is_done_when_it_is_tugged_or_covered(state):
    rows = [{"name": "bank 1", "state": "tugged"}, {"name": "box", "state": state}]
    assert judge_grid("plugs", {}, {"rows": rows}).complete == (state in ("tugged", "covered"))


def test_no_plug_at_all_is_no_tug_test_and_twins_come_named_by_the_sheet():
    assert not judge_grid("plugs", {}, {"rows": []}).complete
    assert not judge_grid("plugs", {}, {"rows": [{"name": " ", "state": "tugged"}]}).complete
    with pytest.raises(BadInput):
        judge_grid("plugs", {}, {"rows": [{"name": "box", "state": "glued"}]})
    twins = DEVICES["plug-in ECU"](kind="plug-in ECU", twin_plugs=(("left bank", "right bank"),))
    sheet = build(SheetVehicle(4, access=()), [Kit("plug-in ECU", about=twins)], "street", HouseRules({}))
    about = next(step for step in sheet.steps if step.key == "fit.connectors").about
    assert [(plug.name, plug.like) for plug in about.begin] == [
        ("left bank", "right bank"),
        ("right bank", "left bank"),
    ]


@pytest.mark.parametrize("kind", [kind for kind in BESIDE_KINDS if kind != "injectors"])
@pytest.mark.parametrize("kits", [[], [BOX]])
def test_a_part_fitted_besides_is_fed_and_proves_itself_at_two_points(kind, kits):
    vehicle = SheetVehicle(4, access=(), besides=(Beside("air"), Beside(kind, "the probe", number=2)))
    steps = {step.key: step for step in build(vehicle, kits, "street", HouseRules({})).steps}
    fitted, proven = steps["fit.besides_2"], steps["first-start.besides_2"]
    assert "the probe" in fitted.title
    assert "the probe" in proven.title
    assert proven.needs == (fitted.key,)
    assert len(proven.about.rows) == 2
    assert len(fitted.about.rows) >= 2
    for step in (fitted, proven):
        every = {row.key: "yes" for row in step.about.rows}
        assert judge_grid("checks", step.about, {"answers": every}).verdict == "go"
        for row in step.about.rows:
            assert judge_grid("checks", step.about, {"answers": {**every, row.key: "no"}}).verdict == "hold"
            half = {key: answer for key, answer in every.items() if key != row.key}
            assert not judge_grid("checks", step.about, {"answers": half}).complete
    bare = {step.key for step in build(SheetVehicle(4, access=()), kits, "street", HouseRules({})).steps}
    assert not [key for key in bare if "besides" in key]


@pytest.mark.parametrize("twins", [("one",), ("left", "right"), ("a", "b", "c")])
def test_plugs_of_one_shape_are_named_each_with_its_others(twins):
    box = DEVICES["plug-in ECU"](kind="plug-in ECU", twin_plugs=(twins,))
    sheet = build(SheetVehicle(4, access=()), [Kit("plug-in ECU", about=box)], "street", HouseRules({}))
    about = next(step for step in sheet.steps if step.key == "fit.connectors").about
    assert [plug.name for plug in about.begin] == list(twins)
    assert all(plug.like == ", ".join(t for t in twins if t != plug.name) for plug in about.begin)
