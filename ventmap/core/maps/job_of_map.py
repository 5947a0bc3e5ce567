"""What a map is held against: the engine, the tank, the tyres and the device of its job."""

from __future__ import annotations

from dataclasses import dataclass

from ..basics import Injector
from ..forms import Calibration


@dataclass(frozen=True)
class MapJob:
    """What is known of the job that a map is edited for. None is *not known*.

    Parameters
    ----------
    petrol, boosted : bool
    barometer_kpa : float
    rev_limit : float or None
        The maker's, of the valve train [rpm].
    on_tyres : bool
        It runs on tyres: a boat and a sled do not.
    tyre_kmh : float or None
        The lowest speed rating that is fitted [km/h].
    ron, ethanol : float
        What is in the tank; fraction of volume.
    shelf : Calibration or None
        The map that this one was made from, as it came.
    on_drum : bool
        The change is proved on a drum.
    trim_bounds : pair or None
        Of the device, fractions.
    thermostat_c, stock_fan_c : float or None
        Where the thermostat opens, and where the fan came on as stock.
    injector_flow : float or None
        Of the injectors that are on [cm³/min].
    gearbox : str
    injector : Injector or None
        The sheet of the set that is on.
    across_kpa : float or None
        Pressure across the injectors of this vehicle [kPa].
    figures_set : bool
        Whether the injectors' figures were set in this map, or nobody is asked to.
    displacement_cc, cylinders : float or None
        Of this engine.
    """

    petrol: bool = True
    boosted: bool = False
    barometer_kpa: float = 101.3
    rev_limit: float | None = None
    on_tyres: bool = True
    tyre_kmh: float | None = None
    ron: float | None = None
    ethanol: float = 0.0
    shelf: Calibration | None = None
    on_drum: bool = False
    trim_bounds: tuple[float, float] | None = None
    thermostat_c: float | None = None
    stock_fan_c: float | None = None
    injector_flow: float | None = None
    gearbox: str = ""
    injector: Injector | None = None
    across_kpa: float | None = None
    displacement_cc: float | None = None
    cylinders: int | None = None
    figures_set: bool = True
