"""What is in the tank and what the map says of it."""

from __future__ import annotations

from ..basics import Call, Evidence, Verdict
from ..forms import Calibration
from ..fuel import Fuel

#: Fuel error that a wrong stoichiometric ratio or density may make before it has to be set again.
WITHIN = 0.005


def with_tank(calibration: Calibration, fuel: Fuel) -> Calibration:
    """The map with density and ratio of the fuel that is in the tank, where its form has them."""
    if "stoichiometric" not in calibration.scalars:
        return calibration
    return calibration.with_scalars(fuel_density=fuel.density, stoichiometric=fuel.stoichiometric)


def tank_call(calibration: Calibration, fuel: Fuel) -> Call:
    """A hold where the map's fuel is not the tank's: the difference would look like an injector error."""
    scalars = calibration.scalars
    # Mass that is asked goes with 1/stoichiometric, mass that flows with the root of density.
    asked = fuel.stoichiometric / scalars["stoichiometric"] * (fuel.density / scalars["fuel_density"]) ** 0.5
    off = abs(asked - 1.0)
    good = off <= WITHIN
    return Call(
        "base-map.tank",
        verdict=Verdict.go if good else Verdict.hold,
        because=(
            Evidence("stoichiometric", round(scalars["stoichiometric"], 3), round(fuel.stoichiometric, 3)),
            Evidence("fuel density", round(scalars["fuel_density"], 4), round(fuel.density, 4), unit="kg/l"),
            Evidence("fuel error it makes", round(100 * off, 2), 100 * WITHIN, unit="%"),
        ),
        do_next="The map knows its fuel."
        if good
        else "Set the figures again: the map takes the fuel of the tank.",
        source="Blend by volume, ratio by mass",
        title="Fuel in the map and in the tank",
    )
