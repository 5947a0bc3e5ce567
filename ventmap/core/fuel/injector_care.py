"""Used, cleaned or new: what each path for a set of injectors costs, risks and renews."""

from __future__ import annotations

from dataclasses import dataclass

from ..basics import Call, Evidence, Verdict, require_between, require_positive

NEVER = (
    "Never clean the tips of direct injectors mechanically: debris holds the needle open.",
    "Blow the bore clean before pulling; never push dirt down.",
)


@dataclass(frozen=True)
class Path:
    """One way to a set: outlay, what a failure would add on average, both together, and what is renewed
    regardless.
    """

    name: str
    outlay: float
    expected_rework: float
    total: float
    risk: str
    renew: tuple[str, ...]


@dataclass(frozen=True)
class CareSum:
    paths: tuple[Path, ...]
    call: Call


def care_paths(
    count: int,
    *,
    used_each: float,
    clean_each: float,
    new_each: float,
    seals_each: float,
    rework: float,
    direct: bool,
    used_fails: float = 0.10,
    cleaned_fails: float = 0.03,
    new_fails: float = 0.005,
) -> CareSum:
    """Cost of each path for a set, money in the shop's currency.

    Parameters
    ----------
    used_each, clean_each, new_each : float
        Price of a used one, of cleaning and flow-testing one that is there, of a new one.
    seals_each : float
        Seals (and decoupling rings, for direct injection) of one: renewed on every path.
    rework : float
        What it costs to open the engine again for one that fails.
    used_fails, cleaned_fails, new_fails : float
        Share that fails within the season; a set fails when any does. Planning figures: a shop's own record
        is better.
    """
    require_positive(count=count)
    require_between(0.0, 1.0, used_fails=used_fails, cleaned_fails=cleaned_fails, new_fails=new_fails)
    renew = ("upper O-rings", "lower seals") + (("decoupling rings",) if direct else ())
    rows = (
        (
            "used, as bought",
            used_each,
            used_fails,
            "flow unknown: match them, and expect a leak after standing",
        ),
        ("cleaned and flow-tested", clean_each, cleaned_fails, "spread is known; worn seats stay worn"),
        ("new", new_each, new_fails, "one revision for the whole set"),
    )
    paths = []
    for name, each, fails, risk in rows:
        outlay = count * (each + seals_each)
        again = (1 - (1 - fails) ** count) * rework
        paths.append(Path(name, outlay, expected_rework=again, total=outlay + again, risk=risk, renew=renew))
    best = min(paths, key=lambda path: path.total)
    call = Call(
        "plan.injector_care",
        verdict=Verdict.go,
        because=tuple(Evidence(path.name, round(path.total, 2), unit="money") for path in paths),
        do_next=f"Cheapest with its risk counted: {best.name}. {NEVER[0] if direct else NEVER[1]}",
        source="Outlay + chance that any of the set fails × cost of opening again",
        title="Used, cleaned or new",
    )
    return CareSum(tuple(paths), call)
