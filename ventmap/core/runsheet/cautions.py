"""Cautions that differ by kind of vehicle."""

from __future__ import annotations

#: What is said before a log and before runs, by kind of vehicle: a boat has no tyres and a sled no straps.
_LOG_CAUTION = {
    "watercraft": (
        "Within the law on the water; a second person minds the laptop. On the trailer: water through the"
        " cooling, nobody near jet or propeller."
    ),
    "sled": (
        "Within the law; a second person minds the laptop. On the stand: track guarded, nobody behind it,"
        " extraction."
    ),
    "motorcycle": (
        "Within the law; the logger rides along by itself, nobody looks at it while riding. On the drum:"
        " straps, extraction, nobody in line with the wheel."
    ),
    "": (
        "Within the law; on the road a second person minds the laptop. On the drum: straps, extraction,"
        " nobody in line with the tyres."
    ),
}
_RUN_CAUTION = {
    "watercraft": (
        "Made fast or on the absorber, water through the cooling, nobody near jet or propeller, extraction"
        " for carbon monoxide, hearing, extinguisher."
    ),
    "sled": (
        "Track guarded and rated for the speed reached, nobody in line with it, extraction for carbon"
        " monoxide, hearing, extinguisher, fan."
    ),
    "": (
        "Straps, extraction for carbon monoxide, hearing, nobody in line with the tyres, extinguisher, fan;"
        " tyre rating above the speed reached."
    ),
}

_START_CAUTION = {
    "watercraft": (
        "Hull aired again; afloat, or cooling water connected as its maker says, before it runs. Nobody near"
        " jet or propeller, extinguisher at hand."
    ),
    "sled": "Track clear of the floor and guarded, nobody behind it. Somebody watches with the extinguisher.",
    "motorcycle": "Upright on its stand, in neutral, hands clear of chain and fan, extinguisher at hand.",
    "quad": "Brake locked, in neutral, hands clear of belt and fan, extinguisher at hand.",
    "side-by-side": "Brake locked, in neutral, hands clear of belt and fan, extinguisher at hand.",
    "": "Hands, hair and sleeves clear of belts and fans. Somebody watches with the extinguisher.",
}


def before_start(kind: str) -> str:
    """What is said before the engine is cranked or started."""
    return _START_CAUTION.get(kind, _START_CAUTION[""])


def before_log(kind: str) -> str:
    """What is said before a log is captured, before and after the work alike."""
    return _LOG_CAUTION.get(kind, _LOG_CAUTION[""])


def before_runs(kind: str) -> str:
    """What is said before runs are made."""
    return _RUN_CAUTION.get(kind, _RUN_CAUTION[""])
