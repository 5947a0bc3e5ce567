"""Forms that are tables: trim, level, blend, driver, and what lives in another program."""

from __future__ import annotations

from dataclasses import replace

from ..basics import DeviceKind
from .full import FULL
from .kinds import SPEED, THROTTLE, Axis, ColumnKind, Form, ListKind, ScalarKind, TableKind
from .listed import OPTIONS
from .own import OWN, OWN_LIST, OWN_TABLE, OWN_TABLES

#: What a small inline controller trims where its own bounds are not on the shelf: the widest of any.
WIDEST_TRIM = (-50.0, 60.0)
TRIM = Form(
    key="trim",
    title="trim map",
    used_by=(DeviceKind.inline_controller,),
    holds="fuel and spark trim over speed and throttle, a rev limit, for each selector position",
    enters="position switch; maps to its writable positions by cable; lamp code",
    proof="position read back, lamp legend printed",
    checked="bounds of the device, advance without a drum, a learner's lower limit",
    tables={
        "fuel_trim": TableKind("%", SPEED, THROTTLE, "fuel trim", *WIDEST_TRIM, each="positions", decimals=1),
        "spark_trim": TableKind("°", SPEED, THROTTLE, "spark trim", -12, 12, each="positions", decimals=1),
    },
    lists={
        "positions": ListKind(
            "selector positions",
            "number",
            {
                "number": ColumnKind("position", "whole", low=0, high=16),
                "name": ColumnKind("what it is for"),
                "lamp": ColumnKind("what shows", needed=False),
                "fixed": ColumnKind("set by its maker", "yes"),
                "rev_limit": ColumnKind("rev limit", "number", "rpm", 1_000, 20_000, needed=False),
                "low": ColumnKind("least trim there", "number", "%", *WIDEST_TRIM, needed=False),
                "high": ColumnKind("most trim there", "number", "%", *WIDEST_TRIM, needed=False),
            },
        )
    },
)
LEVEL = Form(
    key="level",
    title="level map",
    used_by=(DeviceKind.sensor_piggyback,),
    holds="for each level the boost it adds over speed and the octane it needs; mode to level; warm-up delay",
    enters="levels and modes by phone link or its two buttons",
    proof="its display reads the level; off = as stock",
    checked="octane of the tank, lowest level first, order, warm-up",
    scalars={
        "warm_up_s": ScalarKind("s", "warm-up delay before a level acts", 0, 3_600, quantity="time"),
        "level": ScalarKind("", "level that is set", 0, 20),
    },
    tables={
        "added_boost": TableKind("kPa", SPEED, Axis("level", "", 1, 20), "boost added", 0, 150, decimals=1),
    },
    lists={
        "levels": ListKind(
            "levels",
            "number",
            {
                "number": ColumnKind("level", "whole", low=1, high=20),
                "ron": ColumnKind("least octane", "number", "RON", 60, 130),
            },
        ),
        "modes": ListKind(
            "driving modes",
            "mode",
            {
                "mode": ColumnKind("mode"),
                "level": ColumnKind("level", "whole", low=0, high=20),
                "lamp": ColumnKind("what shows", needed=False),
            },
            needed=False,
        ),
    },
)
BLEND = Form(
    key="blend",
    title="blend map",
    used_by=(DeviceKind.injector_piggyback,),
    holds="pulse factor over ethanol content for each preset; addition over temperature for starting",
    enters="pairing with its serial; presets",
    proof="live page: every injector active, content and temperature plausible, duty",
    checked="the curve against what the fuel needs by density and ratio",
    scalars={"preset": ScalarKind("", "preset that is set", 1, 9)},
    tables={
        "pulse_factor": TableKind(
            "× pulse",
            Axis("ethanol", "%", 0, 100),
            Axis("preset", "", 1, 9),
            "pulse factor",
            0.8,
            1.8,
            decimals=3,
        ),
        "start_addition": TableKind(
            "% added",
            Axis("engine probe", "°C", -50, 150),
            None,
            "fuel added for starting",
            0,
            200,
            decimals=0,
        ),
    },
    lists={
        "presets": ListKind(
            "presets",
            "number",
            {
                "number": ColumnKind("preset", "whole", low=1, high=9),
                "name": ColumnKind("what it is for"),
                "lamp": ColumnKind("what shows", needed=False),
            },
        )
    },
)
DRIVER = Form(
    key="driver",
    title="driver map",
    used_by=(DeviceKind.driver_module,),
    holds="injection pulse over demand and speed, built for one size of injector",
    enters="a pre-loaded box, or written by cable; it must be of the set",
    proof="label or read-back; set name equal to engine's and gearbox's",
    checked="injection window, size of the injectors, its set",
    scalars={
        "injector_flow": ScalarKind(
            "cm³/min", "injector size that it was built for", 10, 20_000, quantity="injector_flow"
        ),
        "window_deg": ScalarKind("° of crank", "injection window", 2, 180),
        "rev_limit": ScalarKind("rpm", "speed up to which it drives", 1_000, 8_000, quantity="engine_speed"),
    },
    tables={
        "pulse_us": TableKind(
            "µs", SPEED, Axis("demand", "%", 0, 100), "injection pulse", 0, 5_000, decimals=0
        ),
    },
)
_SHAPE = ListKind(
    "how each table stood where it came from",
    "table",
    {
        "table": ColumnKind("table"),
        "turned": ColumnKind("speed runs down", "yes"),
        "decimal": ColumnKind("decimal mark", "choice", choices=(".", ",")),
        "between": ColumnKind("between cells", "choice", choices=("tab", ";", ",", "blank")),
        "factor": ColumnKind("its figure for one of ours", "number", low=1e-6, high=1e6),
        "digits": ColumnKind("digits after the mark", "whole", low=0, high=6),
        "bare": ColumnKind("without its corner", "yes"),
        "falls_x": ColumnKind("columns fall", "yes"),
        "falls_y": ColumnKind("rows fall", "yes"),
        "corner": ColumnKind("corner", needed=False),
        "x_text": ColumnKind("columns as they were written"),
        "y_text": ColumnKind("rows as they were written"),
        "name": ColumnKind("what it is called there", needed=False),
    },
)
#: Tables that live in another program: worked on here, copied back there.
BORROWED = Form(
    key="borrowed",
    title="tables of another program",
    used_by=(),
    holds="figures and tables of the program that its maker gives, worked on here and copied back",
    enters="copied back in the shape it came in, or typed cell by cell from a card",
    proof="pasted back from that program and equal",
    checked="what its figures and tables stand for, where that is known; its own bounds and reasons",
    scalars={
        **{name: replace(kind, needed=False) for name, kind in FULL.scalars.items()},
        "overall_trim": ScalarKind("%", "overall fuel trim", -50, 50, needed=False),
    },
    tables={
        **{name: replace(kind, needed=False) for name, kind in FULL.tables.items()},
        **{name: replace(kind, needed=False, each="") for name, kind in TRIM.tables.items()},
        "pulse_us": replace(DRIVER.tables["pulse_us"], needed=False),
        "ve_throttle": TableKind(
            "%", SPEED, THROTTLE, "filling by throttle", 2, 200, needed=False, decimals=1
        ),
        "pulse_ms": TableKind(
            "ms", SPEED, Axis("load", "kPa", 0, 600), "base pulse", 0.05, 60, needed=False, decimals=3
        ),
        OWN: OWN_TABLE,
    },
    lists={
        "options": replace(OPTIONS.lists["options"], text="figures by their own names", needed=False),
        OWN_LIST: OWN_TABLES,
        "shapes": replace(_SHAPE, needed=False),
    },
)
