"""Complaints by kind of engine and drive: two-strokes, rotaries, diesels, belts and jet pumps."""

from __future__ import annotations

from .symptom_entry import Complaint, tree

KINDS: dict[str, Complaint] = {
    "bogs_two_stroke": tree(
        "Bogs or will not clear, two-stroke",
        {
            "wet": "plugs wet and black",
            "altitude": "since it came higher up",
            "pipe": "since pipe or reeds were changed",
            "one": "one pipe stays cooler",
        },
        [
            (
                "too rich for this air",
                4,
                (0.9, 0.9, 0.4, 0.2),
                "The map's barometer against a gauge; less fuel by exhaust temperature, step by step.",
            ),
            (
                "lean at mid opening",
                3,
                (0.05, 0.2, 0.9, 0.3),
                "Stop under load: more fuel there first; it seizes before it stumbles.",
            ),
            (
                "reeds or exhaust valves",
                2,
                (0.3, 0.2, 0.4, 0.6),
                "Look at the reeds against light; move the valves by hand and by command.",
            ),
            (
                "one cylinder: plug, injector, crank seal",
                2,
                (0.5, 0.1, 0.2, 0.95),
                "Exhaust temperature of each; leak-down of the crankcase.",
            ),
        ],
        [
            ("barometer in the log against a gauge", 3, 1),
            ("exhaust temperatures at mid opening, lightly loaded", 10, 2),
            ("reeds against light, valves by hand", 30, 3),
            ("crankcase under 50 kPa for five minutes", 30, 4),
        ],
        "two_stroke",
    ),
    "flooded_rotary": tree(
        "Floods or will not start, rotary",
        {
            "short_run": "after it was moved a few metres",
            "even": "cranks evenly and fast",
            "wet": "plugs wet",
            "hot": "only when hot",
        },
        [
            (
                "flooded chambers",
                5,
                (0.95, 0.9, 0.95, 0.2),
                "Fuel off, throttle open, crank in short turns; plugs out and dry, a little oil, then start.",
            ),
            (
                "leaking secondary injector",
                2,
                (0.5, 0.3, 0.9, 0.4),
                "Fall of rail pressure, engine off; then the set to a flow bench, renewed with its seals.",
            ),
            (
                "worn apex seals",
                3,
                (0.2, 0.8, 0.3, 0.9),
                "Three faces a rotor at 250 rpm, hot; below the limit it is a rebuild, not a map.",
            ),
            (
                "leading coil or plug",
                2,
                (0.2, 0.2, 0.7, 0.3),
                "A spark tester on each leading lead, fuel cut; exchange coils for a test only.",
            ),
        ],
        [
            ("crank with fuel off and throttle open", 5, 1),
            ("fall of rail pressure in ten minutes, engine off", 15, 2),
            ("compression of three faces a rotor, hot", 40, 3),
            ("spark tester on each leading lead, fuel cut", 10, 4),
        ],
        "rotary",
    ),
    "rattles_diesel": tree(
        "Rattles or knocks, diesel",
        {
            "cold": "only while cold",
            "one": "one cylinder's correction stands out",
            "load": "under load since a level or a file",
            "since_injectors": "since injectors or lines were off",
        },
        [
            (
                "injection too early or pilot lost",
                3,
                (0.5, 0.1, 0.9, 0.2),
                "Level or file back; look at pilot and main in the log before it is driven on.",
            ),
            (
                "injector code or place wrong",
                3,
                (0.3, 0.9, 0.4, 0.95),
                "Read codes back against each body; crossed lines go back to their cylinder.",
            ),
            (
                "worn or leaking injector",
                3,
                (0.7, 0.9, 0.4, 0.3),
                "Leak-off of each; renew with its washer, enter its code.",
            ),
            (
                "cold start heat lacking",
                2,
                (0.95, 0.2, 0.05, 0.1),
                "Glow current of each; relay and its module.",
            ),
        ],
        [
            ("injector codes read back", 10, 2),
            ("leak-off into glasses", 20, 3),
            ("same drive with the stock file or level 0", 15, 1),
            ("glow current, clamp on each", 10, 4),
        ],
        "diesel",
    ),
    "revs_no_push": tree(
        "Revs rise and the speed does not, belt drive",
        {
            "hot_belt": "belt hot or smells",
            "dust": "dust or glazing in the cover",
            "from_rest": "from rest",
            "top": "only near top speed",
        },
        [
            (
                "belt worn, glazed or wet",
                4,
                (0.8, 0.9, 0.6, 0.5),
                "Measure width and deflection; renew, run it in, clean both sheaves.",
            ),
            (
                "clutch weights or springs do not suit the power",
                4,
                (0.7, 0.4, 0.4, 0.8),
                "More power wants more weight: set the full-throttle speed back to the maker's first.",
            ),
            (
                "secondary spring or helix",
                2,
                (0.6, 0.4, 0.7, 0.5),
                "Look at rollers and spring; more twist where it slips from rest.",
            ),
            (
                "limiter or speed limit in the map",
                1,
                (0.02, 0.02, 0.05, 0.95),
                "Read the limits; what looks like slip is a cut.",
            ),
        ],
        [
            ("belt: width, glaze, deflection", 10, 1),
            ("engine speed at full throttle against the maker's", 5, 2),
            ("secondary by hand: rollers, spring", 30, 3),
            ("pulse and spark at the top", 5, 4),
        ],
        "belt",
    ),
    "cavitates": tree(
        "Revs rise without thrust, watercraft",
        {
            "weed": "after weed or sand",
            "loaded": "with two on it",
            "hull": "only through chop",
            "since": "since more power was set",
        },
        [
            (
                "grate or pump blocked",
                4,
                (0.95, 0.5, 0.4, 0.1),
                "Engine off, key out; clear it on the trailer, never while it floats running.",
            ),
            (
                "wear ring or impeller worn",
                4,
                (0.4, 0.8, 0.3, 0.6),
                "Gap of ring to blade all round; renew the ring.",
            ),
            (
                "hull seal of the pump leaks air",
                2,
                (0.1, 0.4, 0.7, 0.2),
                "Renew the seal between pump and hull.",
            ),
            (
                "impeller pitch does not suit the power",
                2,
                (0.05, 0.5, 0.1, 0.95),
                "Engine speed at full throttle against the maker's; pitch, then map.",
            ),
        ],
        [
            ("grate and duct, on the trailer", 10, 1),
            ("gap of wear ring and blades", 20, 2),
            ("seal of the pump shoe", 30, 3),
            ("engine speed at full throttle against the maker's", 10, 4),
        ],
        "watercraft",
    ),
}
