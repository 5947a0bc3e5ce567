"""Another program's figures and tables: what they stand for is held against the records as in our maps."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from tests.truth import maps as cases
from ventmap.core.basics import Table2D
from ventmap.core.forms import HOLDS, NOBODY_KNOWS, Calibration, Identity, diff, out_of_range, place
from ventmap.core.maps import map_calls

AXES = ([1000.0, 3000.0, 6000.0], [40.0, 90.0, 180.0])


def brought(holds: str, values: list[list[float]], **said: object) -> Calibration:
    """A map of another program with one table by a name of its own."""
    row = {
        "number": 1.0,
        "name": "Their table",
        "holds": holds,
        "x_text": "engine speed",
        "x_unit": "rpm",
        "y_text": "load",
        "y_unit": "kPa",
        **said,
    }
    table = Table2D(*AXES, np.array(values))
    identity = Identity("E", "C", "")
    return Calibration("t", identity, {}, {"own.1": table}, form="borrowed", lists={"tables": (row,)})


def flat(value: float) -> list[list[float]]:
    return [[value] * 3] * 3


def one_cell(value: float, other: float) -> list[list[float]]:
    """All alike but one in the middle row."""
    return [[value] * 3, [value, other, value], [value] * 3]


def verdicts(made: Calibration, **job: object) -> dict[str, str]:
    calls = map_calls(made, replace(cases.JOB, shelf=made, **job), cases.RULES)
    assert all("Their table" in c.title + "".join(e.label for e in c.because) for c in calls), calls
    return {c.rule: c.verdict.value for c in calls}


def same_in_another_program(full: Calibration) -> Calibration:
    """A full map as another program would hold it: no list of ours, only what it calls alike."""
    return replace(full, form="borrowed")


@pytest.mark.parametrize("name", list(cases.FULL.scalars))
def test_a_figure_is_judged_wherever_it_lives(name):
    """Each figure, too low, as it is and too high: the calls of a full map are those of the other program."""
    for times in (0.7, 1.0, 1.5):
        full = cases.FULL.with_scalars(**{name: cases.FULL.scalars[name] * times})
        job = replace(cases.JOB, shelf=cases.FULL, **cases.RECORDS)
        calls = map_calls(full, job, cases.RULES)
        # How far a log may have moved another program's filling, nobody counts there.
        ours = [(c.rule, c.verdict, c.because) for c in calls if c.rule != "map.filling"]
        theirs = map_calls(same_in_another_program(full), job, cases.RULES)
        assert [(c.rule, c.verdict, c.because) for c in theirs] == ours


@pytest.mark.parametrize("name", list(cases.FULL.scalars))
def test_a_figure_that_nobody_brought_is_not_judged_and_breaks_nothing(name):
    some = {key: value for key, value in cases.FULL.scalars.items() if key != name}
    less = replace(same_in_another_program(cases.FULL), scalars=some)
    job = replace(cases.JOB, shelf=cases.FULL, **cases.RECORDS)
    told = [e.label for c in map_calls(less, job, cases.RULES) for e in c.because]
    assert told
    none = replace(less, scalars={})
    assert not any(
        c.rule in ("map.flow", "map.engine", "map.rev_limit") for c in map_calls(none, job, cases.RULES)
    )


@pytest.mark.parametrize(
    ("holds", "good", "bad", "rule", "verdict"),
    [
        ("rev limit", flat(9_000.0), flat(12_000.0), "map.rev_limit", "stop"),
        ("speed limit", flat(150.0), flat(240.0), "map.speed_limit", "stop"),
        ("mixture target", flat(0.85), flat(1.02), "map.mixture_boost", "stop"),
        (
            "mixture target",
            flat(0.85),
            [[1.0] * 3, [0.85, 0.85, 0.99], [0.85] * 3],
            "map.mixture_step",
            "hold",
        ),
        ("spark", flat(20.0), [[20.0] * 3, [20.0, 28.0, 20.0], [20.0] * 3], "map.spark_step", "hold"),
    ],
)
def test_a_table_that_holds_a_known_quantity_is_checked_as_ours_is(holds, good, bad, rule, verdict):
    assert verdicts(brought(holds, good))[rule] == "go"
    assert verdicts(brought(holds, bad))[rule] == verdict
    assert rule not in verdicts(brought(NOBODY_KNOWS, bad, unit="x"))


def test_spark_is_held_against_the_table_as_it_came():
    made = brought("spark", flat(20.0))
    more = made.with_table("own.1", made.tables["own.1"].with_values(made.tables["own.1"].values + 3.0))
    job = replace(cases.JOB, shelf=made)
    told = {c.rule: c.verdict.value for c in map_calls(more, job, cases.RULES)}
    assert told["map.spark_shelf"] == "hold"


def test_where_boost_cannot_be_told_by_the_rows_nobody_says_go():
    made = brought("mixture target", flat(1.02), y_text="throttle", y_unit="%")
    assert verdicts(made)["map.mixture_boost"] == "hold"
    assert "map.mixture_boost" not in verdicts(made, boosted=False)


@pytest.mark.parametrize("holds", HOLDS)
def test_what_it_holds_and_its_own_bounds_say_what_it_can_be(holds):
    about = HOLDS[holds]
    inside = max(about.low, min(about.high, 1_000.0 if holds.endswith("limit") else 1.0))
    made = brought(holds, flat(inside), unit="clicks")
    assert out_of_range(made) == []
    kind = made.table_kind("own.1")
    assert kind is not None
    assert kind.unit == (about.unit or "clicks")
    assert made.title_of("own.1") == "Their table"
    assert place(made, "own.1", made.tables["own.1"], 1, 2) == "6000 rpm, 90 kPa"
    narrow = brought(holds, flat(inside), low=inside + 0.5, high=inside + 1.0)
    assert "Their table" in out_of_range(narrow)[0].sentence
    if about.high < 1e8:
        assert out_of_range(brought(holds, flat(about.high + 1.0), high=1e9))
    other = made.with_table("own.1", made.tables["own.1"].with_values(made.tables["own.1"].values + 0.1))
    assert {change.unit for change in diff(made, other)} == {kind.unit}


@pytest.mark.parametrize(
    ("limits", "verdict"), [({}, "go"), ({"high": 8.0}, "stop"), ({"low": -1.0}, "stop")]
)
def test_a_position_that_its_maker_limits_is_held_to_less_than_the_device_can(limits, verdict):
    trim = cases.TRIM
    name = next(name for name in trim.tables if name.startswith("fuel_trim"))
    number = float(name.partition(".")[2])
    table = trim.tables[name]
    made = trim.with_table(
        name,
        table.with_values(np.where(np.arange(table.values.size).reshape(table.values.shape) % 2, 9.0, -2.0)),
    )
    rows = [{**row, **(limits if row["number"] == number else {})} for row in trim.lists["positions"]]
    calls = map_calls(made.with_list("positions", rows), replace(cases.JOB, shelf=made), cases.RULES)
    assert (
        next(c for c in calls if c.rule == "map.trim_bounds" and c.title == made.title_of(name)).verdict
        == verdict
    )


def test_a_row_without_its_table_and_a_table_without_its_row_are_told():
    made = brought("spark", flat(20.0))
    bare = replace(made, lists={})
    assert "nobody says what it is" in out_of_range(bare)[0].sentence
    assert "nobody pasted it" in out_of_range(replace(made, tables={}))[0].sentence


def test_a_trim_over_everything_is_told_with_the_flow_that_it_hides():
    full = same_in_another_program(cases.FULL)
    job = replace(cases.JOB, shelf=full, **cases.RECORDS)

    def trim(by: float, flow: float) -> tuple[str, str]:
        made = full.with_scalars(overall_trim=by, injector_flow=flow)
        call = next(c for c in map_calls(made, job, cases.RULES) if c.rule == "map.overall_trim")
        return call.verdict.value, call.do_next

    flow = cases.FULL.scalars["injector_flow"]
    assert trim(0.0, flow)[0] == "go"
    assert "log" in trim(8.0, flow)[1]
    # A map that believes in 8 % more flow than there is opens too short: just that trim hides it.
    assert "makes up for a flow" in trim(8.0, flow * 1.08)[1]
    assert "makes up for a flow" not in trim(-8.0, flow * 1.08)[1]
    assert {trim(by, flow)[0] for by in (-8.0, 0.5, 8.0)} == {"hold"}


@pytest.mark.parametrize(
    ("unit", "wanted", "verdict"),
    [("mph", 110.0, "go"), ("mph", 125.0, "stop"), ("km/h", 189.0, "go"), ("", 195.0, "stop")],
)
def test_an_option_is_held_in_its_own_unit(unit, wanted, verdict):
    row = {"key": "speed_limit", "name": "limit", "stock": wanted, "wanted": wanted, "unit": unit}
    row |= {"low": 1.0, "high": 999.0, "closed_course": False}
    made = replace(brought(NOBODY_KNOWS, flat(1.0)), tables={}, lists={"options": (row,)})
    told = {c.rule: c.verdict.value for c in map_calls(made, cases.JOB, cases.RULES)}
    assert told["map.speed_limit"] == verdict
    assert out_of_range(made) == []
    strange = replace(made, lists={"options": ({**row, "unit": "clicks"},)})
    assert "clicks" in out_of_range(strange)[0].sentence, "what nobody can judge does not come in"
