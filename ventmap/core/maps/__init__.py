"""Maps: which to start from, what is checked while one is edited, sets, and the calls before it is written
and first run. Uses forms and below.
"""

from .board_words import ASKED, asked_title, asked_words
from .call_board import (
    LoadBoard,
    Named,
    asked_calls,
    battery_call,
    charge,
    identity_match,
    interrupted_call,
    load_calls,
)
from .cards import Card, CardLine, map_card
from .checks import map_calls
from .checks_of_limits import fan_calls, fan_defaults, rev_limit_call, speed_limit_call
from .entering import POWER, Entering, Screen, Shown, enter, same_reading, screens_of, told_of
from .first_start import global_trim_call, next_global_trim, running_calls
from .job_of_map import MapJob
from .matching import MapMatch, Wanted, match_call, match_maps, parts_on_it
from .parameters import PARAMETERS, Advice, Parameter, advice, airflow_call, parameters_of
from .recovery import Cut, Way, ways_on
from .sensor_curves import CURVES, sensor_curve
from .sets import Member, foreign_to, set_calls
from .tank import tank_call, with_tank

__all__ = [
    "ASKED",
    "CURVES",
    "PARAMETERS",
    "POWER",
    "Advice",
    "Card",
    "CardLine",
    "Cut",
    "Entering",
    "LoadBoard",
    "MapJob",
    "MapMatch",
    "Member",
    "Named",
    "Parameter",
    "Screen",
    "Shown",
    "Wanted",
    "Way",
    "advice",
    "airflow_call",
    "asked_calls",
    "asked_title",
    "asked_words",
    "battery_call",
    "charge",
    "enter",
    "fan_calls",
    "fan_defaults",
    "foreign_to",
    "global_trim_call",
    "identity_match",
    "interrupted_call",
    "load_calls",
    "map_calls",
    "map_card",
    "match_call",
    "match_maps",
    "next_global_trim",
    "parameters_of",
    "parts_on_it",
    "rev_limit_call",
    "running_calls",
    "same_reading",
    "screens_of",
    "sensor_curve",
    "set_calls",
    "speed_limit_call",
    "tank_call",
    "told_of",
    "ways_on",
    "with_tank",
]
