"""Maps of every form: files, sheets, pasted tables, what goes out and comes back, and which serves."""

from __future__ import annotations

import json
from dataclasses import replace

import jsonschema
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays

from tests.conftest import ROOT
from tests.core.test_corrections import CELLS, Dwell
from ventmap.core.basics import BadInput, CalibrationError, HouseRules, NotEnough, Table2D
from ventmap.core.corrections import CorrectionRules, propose_table
from ventmap.core.forms import (
    FORMS,
    Calibration,
    Edit,
    Identity,
    Region,
    applied,
    as_ours,
    count_changes,
    diff,
    edited,
    effects,
    form_of,
    from_hex,
    from_json,
    from_workbook,
    height_lines,
    map_schema,
    out_of_range,
    read_cells,
    read_table,
    table_cells,
    table_csv,
    table_from_csv,
    to_hex,
    to_json,
    to_workbook,
    turned,
    write_table,
)
from ventmap.core.maps import (
    MapJob,
    Member,
    Wanted,
    fan_calls,
    fan_defaults,
    map_calls,
    map_card,
    match_maps,
    sensor_curve,
    set_calls,
)
from ventmap.core.vehicle import diameter_mm, entry_steps, rating_kmh, speed_error, tyre_change

FILES = sorted((ROOT / "demo" / "maps").rglob("*.json"))
SAMPLES = {path.stem: from_json(path.read_text(encoding="utf-8")) for path in FILES}
KINDS = (
    "plug-in ECU",
    "board in the stock case",
    "standalone on an adapted harness",
    "sensor piggyback",
    "injector piggyback",
    "inline fuel and ignition controller",
    "handheld or phone flasher",
    "laptop flasher with a remote tuner",
    "swapped computer",
    "factory computer on a swap harness",
    "injector driver module",
    "body-network module",
)
VE = FORMS["full"].tables["ve"]
SMALL = Table2D([1000.0, 2000.0, 3000.0, 4000.0], [20.0, 60.0, 100.0], np.arange(12.0).reshape(3, 4) + 50.0)


def test_the_shelf_holds_every_form_and_each_kind_of_device_runs_one():
    assert len(FILES) >= 24
    assert {made.form for made in SAMPLES.values()} == set(FORMS) - {"borrowed"}
    shelf = json.loads((ROOT / "demo" / "shelf" / "vehicles.json").read_text(encoding="utf-8"))
    assert {made.identity.engine for made in SAMPLES.values()} == {item["body"]["engine"] for item in shelf}
    assert [form_of(kind).key for kind in KINDS] == [
        *["full"] * 3,
        "level",
        "blend",
        "trim",
        *["options"] * 4,
        "driver",
        "entries",
    ]


def test_the_published_schema_is_made_from_the_descriptions_and_holds_the_shelf():
    published = json.loads((ROOT / "formats" / "map.schema.json").read_text(encoding="utf-8"))
    assert published == json.loads(json.dumps(map_schema()))
    checker = jsonschema.Draft202012Validator(published)
    for path in FILES:
        checker.validate(json.loads(path.read_text(encoding="utf-8")))
    spoiled = json.loads(FILES[0].read_text(encoding="utf-8"))
    spoiled["lists"]["options"][0].pop("wanted")
    with pytest.raises(jsonschema.ValidationError):
        checker.validate(spoiled)


