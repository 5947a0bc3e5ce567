"""Typed figures into canonical units and back. Pint knows the units; this knows the trade's quantities."""

from __future__ import annotations

import re
from functools import lru_cache

import pint

from .errors import BadInput

#: quantity -> (canonical unit, units offered on screen). The canonical units are those of the whole product.
QUANTITIES: dict[str, tuple[str, tuple[str, ...]]] = {
    "pressure": ("kPa", ("kPa", "bar", "psi")),
    "temperature": ("°C", ("°C", "°F")),
    "mixture": ("lambda", ("lambda", "AFR")),
    "injector_flow": ("cm³/min", ("cm³/min", "lb/h")),
    "pulse": ("ms", ("ms", "µs")),
    "time": ("s", ("s", "min")),
    "power": ("kW", ("kW", "hp", "PS")),
    "torque": ("N·m", ("N·m", "lb·ft")),
    "pump_flow": ("l/h", ("l/h", "cm³/min")),
    "spark": ("°", ("°",)),
    "speed": ("km/h", ("km/h", "mph")),
    "engine_speed": ("rpm", ("rpm",)),
    "length": ("mm", ("mm", "in")),
    "distance": ("km", ("km", "mi")),
    "altitude": ("m", ("m", "ft")),
    "volume": ("cm³", ("cm³", "l")),
    "voltage": ("V", ("V", "mV")),
    "current": ("A", ("A",)),
    "resistance": ("Ω", ("Ω", "kΩ")),
    "mass": ("kg", ("kg", "lb")),
    "fraction": ("fraction", ("%", "fraction")),
    "octane": ("RON", ("RON", "AKI")),
}
_SPELLINGS = {
    "°C": "degC",
    "C": "degC",
    "degC": "degC",
    "deg C": "degC",
    "°F": "degF",
    "F": "degF",
    "degF": "degF",
    "deg F": "degF",
    "lambda": "dimensionless",
    "λ": "dimensionless",
    "cm³/min": "cm**3/minute",
    "cm3/min": "cm**3/minute",
    "cc/min": "cm**3/minute",
    "ccm": "cm**3/minute",
    "cc": "cm**3",
    "l/h": "liter/hour",
    "lb/h": "fuel_lb_per_hour",
    "lb/hr": "fuel_lb_per_hour",
    "lbs/hr": "fuel_lb_per_hour",
    "µs": "microsecond",
    "us": "microsecond",
    "PS": "metric_horsepower",
    "ps": "metric_horsepower",
    "hp": "mechanical_hp",
    "bhp": "mechanical_hp",
    "N·m": "newton*meter",
    "Nm": "newton*meter",
    "lb·ft": "foot*force_pound",
    "lb-ft": "foot*force_pound",
    "ft-lb": "foot*force_pound",
    "°": "degree",
    "deg": "degree",
    "km/h": "kilometer/hour",
    "kph": "kilometer/hour",
    "cm³": "cm**3",
    "Ω": "ohm",
    "kΩ": "kiloohm",
    "%": "percent",
    "fraction": "dimensionless",
    '"': "inch",
    "in": "inch",
    "rpm": "revolutions_per_minute",
    "1/min": "revolutions_per_minute",
    "AFR": "petrol_afr",
    "afr": "petrol_afr",
    "kpa": "kPa",
    "KPA": "kPa",
    "PSI": "psi",
    "Bar": "bar",
    "mbar": "millibar",
    "inHg": "inHg",
    "MPH": "mph",
    "RON": "research_octane",
    "AKI": "anti_knock_index",
}


@lru_cache(maxsize=1)
def _registry() -> pint.UnitRegistry:
    units: pint.UnitRegistry = pint.UnitRegistry()
    # The trade's pound an hour: 10.5 cm³/min, that is fuel of 0.72 kg/l. Shown beside the canonical figure.
    units.define("fuel_lb_per_hour = 10.5 * cm**3 / minute")
    units.define("mechanical_hp = 745.7 * watt")
    units.define("petrol_afr = 0.06802721088435375 = _")  # 1 / 14.7
    # Where only one of them is known: AKI = RON - 4.5, an estimate.
    units.define("research_octane = [octane]")
    units.define("anti_knock_index = research_octane; offset: 4.5")
    return units


#: Longest text of a figure: a number and its unit.
LONGEST_TEXT = 40
_FIGURE = re.compile(
    r"([-+−]?(?=[.,]?\d)(?:\d+(?:[ \u202f]\d{3}|,\d{3})*)?(?:[.,]\d+)?(?:[eE][-+]?\d+)?)\s*(\S(?:.*\S)?)?"
)
_THOUSANDS_OR_TENTHS = re.compile(r"[-+−]?[1-9]\d{0,2}(?:,\d{3})+")


def _unit(text: str) -> str:
    return _SPELLINGS.get(text, text)


