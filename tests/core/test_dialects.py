"""Logs as they arrive: clocks, units, headings, quoting, line ends and gaps of many loggers, read to the same
samples.
"""

from __future__ import annotations

import datetime as dt

import numpy as np
import pytest

from tests.core.drives import drive
from ventmap.core.logs import read_log

N = 240
LOG = drive(10.0)[0].slice(20, 20 + N)
T = LOG.time_s - LOG.time_s[0]
RPM, MAP, LAM, BARO = (np.asarray(LOG.channels[n], float) for n in ("rpm", "map", "lambda", "baro"))


def table(heads: list[str], columns: list, separator: str = ",", end: str = "\n") -> bytes:
    rows = [separator.join(heads)]
    rows += [
        separator.join(value if isinstance(value, str) else f"{value:.4f}" for value in row)
        for row in zip(*columns, strict=True)
    ]
    return end.join(rows).encode()


def clock(at: float, pattern: str) -> str:
    moment = dt.datetime(2031, 4, 2, 23, 59, 50) + dt.timedelta(seconds=round(float(at), 4))
    return moment.strftime(pattern)[:-3] if pattern.endswith("%f") else moment.strftime(pattern)


CLOCKS = {
    "seconds": ("Time (s)", lambda t: f"{t:.3f}"),
    "milliseconds": ("Time (ms)", lambda t: f"{1000 * t:.0f}"),
    "milliseconds, bare": ("time_ms", lambda t: f"{1000 * t:.0f}"),
    "minutes": ("Time [min]", lambda t: f"{t / 60:.6f}"),
    "timestamp": ("Timestamp", lambda t: f"{t:.2f}"),
    "elapsed": ("Elapsed Time (sec)", lambda t: f"{t:.2f}"),
    "clock over midnight": ("Clock", lambda t: clock(t, "%H:%M:%S.%f")),
    "date and time": ("DateTime", lambda t: clock(t, "%Y-%m-%d %H:%M:%S.%f")),
    "date T time": ("Timestamp", lambda t: clock(t, "%Y-%m-%dT%H:%M:%S.%f")),
    "a clock that starts late": ("Time (s)", lambda t: f"{t + 5123.4:.3f}"),
}


@pytest.mark.parametrize("name", CLOCKS)
def test_clocks(name):
    head, write = CLOCKS[name]
    read = read_log(table([head, "Engine Speed (rpm)", "Lambda 1"], [[write(t) for t in T], RPM, LAM]))
    assert read.time_s == pytest.approx(T, abs=6e-3)
    assert len(read) == N
    assert read.channels["rpm"] == pytest.approx(RPM, abs=0.01)


UNITS = [
    ("map", "MAP (kPa)", MAP, MAP),
    ("map", "MAP [bar]", MAP / 100, MAP),
    ("map", "Manifold Absolute Pressure (psi)", MAP / 6.894757, MAP),
    ("map", "MAP (mbar)", MAP * 10, MAP),
    ("map", "MAP (hPa)", MAP * 10, MAP),
    ("map", "MAP (inHg)", MAP / 3.386389, MAP),
    ("coolant", "Coolant Temp (F)", 88 * 1.8 + 32 + 0 * MAP, 88 + 0 * MAP),
    ("coolant", "ECT (°C)", 88 + 0 * MAP, 88 + 0 * MAP),
    ("coolant", "CLT [K]", 361.15 + 0 * MAP, 88 + 0 * MAP),
    ("lambda", "AFR", LAM * 14.7, LAM),
    ("lambda", "Air Fuel Ratio", LAM * 14.7, LAM),
    ("lambda", "Wideband (lambda)", LAM, LAM),
    ("lambda", "Lambda (λ)", LAM, LAM),
    ("pulse", "Injector Pulse Width (ms)", 2 + MAP / 16, 2 + MAP / 16),
    ("pulse", "Inj PW (us)", 1000 * (2 + MAP / 16), 2 + MAP / 16),
    ("speed", "Vehicle Speed (mph)", MAP / 1.609344, MAP),
    ("speed", "VSS (km/h)", MAP, MAP),
    ("battery", "Battery (mV)", 14100 + 0 * MAP, 14.1 + 0 * MAP),
    ("rail", "Fuel Rail Pressure (bar)", 3 + 0 * MAP, 300 + 0 * MAP),
    ("spark", "Ignition Timing (°BTDC)", 20 + 0 * MAP, 20 + 0 * MAP),
    ("knock", "Knock Retard (deg)", 1 + 0 * MAP, 1 + 0 * MAP),
    ("stft_1", "STFT B1 (%)", 3 + 0 * MAP, 3 + 0 * MAP),
    ("duty", "Injector Duty Cycle (%)", 40 + 0 * MAP, 40 + 0 * MAP),
]


@pytest.mark.parametrize(("channel", "head", "written", "want"), UNITS, ids=[row[1] for row in UNITS])
def test_units(channel, head, written, want):
    read = read_log(table(["Time (s)", "RPM", head], [T, RPM, written]))
    assert read.channels[channel] == pytest.approx(want, rel=2e-3, abs=2e-3)
    assert read.columns[channel] == head


