"""Own channels: a formula over a log's channels, its units checked, nothing but arithmetic in it."""

from __future__ import annotations

import ast
import operator
import re
from collections.abc import Callable, Mapping
from functools import lru_cache
from typing import Any

import numpy as np
import pint
from numpy.typing import NDArray
from simpleeval import (
    AttributeDoesNotExist,
    FeatureNotAvailable,
    FunctionNotDefined,
    NameNotDefined,
    SimpleEval,
)

from ..basics import BadInput
from .channels import CHANNELS
from .model import Samples
from .windows import smooth

#: Longest formula.
LONGEST = 400
#: Highest power: more has no use here and takes all there is.
MOST_POWER = 6.0
#: A turn is a count here, not 2π: pulse times engine speed is a share of a turn.
_UNITS = {"rpm": "1/minute", "°": "crank_degree", "°C": "degC", "°F": "degF", "%": "percent", "lambda": ""}
#: Units that may stand in a formula, as in `map - 101.3 * kPa`.
_NAMED = (
    "kPa",
    "bar",
    "psi",
    "s",
    "ms",
    "minute",
    "hour",
    "g",
    "kg",
    "m",
    "mm",
    "km",
    "l",
    "V",
    "K",
    "kW",
    "N",
)
#: What may be called, and what each does.
FUNCTIONS = {
    "abs": "abs(x): size without sign",
    "sqrt": "sqrt(x): square root",
    "min": "min(a, b): the lower of two",
    "max": "max(a, b): the higher of two",
    "rate": "rate(x): change a second",
    "smooth": "smooth(x, seconds): running mean",
    "column": 'column("heading"): a column of the file that has no name of ours, without unit',
}


@lru_cache(maxsize=1)
def _registry() -> pint.UnitRegistry[Any]:
    units: pint.UnitRegistry[Any] = pint.UnitRegistry(autoconvert_offset_to_baseunit=True)
    units.define("crank_degree = [crank_angle]")
    return units


def _unit(text: str) -> Any:
    """A unit as people write it.

    Raises
    ------
    BadInput
        Naming what is no unit.
    """
    plain = _UNITS.get(text.strip(), text.strip())
    for written, meant in (("·", "*"), ("²", "**2"), ("³", "**3")):
        plain = plain.replace(written, meant)
    try:
        return _registry().Unit(plain) if plain else _registry().dimensionless
    except Exception as error:
        raise BadInput(
            f"“{text}” is no unit: write one such as kPa, g/s or km/h, or leave it empty.", "unit"
        ) from error


def names_in(formula: str) -> tuple[str, ...]:
    """Channels that a formula reads, in its order.

    Raises
    ------
    BadInput
        With the place, where it is no formula.
    """
    tree = _parsed(formula)
    nodes = sorted(
        (n for n in ast.walk(tree) if isinstance(n, ast.expr)), key=lambda n: (n.lineno, n.col_offset)
    )
    called = {id(node.func) for node in nodes if isinstance(node, ast.Call)}
    found = []
    for node in nodes:
        if isinstance(node, ast.Name) and id(node) not in called and node.id not in _NAMED:
            found.append("lambda" if node.id == "lambda_1" else node.id)
        elif isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id == "column":
            given = node.args[0] if node.args else None
            if isinstance(given, ast.Constant) and isinstance(given.value, str):
                found.append(given.value)
    return tuple(dict.fromkeys(found))


def _parsed(formula: str) -> ast.Expression:
    text = formula.strip()
    if not text:
        raise BadInput("Write a formula, such as map - baro.", "formula")
    if len(text) > LONGEST:
        raise BadInput(f"A formula has at most {LONGEST} signs.", "formula")
    try:
        return ast.parse(_safe(text), mode="eval")
    except (SyntaxError, ValueError, RecursionError, MemoryError) as error:
        # Where the tree ends too early no place is told: it is the end.
        place = min(getattr(error, "offset", None) or len(text), len(text))
        raise BadInput(
            f"This is no formula: look at place {place}, after “{text[:place]}”.", "formula"
        ) from error


