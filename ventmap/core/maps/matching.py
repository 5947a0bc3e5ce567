"""Which base map to start from, and why. Whether a device fits is in `kit_match`."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from ..basics import Call, Evidence, Vehicle, Verdict
from ..forms import FORMS, Calibration, MapSet
from .sets import foreign_to

#: Forms that leave combustion alone: octane and breathing are nothing to them.
BESIDE_THE_ENGINE = ("entries",)


@dataclass(frozen=True)
class Wanted:
    """What a map must serve: engine, computer, induction, octane in the tank, parts, altitude, firmware.

    Parameters
    ----------
    computer : str
        What the map is written for: the computer's name, or the device's.
    injector_flow : float or None
        As petrol passes it [cm³/min]; None where this form does not care.
    catalyst, particulate_filter : str or None
        ``"fitted"``, ``"removed"``; None where nobody said.
    firmware : str or None
        Of the device as it is; None where nobody read it.
    with_set : MapSet or None
        The set that modules of this job run already.
    """

    engine: str
    computer: str
    induction: str
    ron: float | None
    ethanol: float
    altitude_m: float
    injector_flow: float | None
    parameters_will_be_set: bool = True
    exhaust: str = "stock"
    intake: str = "stock"
    cams: str = "stock"
    form: str = "full"
    petrol: bool = True
    gearbox: str = ""
    catalyst: str | None = None
    particulate_filter: str | None = None
    firmware: str | None = None
    with_set: MapSet | None = None


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
    foreign: str = ""

    @property
    def possible(self) -> bool:
        return not self.conflicts

    @property
    def lacks_octane_alone(self) -> bool:
        """It would serve, were its octane stated: its maker can be asked."""
        return not self.octane_stated and self.conflicts == (NO_OCTANE,)

    @property
    def of_another_set_alone(self) -> bool:
        """It would serve, were the other modules of its set: the whole set can be taken."""
        return bool(self.foreign) and self.conflicts == (self.foreign,)


NO_OCTANE = "its octane is not stated: ask its maker which fuel it needs, and state it"
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


@dataclass
class _Said:
    conflicts: list[str] = field(default_factory=list)
    differences: list[str] = field(default_factory=list)
    reasons: list[str] = field(default_factory=list)
    points: int = 100

    def costs(self, points: int, text: str) -> None:
        self.differences.append(text)
        self.points -= points


def match_maps(wanted: Wanted, maps: Sequence[Calibration]) -> list[MapMatch]:
    """Judge candidates, the best first; impossible ones last, with the reason.

    Hard conflicts: another form, engine or computer, other induction or cams, octane above what is in the
    tank or not stated, another gearbox, a firmware that is too old, a catalyst or particulate filter that it
    expects and that is gone (or the other way round), a member of another set, other injectors unless their
    figures are set afterwards. When nothing fits exactly, a map for freer breathing is preferred and one for
    less is ruled out.
    """
    return sorted(
        (_match(wanted, candidate) for candidate in maps), key=lambda m: (not m.possible, -m.points, m.name)
    )


def _match(wanted: Wanted, candidate: Calibration) -> MapMatch:
    said = _Said()
    if candidate.form != wanted.form:
        mine, theirs = FORMS[wanted.form].title, FORMS[candidate.form].title
        said.conflicts.append(f"it is a {theirs}; this device runs a {mine}")
    _same(wanted, candidate, said)
    burns = wanted.form not in BESIDE_THE_ENGINE
    octane = candidate.conditions.ron is not None or not wanted.petrol or not burns
    if burns:
        _breathing(wanted, candidate, said)
        _cleaning(wanted, candidate, said)
        _injectors(wanted, candidate, said)
        _place(wanted, candidate, said)
    _module(wanted, candidate, said)
    if burns and wanted.petrol:
        _octane(wanted, candidate, said)
    return MapMatch(
        candidate.name,
        candidate.sha256,
        points=max(said.points, 0),
        conflicts=tuple(said.conflicts),
        differences=tuple(said.differences),
        reasons=tuple(said.reasons),
        octane_stated=octane,
        foreign=foreign_to(candidate, wanted.with_set) if candidate.set else "",
    )


def _same(wanted: Wanted, candidate: Calibration, said: _Said) -> None:
    about = candidate.conditions
    for label, want, have in (
        ("engine", wanted.engine, candidate.identity.engine),
        ("computer", wanted.computer, candidate.identity.computer),
        ("induction", wanted.induction, about.induction),
        ("cam", wanted.cams, about.cams),
    ):
        if want == have:
            said.reasons.append(f"same {label}: {have}")
        else:
            said.conflicts.append(f"made for another {label}: {have or 'not stated'}, not {want}")


def _octane(wanted: Wanted, candidate: Calibration, said: _Said) -> None:
    octane = candidate.conditions.ron
    if octane is None:
        said.conflicts.append(NO_OCTANE)
    elif wanted.ron is None:
        said.conflicts.append(f"needs {octane:g} RON; what is in the tank nobody has said: save Intake")
    elif not octane <= wanted.ron:
        said.conflicts.append(f"needs {octane:g} RON; the tank holds {wanted.ron:g}")
    elif octane < wanted.ron:
        said.costs(5, f"made for {octane:g} RON: leaves spark unused")
    else:
        said.reasons.append(f"made for {octane:g} RON")
    ethanol = candidate.conditions.ethanol
    # A blend map follows the sensor: what it was made for is a range, not a content.
    if wanted.form != "blend" and abs(ethanol - wanted.ethanol) > 0.1:
        said.costs(15, f"made for {100 * ethanol:g} % ethanol, here {100 * wanted.ethanol:g} %")


def _breathing(wanted: Wanted, candidate: Calibration, said: _Said) -> None:
    about = candidate.conditions
    for part, want, have in (
        ("exhaust", wanted.exhaust, about.exhaust),
        ("intake", wanted.intake, about.intake),
    ):
        apart = BREATHING.get(have, 0) - BREATHING.get(want, 0)
        if apart < 0:
            said.conflicts.append(f"made for a {have} {part}; this one breathes more and would run lean")
        elif apart > 0:
            said.costs(10 * apart, f"made for a {have} {part}: fuels more, the safe side")
        else:
            said.reasons.append(f"{have} {part}")


def _cleaning(wanted: Wanted, candidate: Calibration, said: _Said) -> None:
    """Catalyst and particulate filter: what the map expects against what is there."""
    about = candidate.conditions
    for name, want, have in (
        ("catalyst", wanted.catalyst, about.catalyst),
        ("particulate filter", wanted.particulate_filter, about.particulate_filter),
    ):
        if have is None:
            continue
        if want is None:
            said.costs(10, f"expects the {name} {have}; whether it is, nobody has said")
        elif have == want:
            said.reasons.append(f"{name} {have}")
        elif have == "fitted":
            said.conflicts.append(f"expects the {name}, and it is gone: it would set codes or overheat")
        else:
            said.conflicts.append(f"made for a {name} that is gone; this one would be ruined by its fuel")


def _injectors(wanted: Wanted, candidate: Calibration, said: _Said) -> None:
    flow = candidate.scalars.get("injector_flow")
    if flow is None or wanted.injector_flow is None or abs(flow / wanted.injector_flow - 1) <= 0.005:
        return
    text = f"injectors of {flow:g} cm³/min, here {wanted.injector_flow:g}"
    if wanted.parameters_will_be_set:
        said.costs(10, f"{text}: set the figures")
    else:
        said.conflicts.append(text)


def _place(wanted: Wanted, candidate: Calibration, said: _Said) -> None:
    low, high = candidate.conditions.altitude_m
    if not low <= wanted.altitude_m <= high:
        said.costs(15, f"proven between {low:g} and {high:g} m, here {wanted.altitude_m:g} m")
    else:
        said.reasons.append(f"proven at {low:g}–{high:g} m")


def _module(wanted: Wanted, candidate: Calibration, said: _Said) -> None:
    """Gearbox, firmware and set."""
    gearbox = candidate.conditions.gearbox
    if gearbox is not None and gearbox != wanted.gearbox:
        said.conflicts.append(f"made for the gearbox {gearbox}, not {wanted.gearbox or 'one nobody named'}")
    least = candidate.identity.minimum_firmware
    if least and wanted.firmware is None:
        said.costs(5, f"asks for firmware {least}; which one is in, nobody has read")
    elif least and wanted.firmware is not None and _number(wanted.firmware) < _number(least):
        said.conflicts.append(f"asks for firmware {least}; the device has {wanted.firmware}: update it first")
    foreign = foreign_to(candidate, wanted.with_set)
    if foreign:
        said.conflicts.append(foreign)
    elif candidate.set is not None and wanted.with_set is not None:
        said.reasons.append(f"of the set {candidate.set.name}")


def _number(version: str) -> tuple[int, ...]:
    return tuple(int(part) for part in version.split(".") if part.isdigit())


def match_call(match: MapMatch) -> Call:
    """The chosen map against what the job is: a stop where a conflict rules it out."""
    if match.lacks_octane_alone:
        return Call(
            "base-map.match",
            verdict=Verdict.hold,
            because=(Evidence("octane it needs", "not stated"), Evidence("points", match.points, 100)),
            do_next="Ask its maker which fuel it needs: on less it knocks, and nothing here would know.",
            source="Octane above what is in the tank rules a map out",
            title=f"Base map without its octane: {match.name}",
        )
    if not match.possible:
        return Call(
            "base-map.match",
            verdict=Verdict.stop,
            because=tuple(Evidence("does not fit", text) for text in match.conflicts),
            do_next="Choose a map that serves what Intake says now, before this one is loaded or run.",
            source="Hard conflicts rule a map out",
            title=f"Base map no longer fits: {match.name}",
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
