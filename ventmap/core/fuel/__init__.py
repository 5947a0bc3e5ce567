"""Fuel: what an engine is fed, through what, at which pressure. Uses basics and vehicle; nothing above."""

from .across import pressure_across
from .body_codes import BodyCode, compare_read_back
from .dead_time import DeadTimeTable, beyond_call, dead_time_of, figures_call
from .dead_time_paste import read_dead_time
from .demand import FuelDemand, added_boost, bsfc_rule, demand_of, full_boost, hardest_fuel, most_ethanol
from .equation import cylinder_air, cylinder_constant, fuel_for, fuel_rate, mixture_of
from .feed_line import Fitting, Gap, plan_feed_line
from .flow import TEST_FLUIDS, as_petrol, flow_at_pressure, flow_on, require_figures
from .fuel_error import SplitFuelError, split_correction, split_fuel_error
from .fuels import (
    DIESEL,
    ETHANOL,
    METHANOL,
    PETROL,
    Fuel,
    blend,
    ethanol_from_frequency,
    pulse_multiplier,
    running_cost,
    volume_multiplier,
)
from .injector_care import NEVER, care_paths
from .injector_fit import injector_fit, injector_seated
from .injector_sets import best_set, flow_spread, flow_spread_call
from .pumps import pump_check, pump_flow, pump_need
from .sizing import duty, duty_call, pulse_at, required_flow, supported_power, window_limit_ms
from .spacers import plan_stack
from .to_copy import Copied, CopyAs, FlowToCopy, dead_times_to_copy, flow_to_copy
from .wires import FUSES, WIRES, fuse_for, plan_wire, relay_call, voltage_drop

__all__ = [
    "DIESEL",
    "ETHANOL",
    "FUSES",
    "METHANOL",
    "NEVER",
    "PETROL",
    "TEST_FLUIDS",
    "WIRES",
    "BodyCode",
    "Copied",
    "CopyAs",
    "DeadTimeTable",
    "Fitting",
    "FlowToCopy",
    "Fuel",
    "FuelDemand",
    "Gap",
    "SplitFuelError",
    "added_boost",
    "as_petrol",
    "best_set",
    "beyond_call",
    "blend",
    "bsfc_rule",
    "care_paths",
    "compare_read_back",
    "cylinder_air",
    "cylinder_constant",
    "dead_time_of",
    "dead_times_to_copy",
    "demand_of",
    "duty",
    "duty_call",
    "ethanol_from_frequency",
    "figures_call",
    "flow_at_pressure",
    "flow_on",
    "flow_spread",
    "flow_spread_call",
    "flow_to_copy",
    "fuel_for",
    "fuel_rate",
    "full_boost",
    "fuse_for",
    "hardest_fuel",
    "injector_fit",
    "injector_seated",
    "mixture_of",
    "most_ethanol",
    "plan_feed_line",
    "plan_stack",
    "plan_wire",
    "pressure_across",
    "pulse_at",
    "pulse_multiplier",
    "pump_check",
    "pump_flow",
    "pump_need",
    "read_dead_time",
    "relay_call",
    "require_figures",
    "required_flow",
    "running_cost",
    "split_correction",
    "split_fuel_error",
    "supported_power",
    "voltage_drop",
    "volume_multiplier",
    "window_limit_ms",
]