class TestFiles:
    def test_a_file_of_version_1_is_brought_up_with_its_sums(self, base_map):
        document = json.loads(to_json(base_map))
        older = {key: value for key, value in document.items() if key != "form"} | {"format": "ventmap-map/1"}
        assert from_json(json.dumps(older)).sha256 == base_map.sha256

    def test_a_newer_one_is_refused_in_words(self, base_map):
        newer = json.loads(to_json(base_map)) | {"format": "ventmap-map/3"}
        with pytest.raises(CalibrationError, match="version 3"):
            from_json(json.dumps(newer))

    @pytest.mark.parametrize("name", sorted(SAMPLES))
    def test_every_way_out_comes_back_the_same(self, name):
        made = SAMPLES[name]
        other = SAMPLES["om16-levels" if made.form == "level" else "q660-free"]
        if other.form == made.form:
            assert count_changes(made, other) == len(diff(made, other))
        assert diff(made, from_json(to_json(made))) == []
        assert from_json(to_json(made)).set == made.set
        assert from_workbook(to_workbook(made)).sha256 == made.sha256
        back = from_hex(to_hex(made))
        assert diff(made, back) == []
        assert back.form == made.form
        for table in made.tables:
            kind = made.table_kind(table)
            assert kind is not None
            read = table_from_csv(table_csv(made, table), kind)
            assert np.array_equal(read.values, made.tables[table].values)
            assert np.array_equal(read.x, made.tables[table].x)

    def test_damage_is_told(self):
        text = to_hex(SAMPLES["om16-levels"])
        lines = text.splitlines()
        lines[5] = lines[5][:20] + ("0" if lines[5][20] != "0" else "1") + lines[5][21:]
        with pytest.raises(CalibrationError, match="damaged"):
            from_hex("\n".join(lines))
        with pytest.raises(CalibrationError, match="not whole"):
            from_workbook(b"PK nothing")

    def test_a_form_lacks_what_its_lists_ask_for(self):
        document = json.loads(to_json(SAMPLES["q660-free"]))
        document["tables"].pop("fuel_trim.2")
        with pytest.raises(CalibrationError, match=r"lacks fuel_trim\.2"):
            from_json(json.dumps(document))

    def test_a_row_is_held_to_its_columns(self):
        made = SAMPLES["ht10-trail"]
        rows = [dict(row) for row in made.lists["options"]]
        rows[0]["wanted"] = 99_000.0
        assert "lies between" in out_of_range(made.with_list("options", rows))[0].sentence
        assert "stands there twice" in out_of_range(made.with_list("options", [*rows, rows[0]]))[0].sentence


class TestSheet:
    @pytest.mark.parametrize(
        ("operation", "amount", "expected"),
        [
            ("set", 70.0, [[70.0, 70.0], [70.0, 70.0]]),
            ("add", -1.0, [[50.0, 51.0], [54.0, 55.0]]),
            ("multiply", 2.0, [[102.0, 104.0], [110.0, 112.0]]),
            ("percent", 10.0, [[56.1, 57.2], [60.5, 61.6]]),
            ("equal", None, [[51.0, 51.0], [51.0, 51.0]]),
        ],
    )
    def test_an_operation_changes_its_range_alone(self, operation, amount, expected):
        made = edited(SMALL, Region(1, 2, 0, 1), operation, VE, amount=amount)
        assert made.values[:2, 1:3].tolist() == expected
        outside = np.ones_like(SMALL.values, bool)
        outside[:2, 1:3] = False
        assert np.array_equal(made.values[outside], SMALL.values[outside])

    def test_fill_is_straight_between_corners_and_smooth_spares_what_was_measured(self):
        bumped = edited(SMALL, Region(1, 1, 1, 1), "set", VE, amount=90.0)
        filled = edited(bumped, Region(0, 0, 2, 3), "fill", VE)
        assert filled.values.tolist() == SMALL.values.tolist()
        measured = np.zeros_like(SMALL.values, bool)
        measured[1, 1] = True
        spared = edited(bumped, Region(0, 0, 2, 3), "smooth", VE, measured=measured)
        told = edited(bumped, Region(0, 0, 2, 3), "smooth", VE)
        assert spared.values[1, 1] == 90.0
        assert told.values[1, 1] < 80.0

    @pytest.mark.parametrize(
        ("text", "where", "word"),
        [
            ("1\t2\n3", (0, 0), "Line 2 has 1 cells"),
            ("1\tx", (0, 0), "cell 2: “x” is no figure"),
            ("60\t60\t60\t60\t60", (0, 0), "room for 3 and 4"),
            ("999", (0, 0), "would be 999 %"),
        ],
    )
    def test_a_wrong_paste_changes_nothing_and_says_why(self, text, where, word):
        with pytest.raises(BadInput, match=word):
            edited(SMALL, Region(*where, *where), "paste", VE, block=read_cells(text))

    @given(
        st.lists(
            st.tuples(
                st.sampled_from(["set", "add", "percent", "smooth"]), st.floats(5, 9), st.integers(0, 2)
            ),
            max_size=8,
        )
    )
    @settings(max_examples=40, deadline=None)
    def test_edits_undone_one_by_one_give_back_what_was(self, steps):
        made = Calibration("t", Identity("E", "C", ""), {}, {"ve": SMALL}, form="borrowed")
        edits, now = [], made
        for operation, amount, row in steps:
            table = edited(now.tables["ve"], Region(row, 0, row, 2), operation, VE, amount=amount)
            edits.append(Edit("ve", table_cells(now.tables["ve"], table)))
            now = applied(now, edits[-1:])
        for count in range(len(edits), -1, -1):
            again = applied(made, edits[:count])
            assert np.array_equal(again.tables["ve"].values, now.tables["ve"].values)
            if count:
                back = Edit("ve", [[*c[:2], c[3], c[2]] for c in edits[count - 1].cells])
                now = applied(now, [back])

    def test_what_a_change_does_is_told_in_fuel_spark_and_boost(self):
        made = SAMPLES["om16-open-96"]
        ve, spark = made.tables["ve"], made.tables["spark"]
        changed = made.with_table("ve", edited(ve, Region(4, 6, 4, 6), "percent", VE, amount=3.1))
        changed = changed.with_table(
            "spark", edited(spark, Region(2, 2, 2, 2), "add", FORMS["full"].tables["spark"], amount=-1.5)
        )
        told = [effect.sentence for effect in effects(made, changed)]
        assert len(told) == 2
        fuel = next(line for line in told if "fuel" in line)
        assert fuel.startswith("+3.1 % fuel at")
        assert "rpm" in fuel
        assert "kPa" in fuel
        assert ";" not in fuel
        assert next(line for line in told if "spark" in line).startswith("-1.5 ° spark at")

    def test_height_lines_lie_on_their_height(self):
        table = SAMPLES["t20-free-95"].tables["ve"]
        lines = height_lines(table)
        assert len({line.value for line in lines}) >= 5
        for line in lines:
            x, y = np.array(line.points).T
            assert np.allclose(table.at(x, y), line.value, atol=0.6)
        assert height_lines(SMALL.with_values(np.full((3, 4), 7.0))) == []


