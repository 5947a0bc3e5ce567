"""Forms: what a map of each kind of device holds, as document, bytes and sheet. Uses fuel and below."""

from .begun import NEUTRAL, OWN_KEY, ROWS_OF, AxesTyped, as_begun, begin, rows_of_text, without_wishes
from .calibration import Calibration, Identity, Lineage, MapSet, Row
from .catalogue import APART_FORMS, BESIDE_FORMS, FORMS, form_of, guide_lines
from .difference import Change, count_changes, diff
from .document import MapConditions, map_schema, stated_octane
from .draft import Edit, applied, table_cells
from .edit import OPERATIONS, Region, edited
from .effect import Effect, effects, moved, place
from .exchange import from_hex, from_workbook, read_map_file, table_csv, table_from_csv, to_hex, to_workbook
from .firmware import Firmware, firmware_call, number_of, pack_firmware, read_firmware
from .heights import HeightLine, height_lines
from .kinds import Axis, ColumnKind, Form, ListKind, ScalarKind, TableKind
from .map_file import from_image, from_json, lacking, to_document, to_json
from .pasted import Pasted, as_ours, read_cells, read_table, turned, with_shape, write_table
from .ranges import out_of_range

__all__ = [
    "APART_FORMS",
    "BESIDE_FORMS",
    "FORMS",
    "NEUTRAL",
    "OPERATIONS",
    "OWN_KEY",
    "ROWS_OF",
    "AxesTyped",
    "Axis",
    "Calibration",
    "Change",
    "ColumnKind",
    "Edit",
    "Effect",
    "Firmware",
    "Form",
    "HeightLine",
    "Identity",
    "Lineage",
    "ListKind",
    "MapConditions",
    "MapSet",
    "Pasted",
    "Region",
    "Row",
    "ScalarKind",
    "TableKind",
    "applied",
    "as_begun",
    "as_ours",
    "begin",
    "count_changes",
    "diff",
    "edited",
    "effects",
    "firmware_call",
    "form_of",
    "from_hex",
    "from_image",
    "from_json",
    "from_workbook",
    "guide_lines",
    "height_lines",
    "lacking",
    "map_schema",
    "moved",
    "number_of",
    "out_of_range",
    "pack_firmware",
    "place",
    "read_cells",
    "read_firmware",
    "read_map_file",
    "read_table",
    "rows_of_text",
    "stated_octane",
    "table_cells",
    "table_csv",
    "table_from_csv",
    "to_document",
    "to_hex",
    "to_json",
    "to_workbook",
    "turned",
    "with_shape",
    "without_wishes",
    "write_table",
]