def _safe(text: str) -> str:
    """`lambda` is a word of the language that reads the formula: the channel goes by another name inside."""
    return re.sub(r"\blambda\b", "lambda_1", text)


def _number(value: Any) -> Any:
    if isinstance(value, (int, float, np.ndarray, pint.Quantity, np.generic)):
        return float(value) if isinstance(value, (bool, np.bool_)) else value
    raise BadInput("Only numbers and channels can be reckoned with.", "formula")


def _power(base: Any, exponent: Any) -> Any:
    if not isinstance(exponent, (int, float)) or abs(exponent) > MOST_POWER:
        raise BadInput(f"A power is a number of at most {MOST_POWER:g}.", "formula")
    return _number(base) ** exponent


def _compared(do: Callable[[Any, Any], Any]) -> Callable[[Any, Any], Any]:
    """A channel against a plain number: the number is meant in the channel's own unit."""

    def over(a: Any, b: Any) -> Any:
        a, b = _number(a), _number(b)
        with_unit, bare = isinstance(a, pint.Quantity), isinstance(b, pint.Quantity)
        if with_unit != bare:
            a, b = (a.magnitude, b) if with_unit else (a, b.magnitude)
        return do(a, b)

    return over


def _of_two(do: Callable[[Any, Any], Any]) -> Callable[[Any, Any], Any]:
    return lambda a, b: do(_number(a), _number(b))


_OPERATORS: dict[type[ast.AST], Callable[..., Any]] = {
    ast.Add: _of_two(operator.add),
    ast.Sub: _of_two(operator.sub),
    ast.Mult: _of_two(operator.mul),
    ast.Div: _of_two(operator.truediv),
    ast.Pow: _power,
    ast.USub: lambda a: -_number(a),
    ast.UAdd: lambda a: _number(a),
    ast.Lt: _compared(operator.lt),
    ast.Gt: _compared(operator.gt),
    ast.LtE: _compared(operator.le),
    ast.GtE: _compared(operator.ge),
}
_NODES = (ast.Attribute, ast.Subscript, ast.JoinedStr, ast.FormattedValue, ast.IfExp, ast.BoolOp)


def own_channel(
    formula: str, unit: str, time_s: NDArray[np.float64], columns: Mapping[str, Samples]
) -> NDArray[np.float64]:
    """The samples of an own channel.

    Parameters
    ----------
    formula : str
        Over canonical names, such as ``(map - baro) / map_target``.
    unit : str
        What it is shown in; it must be of the kind that the formula gives.
    time_s : ndarray, shape (n,)
        [s]
    columns : mapping of str to ndarray, shape (n,)
        Canonical channels in their units, and the file's own columns by their headings.

    Returns
    -------
    ndarray, shape (n,)
        In `unit`; NaN where it divides by nought or a channel has no value.

    Raises
    ------
    BadInput
        In words, with the place where it can be told.
    """
    _parsed(formula)
    wanted, units = _unit(unit), _registry()
    filled: dict[str, Samples] = {name: _filled(values) for name, values in columns.items()}
    names: dict[str, Any] = {name: units.Unit(name) * 1.0 for name in _NAMED}
    for name, values in filled.items():
        if name in CHANNELS:
            names["lambda_1" if name == "lambda" else name] = units.Quantity(
                values, _unit(CHANNELS[name].unit)
            )
    reckoner = SimpleEval(operators=_OPERATORS, functions=_functions(time_s, filled), names=names)
    for node in _NODES:
        reckoner.nodes.pop(node, None)
    with np.errstate(all="ignore"):
        found = _reckoned(reckoner, formula, filled)
        if isinstance(found, (bool, np.bool_)):
            found = float(found)
        try:
            told = units.Quantity(found).to(wanted).magnitude
        except (pint.DimensionalityError, pint.OffsetUnitCalculusError) as error:
            given = units.Quantity(found).units
            raise BadInput(
                f"The formula gives {_shown(given)}, which is not shown in “{unit}”.", "unit"
            ) from error
    out = np.broadcast_to(np.asarray(told, float), time_s.shape).copy()
    out[~np.isfinite(out)] = np.nan
    return out


