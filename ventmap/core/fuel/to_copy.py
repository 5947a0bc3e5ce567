"""An injector's figures in the axes and units of another program, to be copied there."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from ..basics import BadInput, show
from .dead_time import DeadTimeTable
from .flow import TEST_FLUIDS, flow_at_pressure, flow_on
from .fuels import Fuel

BETWEEN = {"tab": "\t", ";": ";", ",": ","}
#: More points than any such axis has.
MOST = 40


@dataclass(frozen=True)
class CopyAs:
    """How a table stands in the other program.

    Parameters
    ----------
    rows : str
        What runs down its first column.
    unit : str
        Of its cells.
    pressure : str
        What its pressure axis means: across the injector, or absolute in the rail while the manifold is at
        the barometer.
    decimal, between : str
        Decimal mark, and a key of `BETWEEN`.
    """

    rows: Literal["volts", "pressure"] = "volts"
    unit: Literal["ms", "µs"] = "ms"
    pressure: Literal["across", "absolute"] = "across"
    decimal: Literal[".", ","] = "."
    between: Literal["tab", ";", ","] = "tab"


@dataclass(frozen=True)
class Copied:
    """Text of a table with both its axes, and how many of its cells lie beyond the sheet's own."""

    text: str
    cells: int
    beyond: int


@dataclass(frozen=True)
class FlowToCopy:
    """Static flow at a pressure on the fuel in the tank: by volume [cm³/min, lb/h of petrol's sheet] and mass
    [g/s]; density [g/cm³].
    """

    volume: float
    pounds: float
    mass: float
    density: float


def dead_times_to_copy(
    table: DeadTimeTable,
    volts: Sequence[float],
    pressures: Sequence[float],
    barometer_kpa: float,
    how: CopyAs,
) -> Copied:
    """Dead times at another program's own points.

    Parameters
    ----------
    volts, pressures : sequence of float
        Its axes; empty for those of the sheet. Pressures as `how.pressure` means them [kPa].
    barometer_kpa : float
        Where the vehicle is used [kPa].

    Raises
    ------
    BadInput
        Where an axis is too long, or marks and cells could not be told apart.

    Examples
    --------
    >>> sheet = DeadTimeTable([12, 14], [300, 400], [[1.0, 1.2], [0.8, 0.9]])
    >>> told = dead_times_to_copy(sheet, [13], [400], 100.0, CopyAs(unit="µs", pressure="absolute"))
    >>> told.text.splitlines(), told.beyond
    (['\\t400', '13\\t900'], 0)
    """
    if how.decimal == how.between:
        raise BadInput("A comma cannot stand in figures and between them: choose another mark.", "between")
    offset = barometer_kpa if how.pressure == "absolute" else 0.0
    down = list(volts) or [float(value) for value in table.voltages]
    across = list(pressures) or [float(value) + offset for value in table.pressures_kpa]
    for name, axis in (("volts", down), ("pressures", across)):
        if len(axis) > MOST:
            raise BadInput(f"{len(axis)} points; at most {MOST} are copied.", name)
    if min(across) - offset <= 0:
        raise BadInput(f"A pressure of {min(across):g} kPa leaves nothing across the injector.", "pressures")
    factor, digits = (1000.0, 0) if how.unit == "µs" else (1.0, 3)
    rows = [[table.at(v, p - offset) * factor for p in across] for v in down]
    beyond = sum(not table.covers(v, p - offset) for v in down for p in across)
    heads, firsts = across, down
    if how.rows == "pressure":
        rows = [list(column) for column in zip(*rows, strict=True)]
        heads, firsts = down, across
    lines = [["", *(f"{head:g}" for head in heads)]]
    lines += [
        [f"{first:g}", *(f"{value:.{digits}f}" for value in row)]
        for first, row in zip(firsts, rows, strict=True)
    ]
    mark = BETWEEN[how.between]
    told = [mark.join(cell.replace(".", how.decimal) for cell in line) for line in lines]
    return Copied("\n".join(told), len(down) * len(across), beyond)


def flow_to_copy(flow: float, rated_kpa: float, test_fluid: str, across_kpa: float, fuel: Fuel) -> FlowToCopy:
    """A sheet's flow at the pressure here, on the fuel in the tank.

    Parameters
    ----------
    flow, rated_kpa, test_fluid
        As the sheet has them [cm³/min, kPa].
    across_kpa : float
        Across the injector here [kPa].

    Examples
    --------
    >>> from .fuels import PETROL
    >>> told = flow_to_copy(440.0, 300.0, "petrol", 400.0, PETROL)
    >>> round(told.volume, 1), round(told.mass, 2)
    (508.1, 6.31)
    """
    here = flow_at_pressure(flow, rated_kpa, across_kpa)
    volume = flow_on(here, TEST_FLUIDS[test_fluid], fuel.density)
    return FlowToCopy(
        volume, show(volume, "injector_flow", "lb/h"), volume * fuel.density / 60.0, fuel.density
    )
