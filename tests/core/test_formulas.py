"""Own channels: right where they are reckoned, a sentence and its place where not, nothing but arithmetic."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ventmap.core.basics import BadInput
from ventmap.core.logs import names_in, own_channel

TIME = np.arange(0.0, 10.0, 0.05)
COLUMNS = {
    "map": 100.0 + 50.0 * np.sin(TIME),
    "baro": np.full_like(TIME, 98.0),
    "lambda": np.full_like(TIME, 0.85),
    "rpm": np.full_like(TIME, 6000.0),
    "pulse": np.full_like(TIME, 10.0),
    "iat": np.full_like(TIME, 27.0),
    "speed": TIME * 10.0,
    "stft_1": np.full_like(TIME, 5.0),
    "Strange heading": TIME,
}


def made(formula: str, unit: str = "") -> np.ndarray:
    return own_channel(formula, unit, TIME, COLUMNS)


@pytest.mark.parametrize(
    ("formula", "unit", "expected"),
    [
        ("map - baro", "bar", (COLUMNS["map"] - 98.0) / 100.0),
        ("lambda * 14.7", "", np.full_like(TIME, 12.495)),
        # One pulse in two turns: 10 ms at 6 000 rpm is half of the 20 ms.
        ("pulse * rpm / 2", "%", np.full_like(TIME, 50.0)),
        ("rate(speed)", "m/s²", np.full_like(TIME, 10.0 / 3.6)),
        # Ideal gas: p / (R · T), 0.287 kJ/(kg·K).
        ("map / (0.287 * kPa * m**3 / (kg * K) * iat)", "kg/m³", COLUMNS["map"] / (0.287 * 300.15)),
        ("(1 + stft_1) * lambda", "", np.full_like(TIME, 1.05 * 0.85)),
        ("iat", "°F", np.full_like(TIME, 80.6)),
        ("max(map, baro) - baro", "kPa", np.maximum(COLUMNS["map"], 98.0) - 98.0),
        ("(rpm > 3000) * (map - baro)", "kPa", COLUMNS["map"] - 98.0),
        ('column("Strange heading") * 2', "", 2 * TIME),
    ],
)
def test_a_formula_gives_what_its_units_say(formula, unit, expected):
    assert made(formula, unit) == pytest.approx(expected, rel=1e-6)


@pytest.mark.parametrize(
    ("formula", "unit", "told"),
    [
        ("map + rpm", "kPa", "Units do not go together: “kPa” and “1/min”"),
        ("map -", "kPa", "place 5"),
        ("baro - boots", "kPa", "“boots” at place 8"),
        ("coolant - iat", "K", "this log has no coolant"),
        ("map", "rpm", "not shown in “rpm”"),
        ("map", "furlongs per", "is no unit"),
        ("iat - 3", "°C", "3 * kPa"),
        ("", "", "Write a formula"),
        ("map" + " + map" * 90, "kPa", "at most"),
        ("nosuch(3)", "", "“nosuch” is not known"),
    ],
)
def test_what_is_wrong_is_said(formula, unit, told):
    with pytest.raises(BadInput) as refused:
        made(formula, unit)
    assert told in refused.value.sentence


@pytest.mark.parametrize(
    "formula",
    [
        '__import__("os").system("true")',
        "map.units",
        "map[0]",
        "[x for x in map]",
        "(lambda: 1)()",
        '"a" * 10 ** 9',
        "9 ** 9 ** 9",
        "map ** 99",
        "rate.__globals__",
        "f'{map}'",
        "map if rpm else baro",
    ],
)
def test_nothing_but_arithmetic_stands_in_it(formula):
    with pytest.raises(BadInput):
        made(formula)


@given(st.text(alphabet="mapbro +-*/().0123456789kPs\"[],:'%^<>=_", max_size=40))
def test_any_text_gives_samples_or_a_sentence(text):
    try:
        assert made(text).shape == TIME.shape
    except BadInput as refused:
        assert refused.sentence


def test_it_names_what_it_reads_and_is_blank_where_it_cannot_be_told():
    assert names_in('(map - baro) / lambda + column("Strange heading")') == (
        "map",
        "baro",
        "lambda",
        "Strange heading",
    )
    assert np.isnan(own_channel("map / (baro - baro)", "", TIME, COLUMNS)).all()