def test_gauge_pressure_takes_the_logged_barometer_or_the_key_on_value():
    boost = MAP - BARO
    read = read_log(table(["Time (s)", "RPM", "Boost (psi)", "Baro (kPa)"], [T, RPM, boost / 6.894757, BARO]))
    assert read.channels["map"] == pytest.approx(MAP, abs=0.2)
    for head, scale in (
        ("MAP (kPa gauge)", 1.0),
        ("Manifold Pressure [kPag]", 1.0),
        ("MAP barg", 0.01),
        ("Relative Boost kPa", 1.0),
    ):
        alone = read_log(table(["Time (s)", "RPM", head, "Baro (kPa)"], [T, RPM, boost * scale, BARO]))
        assert alone.channels["map"] == pytest.approx(MAP, abs=0.7), head
        assert any("gauge pressure made absolute" in note.text for note in alone.notes), (
            "what was assumed is said"
        )


LINES = table(["Time (s)", "Engine Speed (rpm)", "Lambda 1"], [T, RPM, LAM]).decode().splitlines()
SHAPES = {
    "carriage returns": "\r\n".join(LINES),
    "byte order mark": "\ufeff" + "\n".join(LINES),
    "trailing separators": "\n".join(line + "," for line in LINES),
    "quoted": "\n".join([",".join(f'"{cell}"' for cell in LINES[0].split(",")), *LINES[1:]]),
    "all quoted": "\n".join(",".join(f'"{c}"' for c in line.split(",")) for line in LINES),
    "blank lines": "\n\n".join(LINES),
    "spaces": "\n".join(line.replace(",", " , ") for line in LINES),
    "comment before": "# made on the road\n# second line\n" + "\n".join(LINES),
    "preamble of pairs": "Session,evening\nDriver,somebody\n\n" + "\n".join(LINES),
    "units in a second row": "\n".join(["Time,Engine Speed,Lambda 1", "s,rpm,lambda", *LINES[1:]]),
    "a remark with commas": "\n".join(
        [LINES[0] + ",Remark", *(line + ',"warm, level road"' for line in LINES[1:])]
    ),
    "a quote never closed": "\n".join([LINES[0] + ",Remark", *(line + ',3" pipe' for line in LINES[1:])]),
    "no last line end": "\n".join(LINES).rstrip(),
    "half a last line": "\n".join(LINES) + "\n24.0,12",
    "heading again in the middle": "\n".join([*LINES[:90], LINES[0], *LINES[90:]]),
}


@pytest.mark.parametrize("shape", SHAPES)
def test_shapes(shape):
    read = read_log(SHAPES[shape].encode())
    assert abs(len(read) - N) <= 1
    assert read.channels["rpm"][:N] == pytest.approx(RPM, abs=0.01)
    assert read.channels["lambda"][: N - 1] == pytest.approx(LAM[: N - 1], abs=1e-3)


@pytest.mark.parametrize(
    ("separator", "comma"), [(";", True), (";", False), ("\t", True), ("\t", False), ("|", False)]
)
def test_separators_and_decimals(separator, comma):
    text = "\n".join(line.replace(",", separator) for line in LINES)
    data = text.replace(".", ",") if comma else text
    assert read_log(data.encode("latin-1")).channels["rpm"] == pytest.approx(RPM, abs=0.01)


@pytest.mark.parametrize(
    ("written", "means"),
    [
        (lambda rpm: f"{rpm:,.1f}", "groups of three are thousands"),
        (lambda rpm: f"{rpm:.3f}".replace(".", ","), "one that is no group makes it a decimal comma"),
    ],
)
def test_commas_within_quotes(written, means):
    rows = [f'"{t:.2f}","{written(rpm)}","{lam:.4f}"' for t, rpm, lam in zip(T, RPM, LAM, strict=True)]
    read = read_log("\n".join(['"Time (s)","Engine Speed (rpm)","Lambda 1"', *rows]).encode())
    assert read.channels["rpm"] == pytest.approx(RPM, abs=0.06), means


def test_a_separator_within_a_quoted_heading_parts_nothing():
    rows = [f"{t:.2f},{rpm:.1f},{lam:.4f}" for t, rpm, lam in zip(T, RPM, LAM, strict=True)]
    read = read_log("\n".join(['Time (s),Engine Speed (rpm),"Short trim, bank 2 (%)"', *rows]).encode())
    assert read.columns["stft_2"] == "Short trim, bank 2 (%)"
    assert read.channels["rpm"] == pytest.approx(RPM, abs=0.06)


def test_nothing_is_dropped_silently():
    read = read_log(table(["Time (s)", "RPM", "Cabin Colour", "Lambda 1"], [T, RPM, ["red"] * N, LAM]))
    told = {note.column: note.kind for note in read.notes}
    assert told.get("Cabin Colour") == "ignored"
    extra = read_log(table(["Time (s)", "RPM", "Tank Level", "Lambda 1"], [T, RPM, 40 + 0 * RPM, LAM]))
    assert "Tank Level" in extra.extras
    assert extra.extras["Tank Level"] == pytest.approx(40 + 0 * RPM)


def test_two_columns_of_one_name_keep_the_first_and_say_so():
    read = read_log(table(["Time (s)", "RPM", "Engine Speed (rpm)", "Lambda 1"], [T, RPM, RPM + 500, LAM]))
    assert read.channels["rpm"] == pytest.approx(RPM, abs=0.01)
    assert any("Engine Speed" in f"{note.column} {note.text}" for note in read.notes)


def test_cells_that_are_no_numbers_become_gaps_and_are_counted():
    lines = list(LINES)
    for row, word in ((5, "NaN"), (9, "---"), (17, ""), (40, "ERR")):
        cells = lines[row].split(",")
        lines[row] = ",".join([cells[0], word, cells[2]])
    read = read_log("\n".join(lines).encode())
    assert np.flatnonzero(~np.isfinite(read.channels["rpm"])).tolist() == [4, 8, 16, 39]
