"""What a drum run depends on besides the engine: runs are held against each other only where it was the
same.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..basics import BadInput, Call, Evidence, HouseRules, Verdict, require_between

#: So much further apart may barometers lie where boost is held by a closed loop.
FOLLOWS = 3.0
#: Relative humidity where nobody measured it: it moves a correction factor by less than one percent.
USUAL_HUMIDITY = 0.4


@dataclass(frozen=True)
class RunConditions:
    """The air of a run and how it was driven.

    Parameters
    ----------
    drum : str
        Which drum.
    gear : int
        1–10.
    intake_c : float
        Intake air at the start of the pull [°C].
    barometer_kpa : float
        Not corrected to sea level [kPa].
    humidity : float
        Relative, 0–1.
    fuel : str
        What was in the tank.
    ramp : str
        How the drum loads the engine, and how the vehicle is strapped; empty where nobody wrote it down.
    tyre_kpa : float, optional
        Pressure in the driven tyres [kPa, gauge].
    taken : tuple of str
        Names of figures above that nobody measured: taken from the altitude or as usual.
    measured : str
        Where: wheels or hubs; empty where its file says so.

    Raises
    ------
    BadInput
        Naming the field.
    OutOfRange
        If a figure cannot be.
    """

    drum: str
    gear: int
    intake_c: float
    barometer_kpa: float
    humidity: float
    fuel: str
    ramp: str = ""
    tyre_kpa: float | None = None
    taken: tuple[str, ...] = ()
    measured: str = ""

    def __post_init__(self) -> None:
        if not self.drum.strip():
            raise BadInput("Name the drum: runs of two drums are not held against each other.", "drum")
        require_between(1, 10, gear=self.gear)
        require_between(-40.0, 90.0, intake=self.intake_c)
        require_between(45.0, 110.0, barometer=self.barometer_kpa)
        require_between(0.0, 1.0, humidity=self.humidity)
        if self.tyre_kpa is not None:
            require_between(20.0, 900.0, tyres=self.tyre_kpa)


@dataclass(frozen=True)
class ToMatch:
    """How the next run is to be made to be held against those before.

    Parameters
    ----------
    label : str
    value : str
        What it must be; empty for a figure.
    low, high : float, optional
        Between what a figure must lie, in `unit`.
    """

    label: str
    value: str = ""
    low: float | None = None
    high: float | None = None
    unit: str = ""


def to_match(
    runs: Sequence[RunConditions],
    house: HouseRules | None = None,
    *,
    as_measured: bool = False,
    boosted: bool = False,
) -> tuple[ToMatch, ...]:
    """What `same_conditions` asks of one more run beside these; nothing where there are none.

    A figure may lie so far from all of them as the house lets it; what nobody wrote down is asked as that.
    """
    house = house or HouseRules()
    if not runs:
        return ()
    words = [
        ToMatch(label, ", ".join(dict.fromkeys(value for value in values if value)) or "not written down")
        for label, values in (
            ("drum", [run.drum.strip() for run in runs]),
            ("gear", [str(run.gear) for run in runs]),
            ("measured at", [run.measured for run in runs]),
            ("fuel", [run.fuel.strip() for run in runs]),
            ("ramp and straps", [run.ramp.strip() for run in runs]),
        )
        if label != "measured at" or any(values)
    ]
    tyres = [run.tyre_kpa for run in runs if run.tyre_kpa is not None]
    barometer = house["dyno.barometer_kpa"] * (FOLLOWS if boosted else 1.0)
    figures = [
        ToMatch(label, "", round(max(values) - width, 1), round(min(values) + width, 1), unit)
        if max(values) - min(values) <= 2 * width
        else ToMatch(label, "too far apart already: leave the odd run out")
        for label, values, width, unit in (
            ("intake air at its start", [run.intake_c for run in runs], house["dyno.intake_k"], "°C"),
            ("tyre pressure", tyres, house["dyno.tyre_kpa"], "kPa"),
            ("barometer, uncorrected", [run.barometer_kpa for run in runs] * as_measured, barometer, "kPa"),
        )
        if values
    ]
    return (*words, *figures)


def same_conditions(
    rule: str,
    runs: Sequence[RunConditions],
    house: HouseRules | None = None,
    *,
    as_measured: bool = False,
    boosted: bool = False,
    maps: Sequence[str] = (),
) -> Call:
    """Hold where runs that are to be compared were not made alike.

    Parameters
    ----------
    as_measured : bool
        No standard brings them to one air: barometers must then be as near as the house allows.
    boosted : bool
        Boost that is held against absolute pressure follows the barometer by a third at most.
    maps : sequence of str
        What was in, for runs of one side: runs of two maps or levels are two groups.

    Drum, gear, fuel and ramp must be one; intake air and tyre pressure may differ by as much as the house
    allows. What
    nobody wrote down is told, and holds nothing.
    """
    house = house or HouseRules()
    evidence: list[Evidence] = []
    apart: list[str] = []
    for label, values in (
        ("drum", [run.drum.strip() for run in runs]),
        ("gear", [str(run.gear) for run in runs]),
        ("measured at", [run.measured for run in runs]),
        ("fuel", [run.fuel.strip() for run in runs]),
        ("ramp and straps", [run.ramp.strip() for run in runs]),
        ("map or level", [name.strip() for name in maps]),
    ):
        told = list(dict.fromkeys(value for value in values if value))
        if len({value.casefold() for value in told}) > 1:
            apart.append(label)
            evidence.append(Evidence(f"{label} differs", ", ".join(told)))
        elif told and label.startswith("ramp") and len(values) > values.count(told[0]):
            # Written down for some, it is not known to be the same for the others.
            apart.append(label)
            evidence.append(Evidence(f"{label}, written down for some alone", told[0]))
        elif told:
            evidence.append(Evidence(label, told[0]))
    for label, unit, key, figures in (
        ("intake air apart", "K", "dyno.intake_k", [run.intake_c for run in runs]),
        (
            "tyre pressure apart",
            "kPa",
            "dyno.tyre_kpa",
            [run.tyre_kpa for run in runs if run.tyre_kpa is not None],
        ),
    ):
        if not figures:
            continue
        spread = max(figures) - min(figures)
        evidence.append(Evidence(label, round(spread, 1), house[key], unit=unit))
        if spread > house[key]:
            apart.append(label.removesuffix(" apart"))
    if as_measured and runs:
        air = [run.barometer_kpa for run in runs]
        spread, most = max(air) - min(air), house["dyno.barometer_kpa"] * (FOLLOWS if boosted else 1.0)
        evidence.append(Evidence("barometer apart, uncorrected", round(spread, 2), most, unit="kPa"))
        if spread > most:
            apart.append("barometer, or a standard that is valid here")
    unknown = [
        label
        for label, missing in (
            ("tyre pressure", any(run.tyre_kpa is None for run in runs)),
            ("ramp and straps", any(not run.ramp.strip() for run in runs)),
        )
        if missing
    ]
    if unknown:
        evidence.append(Evidence("not written down", ", ".join(unknown)))
    advice = (
        f"Repeat with the same {' and '.join(apart)}, leave the odd run out, or overrule with the reason."
        if apart
        else "The runs may be held against each other."
    )
    return Call(
        rule,
        verdict=Verdict.hold if apart else Verdict.go,
        because=tuple(evidence),
        do_next=advice,
        source="Runs are compared under the same conditions only",
        title="Runs were not made alike" if apart else "Runs made alike",
    )