SHEETS = [
    "\t1000\t2000\t3000\t4000\n20\t50\t51\t52\t53\n60\t54\t55\t56\t57\n100\t58\t59\t60\t61\n",
    "kPa;1000;2000;3000;4000\n100;58,0;59,0;60,0;61,0\n60;54,0;55,0;56,0;57,0\n20;50,0;51,0;52,0;53,0\n",
    "1000 2000 3000 4000\n20 50 51 52 53\n60 54 55 56 57\n100 58 59 60 61\n",
    "rpm\t20\t60\t100\n4000\t53\t57\t61\n3000\t52\t56\t60\n2000\t51\t55\t59\n1000\t50\t54\t58\n",
]


class TestAnotherProgram:
    @pytest.mark.parametrize("text", SHEETS)
    def test_it_is_read_however_it_stands_and_goes_back_as_it_came(self, text):
        pasted = read_table(text)
        table, shape = as_ours(pasted, VE, turn=turned(pasted, VE), factors={})
        assert np.array_equal(table.values, SMALL.values)
        assert np.array_equal(table.x, SMALL.x)
        assert write_table(table, {"table": "ve", **shape}) == text

    def test_units_of_its_own_are_taken_out_and_put_back(self):
        text = "\t10\t20\n0.2\t0.500\t0.510\n0.6\t0.540\t0.550\n"
        pasted = read_table(text)
        factors = {"value": 0.01, "column": 0.01, "row": 0.01}
        table, shape = as_ours(pasted, VE, turn=False, factors=factors)
        assert table.x.tolist() == [1000, 2000]
        assert np.allclose(table.values, [[50, 51], [54, 55]])
        assert write_table(table, {"table": "ve", **shape}) == text

    @pytest.mark.parametrize(
        ("spoil", "word"),
        [
            (lambda text: text.replace("\t55\t", "\t5s5\t"), r"Line 3, cell 3 \(row 60, column 2000\)"),
            (lambda text: text.replace("\t55", ""), "Line 3 has 4 cells"),
            (lambda text: text.replace("\t3000", "\t300"), "does not rise from 2000 to 300"),
            (lambda text: text.replace("56", "560"), "one cell mistyped"),
            (lambda text: text.split("\n")[0], "with its axes"),
        ],
    )
    def test_the_wrong_cell_is_named(self, spoil, word):
        with pytest.raises(BadInput, match=word):
            as_ours(read_table(spoil(SHEETS[0])), VE, turn=False, factors={})

    @given(
        arrays(float, (3, 4), elements=st.integers(10, 190).map(lambda n: n / 1.0)),
        st.booleans(),
        st.sampled_from(["\t", ";"]),
        st.sampled_from([".", ","]),
    )
    @settings(max_examples=60, deadline=None)
    def test_any_shape_returns(self, values, down, mark, decimal):
        table = SMALL.with_values(values)
        axes = (table.y, table.x, table.values.T) if down else (table.x, table.y, table.values)
        told = [mark.join(["c", *(f"{x:g}" for x in axes[0])])]
        for y, row in zip(axes[1], axes[2], strict=True):
            told.append(mark.join([f"{y:g}", *(f"{v:.1f}".replace(".", decimal) for v in row)]))
        text = "\n".join(told) + "\n"
        pasted = read_table(text)
        read, shape = as_ours(pasted, VE, turn=down, factors={})
        assert np.array_equal(read.values, values)
        assert write_table(read, {"table": "ve", **shape}) == text

    def test_a_log_corrects_it_by_the_same_rules(self, base_map):
        """The same log, the same map: one table alone is moved where the whole map would be."""
        drive = Dwell(base_map, CELLS, [0.06] * 4)
        alone = Calibration(
            "t", base_map.identity, {}, {"ve": base_map.tables["ve"]}, form="borrowed", lists={}
        )
        found = propose_table(drive.log(), alone, "ve", CorrectionRules(barometer_kpa=101.3))
        share = found.new[found.changed] / base_map.tables["ve"].values[found.changed] - 1
        assert found.changed.any()
        assert 0.04 < float(np.median(share)) < 0.075
        with pytest.raises(BadInput, match="tables of fuel"):
            propose_table(drive.log(), base_map, "spark", CorrectionRules())
        with pytest.raises(NotEnough, match="Log these channels"):
            del drive.channels["lambda"]
            propose_table(drive.log(), alone, "ve", CorrectionRules())


