"""Wires, fuses and relays of a load."""

from __future__ import annotations

from dataclasses import dataclass

from ..basics import Call, Evidence, OutOfRange, Verdict, require_positive
from .supply_voltage import SYSTEM_V

COPPER = 0.0172  # Ω·mm²/m at 20 °C
FUSES = (1.0, 2.0, 3.0, 5.0, 7.5, 10.0, 15.0, 20.0, 25.0, 30.0, 40.0, 50.0, 60.0)
#: Cross-section [mm²] -> continuous current of a thin-wall vehicle wire, loosely bundled at 60 °C [A].
WIRES = {0.5: 7.5, 0.75: 10.0, 1.0: 15.0, 1.5: 20.0, 2.5: 30.0, 4.0: 40.0, 6.0: 50.0}


def relay_call(current_a: float, driver_a: float, relay: bool = False) -> Call:
    """Whether a computer's driver may switch a load itself, or a relay is planned for it."""
    require_positive(current_a=current_a, driver_a=driver_a)
    over = current_a > driver_a
    if not over:
        advice = "The driver switches it directly."
    else:
        advice = (
            "By relay, switched by the driver."
            if relay
            else "Plan a relay: the load is above the driver's rating."
        )
    return Call(
        "supply.relay",
        verdict=Verdict.hold if over and not relay else Verdict.go,
        because=(
            Evidence("load", current_a, driver_a, unit="A"),
            Evidence("relay", "planned" if relay else "none"),
        ),
        do_next=advice,
        source="Maker's driver rating",
        title="Driver or relay",
    )


def voltage_drop(current_a: float, length_m: float, area_mm2: float) -> float:
    """Voltage lost in a copper wire and its return [V]: 2·I·ρ·L/A.

    Examples
    --------
    >>> round(voltage_drop(15.0, 4.0, 2.5), 3)
    0.826
    """
    require_positive(current_a=current_a, length_m=length_m, area_mm2=area_mm2)
    return 2.0 * current_a * COPPER * length_m / area_mm2


def fuse_for(current_a: float, wire_rating_a: float | None = None, margin: float = 1.25) -> float:
    """Next standard fuse [A] at or above `margin` times the current, not above the wire's rating.

    Raises
    ------
    OutOfRange
        Where no fuse protects the wire and still carries the load.

    Examples
    --------
    >>> fuse_for(11.0)
    15.0
    """
    require_positive(current_a=current_a)
    fuse = next((size for size in FUSES if size >= margin * current_a - 1e-9), None)
    if fuse is None:
        raise OutOfRange(
            f"No standard fuse carries {current_a:g} A. Split the load over two feeds.", "current_a"
        )
    if wire_rating_a is not None and fuse > wire_rating_a:
        raise OutOfRange(
            f"A {fuse:g} A fuse would not protect a wire rated {wire_rating_a:g} A. Take a thicker wire.",
            "wire_rating_a",
        )
    return fuse


@dataclass(frozen=True)
class WirePlan:
    """The thinnest wire that serves; `drop_v` [V] and `share` of the system voltage."""

    area_mm2: float
    fuse_a: float
    drop_v: float
    share: float
    call: Call


def plan_wire(
    current_a: float,
    length_m: float,
    area_mm2: float | None = None,
    allowed: float = 0.03,
    system_v: float = SYSTEM_V,
    margin: float = 1.25,
) -> WirePlan:
    """Judge a wire, or choose the thinnest that keeps the drop and is protected by its fuse."""
    fuse = fuse_for(current_a, margin=margin)
    sizes = [area_mm2] if area_mm2 else list(WIRES)
    for area in sizes:
        rating = WIRES.get(area, max((r for a, r in WIRES.items() if a <= area), default=0.0))
        drop = voltage_drop(current_a, length_m, area)
        share = drop / system_v
        if (share <= allowed + 1e-9 and fuse <= rating) or area == sizes[-1]:
            break
    good, protected = share <= allowed + 1e-9, fuse <= rating
    advice = (
        "The wire keeps its drop and its fuse."
        if good and protected
        else (
            f"A {fuse:g} A fuse would not protect this wire: take a thicker one."
            if not protected
            else "Too much is lost on the way: a thicker wire, or a shorter route."
        )
    )
    because = (
        Evidence("drop, out and back", round(100 * share, 2), round(100 * allowed, 1), unit="%"),
        Evidence("fuse", fuse, rating, unit="A"),
        Evidence("cross-section", area, unit="mm²"),
    )
    call = Call(
        "supply.wire",
        verdict=Verdict.go if good and protected else Verdict.hold,
        because=because,
        do_next=advice,
        source=f"2·I·ρ·L/A, ρ = 0.0172 Ω·mm²/m; fuse ≥ {margin:g}·I and ≤ the wire's rating",
        title="Wire and fuse",
    )
    return WirePlan(area, fuse, drop_v=drop, share=share, call=call)
