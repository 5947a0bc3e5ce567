"""What the board before a write says, by kind of vehicle: a boat has no pedals, a sled no park."""

from __future__ import annotations

from collections.abc import Mapping

from ..basics import Verdict

Row = tuple[str, Mapping[object, tuple[Verdict, str]]]
_GO, _HOLD, _STOP = Verdict.go, Verdict.hold, Verdict.stop


def _loads(what: str) -> Row:
    return (
        f"{what} off",
        {True: (_GO, "Quiet."), False: (_STOP, "Switch them off: each takes volts from the write.")},
    )


def _still(title: str, advice: str) -> Row:
    return title, {True: (_GO, "Still."), False: (_STOP, advice)}


#: Row → (title, answer → (verdict, what to do)).
QUESTIONS: dict[str, Row] = {
    "loads_off": _loads("Blower, lamps, audio, rear screen"),
    "kept_awake": (
        "Something keeps the network awake",
        {True: (_GO, "Stays awake."), False: (_HOLD, "Switch the hazards on where the maker asks for it.")},
    ),
    "in_park": _still(
        "Gear in park or neutral, feet off the pedals", "Put it in park or neutral and step out."
    ),
    "laptop": (
        "Laptop power and sleep",
        {
            "mains": (_GO, "On mains, sleep off."),
            "battery": (_HOLD, "Plug it in if you can; sleep off."),
            "low": (_STOP, "Plug the laptop in: it must outlast the write."),
        },
    ),
    "cable_seated": (
        "Cable seated, nothing will pull it",
        {True: (_GO, "Seated."), False: (_STOP, "Seat it and lay it where nobody walks.")},
    ),
    "saved": (
        "What is in the computer is saved and re-read equal",
        {
            "equal": (_GO, "The way back is safe."),
            "unreadable": (_HOLD, "This device cannot be read: keep the stock computer on the shelf."),
            "no": (_STOP, "Save it first: it is the way back."),
        },
    ),
    "identity": (
        "The map is for this vehicle and computer",
        {
            "equal": (_GO, "Identities agree."),
            "unknown": (_HOLD, "Read the identity, or overrule with the reason."),
            "differs": (_STOP, "Do not write: this map is for another vehicle or computer."),
        },
    ),
    "matched": (
        "The map serves this engine, its parts and what is in the tank",
        {
            "yes": (_GO, "It passed the same matching as a map from the shelf."),
            "octane": (_HOLD, "It does not state its octane: ask its maker before it is run under load."),
            "held": (_HOLD, "A check of the map holds: put it right in Base map, or overrule it there."),
            "figures": (_STOP, "Set injector flow and dead time in Base map first."),
            "no": (_STOP, "Do not write: choose a map that serves what Intake says now."),
        },
    ),
    "newest": (
        "The map is the newest of its line",
        {True: (_GO, "Newest."), False: (_HOLD, "An older map: confirm that you mean it.")},
    ),
    "firmware": (
        "Firmware",
        {
            "current": (_GO, "Current."),
            "older": (_HOLD, "Older, but allowed by this map."),
            "below": (_STOP, "Below the map's minimum: update the firmware first."),
        },
    ),
}
_BY_KIND: dict[str, dict[str, Row]] = {
    "motorcycle": {
        "loads_off": _loads("Heated grips, lamps that can be, accessories"),
        "in_park": _still(
            "In neutral, on its stand, nobody on it", "Neutral, stand down, nobody at the throttle."
        ),
    },
    "sled": {
        "loads_off": _loads("Grip and visor heating, lamps that can be"),
        "in_park": _still(
            "Standing, brake on, nobody at the throttle", "Brake on, and everybody away from the throttle."
        ),
    },
    "watercraft": {
        "loads_off": _loads("Bilge pump, lamps, audio"),
        "in_park": _still(
            "Made fast or on its trailer, nobody at the lever", "Make it fast, and leave the lever alone."
        ),
    },
    "side-by-side": {"loads_off": _loads("Winch, lamps, audio")},
}

#: Rows that a person answers, and the words of each answer.
ASKED: dict[str, dict[str, str]] = {
    "loads_off": {"yes": "all off", "no": "something is on"},
    "kept_awake": {"yes": "stays awake", "no": "not sure"},
    "in_park": {"yes": "in park, feet off", "no": "no"},
    "laptop": {"mains": "mains, no sleep", "battery": "battery > 50 %", "low": "less"},
    "cable_seated": {"yes": "seated", "no": "no"},
    "identity": {"equal": "its tool shows this vehicle", "unknown": "it shows none", "differs": "another"},
    "newest": {"yes": "newest", "no": "older"},
}
_STILL = {
    "motorcycle": "in neutral, on its stand",
    "sled": "brake on, nobody at it",
    "watercraft": "made fast, nobody at it",
}


def question(row: str, kind: str = "") -> Row:
    """Title of a row and what each answer means, on this kind of vehicle."""
    return _BY_KIND.get(kind, {}).get(row, QUESTIONS[row])


def asked_title(row: str, kind: str = "") -> str:
    """What a row of the board asks, on this kind of vehicle."""
    return question(row, kind)[0]


def asked_words(row: str, kind: str = "") -> dict[str, str]:
    """Answers of a row that a person gives, and their words on this kind of vehicle."""
    words = ASKED[row]
    return {**words, "yes": _STILL[kind]} if row == "in_park" and kind in _STILL else words
