"""Forms of text, workbooks, traces and hints: each read to the same figures, or refused."""

from __future__ import annotations

import io
from collections.abc import Callable

import numpy as np
import openpyxl
import polars as pl
import pytest

from tests.server.traces import DBC, trace
from ventmap.core.basics import ColumnHint, LogError, LogSource
from ventmap.core.logs import read_log, source_of

N = 60
T = np.arange(N) * 0.1
RPM = 900.0 + np.arange(N)
KPA = 41.5 + 0.1 * np.arange(N)


def lines(*heads: str, row: Callable[[int], list[str]], separator: str = ",") -> str:
    return "\n".join([separator.join(heads), *(separator.join(row(n)) for n in range(N))])


def plain(n: int) -> list[str]:
    return [f"{T[n]:.1f}", f"{RPM[n]:.0f}", f"{KPA[n]:.1f}"]


HEADS = ("Time (s)", "Engine RPM", "MAP (kPa)")
BASE = lines(*HEADS, row=plain)
UNITS = "\n".join(["Time,Engine RPM,MAP", "s,rpm,kPa", *BASE.splitlines()[1:]])


def thousands(rpm: Callable[[int], str], separator: str, comma: bool) -> str:
    def row(n: int) -> list[str]:
        rest = [f"{T[n]:.1f}", f"{KPA[n]:.1f}"]
        rest = [cell.replace(".", ",") for cell in rest] if comma else rest
        return [rest[0], rpm(round(RPM[n]) + 1000), rest[1]]

    return lines(*HEADS, row=row, separator=separator)


def clock(write: Callable[[float], str], head: str = "Time") -> str:
    return lines(head, *HEADS[1:], row=lambda n: [write(T[n]), *plain(n)[1:]])


TEXTS: dict[str, str | bytes] = {
    "utf-16": BASE.encode("utf-16"),
    "utf-16 without its mark": BASE.encode("utf-16-le"),
    "bars": BASE.replace(",", "|"),
    "ISO date-times": clock(lambda t: f"2031-04-02T10:15:{t:06.3f}Z", "Timestamp"),
    "day first": clock(lambda t: f"02.04.2031 10:15:{t:06.3f}", "Datum"),
    "month first, before noon": clock(lambda t: f"4/2/2031 11:59:{50 + t:06.3f} AM"),
    "after noon": clock(lambda t: f"10:15:{t:06.3f} PM"),
    "minutes and seconds": clock(lambda t: f"01:{t:04.1f}"),
    "a preamble of 400 lines": "\n".join(f"# line {n}, note, about {n}" for n in range(400)) + "\n" + BASE,
    "a preamble of pairs": "\n".join(f"key {n}: words, and more" for n in range(400)) + "\n" + BASE,
    "a comment within": BASE.replace("\n1.0,", "\n# a mark, set here\n1.0,"),
    "units in a row of their own": UNITS,
    "text in cells": lines(*HEADS, "Mode", row=lambda n: [*plain(n), "closed loop" if n else "n/a"]),
    "columns of one name": lines(*HEADS, "Engine RPM", row=lambda n: [*plain(n), plain(n)[1]]),
    "channels for rows": "\n".join(
        ",".join([head, *(plain(n)[k] for n in range(N))]) for k, head in enumerate(HEADS)
    ),
}
for _scale, _word in ((1.0, "s"), (1e3, "ms"), (1e6, "µs")):
    TEXTS[f"{_word} since 1970, in the last column"] = lines(
        *HEADS[1:],
        "Stamp",
        row=lambda n, scale=_scale: [*plain(n)[1:], f"{(1.9e9 + T[n]) * scale:.1f}"],
    )


@pytest.mark.parametrize("form", TEXTS)
def test_a_form_of_text_reads_to_the_same_figures(form):
    text = TEXTS[form]
    read = read_log(text if isinstance(text, bytes) else text.encode(), "log.csv")
    assert read.channels["rpm"] == pytest.approx(RPM, abs=0.05)
    assert read.channels["map"] == pytest.approx(KPA, abs=0.05)
    assert read.duration_s == pytest.approx(T[-1], abs=0.01)