class TestMatching:
    WANTED = Wanted(
        "T20",
        "FW-P4",
        induction="none",
        ron=95.0,
        ethanol=0.05,
        altitude_m=1450.0,
        injector_flow=440.0,
        exhaust="free",
        gearbox="manual, 5",
        catalyst="fitted",
        firmware="2.1",
    )

    def test_every_sort_of_wrong_map_is_ruled_out_with_its_reason(self):
        found = {m.name: m for m in match_maps(self.WANTED, list(SAMPLES.values()))}
        possible = [m.name for m in found.values() if m.possible]
        assert possible == ["T20, free exhaust, 95 RON", "T20, race exhaust, 95 RON"]
        for name, word in {
            "T20, free exhaust, by Halden": "octane is not stated",
            "T20, free exhaust, 95 RON, for newer firmware": "firmware 3.0",
            "T20, catalyst taken out": "catalyst that is gone",
            "T20, free exhaust, automatic": "gearbox automatic, 6",
            "T20, free exhaust and long cams": "another cam",
            "T20, free exhaust, 98 RON": "needs 98 RON",
            "T20, stock exhaust, 95 RON": "run lean",
            "OM16, three levels": "it is a level map",
        }.items():
            assert word in " ".join(found[name].conflicts), name
        assert found["T20, free exhaust, by Halden"].lacks_octane_alone

    def test_a_filter_that_is_gone_and_one_that_is_there(self):
        diesel = replace(
            self.WANTED,
            engine="TP30",
            computer="TW-D4",
            induction="turbo",
            form="options",
            petrol=False,
            ron=None,
            exhaust="stock",
            gearbox="",
            catalyst=None,
            firmware="7.1",
            particulate_filter="fitted",
        )
        names = [m.name for m in match_maps(diesel, list(SAMPLES.values())) if m.possible]
        assert names == ["TP30, long haul", "TP30, tow"]
        gone = replace(diesel, particulate_filter="removed")
        names = [m.name for m in match_maps(gone, list(SAMPLES.values())) if m.possible]
        assert names == ["TP30, filter taken out"]

    def test_a_set_is_whole_or_it_is_told(self):
        engine, driver = SAMPLES["tp30-tow-engine"], SAMPLES["tp30-tow-driver"]
        other = SAMPLES["tp30-long-haul-driver"]

        def judged(*members):
            return set_calls([Member(f"box {n}", m, m.sha256) for n, m in enumerate(members)], {})[0]

        assert judged(engine, driver).verdict == "go"
        assert judged(engine, other).verdict == "stop"
        assert judged(engine).verdict == "hold"
        assert "driver" in judged(engine).do_next
        changed = replace(driver, name="driver, edited")
        assert judged(engine, changed).verdict == "stop"
        assert set_calls([Member("box", SAMPLES["om16-levels"], "x")], {}) == []


