"""What can be wrong with a pretend vehicle: one switch each, all mixable, with a size."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields

from ventmap.core.basics import BadInput


@dataclass(frozen=True)
class Faults:
    """What is wrong. Zero everywhere is a sound vehicle; the comment says what 1 (or the unit) means."""

    flow_error: float = 0.0  # true injector flow over the sheet's, less 1
    dead_time_error_ms: float = 0.0  # true dead time less the sheet's [ms]
    ve_error: float = 0.0  # peak of the smooth error of filling, fraction
    air_leak: float = 0.0  # past a lower injector seal, at idle vacuum [g/s]
    boost_leak: float = 0.0  # boost lost through a hole, in √kPa: b is less by size · √b
    wastegate_stuck: float = 0.0  # stuck this far open, 0–1
    drive_slip: float = 0.0  # share of the belt's torque that it does not carry
    weak_pump: float = 0.0  # share of the pump's flow that is missing
    clogged_filter: float = 0.0  # share of rail pressure lost at full flow
    one_injector: float = 0.0  # flow of cylinder 1 against the others, less 1: clogged < 0, leaking > 0
    crossed_plugs: float = 0.0  # 1: banks crossed, it never fires
    reversed_plug: float = 0.0  # 1: the piggyback's sensor plug is turned round
    wrong_sensor: float = 0.0  # 1: the piggyback sits on the look-alike sensor
    wrong_side: float = 0.0  # 1: the piggyback's feed lead is on the switched side
    missing_ground: float = 0.0  # volts of noise; 1 V kills the computer in half a minute
    coolant_open: float = 0.0  # 1: thermistor open
    coolant_short: float = 0.0  # 1: thermistor shorted
    pedal_track: float = 0.0  # second track out half way, by this share: worn
    throttle_track: float = 0.0  # the throttle body's second track out half way, by this share
    trigger_offset: float = 0.0  # spark later than asked by this [°]
    pickup_delay: float = 0.0  # spark later by the crank's turn in so many milliseconds: grows with speed
    dead_injector: float = 0.0  # number of the cylinder whose injector plug is off
    crossed_coils: float = 0.0  # 1: coils 1 and 2 exchanged
    stuck_pump: float = 0.0  # 1: the pump's relay does not let go
    slow_battery: float = 0.0  # volts missing from charging
    falling_battery: float = 0.0  # volts that the battery falls by in the course of a write
    low_battery: float = 0.0  # volts missing at rest
    rear_sensor: float = 0.0  # swing of the short trim at idle, percent peak to peak
    poor_fuel: float = 0.0  # knock margin missing [°]
    water_in_ethanol: float = 0.0  # share of water in the fuel, 0–0.1
    heat_soak: float = 0.0  # kelvin more under a hot bonnet
    late_fan: float = 0.0  # kelvin that the fan comes on late
    blocked_radiator: float = 0.0  # share of the coolant's cooler that no wind reaches
    blocked_core: float = 0.0  # share of the intercooler's face that no wind reaches
    sticking_throttle: float = 0.0  # time constant with which the throttle falls back [s]
    misfire: float = 0.0  # share of cylinder 1's charges that do not burn
    coolant_off: float = 0.0  # kelvin that the coolant's sensor reads too much
    traction_cut: float = 0.0  # share of throttle taken in a pull, once
    tyre_error: float = 0.0  # speed shown over true speed, less 1
    body_code_crossed: float = 0.0  # flow of cylinders 1 and 2 exchanged: this fraction apart
    wheel_spin: float = 0.0  # share of drum speed lost at the peak of torque
    strap_slip: float = 0.0  # share of drum speed lost once, when the straps give way in the run
    slow_computer: float = 0.0  # share of requests that are first answered busy, or pending
    old_firmware: float = 0.0  # by this many versions older than its sheet
    stacked_maps: float = 0.0  # 1: somebody's tune is in the stock computer, 6 % rich and 2° early
    wrong_file: float = 0.0  # the tuner sends: 1 another vehicle's, 2 an old one, 3 too lean, 4 damaged
    interrupt_write_at: float = 0.0  # share of a write after which the link is lost once; 0 is never

    @classmethod
    def named(cls, sizes: dict[str, float]) -> Faults:
        """Faults by name; an unknown name is refused with the names that there are."""
        known = [field.name for field in fields(cls)]
        for name in sizes:
            if name not in known:
                raise BadInput(f"No fault is called “{name}”. There are: {', '.join(known)}.", "fault")
        return cls(**sizes)


FAULTS: tuple[str, ...] = tuple(field.name for field in fields(Faults))


def sizes(asked: Sequence[str]) -> dict[str, float]:
    """Faults as they are typed, NAME=SIZE; a name alone is 1.

    Raises
    ------
    BadInput
        If a size is no figure.
    """
    found = {}
    for one in asked:
        name, _, size = one.partition("=")
        try:
            found[name.strip()] = float(size) if size else 1.0
        except ValueError as error:
            sentence = f"“{size}” is no size of the fault “{name}”. Write {name}=0.2, say."
            raise BadInput(sentence, "fault") from error
    return found
