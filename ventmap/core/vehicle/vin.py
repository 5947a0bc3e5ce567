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


#: Identities without a VIN: the hull number of a boat (ISO 10087) has 12 characters.
HULL = 12


def check_vin(text: str, years: tuple[int, int] | None = None, kind: str = "car") -> Call:
    """Judge an identity: a VIN by ISO 3779, a boat's hull number, or a number of a vehicle's own.

    The check digit is North American law (49 CFR 565): a wrong one holds on vehicles of that region, 1 to 5
    in
    the first place, and is only noted elsewhere. Nothing entered is *unknown*: a hold, for later nobody can
    tell
    whether a file is for this vehicle.
    """
    vin = text.strip().upper().replace(" ", "").replace("-", "")
    if not vin:
        return _call(
            Verdict.hold,
            "Read it from the plate. Where there is none, overrule with the reason: identity stays unknown.",
            Evidence("identity", "unknown"),
        )
    if kind == "watercraft" and len(vin) == HULL and vin.isalnum():
        return _call(
            Verdict.go,
            "A hull number: its maker and build date are in it.",
            Evidence("characters", HULL, HULL),
        )
    if len(vin) != 17:
        return _call(
            Verdict.hold,
            "A VIN has 17 characters. Read it again from the plate; where that number is the vehicle's own,"
            " overrule with the reason.",
            Evidence("characters", len(vin), 17),
            Evidence("number", vin),
        )
    bad = sorted({c for c in vin if not (c in "0123456789" or c in _VALUES)})
    if bad:
        return _call(
            Verdict.hold,
            f"A VIN never holds {' or '.join(bad)}: I, O and Q look like 1 and 0. Read it again.",
            Evidence("not allowed", " ".join(bad), "none"),
            Evidence("number", vin),
        )
    want, ours = check_digit(vin), vin[0] in "12345"
    if vin[8] != want and ours:
        return _call(
            Verdict.hold,
            "Read it again, character by character. If the plate says so, overrule with the reason.",
            Evidence("check digit", vin[8], want),
            Evidence("number", vin),
        )
    found = model_years(vin)
    if ours and years and found and not any(years[0] <= year <= years[1] for year in found):
        told = " or ".join(str(year) for year in found)
        return _call(
            Verdict.hold,
            f"Its tenth place says {told}, and this variant ran {years[0]}–{years[1]}. Look which variant it"
            " is, or overrule with the reason.",
            Evidence("model year", told, f"{years[0]}–{years[1]}"),
            Evidence("number", vin),
        )
    if vin[8] != want:
        return _call(
            Verdict.go,
            "Its region uses no check digit; that one does not match is only noted.",
            Evidence("characters", 17, 17),
            Evidence("check digit", vin[8], want),
        )
    return _call(Verdict.go, "The number is sound.", Evidence("check digit", vin[8], want))


def _call(verdict: Verdict, advice: str, *because: Evidence) -> Call:
    return Call(
        "intake.vin",
        verdict=verdict,
        because=because,
        do_next=advice,
        source=SOURCE,
        title="Vehicle identification number",
    )