@pytest.mark.parametrize(
    "text",
    [
        thousands(lambda r: f"{r:,}".replace(",", "."), ";", comma=True),
        thousands(lambda r: f"{r:,}".replace(",", " "), ";", comma=True),
        thousands(lambda r: f"{r:,}".replace(",", "\u202f"), ";", comma=True),
        thousands(lambda r: f"{r:,}".replace(",", "'"), ",", comma=False),
        thousands(lambda r: f'"{r:,}"', ",", comma=False),
    ],
    ids=["points", "blanks", "thin blanks", "apostrophes", "quoted commas"],
)
def test_marks_of_thousands_are_no_decimals(text):
    read = read_log(text.encode(), "log.csv")
    assert read.channels["rpm"] == pytest.approx(RPM + 1000)
    assert read.channels["map"] == pytest.approx(KPA, abs=0.05)


@pytest.mark.parametrize("units", [False, True])
@pytest.mark.parametrize("groups", ["Log,Engine,,Fuel,", "Log,Engine,Engine,Fuel,Fuel"])
def test_two_rows_of_headings_are_a_group_and_a_name(groups, units):
    rows = [groups, "Time,Speed,Coolant temp,Rail pressure,Short trim"]
    rows += ["s,rpm,°C,kPa,%"] if units else []
    rows += [f"{T[n]:.1f},{RPM[n]:.0f},80,400,1.2" for n in range(N)]
    read = read_log("\n".join(rows).encode(), "log.csv")
    assert set(read.channels) == {"rpm", "coolant", "rail", "stft_1"}
    assert read.channels["rpm"] == pytest.approx(RPM) and read.columns["rpm"] == "Engine.Speed"


def test_headings_and_units_written_again_after_a_restart_are_left_out():
    again = UNITS + "\n" + UNITS.replace("\n0.", "\n7.")
    read = read_log(again.encode(), "log.csv")
    assert len(read) == 2 * N and any("heading repeated" in note.text for note in read.notes)


def test_each_channel_keeps_its_own_rate():
    rows = [",".join([*HEADS, "Coolant (C)"])]
    for n in range(N):
        rows += [f"{T[n]:.2f},{RPM[n]:.0f},,{'' if n % 10 else 80}", f"{T[n] + 0.05:.2f},,{KPA[n]:.1f},"]
    read = read_log("\n".join(rows).encode(), "log.csv")
    rates = {name: read.rate_of(name) for name in ("rpm", "map", "coolant")}
    assert rates == pytest.approx({"rpm": 10.0, "map": 10.0, "coolant": 1.0}, rel=0.01)
    assert np.isnan(read.channels["rpm"][1]) and read.filled("rpm")[1] == RPM[0]


@pytest.mark.parametrize(
    "head, scale, channel, truth",
    [
        ("Baro", 1.0, "baro", 85.2),
        ("Baro", 0.01, "baro", 85.2),
        ("Baro", 10.0, "baro", 85.2),
        ("Baro", 1 / 6.894757, "baro", 85.2),
        ("Baro", 1 / 3.386389, "baro", 85.2),
        ("MAP", 1.0, "map", 41.5),
        ("MAP", 10.0, "map", 410.0),
        ("MAP", 0.01, "map", 41.5),
        ("MAP", 1 / 6.894757, "map", 41.5),
    ],
)
def test_a_pressure_without_a_unit_is_in_the_one_that_it_can_be(head, scale, channel, truth):
    base = np.full(N, truth) if head == "Baro" else np.linspace(truth, truth * 2.2, N)
    text = lines("Time (s)", "RPM", head, row=lambda n: [*plain(n)[:2], f"{base[n] * scale:.4f}"])
    read = read_log(text.encode(), "log.csv")
    assert read.channels[channel] == pytest.approx(base, rel=2e-3)
    assert any(note.kind == "guessed" and "no unit is given" in note.text for note in read.notes)


