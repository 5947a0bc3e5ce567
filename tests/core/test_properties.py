"""What holds for any input: sums that undo each other, choices that are the best there is, text that never
breaks a reader.
"""

from __future__ import annotations

from itertools import combinations
from math import isfinite

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from tests.core.drives import drive
from ventmap.core import basics, fuel
from ventmap.core.basics import BadInput, Conflict, VentMapError, Verdict, merge
from ventmap.core.electrics import (
    SteinhartHart,
    can_termination,
    common_side,
    linear_from_points,
    trigger_offset,
)
from ventmap.core.forms import (
    FORMS,
    diff,
    from_hex,
    from_image,
    from_json,
    from_workbook,
    table_csv,
    table_from_csv,
    to_hex,
    to_json,
    to_workbook,
)
from ventmap.core.fuel import (
    BodyCode,
    best_set,
    compare_read_back,
    duty,
    flow_at_pressure,
    flow_spread,
    plan_stack,
    required_flow,
    voltage_drop,
)
from ventmap.core.logs import Log, find_windows
from ventmap.core.vehicle import PLACE_WEIGHTS, check_vin
from ventmap.link.wire import FLASH_SIZE
from ventmap.standin import garage

UNITS = [(quantity, unit) for quantity, (_, units) in basics.QUANTITIES.items() for unit in units]


class TestTypedFigures:
    @settings(max_examples=400)
    @given(
        st.one_of(
            st.text(max_size=24),
            st.builds("{} {}".format, st.floats(allow_nan=False), st.text("kPaps°(*/^[%)0 =µ", max_size=6)),
        )
    )
    def test_any_text_is_a_figure_or_a_sentence(self, text):
        for quantity in ("pressure", "temperature", "fraction", "octane"):
            try:
                assert isfinite(basics.parse(text, quantity))
            except BadInput as wrong:
                assert wrong.field == quantity
                assert wrong.sentence.endswith(".")

    @given(st.floats(-1e4, 1e4), st.sampled_from(UNITS))
    def test_what_is_shown_can_be_typed_back(self, value, pair):
        quantity, unit = pair
        shown = basics.show(value, quantity, unit)
        assert basics.parse(f"{shown:.9f} {unit}", quantity) == pytest.approx(value, rel=1e-6, abs=1e-4)

    @given(st.floats(0, 1e4), st.sampled_from(UNITS))
    def test_comma_and_the_unit_meant(self, value, pair):
        quantity, unit = pair
        typed = f"{value:.2f}"
        assert basics.parse(typed.replace(".", ","), quantity, unit) == pytest.approx(
            basics.parse(f"{typed} {unit}", quantity)
        )


class TestFuel:
    @given(st.floats(0, 1), st.floats(0, 1))
    def test_more_ethanol_is_denser_poorer_and_needs_more_volume(self, a, b):
        assume(b - a > 1e-6)
        less, more = fuel.blend(a), fuel.blend(b)
        assert less.density <= more.density
        assert less.stoichiometric >= more.stoichiometric
        assert less.heating_value >= more.heating_value
        assert 1 - 1e-12 <= fuel.volume_multiplier(less) <= fuel.volume_multiplier(more)

    @given(st.floats(3, 20), st.floats(0.5, 3), st.floats(0, 1))
    def test_at_the_break_even_ratio_the_distance_costs_the_same(self, litres, price, ethanol):
        mix = fuel.blend(ethanol)
        ratio = fuel.running_cost(litres, price, price, mix).break_even_price_ratio
        even = fuel.running_cost(litres, price, price * ratio, mix)
        assert even.cost_new == pytest.approx(even.cost_old)

    @given(st.floats(50, 150))
    def test_the_sensors_frequency_is_its_content(self, hz):
        assert fuel.ethanol_from_frequency(hz) == pytest.approx((hz - 50) / 100)


