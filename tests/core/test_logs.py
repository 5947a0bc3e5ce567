"""Reading logs of many dialects to the same samples, and refusing what is no log in a clear sentence."""

from __future__ import annotations

import io

import numpy as np
import polars as pl
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.drives import as_csv, drive
from ventmap.core.basics import BadInput, LogError
from ventmap.core.logs import CHANNELS, ChannelWish, heading, match, plan_channels, read_log

PLAIN = {
    "time": "Time (s)",
    "rpm": "Engine Speed (rpm)",
    "map": "Manifold Absolute Pressure (kPa)",
    "lambda": "Lambda 1",
    "coolant": "Coolant Temp (C)",
    "baro": "Barometric Pressure (kPa)",
}


@pytest.fixture(scope="module")
def log():
    return drive(10.0)[0].slice(0, 900)


def check(read, log, names=("rpm", "map", "lambda", "coolant"), tolerance=2e-3):
    assert len(read) == len(log)
    assert read.time_s == pytest.approx(log.time_s - log.time_s[0], abs=2e-3)
    for name in names:
        assert read.channels[name] == pytest.approx(log.channels[name], rel=tolerance, abs=tolerance), name


def test_plain_commas(log):
    read = read_log(as_csv(log, PLAIN).encode())
    check(read, log)
    assert read.columns["map"] == "Manifold Absolute Pressure (kPa)"
    assert not [n for n in read.notes if n.kind == "ignored"]


def test_semicolons_decimal_comma_latin_1_and_a_unit_row(log):
    text = as_csv(log, {k: v.split(" (")[0] for k, v in PLAIN.items()}, ";", comma=True)
    head, body = text.split("\n", 1)
    text = f"{head}\ns;1/min;kPa;-;°C;kPa\n{body}"
    check(read_log(text.encode("latin-1")), log)


def test_tabs_with_clock_times_and_sparse_cells(log):
    lines = as_csv(log, PLAIN, "\t").splitlines()
    rows = [lines[0].replace("Time (s)", "Clock")]
    for number, line in enumerate(lines[1:]):
        cells = line.split("\t")
        seconds = 86_395.0 + float(cells[0])
        cells[0] = f"{int(seconds // 3600) % 24:02d}:{int(seconds // 60) % 60:02d}:{seconds % 60:06.3f}"
        if number % 5:
            cells[4] = ""
        rows.append("\t".join(cells))
    read = read_log("\n".join(rows).encode())
    assert any("midnight" in note.text for note in read.notes)
    check(read, log, ("rpm", "map", "lambda"))
    assert np.isnan(read.channels["coolant"]).mean() == pytest.approx(0.8, abs=0.01)
    assert np.isfinite(read.filled("coolant")).all()
    assert read.rate_of("coolant") == pytest.approx(2, abs=0.1)


def test_imperial_with_preamble_gauge_boost_and_afr(log):
    rows = ["\ufeffSession,2031-04-02", "Vehicle,bench", "", "time_ms,RPM,Boost psi,Baro psi,AFR,ECT F"]
    for at, rpm, kpa, baro, lam, coolant in zip(
        log.time_s, *(log.channels[n] for n in ("rpm", "map", "baro", "lambda", "coolant")), strict=True
    ):
        rows.append(
            f"{(at - log.time_s[0]) * 1000:.0f},{rpm:.2f},"
            f"{(kpa - np.median(log.channels['baro'])) / 6.894757:.5f},{baro / 6.894757:.5f},"
            f"{lam * 14.7:.4f},{coolant * 1.8 + 32:.3f}"
        )
    read = read_log("\n".join(rows).encode())
    check(read, log)
    assert {n.kind for n in read.notes if "barometer" in n.text} == {"understood"}


def test_repeated_headings_text_cells_and_a_ragged_last_line(log):
    lines = as_csv(log, PLAIN).splitlines()
    cells = lines[20].split(",")
    lines[20] = ",".join([*cells[:2], "ERR", *cells[3:]])
    lines.insert(400, lines[0])
    lines[-1] = ",".join(lines[-1].split(",")[:3])
    read = read_log("\n".join(lines).encode())
    assert len(read) == len(log)
    assert np.isnan(read.channels["map"][19])
    told = " ".join(n.text for n in read.notes)
    assert "heading repeated 1 time" in told
    assert "1 cells that are not numbers" in told


def test_a_clock_that_goes_back_makes_two_recordings(log):
    text = as_csv(log, PLAIN).splitlines()
    twice = "\n".join([*text, *text[1:]])
    read = read_log(twice.encode())
    assert read.breaks == (len(log),)
    assert np.all(np.diff(read.time_s) >= 0)


