"""Which base map to start from, and why. Whether a device fits is in `kit_match`."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..basics import Call, Evidence, Vehicle, Verdict
from .calibration import Calibration


@dataclass(frozen=True)
class Wanted:
    """What a map must serve: engine, computer, induction, octane in the tank, parts, altitude, firmware."""

    engine: str
    computer: str
    induction: str
    ron: float | None
    ethanol: float
    altitude_m: float
    injector_flow: float
    parameters_will_be_set: bool = True
    exhaust: str = "stock"
    intake: str = "stock"
    cams: str = "stock"


@dataclass(frozen=True)
class MapMatch:
    """A candidate: `conflicts` rule it out; `differences` cost points; `reasons` speak for it."""

    name: str
    sha256: str
    points: int
    conflicts: tuple[str, ...]
    differences: tuple[str, ...]
    reasons: tuple[str, ...]
    octane_stated: bool = True

    @property
    def possible(self) -> bool:
        return not self.conflicts


#: Existing changes of Intake that make a part breathe more freely than it came.
FREER = {"exhaust": ("exhaust", "catalyst"), "intake": ("filter",)}


def parts_on_it(changes: Sequence[str], stock: Vehicle) -> dict[str, str]:
    """Exhaust, intake and cams as they are on the vehicle: as it came, with what Intake says was changed
    since.
    """
    parts = {"exhaust": stock.exhaust, "intake": stock.intake, "cams": stock.cams}
    for part, names in FREER.items():
        if parts[part] == "stock" and any(name in changes for name in names):
            parts[part] = "free"
    if "cams" in changes:
        parts["cams"] = "changed"
    return parts


#: How freely a part breathes; a map made for freer breathing fuels more and is the safe side.
BREATHING = {"stock": 0, "free": 1, "race": 2}


def match_maps(wanted: Wanted, maps: Sequence[Calibration]) -> list[MapMatch]:
    """Judge candidates, the best first; impossible ones last, with the reason.

    Hard conflicts: other engine or computer, other induction or cams, octane above what is in the tank, other
    injectors unless their figures are set afterwards. When nothing fits exactly, a map for freer breathing is
    preferred and one for less is ruled out.
    """
    return sorted(
        (_match(wanted, candidate) for candidate in maps), key=lambda m: (not m.possible, -m.points, m.name)
    )


def _match(wanted: Wanted, candidate: Calibration) -> MapMatch:
    about = candidate.conditions
    conflicts, differences, reasons = [], [], []
    points = 100
    for label, want, have in (
        ("engine", wanted.engine, candidate.identity.engine),
        ("computer", wanted.computer, candidate.identity.computer),
        ("induction", wanted.induction, about.induction),
        ("cam", wanted.cams, about.cams),
    ):
        if want == have:
            reasons.append(f"same {label}: {have}")
        else:
            conflicts.append(f"made for another {label}: {have}, not {want}")
    octane = about.ron
    if octane is None:
        differences.append("octane is not stated: ask its maker which fuel it needs")
        points -= 20
    elif wanted.ron is None:
        conflicts.append(f"needs {octane:g} RON; what is in the tank nobody has said: save Intake")
    elif not octane <= wanted.ron:
        conflicts.append(f"needs {octane:g} RON; the tank holds {wanted.ron:g}")
    elif octane < wanted.ron:
        differences.append(f"made for {octane:g} RON: leaves spark unused")
        points -= 5
    else:
        reasons.append(f"made for {octane:g} RON")
    for part, want, have in (
        ("exhaust", wanted.exhaust, about.exhaust),
        ("intake", wanted.intake, about.intake),
    ):
        apart = BREATHING.get(have, 0) - BREATHING.get(want, 0)
        if apart < 0:
            conflicts.append(f"made for a {have} {part}; this one breathes more and would run lean")
        elif apart > 0:
            differences.append(f"made for a {have} {part}: fuels more, the safe side")
            points -= 10 * apart
        else:
            reasons.append(f"{have} {part}")
    flow = candidate.scalars["injector_flow"]
    if abs(flow / wanted.injector_flow - 1) > 0.005:
        text = f"injectors of {flow:g} cm³/min, here {wanted.injector_flow:g}"
        if wanted.parameters_will_be_set:
            differences.append(f"{text}: set the figures")
            points -= 10
        else:
            conflicts.append(text)
    low, high = about.altitude_m
    if not low <= wanted.altitude_m <= high:
        differences.append(f"proven between {low:g} and {high:g} m, here {wanted.altitude_m:g} m")
        points -= 15
    else:
        reasons.append(f"proven at {low:g}–{high:g} m")
    ethanol = about.ethanol
    if abs(ethanol - wanted.ethanol) > 0.1:
        differences.append(f"made for {100 * ethanol:g} % ethanol, here {100 * wanted.ethanol:g} %")
        points -= 15
    return MapMatch(
        candidate.name,
        candidate.sha256,
        points=max(points, 0),
        conflicts=tuple(conflicts),
        differences=tuple(differences),
        reasons=tuple(reasons),
        octane_stated=octane is not None,
    )


def match_call(match: MapMatch) -> Call:
    """The chosen map against what the job is: a stop where a conflict rules it out."""
    if not match.possible:
        return Call(
            "base-map.match",
            verdict=Verdict.stop,
            because=tuple(Evidence("does not fit", text) for text in match.conflicts),
            do_next="Choose a map that serves what Intake says now, before this one is loaded or run.",
            source="Hard conflicts rule a map out",
            title=f"Base map no longer fits: {match.name}",
        )
    if not match.octane_stated:
        return Call(
            "base-map.match",
            verdict=Verdict.hold,
            because=(Evidence("octane it needs", "not stated"), Evidence("points", match.points, 100)),
            do_next="Ask its maker which fuel it needs: on less it knocks, and nothing here would know.",
            source="Octane above what is in the tank rules a map out",
            title=f"Base map without its octane: {match.name}",
        )
    return Call(
        "base-map.match",
        verdict=Verdict.go,
        because=(
            Evidence("points", match.points, 100),
            *(Evidence("same", reason) for reason in match.reasons[:4]),
            *(Evidence("differs", text) for text in match.differences),
        ),
        do_next="Set this vehicle's figures next." if match.differences else "An exact match.",
        source="Nearest safe map; freer breathing is the safe side",
        title=f"Base map: {match.name}",
    )