class TestInjectors:
    @given(st.floats(100, 2000), st.floats(100, 600), st.floats(100, 600), st.floats(100, 600))
    def test_flow_over_two_pressures_is_flow_over_one(self, flow, rated, middle, last):
        through = flow_at_pressure(flow_at_pressure(flow, rated, middle), middle, last)
        assert through == pytest.approx(flow_at_pressure(flow, rated, last))
        assert (through > flow) == (last > rated) or through == pytest.approx(flow)

    @given(st.floats(30, 600), st.integers(1, 12), st.floats(0.4, 0.95))
    def test_need_grows_with_power_and_falls_with_number_and_duty(self, power, count, allowed):
        need = required_flow(power, 300, count, allowed)
        assert required_flow(2 * power, 300, count, allowed) == pytest.approx(2 * need)
        assert required_flow(power, 300, 2 * count, allowed) == pytest.approx(need / 2)
        assert required_flow(power, 300, count, allowed / 2) == pytest.approx(2 * need)

    @given(st.floats(0.2, 20), st.floats(500, 9000))
    def test_a_two_stroke_is_fed_twice_as_often(self, pulse, rpm):
        assert duty(pulse, rpm, stroke=2) == pytest.approx(2 * duty(pulse, rpm))

    @given(st.lists(st.floats(200, 900), min_size=2, max_size=8), st.data())
    def test_no_other_choice_of_n_from_m_is_closer(self, flows, data):
        n = data.draw(st.integers(1, len(flows)))
        best = flow_spread([flows[k] for k in best_set(flows, n)])
        assert best == pytest.approx(
            min(flow_spread([flows[k] for k in pick]) for pick in combinations(range(len(flows)), n))
        )

    @given(st.lists(st.integers(100, 999), min_size=2, max_size=8, unique=True), st.data())
    def test_codes_read_back_right_rounded_crossed_and_wrong(self, printed, data):
        codes = [
            BodyCode(n + 1, code, scale=0.01, offset=-5.0, storage_step=0.01)
            for n, code in enumerate(printed)
        ]
        true = [code.entry_value for code in codes]
        nudge = data.draw(st.floats(-0.0049, 0.0049))
        assert {c.title for c in compare_read_back(codes, [value + nudge for value in true])} == {"fine"}
        a, b = data.draw(st.lists(st.integers(0, len(codes) - 1), min_size=2, max_size=2, unique=True))
        swapped = list(true)
        swapped[a], swapped[b] = true[b], true[a]
        told = [c.title for c in compare_read_back(codes, swapped)]
        assert told[a] == told[b] == "crossed"
        assert told.count("fine") == len(codes) - 2
        assert compare_read_back(codes, [77.0, *true[1:]])[0].title == "wrong"
        kept = compare_read_back(codes, [77.0, *true[1:]], [77.0, *[None] * (len(true) - 1)])
        assert (kept[0].title, kept[0].verdict.value) == ("still the old one", "stop")
        assert compare_read_back(codes, true, true)[0].title == "fine", "the same set, put back"

    @given(st.floats(8, 16), st.floats(200, 450))
    def test_dead_time_lies_between_its_neighbours_and_falls_with_voltage(self, volts, kpa):
        table = garage.dead_time(0.7)
        value = table.at(volts, kpa)
        assert table.ms.min() - 1e-12 <= value <= table.ms.max() + 1e-12
        assert table.at(min(volts + 0.5, 16), kpa) <= value + 1e-12

    @settings(max_examples=40)
    @given(st.lists(st.sampled_from([0.5, 0.8, 1.0, 1.6, 2.0]), max_size=7), st.floats(0.2, 5.0))
    def test_no_other_stack_of_four_shims_comes_closer(self, stock, wanted):
        made = plan_stack(60.0, 60.0 + wanted, stock).made
        others = [sum(pick) for count in range(5) for pick in combinations(stock, count)]
        assert abs(made - wanted) <= min(abs(other - wanted) for other in others) + 1e-4


class TestSensorsAndWires:
    @given(st.floats(-35, 0), st.floats(15, 40), st.floats(70, 120))
    def test_a_thermistor_hits_its_three_points_and_falls_between(self, cold, mild, hot):
        def ohms(temp):
            return 2500 * np.exp(3500 * (1 / (temp + 273.15) - 1 / 293.15))

        curve = SteinhartHart.from_points([(t, ohms(t)) for t in (cold, mild, hot)])
        for temp in (cold, mild, hot):
            assert curve.temp_c(ohms(temp)) == pytest.approx(temp, abs=0.01)
        between = [curve.temp_c(ohms(t)) for t in np.linspace(cold, hot, 9)]
        assert all(a < b for a, b in zip(between, between[1:], strict=False))

    @given(st.floats(0.2, 2), st.floats(2.5, 4.8), st.floats(-50, 100), st.floats(150, 400))
    def test_a_line_through_two_points(self, v1, v2, low, high):
        line = linear_from_points([(v1, low), (v2, high)])
        assert line.value(v1) == pytest.approx(low, abs=1e-6)
        assert line.value(v2) == pytest.approx(high, abs=1e-6)

    @given(st.floats(0, 120), st.floats(0, 40), st.floats(0, 40))
    def test_the_new_trigger_offset_makes_the_light_read_what_is_locked(self, old, locked, read):
        new = trigger_offset(old, locked, read)
        assert read - (new - old) == pytest.approx(locked)

    @given(st.floats(0.5, 60), st.floats(0.1, 12), st.sampled_from([0.5, 1.0, 2.5, 6.0]))
    def test_drop_follows_current_and_length_and_thickness(self, amps, metres, area):
        drop = voltage_drop(amps, metres, area)
        assert voltage_drop(2 * amps, metres, area) == pytest.approx(2 * drop)
        assert voltage_drop(amps, metres, 2 * area) == pytest.approx(drop / 2)
        assert drop == pytest.approx(amps * 2 * metres * 0.0172 / area)

    @given(st.integers(0, 6))
    def test_the_bus_by_its_number_of_terminators(self, count):
        ohms = 120 / count if count else 1e6
        assert (can_termination(ohms).verdict is Verdict.go) == (count == 2)

    @given(st.integers(2, 8), st.data())
    def test_the_feed_is_found_from_any_tree_of_readings(self, count, data):
        plugs = [str(n + 1) for n in range(count)]
        sides = data.draw(st.lists(st.sampled_from("AB"), min_size=count, max_size=count))
        order = data.draw(st.permutations(range(count)))
        joined = [
            (
                (plugs[order[k]], sides[order[k]]),
                (plugs[p := order[data.draw(st.integers(0, k - 1))]], sides[p]),
            )
            for k in range(1, count)
        ]
        other = [((p, "BA"["AB".index(s)]), (plugs[0], sides[0])) for p, s in zip(plugs, sides, strict=True)]
        found = common_side(plugs, joined, other)
        assert found.side == dict(zip(plugs, sides, strict=True))
        assert found.calls[0].verdict is Verdict.go
        assert common_side(plugs, joined, other[:-1]).calls[0].verdict is Verdict.hold, "one side not tried"


