"""Vehicle identification numbers (ISO 3779) and their check digit."""

from __future__ import annotations

from ..basics import Call, Evidence, Verdict

_VALUES = dict(
    zip(
        "ABCDEFGHJKLMNPRSTUVWXYZ",
        (1, 2, 3, 4, 5, 6, 7, 8, 1, 2, 3, 4, 5, 7, 9, 2, 3, 4, 5, 6, 7, 8, 9),
        strict=True,
    )
)
PLACE_WEIGHTS = (8, 7, 6, 5, 4, 3, 2, 10, 0, 9, 8, 7, 6, 5, 4, 3, 2)
SOURCE = "ISO 3779; check digit in position 9"


def check_digit(vin: str) -> str:
    """The check digit that belongs in position 9 of a 17-character VIN.

    Examples
    --------
    >>> check_digit("11111111111111111")
    '1'
    """
    total = sum(w * (int(c) if c.isdigit() else _VALUES[c]) for c, w in zip(vin, PLACE_WEIGHTS, strict=True))
    return "0123456789X"[total % 11]


#: Position 10: letters and digits of the model year, round every 30 years (SAE J272 usage, 49 CFR 565).
_YEARS = "ABCDEFGHJKLMNPRSTVWXY123456789"


def model_years(vin: str) -> tuple[int, ...]:
    """Model years that position 10 may mean, 1980–2039; empty where it means none.

    Examples
    --------
    >>> model_years("CVE2TWA06GS104417")
    (1986, 2016)
    """
    place = _YEARS.find(vin[9])
    return () if place < 0 else (1980 + place, 2010 + place)


def check_vin(text: str, years: tuple[int, int] | None = None) -> Call:
    """Judge a VIN: length, letters, check digit, and the model year against the years of the vehicle on the
    shelf.

    A wrong digit is a hold, and so is a year outside: many markets use neither.
    """
    vin = text.strip().upper().replace(" ", "").replace("-", "")
    if len(vin) != 17:
        return _call(
            Verdict.stop,
            "A VIN has 17 characters. Read it again from the plate.",
            ("characters", len(vin), 17),
        )
    bad = sorted({c for c in vin if not (c.isdigit() or c in _VALUES)})
    if bad:
        return _call(
            Verdict.stop,
            f"A VIN never holds {' or '.join(bad)}: I, O and Q look like 1 and 0.",
            ("not allowed", " ".join(bad), "none"),
        )
    want = check_digit(vin)
    if vin[8] != want:
        return _call(
            Verdict.hold,
            "Read it again, character by character. If the plate says so, overrule with the reason.",
            ("check digit", vin[8], want),
        )
    found = model_years(vin)
    if years and found and not any(years[0] <= year <= years[1] for year in found):
        told = " or ".join(str(year) for year in found)
        return _call(
            Verdict.hold,
            f"Its tenth place says {told}, and this variant ran {years[0]}–{years[1]}. Look which variant it"
            " is, or overrule with the reason.",
            ("model year", told, f"{years[0]}–{years[1]}"),
        )
    return _call(Verdict.go, "The number is sound.", ("check digit", vin[8], want))


def _call(verdict: Verdict, advice: str, because: tuple[str, float | str, float | str]) -> Call:
    return Call(
        "intake.vin",
        verdict=verdict,
        because=(Evidence(*because),),
        do_next=advice,
        source=SOURCE,
        title="Vehicle identification number",
    )
