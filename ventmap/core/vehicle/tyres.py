"""Tyres: size, true speed, the entry of a figure by buttons, and the speed that a tyre may run at."""

from __future__ import annotations

import re
from dataclasses import dataclass

from ..basics import BadInput, Call, Evidence, Verdict, require_positive

INCH = 25.4
#: Letter → speed [km/h] (ECE R30 and R75).
RATINGS = {
    "J": 100,
    "K": 110,
    "L": 120,
    "M": 130,
    "N": 140,
    "P": 150,
    "Q": 160,
    "R": 170,
    "S": 180,
    "T": 190,
    "U": 200,
    "H": 210,
    "V": 240,
    "W": 270,
    "Y": 300,
}
_METRIC = re.compile(r"^(?:LT|P)?\s*(\d{2,3})\s*/\s*(\d{2,3})\s*-?\s*[A-Z]?\s*R?\s*(\d{1,2}(?:\.\d)?)", re.I)
_FLOTATION = re.compile(
    r"^(?:AT)?\s*(\d{2}(?:\.\d+)?)\s*[x×]\s*(\d{1,2}(?:\.\d+)?)\s*-?\s*R?\s*(\d{1,2})", re.I
)
#: Nominal and measured differ by so much where both are right.
USUAL_SHARE = 0.03
FIELD = "tyre"


def diameter_mm(size: str) -> float:
    """Diameter of a tyre by its size code [mm]: ``225/45R17``, ``33x12.50R15``.

    Raises
    ------
    BadInput
        If the code is neither of the two.

    Examples
    --------
    >>> round(diameter_mm("225/45R17"), 1)
    634.3
    >>> round(diameter_mm("33x12.50R15"), 1)
    838.2
    """
    found = _METRIC.match(size.strip())
    if found:
        width, aspect, rim = (float(part) for part in found.groups())
        return rim * INCH + 2 * width * aspect / 100.0
    found = _FLOTATION.match(size.strip())
    if found:
        return float(found.group(1)) * INCH
    raise BadInput(f"“{size}” is no tyre size. Write it as on the tyre: 225/45R17, or 33x12.50R15.", FIELD)


def speed_error(old_mm: float, new_mm: float) -> float:
    """True speed over indicated, minus 1, after a tyre of another diameter.

    Examples
    --------
    >>> round(speed_error(634.3, 660.0), 4)
    0.0405
    """
    require_positive(old_mm=old_mm, new_mm=new_mm)
    return new_mm / old_mm - 1.0


def rating_kmh(letter: str) -> float:
    """Speed that a rating letter allows [km/h].

    Raises
    ------
    BadInput
        If there is no such letter.
    """
    found = RATINGS.get(letter.strip().upper())
    if found is None:
        raise BadInput(
            f"“{letter}” is no speed rating. It is the last letter of 91V: {', '.join(RATINGS)}.", FIELD
        )
    return float(found)


def letter_for(kmh: float) -> str:
    """The least rating that allows a speed [km/h]; empty where none does.

    Examples
    --------
    >>> letter_for(205.0)
    'H'
    """
    enough = [(limit, letter) for letter, limit in RATINGS.items() if limit >= kmh]
    return min(enough)[1] if enough else ""


@dataclass(frozen=True)
class EntryStep:
    """One screen of an entry by buttons: what is pressed, and what the dial must show after it."""

    press: str
    shows: str


def entry_steps(
    value: float, scheme: str, *, on_shows: float = 1.0, off_shows: float = 0.0
) -> list[EntryStep]:
    """How a figure is entered on a device that has buttons and a dial.

    Parameters
    ----------
    value : float
    scheme : str
        ``"whole then tenths"``, ``"whole"`` or ``"on or off"``.

    Raises
    ------
    BadInput
        If the scheme is none of these, or cannot tell this value.

    Examples
    --------
    >>> [step.shows for step in entry_steps(27.4, "whole then tenths")]
    ['27', '4']
    """
    if scheme == "on or off":
        if value not in (0.0, 1.0):
            raise BadInput("On or off: enter 1 or 0.", "wanted")
        word, shown = ("on", on_shows) if value else ("off", off_shows)
        return [EntryStep(f"set until the dial shows {shown:g}, then hold to keep: {word}", f"{shown:g}")]
    if not 0 <= value < 1e6:
        raise BadInput("A dial shows figures from zero up.", "wanted")
    if scheme == "whole":
        if value % 1:
            raise BadInput(f"{value:g} is not whole, and this entry takes whole figures.", "wanted")
        return [EntryStep(f"set {value:g}, then hold to keep", f"{value:g}")]
    if scheme == "whole then tenths":
        tenths = round(value * 10)
        if abs(tenths / 10 - value) > 1e-6:
            raise BadInput(f"{value:g} has more than one figure after its mark; enter tenths.", "wanted")
        return [
            EntryStep(f"set the whole, {tenths // 10}, then hold to keep", f"{tenths // 10}"),
            EntryStep(f"set the tenths, {tenths % 10}, then hold to keep", f"{tenths % 10}"),
        ]
    raise BadInput(f"“{scheme}” is no coding: whole then tenths, whole, on or off.", "coding")


@dataclass(frozen=True)
class TyreChange:
    """What another tyre does: true speed over indicated, what counts with it, and the calls."""

    old_mm: float
    new_mm: float
    error: float
    sentences: tuple[str, ...]
    calls: tuple[Call, ...]


def tyre_change(old_mm: float, size: str, measured_mm: float | None, limit_kmh: float | None) -> TyreChange:
    """What another tyre does to speed, limiter, odometer and gear display.

    Parameters
    ----------
    old_mm : float
        What the computer counts with now [mm].
    size : str
        Size code of the new one; may be empty where it is measured.
    measured_mm : float, optional
        Rolling diameter as measured [mm]: it wins over the code.
    limit_kmh : float, optional
        Speed limit that is set [km/h].
    """
    if not size and measured_mm is None:
        raise BadInput("Type the size code of the tyre, or measure its rolling diameter.", FIELD)
    nominal = diameter_mm(size) if size else None
    new = measured_mm if measured_mm is not None else nominal
    assert new is not None
    error = speed_error(old_mm, new)
    calls = []
    if nominal is not None and measured_mm is not None:
        apart = measured_mm / nominal - 1.0
        usual = abs(apart) <= USUAL_SHARE
        calls.append(
            Call(
                "map.tyre",
                verdict=Verdict.go if usual else Verdict.hold,
                because=(
                    Evidence("measured", round(measured_mm, 1), round(nominal, 1), unit="mm"),
                    Evidence("apart", round(100 * apart, 1), 100 * USUAL_SHARE, unit="%"),
                ),
                do_next="The measured one is entered."
                if usual
                else "Measure again: one loaded turn on the ground, ÷ π; or read the size again.",
                source="Nominal and measured often differ by 1–3 %",
                title="Tyre, measured against its code",
            )
        )
    said = (
        []
        if abs(error) < 0.0005
        else [
            f"At 100 km/h on the dial it runs {100 * (1 + error):.1f} km/h until this is entered.",
            f"The odometer counts {100 / (1 + error):.1f} km for 100 driven.",
            "The gear display and the shift points follow the ratio of engine to wheel speed:"
            f" it reads {abs(100 * error):.1f} % {'tall' if error > 0 else 'short'}.",
        ]
    )
    if limit_kmh is not None and said:
        said.append(f"A limit of {limit_kmh:g} km/h acts at {limit_kmh * (1 + error):.1f} km/h until then.")
    return TyreChange(old_mm, new, error, tuple(said), tuple(calls))