LETTERS = "0123456789ABCDEFGHJKLMNPRSTUVWXYZ"
VALUE = {
    c: (
        int(c)
        if c.isdigit()
        else "ABCDEFGH".find(c) + 1
        or "JKLMN".find(c) + 1
        or {"P": 7, "R": 9}.get(c)
        or "STUVWXYZ".find(c) + 2
    )
    for c in LETTERS
}


@given(st.text(LETTERS, min_size=17, max_size=17), st.integers(0, 16), st.sampled_from(LETTERS))
def test_one_letter_misread_never_passes_unless_it_weighs_the_same(text, place, other):
    text = "1" + text[1:]  # a region whose law asks for the digit
    rest = sum(w * VALUE[c] for w, c in zip(PLACE_WEIGHTS, text, strict=True)) % 11
    vin = text[:8] + ("X" if rest == 10 else str(rest)) + text[9:]
    assert check_vin(vin).verdict is Verdict.go
    misread = vin[:place] + other + vin[place + 1 :]
    assume(misread[0] in "12345")
    same = VALUE[other] == VALUE[vin[place]] if place != 8 else other == vin[8]
    assert (check_vin(misread).verdict is Verdict.go) == same


class TestMaps:
    @settings(max_examples=30)
    @given(st.integers(0, 5), st.integers(0, 11), st.floats(20, 140))
    def test_every_cell_that_changes_changes_file_image_and_checksum(self, base_map, row, column, value):
        table = base_map.tables["ve"]
        values = table.values.copy()
        values[row, column] = round(value, 2)
        assume(values[row, column] != table.values[row, column])
        made = base_map.with_table("ve", table.with_values(values))
        assert [(c.item, c.row, c.column, c.new) for c in diff(base_map, made)] == [
            ("ve", row, column, values[row, column])
        ]
        assert made.crc32 != base_map.crc32
        assert made.sha256 != base_map.sha256
        assert from_json(to_json(made)).sha256 == made.sha256
        assert from_image(made.image(FLASH_SIZE)).same_figures(made)
        assert not made.same_figures(base_map)
        assert from_workbook(to_workbook(made)).sha256 == made.sha256
        assert from_hex(to_hex(made)).same_figures(made)
        assert (
            table_from_csv(table_csv(made, "ve"), FORMS["full"].tables["ve"]).rows()
            == made.tables["ve"].rows()
        )

    @settings(max_examples=60)
    @given(st.binary(max_size=400))
    def test_no_bytes_are_taken_for_a_map(self, data):
        for read in (from_json, from_image):
            with pytest.raises(VentMapError):
                read(data)


class TestWindows:
    @settings(max_examples=25)
    @given(st.integers(0, 10_000), st.sampled_from([5.0, 10.0, 25.0]), st.floats(0, 1))
    def test_windows_lie_in_the_log_in_order_and_pulls_stand_apart(self, seed, hz, cut):
        log, _ = drive(hz, seed=seed)
        keep = slice(0, max(10, int(cut * len(log))))
        part = Log.from_channels(
            log.time_s[keep], {name: values[keep] for name, values in log.channels.items()}, "part"
        )
        windows = find_windows(part)
        assert [w.start for w in windows] == sorted(w.start for w in windows)
        assert all(0 <= w.start < w.stop <= len(part) and w.from_s <= w.to_s for w in windows)
        pulls = [w for w in windows if w.kind == "pull"]
        assert all(a.stop <= b.start for a, b in zip(pulls, pulls[1:], strict=False))


fields = st.dictionaries(st.sampled_from("abcde"), st.sampled_from(["", "1", "2"]), min_size=5, max_size=5)


@given(fields, fields, fields)
def test_two_people_never_lose_an_entry_and_never_silently_win(base, theirs, mine):
    clash = [k for k in base if len({base[k], theirs[k], mine[k]}) == 3 and "" not in (theirs[k], mine[k])]
    try:
        both = merge(base, theirs, mine)
    except Conflict:
        assert clash
        return
    assert not clash
    assert both == merge(base, mine, theirs), "whoever comes first"
    for key in base:
        # an entry wins over a field that was only emptied
        assert both[key] == (
            theirs[key]
            if mine[key] == base[key] or (mine[key] == "" and theirs[key] != base[key])
            else mine[key]
        )