def _reckoned(reckoner: SimpleEval, formula: str, columns: Mapping[str, Samples]) -> Any:
    text = formula.strip()
    try:
        return reckoner.eval(_safe(text))
    except BadInput:
        raise
    except NameNotDefined as error:
        name = "lambda" if error.name == "lambda_1" else error.name
        known = (
            f"this log has no {CHANNELS[name].label.lower()}" if name in CHANNELS else "that is no channel"
        )
        raise BadInput(f"“{name}” at place {text.find(name) + 1}: {known}.", "formula") from error
    except FunctionNotDefined as error:
        named = getattr(error, "func_name", "")
        raise BadInput(f"“{named}” is not known: there are {', '.join(FUNCTIONS)}.", "formula") from error
    except (pint.DimensionalityError, pint.OffsetUnitCalculusError, pint.UndefinedUnitError) as error:
        pair = [getattr(error, name, None) for name in ("units1", "units2")]
        told = " and ".join(_shown(_registry().Unit(one)) for one in pair if one is not None) or str(error)
        raise BadInput(
            f"Units do not go together: {told}. A figure gets one so: 3 * kPa, 5 * K.", "formula"
        ) from error
    except (FeatureNotAvailable, AttributeDoesNotExist, KeyError) as error:
        raise BadInput(
            "A formula holds channels, numbers, + − * / **, brackets and the functions alone.", "formula"
        ) from error
    except Exception as error:
        raise BadInput(f"This cannot be reckoned: {error}.", "formula") from error


def _functions(time_s: NDArray[np.float64], columns: Mapping[str, Samples]) -> dict[str, Callable[..., Any]]:
    units = _registry()
    per_row = float(np.median(np.diff(time_s))) if len(time_s) > 1 else 1.0

    def rate(x: Any) -> Any:
        x = units.Quantity(_number(x))
        held = x.units if x.units != units.degC else units.delta_degC
        return units.Quantity(np.gradient(np.broadcast_to(x.magnitude, time_s.shape), time_s), held / units.s)

    def smoothed(x: Any, seconds: Any) -> Any:
        x = units.Quantity(_number(x))
        width = float(
            units.Quantity(seconds).to("s").magnitude if isinstance(seconds, pint.Quantity) else seconds
        )
        rows = max(1, round(width / max(per_row, 1e-6)))
        return units.Quantity(smooth(np.broadcast_to(x.magnitude, time_s.shape), rows), x.units)

    def column(heading: Any) -> Any:
        if heading not in columns:
            raise BadInput(f"This log has no column “{heading}”.", "formula")
        return columns[heading]

    return {
        "abs": lambda x: abs(_number(x)),
        "sqrt": lambda x: _number(x) ** 0.5,
        "min": lambda a, b: np.minimum(_number(a), _number(b)),
        "max": lambda a, b: np.maximum(_number(a), _number(b)),
        "rate": rate,
        "smooth": smoothed,
        "column": column,
    }


def _filled(values: Samples) -> NDArray[np.floating]:
    """Blank cells hold the value before them, as every look at a log does."""
    values = np.asarray(values, np.float64)
    real = np.isfinite(values)
    if real.all() or not real.any():
        return values
    last = np.maximum.accumulate(np.where(real, np.arange(len(values)), -1))
    return np.where(last >= 0, values[np.maximum(last, 0)], np.nan)


def _shown(unit: Any) -> str:
    return f"“{unit:~P}”" if str(unit) != "dimensionless" else "a number without unit"
