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


#: Standards whose formula is that of spark ignition.
SPARK_ONLY = ("SAE J1349", "ISO 1585")


def standards_for(spark: bool) -> tuple[str, ...]:
    """Standards that may be chosen: compression ignition has formulas of its own, which are not these."""
    return STANDARDS if spark else tuple(name for name in STANDARDS if name not in SPARK_ONLY)


def correction_factor(
    standard: str, pressure_kpa: float, temp_c: float, relative_humidity: float
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
    if standard == "none":
        factor, bounded = 1.0, False
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
    valid = not bounded or VALID[0] <= factor <= VALID[1]
    evidence = [Evidence("factor", round(factor, 3), f"{VALID[0]}–{VALID[1]}" if bounded else None)]
    evidence += [
        Evidence("barometer", round(pressure_kpa, 1), unit="kPa"),
        Evidence("intake air", round(temp_c, 1), unit="°C"),
    ]
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