def _quantity(name: str) -> tuple[str, tuple[str, ...]]:
    key = name.replace(" ", "_")
    if key not in QUANTITIES:
        raise BadInput(f"There is no quantity called “{name}”.", "quantity")
    return QUANTITIES[key]


def parse(text: str, quantity: str, unit: str | None = None) -> float:
    """Read a typed figure into the canonical unit.

    Parameters
    ----------
    text : str
        A number, with or without a unit: ``"43.5 psi"``, ``"300"``, ``"12,5 V"``.
    quantity : str
        A key of `QUANTITIES`.
    unit : str, optional
        The unit meant when none is typed; canonical where absent.

    Returns
    -------
    float
        In the canonical unit.

    Raises
    ------
    BadInput
        If there is no number, or the unit does not measure this quantity.

    Examples
    --------
    >>> round(parse("43.5 psi", "pressure"), 1)
    299.9
    >>> parse("4 %", "fraction")
    0.04
    >>> parse("12,5 V", "voltage")
    12.5
    """
    canonical, offered = _quantity(quantity)
    label = quantity.replace("_", " ")
    text = text.strip()
    if len(text) > LONGEST_TEXT:
        raise BadInput(f"This is too long for a {label}. Type it like 12.5 {offered[0]}.", quantity)
    match = _FIGURE.fullmatch(text)
    if not match:
        raise BadInput(f"“{text}” is not a number. Type the {label} like 12.5 {offered[0]}.", quantity)
    if _THOUSANDS_OR_TENTHS.fullmatch(match[1]):
        # "6,500" is six and a half in one shop and six thousand five hundred in the next.
        whole, parts = match[1].replace(",", ""), match[1].replace(",", ".")
        either = f"{whole} or {parts}" if match[1].count(",") == 1 else whole
        raise BadInput(f"“{match[1]}” can be read two ways. Type it without the comma: {either}.", quantity)
    typed = match[2] or unit or canonical
    # A unit is a name, never an expression: what pint would evaluate is not what a person means.
    if typed not in _SPELLINGS and not re.fullmatch(r"[A-Za-z]{1,24}", typed):
        raise BadInput(f"“{typed[:24]}” does not measure {label}. Use {', '.join(offered)}.", quantity)
    number = float(match[1].replace(",", ".").replace("−", "-").replace(" ", "").replace("\u202f", ""))
    value = _convert(number, typed, canonical, quantity)
    if not abs(value) < 1e12:
        raise BadInput(f"“{text[:24]}” is not a usable {label}.", quantity)
    # What a conversion adds in the last place was never typed: 140 °F is 60 °C.
    return float(f"{value:.12g}")


def parse_field(field: str, text: str, quantity: str, unit: str | None = None) -> float:
    """Read a typed figure as `parse` does; what is wrong with it is said of the form's own `field`.

    Raises
    ------
    BadInput
        As `parse`, naming `field`.
    """
    try:
        return parse(text, quantity, unit)
    except BadInput as error:
        raise BadInput(error.sentence, field) from None


def show(value: float, quantity: str, unit: str) -> float:
    """A canonical value in another unit of the same quantity.

    Examples
    --------
    >>> round(show(100.0, "temperature", "°F"), 1)
    212.0
    """
    canonical, _ = _quantity(quantity)
    return _convert(value, canonical, unit, quantity)


@lru_cache(maxsize=512)
def _factor_and_offset(source: str, target: str) -> tuple[float, float]:
    """Every unit here is a factor and an offset of another; to ask the registry for each figure is slow."""
    quantity = _registry().Quantity
    offset, one = (float(quantity(n, _unit(source)).to(_unit(target)).magnitude) for n in (0.0, 1.0))
    return one - offset, offset


def _convert(number: float, source: str, target: str, quantity: str) -> float:
    offered = ", ".join(_quantity(quantity)[1])
    try:
        factor, offset = _factor_and_offset(source, target)
        return float(number) * factor + offset
    except (
        pint.UndefinedUnitError,
        pint.DimensionalityError,
        ValueError,
        AttributeError,
        TypeError,
    ) as error:
        raise BadInput(
            f"“{source}” does not measure {quantity.replace('_', ' ')}. Use {offered}.", quantity
        ) from error


@lru_cache(maxsize=1)
def conversions() -> dict[str, dict[str, object]]:
    """Factors for the front end: ``shown = canonical * factor + offset``, per quantity and unit."""
    table: dict[str, dict[str, object]] = {}
    for name, (canonical, offered) in QUANTITIES.items():
        units: dict[str, dict[str, float]] = {}
        for unit in offered:
            offset = show(0.0, name, unit)
            units[unit] = {"factor": show(1.0, name, unit) - offset, "offset": offset}
        table[name] = {"canonical": canonical, "units": units}
    return table