class TestSensors:
    def test_two_points_make_a_line_and_three_a_thermistor(self):
        line = sensor_curve("pressure_sensor", [(0.5, 20.0), (4.5, 300.0)])
        assert line.one(2.5, 0.0) == pytest.approx(160.0)
        # A common part of 2.5 kΩ at 20 °C: its sheet says 9 397 Ω at −10 °C, not among the three.
        curve = sensor_curve("coolant_sensor", [(5896.0, 0.0), (1706.0, 30.0), (323.0, 80.0)])
        assert curve.one(5896.0, 0.0) == pytest.approx(0.0, abs=0.05)
        assert curve.one(9397.0, 0.0) == pytest.approx(-10.0, abs=0.4)

    @pytest.mark.parametrize(
        ("name", "points", "word"),
        [
            ("pressure_sensor", [(0.5, 20.0)], "from 2 points"),
            ("pressure_sensor", [(0.5, 300.0), (4.5, 20.0)], "crossed"),
            ("pressure_sensor", [(0.5, 20.0), (0.5, 30.0)], "different voltages"),
            ("coolant_sensor", [(5896.0, 80.0), (1706.0, 30.0), (323.0, 0.0)], "crossed"),
            ("coolant_sensor", [(5896.0, 0.0), (5706.0, 30.0), (323.0, 80.0)], "bend|mistyped"),
            ("ve", [(1.0, 2.0)], "none of"),
        ],
    )
    def test_points_that_no_such_sensor_has_are_refused(self, name, points, word):
        with pytest.raises(BadInput, match=word):
            sensor_curve(name, points)


class TestTyresAndCards:
    def test_sizes_speeds_and_entries(self):
        assert diameter_mm("265/60R18") == pytest.approx(775.2)
        assert diameter_mm("30x10R14") == pytest.approx(762.0)
        assert diameter_mm("180/55 ZR17") == pytest.approx(17 * 25.4 + 2 * 99)
        assert speed_error(775.2, 800.0) == pytest.approx(0.032, abs=1e-4)
        assert rating_kmh("v") == 240
        for bad in ("205", "wide", ""):
            with pytest.raises(BadInput, match="no tyre size"):
                diameter_mm(bad)
        with pytest.raises(BadInput, match="no speed rating"):
            rating_kmh("B")
        with pytest.raises(BadInput, match="enter tenths"):
            entry_steps(30.55, "whole then tenths")
        assert [s.shows for s in entry_steps(1, "on or off", on_shows=7, off_shows=8)] == ["7"]

    def test_a_tyre_moves_dial_odometer_gear_display_and_limiter(self):
        said = " ".join(tyre_change(775.2, "", 806.2, 180.0).sentences)
        assert "104.0 km/h" in said
        assert "96.2 km" in said
        assert "187.2 km/h" in said
        assert "4.0 % tall" in said

    def test_a_fan_is_not_said_to_rest_where_nobody_knows_the_opening(self):
        known, unknown = (
            fan_calls(92.0, 87.0, MapJob(thermostat_c=opening), HouseRules())[0] for opening in (82.0, None)
        )
        assert "rests and it cools" in known.do_next
        assert "not known" in unknown.do_next

    def test_two_schools_of_the_fan(self):
        schools = fan_defaults(80.0, 98.0, 90.0)
        assert schools == {"just above opening": 84.5, "stock minus the drop": 88.0}

    def test_cards_say_what_to_press_and_what_must_show(self):
        card = map_card(SAMPLES["tp30-body"])
        assert card is not None
        lines = [line.cells[-2:] for line in card.lines]
        assert ("set the whole, 30, then hold to keep", "30") in lines
        assert ("set the tenths, 9, then hold to keep", "9") in lines
        selector = map_card(SAMPLES["q660-free"])
        assert selector is not None
        assert [line.cells[0] for line in selector.lines] == ["0", "1", "2", "3"]
        assert map_card(SAMPLES["tp30-tow-driver"]) is None

    def test_a_boat_is_asked_for_no_tyres(self):
        boat = MapJob(boosted=True, rev_limit=8300.0, ron=95.0, on_tyres=False)
        rules = {call.rule for call in map_calls(SAMPLES["pw15-95"], boat, HouseRules())}
        assert "map.rev_limit" in rules
        assert "map.speed_limit" not in rules
