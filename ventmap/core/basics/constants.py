"""Constants of nature and of units that more than one rule needs; each stands here once."""

from __future__ import annotations

from math import pi

#: Standard barometer at sea level [kPa] (ISO 2533).
SEA_LEVEL_KPA = 101.325
#: Dry air [J/(kg·K)].
GAS_CONSTANT_AIR = 287.05
#: Kelvin at 0 °C.
ZERO_C = 273.15
#: rpm of 1 rad/s.
RPM_PER_RAD_S = 30.0 / pi
#: N·m = kW · this / rpm.
NM_RPM_PER_KW = 1000.0 * RPM_PER_RAD_S
