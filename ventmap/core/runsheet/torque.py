"""Torque: the maker's figure, the wrench that can set it, and what "snug" is allowed for."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..basics import Call, Evidence, Verdict, require_positive

SOURCE = "The maker's figure wins; a wrench is true within 20–100 % of its range"


@dataclass(frozen=True)
class Wrench:
    name: str
    high_nm: float


@dataclass(frozen=True)
class Fastener:
    """One line of the list: the maker's figure [N·m], how many, and whether it is critical (fuel, brake,
    mount, airbag, engine).
    """

    name: str
    nm: float
    count: int = 1
    critical: bool = True


def wrench_call(nm: float, wrench: Wrench, least: float = 0.2) -> Call:
    """Whether a wrench can set a figure: it lies between the share `least` of its range and the whole of
    it.
    """
    require_positive(nm=nm, high_nm=wrench.high_nm)
    low = least * wrench.high_nm
    good = low <= nm <= wrench.high_nm
    return Call(
        "fit.wrench",
        verdict=Verdict.go if good else Verdict.hold,
        because=(
            Evidence("wanted", nm, unit="N·m"),
            Evidence(f"{wrench.name}, {100 * least:g}–100 %", f"{low:g}–{wrench.high_nm:g}", unit="N·m"),
        ),
        do_next=(
            "The wrench can set it." if good else "Use another wrench: this one is not true at that figure."
        ),
        source=SOURCE,
        title="Wrench for the figure",
    )


def choose_wrench(nm: float, wrenches: Sequence[Wrench], least: float = 0.2) -> Wrench | None:
    """The smallest wrench that can set the figure."""
    good = [wrench for wrench in wrenches if least * wrench.high_nm <= nm <= wrench.high_nm]
    return min(good, key=lambda wrench: wrench.high_nm, default=None)


def torque_call(
    fastener: Fastener,
    applied: float | None,
    wrench: Wrench | None,
    snug: bool,
    snug_allowed: bool,
    least: float = 0.2,
) -> Call:
    """Judge one fastener.

    Parameters
    ----------
    applied : float or None
        What was set [N·m]; None where it was not torqued.
    snug : bool
        Done by feel. Allowed by school for fixings that are not critical, and recorded as such.
    """
    title = f"Torque: {fastener.name}"
    if snug:
        allowed = snug_allowed and not fastener.critical
        return Call(
            "fit.torque",
            verdict=Verdict.go if allowed else Verdict.hold,
            because=(Evidence(fastener.name, "snug", fastener.nm, unit="N·m"),),
            do_next=(
                "By feel, on a fixing that is not critical; recorded as such."
                if allowed
                else (
                    "This one is critical: torque it."
                    if fastener.critical
                    else "House rule: every fixing by the wrench."
                )
            ),
            source=SOURCE,
            title=title,
            row=fastener.name,
        )
    if applied is None:
        return Call(
            "fit.torque",
            verdict=Verdict.hold,
            because=(Evidence(fastener.name, "not done", fastener.nm, unit="N·m"),),
            do_next="Torque it.",
            source=SOURCE,
            title=title,
            row=fastener.name,
        )
    off = abs(applied / fastener.nm - 1)
    good = off <= 0.05
    because = (Evidence(fastener.name, round(applied, 2), fastener.nm, unit="N·m"),)
    if not good:
        advice = "Loosen a quarter turn and set the maker's figure; counter-hold unions."
        return Call(
            "fit.torque",
            verdict=Verdict.hold,
            because=because,
            do_next=advice,
            source=SOURCE,
            title=title,
            row=fastener.name,
        )
    if wrench is None:
        advice = "Say which wrench set it: outside its range a wrench clicks where it likes."
        return Call(
            "fit.torque",
            verdict=Verdict.hold,
            because=(*because, Evidence("wrench", "not named")),
            do_next=advice,
            source=SOURCE,
            title=title,
            row=fastener.name,
        )
    fits = wrench_call(fastener.nm, wrench, least)
    if fits.verdict is not Verdict.go:
        return Call(
            "fit.torque",
            verdict=Verdict.hold,
            because=(*because, *fits.because[1:]),
            do_next=fits.do_next,
            source=SOURCE,
            title=title,
            row=fastener.name,
        )
    return Call(
        "fit.torque",
        verdict=Verdict.go,
        because=because,
        do_next=f"{fastener.count} done, counter-held where it is a union.",
        source=SOURCE,
        title=title,
        row=fastener.name,
    )