def test_parquet(log):
    frame = pl.DataFrame({PLAIN[n]: log.time_s if n == "time" else log.channels[n] for n in PLAIN})
    buffer = io.BytesIO()
    frame.write_parquet(buffer)
    check(read_log(buffer.getvalue()), log)
    with pytest.raises(LogError, match="cut"):
        read_log(buffer.getvalue()[:400])


@pytest.mark.parametrize(
    ("data", "word"),
    [
        (b"", "empty"),
        (b"  \n", "empty"),
        (b"\x89PNG\r\n\x1a\n\x00\x00" * 30, "not a text log"),
        (b"Dear sir,\nthank you, for the visit\nyours,\n", "no datalog"),
        (b"Engine Speed,Lambda 1\n800,1.0\n810,1.0\n805,1.0\n", "time"),
        (b"Time (s),Engine Speed (rpm)\n0,1\n", "fewer than two"),
        (b"Time (s),Price,Shelf\n0,1,2\n1,2,3\n2,2,2\n", "None of the columns"),
    ],
)
def test_what_is_no_log_is_refused_in_words(data, word):
    with pytest.raises(LogError, match=word) as wrong:
        read_log(data, "x.csv")
    assert wrong.value.sentence.endswith(".")
    assert wrong.value.field


@settings(max_examples=60)
@given(st.binary(max_size=600))
def test_no_bytes_break_the_reader(data):
    try:
        read_log(data)
    except LogError as wrong:
        assert wrong.sentence


@settings(max_examples=40)
@given(
    st.lists(
        st.tuples(st.floats(0, 9000), st.floats(10, 300), st.floats(0.6, 1.6)), min_size=12, max_size=40
    ),
    st.sampled_from([(",", False), (";", True), ("\t", False), (";", False)]),
)
def test_samples_survive_any_dialect(rows, dialect):
    separator, comma = dialect
    lines = [separator.join(["Time (s)", "Engine Speed (rpm)", "Manifold Pressure (kPa)", "Lambda"])]
    for number, row in enumerate(rows):
        line = separator.join(f"{v:.3f}" for v in (number * 0.1, *row))
        lines.append(line.replace(".", ",") if comma else line)
    read = read_log("\n".join(lines).encode())
    want = np.array(rows)
    for index, name in enumerate(("rpm", "map", "lambda")):
        assert read.channels[name] == pytest.approx(want[:, index], rel=1e-4, abs=1e-2)


@pytest.mark.parametrize(
    ("raw", "name"),
    [
        ("Fuel Trim Short Term B2 (%)", "stft_2"),
        ("STFT1", "stft_1"),
        ("Long Term Fuel Trim (bank 1)", "ltft_1"),
        ("O2S2 B1 V", "rear_o2_1"),
        ("Target Lambda", "lambda_target"),
        ("AFR Target", "lambda_target"),
        ("Boost Target (kPa)", "map_target"),
        ("IDC %", "duty"),
        ("IPW ms", "pulse"),
        ("Drehzahl", "rpm"),
        ("Vehicle Speed (km/h)", "speed"),
        ("EGT 3 (C)", "egt_3"),
        ("Engine Speed", "rpm"),
        ("Batt V", "battery"),
        ("Colour", None),
        ("Pedal [mV]", None),
    ],
)
def test_names(raw, name):
    assert match(heading(raw)) == name
    assert name is None or name in CHANNELS


class TestBudget:
    def test_rates_follow_from_the_bus(self):
        plan = plan_channels(["rpm", "map", "lambda", "coolant", "iat", "stft_1"], request_ms=10.0)
        # three fast requests and one slow in turn: 40 ms a round
        assert plan.hz["rpm"] == pytest.approx(25.0)
        assert plan.hz["coolant"] == pytest.approx(25 / 3)
        assert not plan.calls

    def test_too_much_says_what_to_drop(self):
        plan = plan_channels(
            ["rpm", "map", "lambda", "spark", "knock", ChannelWish("pulse", 20)], request_ms=25.0
        )
        assert {call.verdict for call in plan.calls} == {"hold"}
        assert "Drop" in plan.calls[0].do_next
        assert plan.calls[0].because[0].value == pytest.approx(6.7)

    def test_packing_several_in_a_request(self):
        packed = plan_channels(
            ["rpm", "map", "lambda", "spark"], request_ms=10.0, per_request=4, extra_ms=1.0
        )
        assert len(packed.groups) == 1
        assert packed.hz["spark"] == pytest.approx(1000 / 13)
        with pytest.raises(BadInput):
            plan_channels([], request_ms=10.0)


@pytest.mark.parametrize("date", ["2026-13-45", "2026-02-30"])
def test_a_date_in_no_calendar_is_a_sentence(date):
    rows = "\n".join(f"{date} 10:00:{n % 60:02d},{900 + n},40" for n in range(40))
    with pytest.raises(LogError, match="no calendar"):
        read_log(f"Date,RPM,MAP (kPa)\n{rows}\n".encode(), "log.csv")
