"""What to do next, by what is fitted: a piggyback goes down a level, a flasher sends its log away."""

from __future__ import annotations

from dataclasses import replace

from ..basics import DeviceKind, kinds_with
from .model import Finding, ReviewContext

PRESSURE_BOX, FUEL_BOX, INLINE = (
    DeviceKind.sensor_piggyback,
    DeviceKind.injector_piggyback,
    DeviceKind.inline_controller,
)
OPTION_SETS = kinds_with(lambda record: record.option_sets)
REMOTE, DRIVER, BODY = DeviceKind.remote_flasher, DeviceKind.driver_module, DeviceKind.body_network

_LEVEL = "Go down one level, or to off, before the next pull; then look for the cause."
_TUNER = "No pull on this file. Send the log with the round: the tuner changes the map."
#: Kind of finding → what each kind of device can do about it.
_NEXT: dict[str, dict[str, str]] = {
    "knock": {
        PRESSURE_BOX: _LEVEL,
        FUEL_BOX: "No more load on this fuel: this device cannot move spark. Better fuel, or the stock tune.",
        INLINE: (
            "Take spark out at that speed within the controller's bounds, or the lower position; then one"
            " pull."
        ),
        REMOTE: _TUNER,
        **dict.fromkeys(
            OPTION_SETS, "No pull on this option set: choose one for the octane that is in the tank."
        ),
    },
    "lean_under_load": {
        PRESSURE_BOX: _LEVEL,
        FUEL_BOX: (
            "No more load: raise the factor at this content, or less ethanol; look at pump and filter first."
        ),
        INLINE: (
            "Add fuel in these cells within the controller's bounds before the next pull; at their end, stop."
        ),
        REMOTE: _TUNER,
        **dict.fromkeys(
            OPTION_SETS, "No more load: back to the stock image until supply and options are put right."
        ),
    },
    "smoke": {
        DRIVER: "No load: back to the map of the set, or the next size down.",
        REMOTE: _TUNER,
        **dict.fromkeys(
            OPTION_SETS, "No load on this option set: one that asks for less, or the stock image."
        ),
    },
    "rich_under_load": {
        PRESSURE_BOX: "Look at the stock sensors first: this device does not meter fuel.",
        REMOTE: "Send the log with the round: the tuner changes the map.",
    },
    "injector_limit": {
        PRESSURE_BOX: _LEVEL,
        FUEL_BOX: "Less ethanol or bigger injectors: the lengthened pulse has no room left.",
    },
    "boost_plateau_low": {PRESSURE_BOX: "Same level on a cold engine, then pressure-test the intake."},
    "trim_offset": {
        FUEL_BOX: "Correct the factor at this content so that trims stay put on both fuels.",
        PRESSURE_BOX: "Repair the supply or the leak: this device does not meter fuel.",
        REMOTE: "Send the log with the round.",
    },
}


def advised(finding: Finding, context: ReviewContext) -> Finding:
    """A finding with what can be done about it here."""
    told = _NEXT.get(finding.kind, {}).get(context.device)
    return replace(finding, next=told) if told else finding


def after_clean(context: ReviewContext) -> str:
    """What follows a log in which nothing was found."""
    if context.device == PRESSURE_BOX and not context.level_adds:
        return (
            "Nothing was found at the boost that was driven; whether a level acted this log cannot tell."
            " Read it at the device, and hold its boost against the stock log."
        )
    if context.device == PRESSURE_BOX:
        return "This level holds: the next one may be judged, with one warm pull."
    if context.device == FUEL_BOX:
        return "Trims hold at this content: judge them again after the next fill."
    if context.device == REMOTE:
        return "Send it with the round; prove it where the tuner agrees."
    if not context.spark or context.device in (DRIVER, BODY, *OPTION_SETS):
        return "Go on to Prove."
    return "Correct fuel from this log."
