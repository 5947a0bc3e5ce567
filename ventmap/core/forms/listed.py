"""Forms that are lists: options over a stock image, entries by buttons."""

from __future__ import annotations

from ..basics import DeviceKind
from .kinds import ColumnKind, Form, ListKind

_OPTION = {
    "key": ColumnKind("option"),
    "name": ColumnKind("what it is"),
    "stock": ColumnKind("stock", "number"),
    "wanted": ColumnKind("wanted", "number"),
    "low": ColumnKind("least", "number"),
    "high": ColumnKind("most", "number"),
    "unit": ColumnKind("unit", needed=False),
    "closed_course": ColumnKind("closed course only", "yes"),
    "reason": ColumnKind("why", needed=False),
}
OPTIONS = Form(
    key="options",
    title="option set",
    used_by=(
        DeviceKind.flasher,
        DeviceKind.remote_flasher,
        DeviceKind.swapped,
        DeviceKind.swap_harness,
    ),
    holds="values over a stock image: tyre, limits, fan, idle, pedal, octane file, engine and gearbox pair",
    enters="stock image saved and re-read; options; write; off for its own seconds; on",
    proof="identity and options read back",
    checked="bounds, a reason for each, torque asked and allowed, limits",
    lists={
        "options": ListKind("options", "key", _OPTION),
        "pair": ListKind(
            "engine and gearbox, chosen together",
            "module",
            {
                "module": ColumnKind("module", "choice", choices=("engine", "gearbox")),
                "calibration": ColumnKind("calibration"),
                "torque_nm": ColumnKind("torque asked, or allowed", "number", "N·m", 1, 5_000),
            },
            needed=False,
        ),
    },
)
ENTRIES = Form(
    key="entries",
    title="entries",
    used_by=(DeviceKind.body_network,),
    holds="settings with their number for this engine, how each is coded, and what the dial must show",
    enters="entries by buttons, one screen a press",
    proof="each read back; power cycled and read again",
    checked="that the dial can tell each",
    lists={
        "entries": ListKind(
            "entries",
            "number",
            {
                "number": ColumnKind("setting number", "whole", low=1, high=999),
                "name": ColumnKind("what it sets"),
                "coding": ColumnKind(
                    "coded as", "choice", choices=("whole then tenths", "on or off", "whole")
                ),
                "stock": ColumnKind("stock", "number"),
                "wanted": ColumnKind("wanted", "number"),
                "low": ColumnKind("least", "number"),
                "high": ColumnKind("most", "number"),
                "unit": ColumnKind("unit", needed=False),
                "on_shows": ColumnKind("dial for on", "whole", low=0, high=400, needed=False),
                "off_shows": ColumnKind("dial for off", "whole", low=0, high=400, needed=False),
                "before": ColumnKind("first", needed=False),
                "closed_course": ColumnKind("closed course only", "yes"),
                "reason": ColumnKind("why", needed=False),
            },
        )
    },
)
