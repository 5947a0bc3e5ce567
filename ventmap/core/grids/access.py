"""The way in and the way out: what came off, what went back, and that nothing is left over."""

from __future__ import annotations

from ..basics import AccessItem, BadInput, Call, Evidence, Fastening, Verdict
from ..runsheet import AccessAsked, RefitAsked, TorqueAsked
from .data import AccessData, RefitData, RefitEntry, TorqueData
from .model import GridResult
from .wires import torque

SOURCE = "Access list of this vehicle"


def access(about: AccessAsked, data: AccessData) -> GridResult:
    """``rows``: name, ``off``, and what was ``found`` on the way."""
    typed = {row.name: row for row in data.rows}
    off = [item.name in typed and typed[item.name].off for item in about.items]
    told = tuple(Evidence(row.name, row.found) for row in data.rows if row.found.strip())
    call = Call(
        "fit.access",
        verdict=Verdict.go,
        because=(Evidence("off", sum(off), len(off)), *told),
        do_next="Each by itself, bagged and labelled.",
        source=SOURCE,
        title="Taken off",
    )
    return GridResult((call,), {"off": sum(off), "of": len(off)}, complete=all(off))


def refit(about: RefitAsked, data: RefitData) -> GridResult:
    """``rows``: name, ``back``, ``renewed``, and torque as in a torque list; ``left``: what is left over."""
    typed = {row.name: row for row in data.rows}
    rows = {item.name: typed.get(item.name, RefitEntry(name=item.name)) for item in about.items}
    torqued = [item for item in about.items if item.nm is not None]
    found = torque(_list(about, torqued), TorqueData(rows=tuple(rows.values())))
    calls = [call for item, call in zip(torqued, found.calls, strict=True) if _typed(rows[item.name])]
    calls += [_renewed(item) for item in about.items if _old(item, rows[item.name])]
    whole = all(row.back for row in rows.values()) and found.complete
    left = _count(data.left) if about.counted else 0
    if left:
        calls.append(_left(left))
    if not calls:
        calls.append(_back(sum(row.back for row in rows.values()), len(rows)))
    return GridResult(tuple(calls), found.view, complete=whole and left is not None)


def _list(about: RefitAsked, items: list[AccessItem]) -> TorqueAsked:
    return TorqueAsked(
        fasteners=tuple(
            Fastening(name=item.name, nm=item.nm or 0.0, critical=_seals(item)) for item in items
        ),
        snug_allowed=about.snug_allowed,
        wrenches=about.wrenches,
        wrench_low=about.wrench_low,
    )


def _seals(item: AccessItem) -> bool:
    """What seals or is one-use is never done by feel."""
    return bool(item.opens or item.renew or item.care == "one-use")


def _typed(row: RefitEntry) -> bool:
    return row.applied not in (None, "") or bool(row.snug)


def _old(item: AccessItem, row: RefitEntry) -> bool:
    return row.back and not row.renewed and (bool(item.renew) or item.care == "one-use")


def _renewed(item: AccessItem) -> Call:
    return Call(
        "fit.renewed",
        verdict=Verdict.hold,
        because=(Evidence(item.name, "went back with the old one", "new"),),
        do_next=f"New: {item.renew or 'its fasteners, they are one-use'}.",
        source=SOURCE,
        title=f"{item.name}: new at refitting",
        row=item.name,
    )


def _count(typed: str | int | float | None) -> int | None:
    text = "" if typed is None else str(typed).strip()
    if not text:
        return None
    if not text.isdigit():
        raise BadInput("Left over: count what lies on the bench, 0 where nothing does.", "left")
    return int(text)


def _left(count: int) -> Call:
    return Call(
        "fit.left_over",
        verdict=Verdict.hold,
        because=(Evidence("left over", count, 0),),
        do_next="Find where each belongs before the engine runs: by its bag, its photo, the other side.",
        source=SOURCE,
        title="Something is left over",
    )


def _back(back: int, of: int) -> Call:
    return Call(
        "fit.back",
        verdict=Verdict.go,
        because=(Evidence("back", back, of),),
        do_next="Nothing is left over.",
        source=SOURCE,
        title="Back in place",
    )
