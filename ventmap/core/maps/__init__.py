"""Maps: which to start from, what is checked while one is edited, and sets. Uses forms and below."""

from .cards import Card, CardLine, map_card
from .checks import map_calls
from .checks_of_limits import fan_calls, fan_defaults, rev_limit_call, speed_limit_call
from .job_of_map import MapJob
from .levels import added_at
from .matching import MapMatch, Wanted, match_call, match_maps, parts_on_it
from .parameters import PARAMETERS, Advice, Parameter, advice, airflow_call, parameters_of
from .sensor_curves import CURVES, sensor_curve
from .sets import Member, foreign_to, set_calls
from .tank import tank_call, with_tank

__all__ = [
    "CURVES",
    "PARAMETERS",
    "Advice",
    "Card",
    "CardLine",
    "MapJob",
    "MapMatch",
    "Member",
    "Parameter",
    "Wanted",
    "added_at",
    "advice",
    "airflow_call",
    "fan_calls",
    "fan_defaults",
    "foreign_to",
    "map_calls",
    "map_card",
    "match_call",
    "match_maps",
    "parameters_of",
    "parts_on_it",
    "rev_limit_call",
    "sensor_curve",
    "set_calls",
    "speed_limit_call",
    "tank_call",
    "with_tank",
]
