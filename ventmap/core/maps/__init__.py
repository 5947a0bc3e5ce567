"""Maps: what a computer runs, which to start from, and the calls before it is written and first run. Uses
fuel and below.
"""

from .calibration import SCALARS, TABLES, Calibration, Identity, Lineage
from .call_board import LoadBoard, Named, battery_call, charge, identity_match, interrupted_call, load_calls
from .difference import diff
from .document import MapConditions, map_schema
from .first_start import running_calls
from .map_file import from_image, from_json, to_json
from .matching import MapMatch, Wanted, match_call, match_maps, parts_on_it
from .ranges import out_of_range
from .tank import tank_call, with_tank

__all__ = [
    "SCALARS",
    "TABLES",
    "Calibration",
    "Identity",
    "Lineage",
    "LoadBoard",
    "MapConditions",
    "MapMatch",
    "Named",
    "Wanted",
    "battery_call",
    "charge",
    "diff",
    "from_image",
    "from_json",
    "identity_match",
    "interrupted_call",
    "load_calls",
    "map_schema",
    "match_call",
    "match_maps",
    "out_of_range",
    "parts_on_it",
    "running_calls",
    "tank_call",
    "to_json",
    "with_tank",
]
