"""Two people on one grid."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ventmap.core.basics import Conflict, merge
from ventmap.core.vehicle import check_digit, check_vin, model_years

cells = st.dictionaries(st.sampled_from("abcd"), st.text("xyz", max_size=3), max_size=4)


@given(cells, cells)
def test_one_who_changed_nothing_loses_nothing(base, other):
    assert merge(base, other, base) == other
    assert merge(base, base, other) == other
    assert merge(base, other, other) == other


def test_rows_fields_and_readings():
    row = {"name": "block", "static": "", "cranking": ""}
    theirs, mine = {"rows": [{**row, "static": "20 mV"}]}, {"rows": [{**row, "cranking": "0.1"}]}
    assert merge({"rows": [row]}, theirs, mine) == {
        "rows": [{"name": "block", "static": "20 mV", "cranking": "0.1"}]
    }
    assert merge({}, theirs, mine) == {"rows": [{"name": "block", "static": "20 mV", "cranking": "0.1"}]}
    one, two, three = ({"a": ["1", "B"], "b": [str(n), "B"], "beeps": True} for n in (2, 3, 4))
    assert merge({}, {"readings": [one]}, {"readings": [two]}) == {"readings": [one, two]}
    assert merge({"readings": [one, two]}, {"readings": [one, two, three]}, {"readings": [two]}) == {
        "readings": [two, three]
    }
    with pytest.raises(Conflict, match="they entered 20 mV, you 90 mV"):
        merge({"a": ""}, {"a": "20 mV"}, {"a": "90 mV"})


def test_model_year_against_the_vehicle():
    assert model_years("CVE2TWA06GS104417") == (1986, 2016)
    assert check_vin("CVE2TWA06GS104417", (2014, 2019)).verdict == "go"
    ours = f"1VE2TWA0{check_digit('1VE2TWA00GS104417')}GS104417"
    assert check_vin(ours, (2014, 2019)).verdict == "go"
    late = check_vin(ours, (2018, 2022))
    assert late.verdict == "hold"
    assert "1986 or 2016" in late.do_next
