"""Columns named by score: names of the legislated services, names in no list, names mangled, names of other
things; and what is told of those that are not clear."""

from __future__ import annotations

import random

import numpy as np
import polars as pl
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import ROOT
from tests.core.drives import drive
from tests.core.naming import HELD_OUT, NOT_OURS, mangled
from ventmap.core.basics import ColumnHint, LogError, LogSource
from ventmap.core.findings import ReviewContext, review
from ventmap.core.logs import (
    CHANNELS,
    UNITS,
    Named,
    Sample,
    heading,
    legislated,
    legislated_names,
    match,
    name_columns,
    read_log,
)

LOG, MASK = drive(20.0, seed=5)


def named(raw: str, values: np.ndarray | None = None) -> Named:
    """What one column alone is taken for."""
    head = heading(raw)
    quantity, unit = UNITS.get(head.unit, ("", ""))
    samples = np.array([]) if values is None else values
    return name_columns({raw: Sample(head.bare, quantity, unit, samples, match(head) or "")})[raw]


@pytest.mark.parametrize("row", legislated_names(), ids=lambda row: f"{row[0]} {row[1]}")
def test_every_legislated_name_is_known(row):
    _, long, short, channel = row
    told = named(long)
    if channel == "-":
        assert told.status == "ignored", "known, and no channel here: never asked"
        assert not told.channel, "known, and no channel here: never asked"
    else:
        assert (told.channel, told.status) == (channel, "understood")
    assert legislated(short) is not None


@pytest.mark.parametrize("name, channel", HELD_OUT)
def test_a_name_in_no_list_is_the_channel_that_its_words_say(name, channel):
    head = heading(name)
    assert legislated(head.bare) is None
    told = named(name)
    assert told.channel == channel, told
    assert told.status in ("understood", "guessed"), told


@pytest.mark.parametrize("name", NOT_OURS)
def test_what_is_near_to_a_channel_is_not_taken_for_it(name):
    assert not named(name).channel


class TestValues:
    def test_a_bare_speed_is_what_its_values_can_be(self):
        columns = pl.DataFrame(
            {"Time (s)": LOG.time_s, "Speed": LOG.channels["rpm"], "Lambda 1": LOG.channels["lambda"]}
        )
        assert read_log(columns.write_csv().encode()).columns.get("speed") is None

    def test_a_column_that_may_be_what_a_finding_lacks_is_named_beside_it(self):
        frame = {"Time (s)": LOG.time_s, "RPM": LOG.channels["rpm"], "Pedal (%)": LOG.channels["pedal"]}
        frame |= {"Pressure 2 (kPa)": LOG.channels["map"], "Lambda 1": LOG.channels["lambda"]}
        log = read_log(pl.DataFrame(frame).write_csv().encode())
        asked = next(read for read in log.reads if read.column == "Pressure 2 (kPa)")
        assert asked.status == "asked"
        assert "map" in {name for name, _ in asked.best}
        assert len(asked.sketch) == 60
        lacking = {item.kind: item.perhaps for item in review(log, ReviewContext("turbo")).not_checkable}
        assert lacking["boost_falls_with_rpm"] == ("Pressure 2 (kPa)",)
        told = LogSource(columns=(ColumnHint(column="Pressure 2 (kPa)", channel="map"),))
        assert "map" in read_log(pl.DataFrame(frame).write_csv().encode(), hints=told).channels

    def test_a_pressure_that_reads_the_barometer_at_key_on_is_likelier_the_manifold_s(self):
        frame = {"Time (s)": LOG.time_s, "RPM": LOG.channels["rpm"], "Lambda 1": LOG.channels["lambda"]}
        frame |= {"Pressure A (kPa)": LOG.channels["map"], "Pressure B (kPa)": LOG.channels["map"] + 60.0}
        log = read_log(pl.DataFrame(frame).write_csv().encode())
        likely = {read.column: dict(read.best).get("map", 0.0) for read in log.reads}
        assert likely["Pressure A (kPa)"] > likely["Pressure B (kPa)"]

    def test_a_column_that_never_rests_is_hardly_a_pedal(self):
        moves = np.linspace(10.0, 90.0, len(LOG))
        assert named("Pedal B (%)", LOG.channels["pedal"]).best[0][1] > named("Pedal B (%)", moves).best[0][1]

    def test_knock_of_each_cylinder_is_the_most_of_any(self):
        frame = {"Time (s)": LOG.time_s, "RPM": LOG.channels["rpm"]}
        frame |= {
            f"Knock Retard Cyl {n} (deg)": np.where(MASK["pull"] & (n == 3), 5.0, 0.0) for n in range(1, 5)
        }
        log = read_log(pl.DataFrame(frame).write_csv().encode())
        assert float(log.channels["knock"].max()) == 5.0
        assert any(n.kind == "derived" and "highest of 4 columns" in n.text for n in log.notes)

    @pytest.mark.parametrize("heads", [("Knock Retard 1", "Knock Retard 2"), ("KR B1 (deg)", "KR B2 (deg)")])
    def test_a_second_knock_sensor_is_heard(self, heads):
        knocks = np.where(MASK["pull"], 7.0, 0.0)
        frame = {"Time (s)": LOG.time_s, "RPM": LOG.channels["rpm"], heads[0]: 0 * knocks, heads[1]: knocks}
        frame |= {"Pedal (%)": LOG.channels["pedal"]}
        log = read_log(pl.DataFrame(frame).write_csv().encode())
        found = {finding.kind: finding.verdict for finding in review(log, ReviewContext("none")).findings}
        assert found.get("knock") == "stop", log.notes

    def test_a_column_out_of_two_that_fit_is_a_guess(self):
        frame = {"Time (s)": LOG.time_s, "Engine speed sensor": LOG.channels["rpm"]}
        frame |= {"Motor rotation speed": LOG.channels["rpm"], "Lambda 1": LOG.channels["lambda"]}
        log = read_log(pl.DataFrame(frame).write_csv().encode())
        status = {read.column: read.status for read in log.reads}
        assert sorted([status["Engine speed sensor"], status["Motor rotation speed"]]) == [
            "guessed",
            "ignored",
        ]


