"""Correction standards: from measured power to standard air."""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt

from ..basics import BadInput, Call, Evidence, Verdict, dry_pressure, require_positive

STANDARDS = ("none", "SAE J1349", "ISO 1585", "DIN 70020", "SAE J607")
VALID = (0.93, 1.07)
KPA_PER_INHG = 3.38639


@dataclass(frozen=True)
class CorrectionFactor:
    """Factor to a standard's air, whether the standard vouches for it here, and the judgement to show."""

    standard: str
    factor: float
    valid: bool
    call: Call


#: Standards that have a formula of their own for compression ignition, and where it is valid.
DIESEL_VALID = {"SAE J1349": (0.93, 1.07), "ISO 1585": (0.9, 1.1)}


@dataclass(frozen=True)
class DieselEngine:
    """What the diesel formula of a standard asks of an engine.

    Parameters
    ----------
    fuel_mg : float
        Fuel of a cycle and litre of swept volume at full load [mg/l].
    pressure_ratio : float
        Of the charge over the barometer.
    turbo : bool
        Turbocharged; naturally aspirated or driven by the engine where not.
    """

    fuel_mg: float
    pressure_ratio: float
    turbo: bool

    @property
    def factor(self) -> float:
        """Engine factor by ISO 1585: 0.036·q/r − 1.14 between 40 and 65 mg/l, level beyond."""
        corrected = self.fuel_mg / self.pressure_ratio
        return min(max(0.036 * corrected - 1.14, 0.3), 1.2)


def diesel_engine(
    power_kw: float | None,
    bsfc: float,
    rpm: float,
    displacement_cc: float | None,
    boost_kpa: float | None,
    barometer_kpa: float,
    turbo: bool,
) -> DieselEngine | None:
    """From the records of a four-stroke diesel; None where one of them is not known.

    Parameters
    ----------
    power_kw : float or None
        At the crank, at `rpm`.
    bsfc : float
        Planned consumption [g/kWh].
    """
    if power_kw is None or displacement_cc is None or (turbo and boost_kpa is None):
        return None
    # Grams an hour over cycles an hour and litres.
    fuel_mg = power_kw * bsfc * 1000.0 / (rpm * 30.0) / (displacement_cc / 1000.0)
    ratio = 1.0 + (boost_kpa or 0.0) / barometer_kpa if turbo else 1.0
    return DieselEngine(fuel_mg, ratio, turbo)


def standards_for(spark: bool, diesel: DieselEngine | None = None) -> tuple[str, ...]:
    """Standards that may be chosen: compression ignition has formulas of its own, in two of them, which ask
    for its engine factor.
    """
    if spark:
        return STANDARDS
    return ("none", *DIESEL_VALID) if diesel is not None else ("none",)


def _of_diesel(engine: DieselEngine, dry: float, kelvin: float) -> float:
    """Factor of compression ignition: air factor to the power of the engine factor (ISO 1585, SAE J1349)."""
    if engine.turbo:
        air = (99.0 / dry) ** 0.7 * (kelvin / 298.0) ** 1.5
    else:
        air = (99.0 / dry) * (kelvin / 298.0) ** 0.7
    return float(air**engine.factor)


def correction_factor(
    standard: str,
    pressure_kpa: float,
    temp_c: float,
    relative_humidity: float,
    diesel: DieselEngine | None = None,
) -> CorrectionFactor:
    """Factor from measured to standard power.

    Parameters
    ----------
    standard : str
        One of `STANDARDS`.
    pressure_kpa : float
        Barometer, not corrected to sea level [kPa].
    temp_c : float
        Intake air [°C].
    relative_humidity : float
        0–1.
    diesel : DieselEngine, optional
        Of compression ignition: two of the standards have a formula of its own.

    Notes
    -----
    SAE J1349: 1.180·(990/pd)·√((T+273)/298) − 0.18; ISO 1585 / ECE R85 (spark): (99/pd)^1.2·(T/298)^0.6; both
    valid
    within 0.93–1.07. DIN 70020: (1013/p)·√((273+T)/293). SAE J607: (29.92/pd)·√((T_F+460)/520).

    Examples
    --------
    >>> round(correction_factor("SAE J1349", 99.0, 25.0, 0.0).factor, 3)
    1.0
    """
    require_positive(pressure_kpa=pressure_kpa)
    dry = dry_pressure(pressure_kpa, temp_c, relative_humidity)
    kelvin = temp_c + 273.0
    low, high = DIESEL_VALID.get(standard, VALID) if diesel is not None else VALID
    if standard == "none":
        factor, bounded = 1.0, False
    elif diesel is not None and standard in DIESEL_VALID:
        factor, bounded = _of_diesel(diesel, dry, kelvin), True
    elif diesel is not None and standard in STANDARDS:
        raise BadInput(
            f"{standard} has no formula for a diesel. Choose {', '.join(DIESEL_VALID)}.", "standard"
        )
    elif standard == "SAE J1349":
        factor, bounded = 1.180 * (990.0 / (10.0 * dry)) * sqrt(kelvin / 298.0) - 0.18, True
    elif standard == "ISO 1585":
        factor, bounded = (99.0 / dry) ** 1.2 * (kelvin / 298.0) ** 0.6, True
    elif standard == "DIN 70020":
        factor, bounded = (1013.0 / (10.0 * pressure_kpa)) * sqrt(kelvin / 293.0), False
    elif standard == "SAE J607":
        factor, bounded = (29.92 / (dry / KPA_PER_INHG)) * sqrt((temp_c * 1.8 + 32.0 + 460.0) / 520.0), False
    else:
        raise BadInput(f"There is no standard “{standard}”. Choose {', '.join(STANDARDS)}.", "standard")
    valid = not bounded or low <= factor <= high
    evidence = [Evidence("factor", round(factor, 3), f"{low}–{high}" if bounded else None)]
    evidence += [
        Evidence("barometer", round(pressure_kpa, 1), unit="kPa"),
        Evidence("intake air", round(temp_c, 1), unit="°C"),
    ]
    if diesel is not None and bounded:
        evidence += [Evidence("engine factor of this diesel", round(diesel.factor, 2))]
    evidence += [Evidence("dry pressure", round(dry, 2), unit="kPa")]
    if valid:
        advice = "Compare only runs under the same standard."
    else:
        advice = (
            f"{standard} does not vouch for air this thin. Figures are shown uncorrected; compare runs of one"
            " day."
        )
    return CorrectionFactor(
        standard,
        factor,
        valid=valid,
        call=Call(
            "dyno.correction",
            verdict=Verdict.go if valid else Verdict.hold,
            because=tuple(evidence),
            do_next=advice,
            source=standard,
            title=(
                f"{standard}: {'valid here' if valid else 'outside its validity'}"
                if standard != "none"
                else "As measured, no correction"
            ),
        ),
    )
