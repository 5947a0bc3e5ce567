"""Whether an injector fits a rail and a seat mechanically: bore, length, seals, neck, plug; each with its
reason.
"""

from __future__ import annotations

from ..basics import Injector, InjectorSeat, Vehicle
from ..vehicle import FitReason, FitResult

#: O-rings and seals take up this much between diameters [mm].
RING_MM = 0.3
#: Two lengths nearer than this are one [mm].
LENGTH_MM = 0.2
#: Longest stack of spacers, or extender, that keeps a rail stiff [mm].
LONGEST_MM = 16.0


def injector_fit(seat: InjectorSeat, injector: Injector) -> tuple[FitReason, ...]:
    """Check an injector against where it would sit. Resistance is judged with the sum of its flow.

    Parameters
    ----------
    seat : InjectorSeat
        Of the vehicle: rail bore, lower seat to the rail's seat, lower bore, inner diameter of the lower
        seal, plug.
    injector : Injector
    injector : mapping
        ``upper_oring_mm``, ``seat_to_rail_mm``, ``lower_land_mm``, ``neck_mm`` (what the lower seal sits on),
        ``plug``.

    Notes
    -----
    What either side does not state is not judged. A neck narrower than its seal's bore lets air past it.
    """
    checks = (_rail, _length, _lower_seal, _neck, _plug)
    return tuple(reason for check in checks if (reason := check(seat, injector)) is not None)


def _both(theirs: float | None, ours: float | None) -> tuple[float, float] | None:
    return None if theirs is None or ours is None else (theirs, ours)


def _goes_into(what: str, size: float, bore: float, part: str, adapter: str) -> FitReason:
    """A round part in its bore: it fills it, wants an adapter, or does not go in."""
    told = f"{size:g} mm {part} in a {bore:g} mm bore"
    if abs(size - bore) <= RING_MM:
        return FitReason(what, FitResult.fits, told)
    if size < bore:
        return FitReason(what, FitResult.with_work, told, f"{adapter} adapters, {size:g} to {bore:g} mm")
    return FitReason(what, FitResult.no, f"{size:g} mm {part} does not go into a {bore:g} mm bore")


def _rail(seat: InjectorSeat, injector: Injector) -> FitReason | None:
    pair = _both(seat.rail_bore_mm, injector.upper_oring_mm)
    if pair is None:
        return None
    bore, ring = pair
    plain = _goes_into("rail bore", ring, bore, "O-ring", "top")
    made = injector.adapter_mm
    if plain.result is not FitResult.no or made is None or abs(made - bore) > RING_MM:
        return plain
    # A larger ring needs the adapter that its maker turns for it: nothing is bored up.
    told = f"{ring:g} mm O-ring, with its adapter in a {bore:g} mm bore"
    return FitReason("rail bore", FitResult.with_work, told, f"its top adapters, {ring:g} to {bore:g} mm")


def _length(seat: InjectorSeat, injector: Injector) -> FitReason | None:
    pair = _both(seat.seat_to_rail_mm, injector.seat_to_rail_mm)
    if pair is None:
        return None
    there, has = pair
    off = has - there
    told = f"{has:g} mm from seat to rail, {there:g} mm is there"
    if abs(off) <= LENGTH_MM:
        return FitReason("length", FitResult.fits, f"{has:g} mm from seat to rail")
    if abs(off) > LONGEST_MM:
        return FitReason("length", FitResult.no, told)
    if off > 0:
        return FitReason(
            "length", FitResult.with_work, told, f"spacers of {off:.1f} mm under the rail, by the spacer sum"
        )
    return FitReason("length", FitResult.with_work, told, f"extenders of {-off:.1f} mm on top")


def _lower_seal(seat: InjectorSeat, injector: Injector) -> FitReason | None:
    pair = _both(seat.lower_bore_mm, injector.lower_land_mm)
    return _goes_into("lower seal", pair[1], pair[0], "land", "lower") if pair else None


def _neck(seat: InjectorSeat, injector: Injector) -> FitReason | None:
    pair = _both(seat.seal_bore_mm, injector.neck_mm)
    if pair is None:
        return None
    bore, neck = pair
    if neck >= bore - RING_MM / 2:
        return FitReason("neck", FitResult.fits, f"{neck:g} mm neck fills its seal")
    return FitReason(
        "neck",
        FitResult.with_work,
        f"{neck:g} mm neck in a seal of {bore:g} mm: air gets past it",
        f"collars on the necks, {neck:g} to {bore:g} mm",
    )


def _plug(seat: InjectorSeat, injector: Injector) -> FitReason | None:
    has, wants = injector.plug, seat.plug
    if not has or not wants:
        return None
    if has == wants:
        return FitReason("plug", FitResult.fits, str(has))
    return FitReason(
        "plug",
        FitResult.with_work,
        f"{has}; the harness has {wants}",
        f"an adapter lead for each, {wants} to {has}",
    )


def injector_seated(vehicle: Vehicle, injector: Injector) -> tuple[FitReason, ...]:
    """How an injector fits a vehicle; by the name of its family where no dimensions are on the shelf."""
    reasons = injector_fit(vehicle.injector_seat, injector)
    if reasons:
        return reasons
    wanted, has = vehicle.injector_family, injector.family
    if has == wanted:
        return (FitReason("family", FitResult.fits, has),)
    return (FitReason("family", FitResult.no, f"{has}; this engine takes {wanted}"),)
