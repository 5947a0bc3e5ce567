"""Whether a remote tuner's file may be taken: whole, of this vehicle and round, new, not leaner in boost."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass

import numpy as np

from ..basics import Call, Evidence, HouseRules, Verdict
from ..forms import Calibration

SOURCE = "A file from elsewhere is taken by what it is, not by who sent it"
#: Less than this share is rounding.
ROUNDING = 0.005


@dataclass(frozen=True)
class Came:
    """What came back.

    Parameters
    ----------
    package : str
        SHA-256 of the package that it says it answers; empty where it does not say.
    named, found : str
        SHA-256 of its file as the letter names it, and as the file is.
    map : Calibration
    """

    package: str
    named: str
    found: str
    map: Calibration


@dataclass(frozen=True)
class Wanted:
    """What this job waits for.

    Parameters
    ----------
    package : str
        SHA-256 of the newest package sent.
    earlier : collection of str
        Those sent before it.
    vin, engine, computer : str
        Of the job; empty where it is not known.
    last : Calibration, optional
        The map that was sent, which ran in the log.
    had : mapping
        SHA-256 of every map this job had → its version.
    barometer_kpa : float
    boosted : bool
    """

    package: str
    earlier: Collection[str]
    vin: str
    engine: str
    computer: str
    last: Calibration | None
    had: Mapping[str, str]
    barometer_kpa: float
    boosted: bool


def file_calls(came: Came, wanted: Wanted, rules: HouseRules) -> list[Call]:
    """Every call on a file that came back, the heaviest reason named in each."""
    calls = [_whole(came), _answers(came, wanted), _vehicle(came, wanted), _newer(came.map, wanted)]
    leaner = _leaner(came.map, wanted, rules)
    return [*calls, leaner] if leaner else calls


def _call(rule: str, verdict: Verdict, title: str, because: tuple[Evidence, ...], do_next: str) -> Call:
    return Call(
        rule,
        verdict=verdict,
        because=because,
        do_next=do_next,
        source=SOURCE,
        title=title,
        protects="computer" if verdict is Verdict.stop else "",
    )


def unreadable_call(named: str, found: str, sentence: str) -> Call:
    """What came is no map."""
    because = (Evidence("SHA-256", found[:16], named[:16] or "not named"),)
    return _call("tuner.whole", Verdict.stop, "What came back cannot be read", because, sentence)


def _whole(came: Came) -> Call:
    title = "The file is the one that the letter names"
    because = (Evidence("SHA-256", came.found[:16], came.named[:16] or "not named"),)
    if not came.named:
        return _call("tuner.whole", Verdict.hold, title, because, "Ask the tuner for its checksum.")
    if came.named.lower() != came.found.lower():
        return _call(
            "tuner.whole", Verdict.stop, title, because, "It was damaged or changed: have it sent again."
        )
    return _call("tuner.whole", Verdict.go, title, because, "It is whole.")


def _answers(came: Came, wanted: Wanted) -> Call:
    title = "It answers the round that was sent"
    because = (Evidence("answers package", came.package[:16] or "not said", wanted.package[:16]),)
    if came.package == wanted.package:
        return _call("tuner.round", Verdict.go, title, because, "It is this round's.")
    if not came.package:
        advice = "Ask the tuner which round it answers, or overrule with what the tuner said."
        return _call("tuner.round", Verdict.hold, title, because, advice)
    if came.package in wanted.earlier:
        advice = "It answers an earlier round: wait for the answer to the newest log."
        return _call("tuner.round", Verdict.hold, title, because, advice)
    return _call(
        "tuner.round", Verdict.stop, title, because, "It answers a package that this job never sent."
    )


def _vehicle(came: Came, wanted: Wanted) -> Call:
    title = "It is for this vehicle"
    identity = came.map.identity
    for what, found, own in (
        ("VIN", identity.vin, wanted.vin),
        ("engine", identity.engine, wanted.engine),
        ("computer", identity.computer, wanted.computer),
    ):
        if found and own and found != own:
            advice = "It is for another vehicle: tell the tuner, and do not write it."
            return _call("tuner.vehicle", Verdict.stop, title, (Evidence(what, found, own),), advice)
    own = identity.vin or "not named"
    because = (
        Evidence("VIN", own, wanted.vin or "not known"),
        Evidence("engine", identity.engine, wanted.engine),
    )
    if (not identity.vin or not wanted.vin) and came.package != wanted.package:
        advice = "Nothing says whose it is, neither a VIN nor the round: ask the tuner."
        return _call("tuner.vehicle", Verdict.hold, title, because, advice)
    if not identity.engine:
        return _call("tuner.vehicle", Verdict.hold, title, because, "It names no engine: ask the tuner.")
    return _call("tuner.vehicle", Verdict.go, title, because, "Vehicle and computer agree.")


def _newer(file: Calibration, wanted: Wanted) -> Call:
    title = "It is a new file"
    version = wanted.had.get(file.sha256)
    if version is None and wanted.last is not None and file.same_figures(wanted.last):
        version = wanted.last.lineage.version
    if version is None:
        return _call(
            "tuner.newer", Verdict.go, title, (Evidence("seen before", "no"),), "It was not here before."
        )
    last = wanted.last is not None and version == wanted.last.lineage.version
    advice = (
        "It is the map that was sent, unchanged: read the tuner's letter for the reason."
        if last
        else "It is an old one: ask for the newest of its line."
    )
    return _call("tuner.newer", Verdict.hold, title, (Evidence("seen before", f"as {version}"),), advice)


def fuel_change(old: Calibration, new: Calibration, from_kpa: float) -> float | None:
    """The leanest change of fuel under load, as a fraction (−0.05: 5 % less); None without fuel in it.

    Parameters
    ----------
    old, new : Calibration
        Of one form.
    from_kpa : float
        Manifold pressure from which on a cell of a full map is under load [kPa]; others are compared whole.

    Notes
    -----
    Full map: delivered fuel follows filling ÷ (target · flow set), compared at the old map's own cells.
    """
    if old.form != new.form:
        return None
    if old.form == "full":
        return _full_change(old, new, from_kpa)
    names = [name for name in old.tables if name.startswith(("fuel_trim", "pulse_factor"))]
    changes = []
    for name in names:
        if name not in new.tables:
            continue
        before, after = old.tables[name], new.tables[name]
        x, y = (flat.ravel() for flat in np.meshgrid(before.x, before.y))
        at = after.at(x, y).reshape(before.values.shape)
        if name.startswith("fuel_trim"):
            changes.append(float(((1 + at / 100) / (1 + before.values / 100) - 1).min()))
        else:
            changes.append(float((at / before.values - 1).min()))
    return min(changes) if changes else None


def _full_change(old: Calibration, new: Calibration, from_kpa: float) -> float:
    filling = old.tables["ve"]
    flow = old.scalars["injector_flow"] / new.scalars["injector_flow"]
    stoich = old.scalars["stoichiometric"] / new.scalars["stoichiometric"]
    x, y = (flat.ravel() for flat in np.meshgrid(filling.x, filling.y[filling.y >= from_kpa]))
    if not len(x):
        return 0.0
    old_ve, new_ve = (one.tables["ve"].at(x, y) for one in (old, new))
    old_target, new_target = (one.tables["lambda_target"].at(x, y) for one in (old, new))
    change = (new_ve / old_ve) * (old_target / new_target) * flow * stoich - 1.0
    return min(0.0, float(change.min()))


def _leaner(file: Calibration, wanted: Wanted, rules: HouseRules) -> Call | None:
    if wanted.last is None:
        return None
    # Where nothing is boosted, full load is what melts a piston.
    from_kpa = wanted.barometer_kpa * (1.0 if wanted.boosted else 0.9)
    change = fuel_change(wanted.last, file, from_kpa)
    if change is None:
        return None
    limit = rules["correct.lean_boost"] / 100
    where = "in boost" if wanted.boosted else "at full load"
    title = f"It is not leaner {where} than the map before"
    because = (
        Evidence(f"leanest change of fuel {where}", round(100 * change, 1), -round(100 * limit, 1), "%"),
    )
    if change < -limit - 1e-9:
        advice = "Do not drive it: ask the tuner for the reason, and have it made anew."
        return _call("tuner.leaner", Verdict.stop, title, because, advice)
    if change < -ROUNDING:
        advice = "It takes fuel under load: on a drum, with a wideband, or overrule with the tuner's reason."
        return _call("tuner.leaner", Verdict.hold, title, because, advice)
    return _call("tuner.leaner", Verdict.go, title, because, "It takes no fuel there.")


#: What a correction of the dead time moves it by, at most; more is another injector's table [ms].
SAME_DEAD_MS = 0.3


def keeps_injectors(sent: Calibration, came: Calibration, rules: HouseRules) -> bool:
    """Whether a full map still holds the injectors of the one that it answers, corrected no further than a
    round may: then nobody has to set them again.
    """
    if sent.form != "full" or came.form != "full":
        return False
    if any(sent.scalars[name] != came.scalars[name] for name in ("injector_rated_kpa", "fuel_pressure_kpa")):
        return False
    before, after = sent.tables["dead_time"], came.tables["dead_time"]
    if (
        before.values.shape != after.values.shape
        or (before.x != after.x).any()
        or (before.y != after.y).any()
    ):
        return False
    moved = abs(came.scalars["injector_flow"] / sent.scalars["injector_flow"] - 1.0)
    near = float(np.abs(after.values - before.values).max()) <= SAME_DEAD_MS
    return near and moved <= rules["correct.step"] / 100 + 1e-9
