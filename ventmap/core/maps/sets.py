"""Sets: modules that work together run maps of one matched set, never of two."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..basics import Call, Evidence, Verdict
from ..forms import Calibration, MapSet

SOURCE = "Modules that work together take maps from one matched set; stacking tunes is a stop"


@dataclass(frozen=True)
class Member:
    """A module of a job: its name, the map it runs, and the SHA-256 of the map that this was made from."""

    module: str
    map: Calibration
    root: str


def foreign_to(candidate: Calibration, other: MapSet | None) -> str:
    """Why a map may not run beside a set; empty where it may.

    A map of no set beside one that is of a set is foreign too: nobody matched them.
    """
    mine = candidate.set
    if other is None:
        return _broken(candidate.sha256, mine)
    if mine is None:
        return f"it is of no set; the other modules run the set {other.name}: stacked maps stop"
    if mine.name != other.name or dict(mine.members) != dict(other.members):
        return f"it is of the set {mine.name}; the other modules run {other.name}"
    return _broken(candidate.sha256, mine)


def _broken(sha256: str, mine: MapSet | None) -> str:
    if mine is None:
        return ""
    named = mine.members.get(mine.role)
    if named is None:
        return f"the set {mine.name} names no {mine.role}: its file is not whole"
    return "" if named == sha256 else f"the set {mine.name} names another file as its {mine.role}"


def set_calls(members: Sequence[Member], modules: Mapping[str, str]) -> list[Call]:
    """Whether the modules of a job run one whole set.

    Parameters
    ----------
    members : sequence of Member
        The modules whose map is chosen.
    modules : mapping
        Role → module of this job that could take it; empty text where the job has none.

    Returns
    -------
    list of Call
        Empty where no map is of a set.
    """
    of_sets = [(member, member.map.set) for member in members if member.map.set is not None]
    if not of_sets:
        return []
    first = of_sets[0][1]
    assert first is not None
    wrong = [f"{member.module}: {said}" for member in members if (said := _said(member, first))]
    if wrong:
        return [
            Call(
                "map.set",
                verdict=Verdict.stop,
                because=tuple(Evidence("foreign", text) for text in wrong),
                do_next=f"Take every module's map from the set {first.name}, or all from another one.",
                source=SOURCE,
                title="Maps of different sets",
            )
        ]
    have = {one.role for _, one in of_sets if one is not None}
    missing = [role for role in first.members if role not in have]
    because = [Evidence("set", first.name), Evidence("members", len(have), len(first.members))]
    because += [
        Evidence("missing", f"{role} ({modules.get(role) or 'no module of this job'})") for role in missing
    ]
    return [
        Call(
            "map.set",
            verdict=Verdict.hold if missing else Verdict.go,
            because=tuple(because),
            do_next=f"Choose the set's map for {' and '.join(missing)} too." if missing else "One whole set.",
            source=SOURCE,
            title=f"Set {first.name}" if not missing else f"Set {first.name}: a member is missing",
        )
    ]


def _said(member: Member, first: MapSet) -> str:
    one = member.map.set
    if one is None:
        return f"of no set, beside {first.name}"
    if one.name != first.name or dict(one.members) != dict(first.members):
        return f"of the set {one.name}, beside {first.name}"
    return _broken(member.root, one)
