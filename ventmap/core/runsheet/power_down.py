"""Power down: the battery off, or the modules left to sleep where losing memory hurts."""

from __future__ import annotations

from ..basics import HouseRules
from .model import SheetVehicle, Step

BATTERY = "Airbag wiring and high-voltage parts are for licensed practice and the maker's procedure only."
#: Until modules sleep unless the maker says otherwise [s].
SLEEP_S = 600.0
#: Kinds with a bonnet and doors.
ROAD = ("car", "van", "pickup")


def power_down(vehicle: SheetVehicle, rules: HouseRules, forced: bool) -> list[Step]:
    """Battery negative off, or the modules left to sleep where losing memory hurts; `forced` where a fuel
    school asks for the battery.
    """
    if rules.school("safe.power_school") == "modules asleep" and not forced:
        seconds = SLEEP_S if vehicle.sleep_s is None else vehicle.sleep_s
        minutes = seconds / 60
        return [
            Step(
                "make-safe.asleep",
                "make-safe",
                title="Lock it and let the modules sleep",
                do=(
                    f"Key away from it, bonnet latch closed by hand, {minutes:g} min."
                    if vehicle.kind in ROAD
                    else f"Key away from it, every switch off, {minutes:g} min."
                ),
                know="No lamp, no relay clicks, current below 50 mA.",
                wrong=(
                    "A door opened wakes all of it, and many cars prime the pump."
                    if vehicle.kind in ROAD
                    else "A key brought near wakes all of it."
                ),
                evidence="timer",
                seconds=seconds,
                caution=BATTERY,
                minutes=2,
            )
        ]
    which = {True: "both batteries' negatives", False: "the battery's negative"}.get(
        vehicle.two_batteries,  # type: ignore[arg-type]
        "every battery's negative",
    )
    step = Step(
        "make-safe.battery",
        "make-safe",
        title=f"Take {which} off",
        do=(
            "Key out and away; nobody opens a door: many cars prime the pump."
            if vehicle.kind in ROAD
            else "Key out and away."
        ),
        know="No lamp lights.",
        wrong="A second battery keeps it live: both off.",
        caution=BATTERY,
        tools=("10 mm spanner",),
        minutes=4,
    )
    return [step]
