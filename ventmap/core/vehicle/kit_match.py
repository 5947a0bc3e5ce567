"""Whether a device fits a vehicle: every requirement checked, each with its reason."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from enum import StrEnum

from ..basics import BodyNetworkModule, Call, Device, Evidence, Vehicle, Verdict


class FitResult(StrEnum):
    """How a requirement stands, the best first, and what that is as a judgement."""

    fits = "fits"
    with_work = "fits with work"
    unknown = "not known"
    no = "does not fit"

    @property
    def verdict(self) -> Verdict:
        """Work is told beforehand and done: it holds nothing up."""
        return {"fits": Verdict.go, "with_work": Verdict.go, "unknown": Verdict.hold, "no": Verdict.stop}[
            self.name
        ]

    @property
    def rank(self) -> int:
        """0 what simply goes in, 3 what does not."""
        return list(FitResult).index(self)


def worst_fit(reasons: Iterable[FitReason]) -> FitResult:
    """The result of the whole: that of its worst requirement; it fits where nothing is asked.

    Examples
    --------
    >>> worst_fit([FitReason("plug", FitResult.with_work, "another"), FitReason("bore", FitResult.fits, "")])
    <FitResult.with_work: 'fits with work'>
    """
    return max((reason.result for reason in reasons), key=lambda result: result.rank, default=FitResult.fits)


@dataclass(frozen=True)
class FitReason:
    """One requirement: what was asked, how it stands, why, and the work and the part from the shelf that it
    takes.
    """

    what: str
    result: FitResult
    why: str
    work: str = ""
    part: str = ""


@dataclass(frozen=True)
class KitMatch:
    """The whole judgement on a device for a vehicle."""

    device: str
    result: FitResult
    reasons: tuple[FitReason, ...]
    not_in_the_box: tuple[str, ...]
    options: tuple[str, ...]
    will_not_control: tuple[str, ...]
    call: Call

    @property
    def work(self) -> tuple[str, ...]:
        return tuple(reason.work for reason in self.reasons if reason.work)

    @property
    def parts(self) -> tuple[str, ...]:
        """What that work takes from the shelf: a pin plan or an update takes nothing."""
        return tuple(reason.part for reason in self.reasons if reason.part)


def match_kit(vehicle: Vehicle, kit: Device, name: str = "") -> KitMatch:
    """Check a device against a vehicle.

    Parameters
    ----------
    vehicle : Vehicle
    kit : Device
    name : str
        What the device is called; its kind where absent.

    Notes
    -----
    What a device does not state is not asked of it: a phone flasher has no harness. Which engines it is made
    for is asked always: where nobody has looked at its maker's list, the call holds.
    """
    checks = (
        _engine,
        _years,
        _induction,
        _injection,
        _connector,
        _harness,
        _gearbox,
        _load_sensing,
        _mount,
        _firmware,
        _body_network,
    )
    reasons = tuple(reason for check in checks if (reason := check(vehicle, kit)) is not None)
    result = worst_fit(reasons)
    bad = [reason for reason in reasons if reason.result == FitResult.no]
    open_ = [reason for reason in reasons if reason.result == FitResult.unknown]
    work = [reason.work for reason in reasons if reason.work]
    advice = (
        f"Choose another device, or write down why this one will do: {bad[0].why}."
        if bad
        else f"Find out first: {'; '.join(reason.why for reason in open_)}."
        if open_
        else "Do first: " + "; ".join(work) + "."
        if work
        else "Nothing stands in its way."
    )
    name = name or kit.kind
    call = Call(
        "plan.fit",
        verdict=result.verdict,
        because=(
            Evidence("requirements met", len(reasons) - len(bad) - len(open_), len(reasons)),
            Evidence("result", result),
        ),
        do_next=advice,
        source="The device maker's list against this vehicle",
        title=f"{name}: {result}",
    )
    return KitMatch(
        name,
        result,
        reasons=reasons,
        not_in_the_box=kit.not_in_box or (),
        options=kit.options or (),
        will_not_control=kit.will_not_control or (),
        call=call,
    )


def _engine(vehicle: Vehicle, kit: Device) -> FitReason:
    engines = [entry.engine for entry in kit.fits]
    have = vehicle.engine
    if have and have in kit.not_for:
        return FitReason("engine", FitResult.no, f"its maker's list does not name {have}")
    if not engines or ("fits" in kit.told and have not in engines):
        return FitReason(
            "engine", FitResult.unknown, "nobody has looked whether its maker's list names this engine"
        )
    if not have:
        return FitReason(
            "engine",
            FitResult.unknown,
            f"made for {', '.join(dict.fromkeys(engines))}; this one's is not known",
        )
    if have in engines:
        return FitReason("engine", FitResult.fits, f"made for {have}")
    return FitReason("engine", FitResult.no, f"made for {', '.join(dict.fromkeys(engines))}; this is {have}")


def _years(vehicle: Vehicle, kit: Device) -> FitReason | None:
    spans = [entry.years for entry in kit.fits if entry.engine == vehicle.engine and entry.years]
    if not spans or not vehicle.years:
        return None
    low, high = vehicle.years
    told = ", ".join(f"{a}–{b}" for a, b in spans)
    if any(a <= low and high <= b for a, b in spans):
        return FitReason("years", FitResult.fits, f"{told} cover {low}–{high}")
    if any(a <= high and low <= b for a, b in spans):
        return FitReason(
            "years",
            FitResult.with_work,
            f"made for {told}; this model ran {low}–{high}",
            "read the build date: the connector changed within the run",
        )
    return FitReason("years", FitResult.no, f"made for {told}; this model ran {low}–{high}")


def _in_list(what: str, have: str, can: Sequence[str], words: str) -> FitReason | None:
    if not can:
        return None
    return (
        FitReason(what, FitResult.fits, f"{words} {have}")
        if have in can
        else FitReason(what, FitResult.no, f"works with {', '.join(can)}; this is {have}")
    )


def _induction(vehicle: Vehicle, kit: Device) -> FitReason | None:
    return _in_list("induction", vehicle.induction, kit.inductions, "made for induction:")


def _injection(vehicle: Vehicle, kit: Device) -> FitReason | None:
    return _in_list("injection", vehicle.injection, kit.injections, "made for injection:")


def _connector(vehicle: Vehicle, kit: Device) -> FitReason | None:
    wants, has = kit.connector, vehicle.connector
    if not wants or not has:
        return None
    if not wants.family.strip() or not has.family.strip():
        return FitReason(
            "connector", FitResult.unknown, "one of the two connectors is not known by its family"
        )
    told = f"{wants.family}, {wants.pins} pins, {wants.gender}"
    mates = {"female": "male", "male": "female"}
    if wants.family == has.family and wants.pins == has.pins and wants.gender == mates[has.gender]:
        return FitReason("connector", FitResult.fits, f"{told} on the vehicle's {has.gender} side")
    if kit.adapter_for == has.family:
        return FitReason(
            "connector",
            FitResult.with_work,
            f"{told}; the vehicle has {has.family}, {has.pins} pins",
            "make the pin plan for the adapter harness",
        )
    return FitReason(
        "connector", FitResult.no, f"{told}; the vehicle has {has.family}, {has.pins} pins, {has.gender}"
    )


def _harness(vehicle: Vehicle, kit: Device) -> FitReason | None:
    length, route = kit.harness_mm, vehicle.route_mm
    if not length or not route:
        return None
    longer = kit.longer_harness_mm
    if length >= route:
        return FitReason("harness", FitResult.fits, f"{length:g} mm reach along a route of {route:g} mm")
    if longer and longer >= route:
        return FitReason(
            "harness",
            FitResult.with_work,
            f"{length:g} mm do not reach along {route:g} mm",
            f"order the longer harness of {longer:g} mm",
            f"longer harness, {longer:g} mm",
        )
    return FitReason("harness", FitResult.no, f"{length:g} mm do not reach along a route of {route:g} mm")


def _gearbox(vehicle: Vehicle, kit: Device) -> FitReason | None:
    can, have = kit.gearboxes, vehicle.gearbox_kind
    if not can:
        return None
    if have is None:
        return FitReason("gearbox", FitResult.unknown, f"runs with {', '.join(can)}; this one's is not known")
    if have in can:
        return FitReason("gearbox", FitResult.fits, f"runs with a {have} gearbox")
    if kit.gearbox_module:
        return FitReason(
            "gearbox",
            FitResult.with_work,
            f"does not control a {have} gearbox itself",
            f"add the {kit.gearbox_module}",
            str(kit.gearbox_module),
        )
    return FitReason("gearbox", FitResult.no, f"does not control a {have} gearbox")


def _load_sensing(vehicle: Vehicle, kit: Device) -> FitReason | None:
    can, have = kit.load_sensing, vehicle.load_sensing
    if not can:
        return None
    if have is None:
        return FitReason(
            "load sensing", FitResult.unknown, f"reads {', '.join(can)}; this one's is not known"
        )
    if have in can:
        return FitReason("load sensing", FitResult.fits, f"reads {have}")
    if "pressure" in can:
        return FitReason(
            "load sensing",
            FitResult.with_work,
            f"reads pressure; this one measures {have}",
            "run a manifold-pressure hose or fit the sensor",
            "manifold-pressure hose",
        )
    return FitReason("load sensing", FitResult.no, f"reads {', '.join(can)}; this one measures {have}")


def _mount(vehicle: Vehicle, kit: Device) -> FitReason | None:
    wants = kit.mount
    if not wants:
        return None
    if wants in ("anywhere", vehicle.mount):
        return FitReason("mount", FitResult.fits, f"mounts: {wants}")
    return FitReason(
        "mount",
        FitResult.with_work,
        f"made for: {wants}; here: {vehicle.mount or 'not known'}",
        "make a bracket away from heat and spray",
        "bracket",
    )


def _firmware(vehicle: Vehicle, kit: Device) -> FitReason | None:
    need = next((entry.firmware for entry in kit.fits if entry.engine == vehicle.engine), None)
    have = kit.firmware
    if not need or not have:
        return None
    parts = [tuple(int(part) for part in re.findall(r"\d+", str(text))) for text in (have, need)]
    if parts[0] >= parts[1]:
        return FitReason("firmware", FitResult.fits, f"{have}, at least {need} is asked")
    return FitReason(
        "firmware",
        FitResult.with_work,
        f"{have}; this engine asks for {need}",
        f"update the firmware to {need} before first power-up",
    )


def _body_network(vehicle: Vehicle, kit: Device) -> FitReason | None:
    need = kit.body_network if isinstance(kit, BodyNetworkModule) else ""
    if not need:
        return None
    have = vehicle.body_network
    if not have:
        return FitReason("body network", FitResult.unknown, f"asks for {need}; this one's is not known")
    return FitReason(
        "body network", FitResult.fits if need == have else FitResult.no, f"asks for {need}; here {have}"
    )