#: Channel → long names that the tables know, without those of second sensors.
UNIT = {"rpm": "rpm", "map": "kPa", "coolant": "°C", "iat": "°C", "battery": "V", "throttle": "%"}
UNIT |= {"pedal": "%", "baro": "kPa", "rail": "kPa", "lambda_target": "lambda"}
_NAMES = [(long, own) for _, long, _, own in legislated_names() if "(" not in long]
LONG = {channel: [long for long, own in _NAMES if own == channel] for channel in UNIT}


def as_text(names: dict[str, str], chance: random.Random) -> tuple[bytes, str]:
    """The drive under these names, in a dialect drawn at random: its bytes and what was drawn."""
    separator = chance.choice([",", ";", "\t"])
    comma = separator != "," and chance.random() < 0.5
    units_row = chance.random() < 0.4
    encoding = chance.choice(["utf-8", "utf-8-sig", "utf-16", "latin-1"])
    bracket = chance.choice(["{} ({})", "{} [{}]"])
    time = LOG.time_s if chance.random() < 0.6 else LOG.time_s * 1000
    unit = "s" if time is LOG.time_s else "ms"
    heads = [names[c] if units_row else bracket.format(names[c], UNIT[c]) for c in names]
    lines = [f"# made by a logger, no {n}" for n in range(chance.choice([0, 0, 3, 90]))]
    lines.append(separator.join(["Time" if units_row else f"Time ({unit})", *heads]))
    if units_row:
        lines.append(separator.join([unit, *(UNIT[c] for c in names)]))
    rows = np.column_stack([time, *(LOG.channels[c] for c in names)])
    for row in rows[::4]:
        cells = [f"{value:.4f}" for value in row]
        lines.append(separator.join(cell.replace(".", ",") if comma else cell for cell in cells))
    drawn = f"{separator!r} comma={comma} units row={units_row} {encoding} {lines[0][:40]}"
    return "\n".join(lines).encode(encoding, errors="replace"), drawn


@settings(max_examples=60)
@given(st.integers(0, 2**32 - 1))
def test_any_log_in_any_dialect_reads_back_equal(seed):
    chance = random.Random(seed)
    own = [c for c in LONG if c in LOG.channels]
    names = {c: mangled(chance.choice(LONG[c]), chance) for c in chance.sample(own, 6)}
    data, drawn = as_text(names, chance)
    read = read_log(data, "log.csv")
    for channel in names:
        assert channel in read.channels, (names[channel], drawn, read.notes)
        truth = LOG.channels[channel][::4]
        assert read.channels[channel] == pytest.approx(truth, rel=1e-3, abs=2e-3), (channel, drawn)
    assert read.time_s[-1] == pytest.approx(LOG.time_s[::4][-1] - LOG.time_s[0], abs=2e-3)


def test_every_channel_can_be_said():
    assert all(named(f"{label.label}").channel in ("", name) for name, label in CHANNELS.items())


DEMO = ROOT / "demo" / "logs"


@pytest.mark.parametrize("name", sorted(p.name for p in DEMO.iterdir() if p.suffix not in (".md", ".dbc")))
def test_the_drive_that_ships_reads_alike_from_every_kind_of_file(name):
    dbc = LogSource(dbc=(DEMO / "bench-bus.dbc").read_text())
    whole = read_log((DEMO / "long-names.csv").read_bytes(), "long-names.csv")
    read = read_log((DEMO / name).read_bytes(), name, dbc if name.startswith("bus") else None)
    assert all(one.status in ("understood", "guessed") for one in read.reads)
    for channel in ("rpm", "map", "coolant"):
        assert np.nanmean(read.channels[channel]) == pytest.approx(
            np.nanmean(whole.channels[channel]), rel=0.01
        ), channel
    assert read.duration_s == pytest.approx(whole.duration_s, abs=0.06)


@pytest.mark.parametrize("name", sorted(p.name for p in DEMO.iterdir() if p.suffix != ".md"))
@settings(max_examples=12)
@given(seed=st.integers(0, 2**32 - 1))
def test_damaged_files_are_read_or_refused_in_words(name, seed):
    chance, data = random.Random(seed), bytearray((DEMO / name).read_bytes())
    if chance.random() < 0.5:
        del data[chance.randrange(8, len(data)) :]
    for _ in range(chance.choice([0, 1, 20])):
        data[chance.randrange(len(data))] = chance.randrange(256)
    dbc = LogSource(dbc=(DEMO / "bench-bus.dbc").read_text())
    try:
        assert len(read_log(bytes(data), name, dbc)) >= 2
    except LogError as error:
        assert error.sentence.endswith(".")
        assert error.field
