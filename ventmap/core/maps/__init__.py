"""Maps: what a computer runs, which to start from, and the calls before it is written and first run. Uses
fuel and below.
"""

from .calibration import SCALARS, TABLES, Calibration, Identity, Lineage
from .call_board import LoadBoard, charge, identity_match, interrupted_call, load_calls
from .difference import diff
from .document import MapConditions, map_schema
from .first_start import running_calls
from .map_file import from_image, from_json, to_json
from .matching import MapMatch, Wanted, match_call, match_maps, parts_on_it

__all__ = [
    "SCALARS",
    "TABLES",
    "Calibration",
    "Identity",
    "Lineage",
    "LoadBoard",
    "MapConditions",
    "MapMatch",
    "Wanted",
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
    "parts_on_it",
    "running_calls",
    "to_json",
]
