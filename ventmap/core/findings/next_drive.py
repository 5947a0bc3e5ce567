"""What is still to be driven: said to the driver, for what this log does not show yet."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..logs import CHANNELS, Window
from ..vehicle import Gearing
from .model import NotCheckable, ReviewContext

#: Enough of each: for the slowest hunting, for trims to settle, twice for what repeats.
KEY_ON_S, IDLE_S, CRUISE_S, PULLS, LIFTS = 0.5, 20.0, 30.0, 2.0, 1.0
#: A pull that is worth judging goes from this share of the limit to so much below it [rpm].
FROM_SHARE, BELOW_LIMIT_RPM = 0.4, 300.0

#: Said before every drive.
DRIVE_CAUTION = (
    "Within the law; pulls on a drum or a closed course. A second person minds the log: who drives looks at"
    " the road alone. Stop at once at knock, at a warning lamp, or at anything that is heard."
)


@dataclass(frozen=True)
class Drive:
    """One thing to drive.

    Parameters
    ----------
    key : str
        Kind of window that it makes.
    do : str
        What the driver does.
    where : str
        Where that may be done.
    why : str
        What it is for.
    have, want : float
        How much of it there is and is enough, in `unit` (s, or none for a count).
    """

    key: str
    do: str
    where: str
    why: str
    have: float
    want: float
    unit: str

    @property
    def enough(self) -> bool:
        return self.have >= self.want


def drives(
    windows: Sequence[Window], context: ReviewContext, vehicle: str = "", gearing: Gearing | None = None
) -> tuple[Drive, ...]:
    """What a whole log holds, each with how much of it was driven.

    Parameters
    ----------
    windows : sequence of Window
        Of the log so far.
    vehicle : str
        Its kind on the shelf; a boat has no road, and a belt no gears.
    gearing : Gearing, optional
        Its gears, where they are known: which one to take, and how fast that is.
    """

    def longest(kind: str) -> float:
        return max((one.to_s - one.from_s for one in windows if one.kind == kind), default=0.0)

    def count(kind: str) -> float:
        return float(sum(one.kind == kind for one in windows))

    afloat, snow = vehicle == "watercraft", vehicle == "sled"
    open_ = (
        "open water, nobody near"
        if afloat
        else "a closed trail or field"
        if snow
        else "the road, within the law"
    )
    closed = "throttle closed" if _hand(vehicle) else "foot off the pedal"
    full = "open water, nobody near" if afloat else "a closed trail" if snow else "a drum or a closed course"
    plan = [
        Drive(
            "key_on",
            "Key on, engine off: wait three seconds, then start it.",
            "standing",
            "pressure sensors against the barometer",
            longest("key_on"),
            KEY_ON_S,
            "s",
        ),
        Drive(
            "idle",
            f"Warm, everything switched off, {closed}: let it idle.",
            "in the water, never dry" if afloat else "standing",
            "idle, trims that hunt, air leaks",
            longest("idle"),
            IDLE_S,
            "s",
        ),
        Drive(
            "cruise",
            f"Hold one speed with a still {'throttle' if _hand(vehicle) else 'pedal'}.",
            open_,
            "trims, temperatures, the mixture at part load"
            if context.spark
            else "temperatures, boost at part load",
            sum(one.to_s - one.from_s for one in windows if one.kind == "cruise"),
            CRUISE_S,
            "s",
        ),
        Drive("pull", _pull(context, vehicle, gearing), full, _pull_for(context), count("pull"), PULLS, ""),
    ]
    # A two-stroke that is driven by the wheels with its throttle shut gets no oil.
    if not context.belt and not afloat and not context.oil_in_fuel:
        plan.append(
            Drive(
                "overrun",
                "From above 3 000 rpm close the throttle and let it run down to idle.",
                open_,
                "how it comes back to idle",
                count("overrun"),
                LIFTS,
                "",
            )
        )
    return tuple(plan)


def _hand(vehicle: str) -> bool:
    """Its throttle is worked by hand."""
    return vehicle in ("motorcycle", "watercraft", "sled", "quad")


def _pull(context: ReviewContext, vehicle: str, gearing: Gearing | None) -> str:
    open_ = "throttle right open" if _hand(vehicle) else "pedal right down"
    if context.belt or vehicle == "watercraft":
        return f"From low speed, {open_} and held until the engine speed stays level. Twice, cooled between."
    if context.rev_limit is None:
        reach = "from low revs nearly to the limit"
    else:
        low, high = FROM_SHARE * context.rev_limit, context.rev_limit - BELOW_LIMIT_RPM
        reach = f"from about {_round(low)} to {_round(high)} rpm"
    gear = "One gear"
    if gearing is not None and context.rev_limit is not None:
        ends = FROM_SHARE * context.rev_limit, context.rev_limit - BELOW_LIMIT_RPM
        gear = gearing.told(gearing.pull(), *ends)
    return f"{gear}, {open_} and held, {reach}. Twice, cooled between."


def _round(rpm: float) -> str:
    return f"{round(rpm, -2):,.0f}".replace(",", "\u202f")


def _pull_for(context: ReviewContext) -> str:
    if not context.spark:
        return "smoke, rail pressure, boost, exhaust temperature"
    if context.oil_in_fuel:
        return "detonation, exhaust temperature, injector duty"
    boost = "boost, " if context.induction != "none" else ""
    return f"{boost}mixture under load, knock, fuel pressure, heat from pull to pull"


def log_also(not_checkable: Sequence[NotCheckable]) -> tuple[tuple[str, tuple[str, ...]], ...]:
    """Channels to log besides, as a person calls them, each with the kinds that wait for it."""
    wanted: dict[str, list[str]] = {}
    for one in not_checkable:
        for names in one.missing:
            known = [CHANNELS[name].label for name in names.split(" or ") if name in CHANNELS]
            if known:
                wanted.setdefault(" or ".join(known), []).append(one.kind.replace("_", " "))
    return tuple((label, tuple(kinds)) for label, kinds in sorted(wanted.items(), key=lambda it: -len(it[1])))