class TestHints:
    def text(self) -> bytes:
        return lines("Time (s)", "RPM", "Q7", row=plain).encode()

    @pytest.mark.parametrize(
        "hint, first",
        [
            ({"unit": "kPa"}, 41.5),
            ({"unit": "psi"}, 41.5 * 6.894757),
            ({"unit": "kPa", "pressure": "absolute"}, 41.5),
            ({"unit": "kPa", "pressure": "gauge"}, 41.5 + 101.325),
            ({"unit": "kPa", "factor": 2.0, "offset": -3.0}, 80.0),
        ],
    )
    def test_what_is_said_of_a_column_decides(self, hint, first):
        told = LogSource(columns=(ColumnHint(column="Q7", channel="map", **hint),))
        read = read_log(self.text(), "log.csv", told)
        assert read.channels["map"][0] == pytest.approx(first, rel=1e-4)
        assert next(one for one in read.reads if one.column == "Q7").status == "understood"

    def test_a_column_may_be_said_to_be_none_or_the_clock(self):
        odd = lines("Tick", "RPM", "MAP (kPa)", row=lambda n: [plain(n)[1], plain(n)[1], plain(n)[2]])
        with pytest.raises(LogError, match="No column holds the time"):
            read_log(odd.replace("Tick", "Colour").encode().replace(b"900,900", b"905,900"), "log.csv")
        told = LogSource(
            columns=(ColumnHint(column="Tick", channel="time"), ColumnHint(column="RPM", channel=""))
        )
        read = read_log(odd.encode(), "log.csv", told)
        assert read.clock == "Tick" and "rpm" not in read.channels and "RPM" in read.extras

    def test_a_source_is_known_by_the_set_of_its_headings(self):
        told = LogSource(
            headings=("Q7", "RPM", "Time (s)"), columns=(ColumnHint(column="Q7", channel="map"),)
        )
        assert source_of(["RPM", "Time (s)", "Q7"], {"bench": told}) == "bench"
        assert source_of(["RPM", "Time (s)"], {"bench": told}) == ""
        read = read_log(self.text(), "log.csv", sources={"bench": told})
        assert read.source == "bench" and "map" in read.channels


class TestOtherFiles:
    def test_the_first_sheet_with_a_log_is_read_whatever_stands_before(self):
        book = openpyxl.Workbook()
        book.active.append(["made by", "us"])
        sheet = book.create_sheet("Run 3")
        sheet.append(["Bench run"])
        sheet.merge_cells("A1:C1")
        sheet.append(list(HEADS))
        for n in range(N):
            sheet.append([float(cell) for cell in plain(n)])
        out = io.BytesIO()
        book.save(out)
        read = read_log(out.getvalue(), "a.xlsx")
        assert read.channels["rpm"] == pytest.approx(RPM)
        assert any("sheet “Run 3”" in note.text for note in read.notes)

    def test_a_trace_says_what_its_dbc_does_not_name(self):
        with pytest.raises(LogError) as asked:
            read_log(trace(".asc"), "bus.asc")
        assert asked.value.field == "dbc"
        read = read_log(trace(".asc"), "bus.asc", LogSource(dbc=DBC))
        assert read.channels["rpm"][:3] == pytest.approx([900, 901, 902])
        assert read.rate_of("coolant") == pytest.approx(5.0, rel=0.02)
        assert any("20 frames that the DBC file does not name" in note.text for note in read.notes)
        for wrong in ("VERSION 1 nonsense (", DBC.replace("256", "257").replace("512", "513")):
            with pytest.raises(LogError) as error:
                read_log(trace(".asc"), "bus.asc", LogSource(dbc=wrong))
            assert error.value.field == "dbc"

    def test_of_several_dbc_files_the_one_that_names_most_is_taken(self):
        half = "\n".join(line for line in DBC.splitlines() if "EngineSpeed" not in line).replace("256", "999")
        sources = {"half": LogSource(dbc=half), "whole": LogSource(dbc=DBC)}
        assert "rpm" in read_log(trace(".log"), "bus.log", sources=sources).channels

    def test_a_text_log_with_the_ending_of_a_trace_is_text(self):
        assert read_log(BASE.encode(), "ride.log").channels["rpm"] == pytest.approx(RPM)

    def test_parquet_keeps_its_columns(self):
        out = io.BytesIO()
        pl.read_csv(BASE.encode()).write_parquet(out)
        assert read_log(out.getvalue(), "a.parquet").channels["map"] == pytest.approx(KPA, abs=0.05)
