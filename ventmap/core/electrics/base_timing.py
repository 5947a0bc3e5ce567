"""Base timing by light: the trigger offset, and whether it holds with speed."""

from __future__ import annotations

from math import isfinite

from ..basics import BadInput, Call, Evidence, Verdict


def trigger_offset(old: float, locked: float, read: float) -> float:
    """New trigger offset [° before top dead centre] after reading `read` with spark locked at `locked`.

    The offset is where the reference edge passes, so a light that reads more advance than was commanded
    means that the edge passes earlier than set: new = old + (read − locked).
    """
    return old + (read - locked)


def pickup_delay_ms(change_deg: float, from_rpm: float, to_rpm: float) -> float:
    """Delay of the pickup that explains a change of timing with speed [ms]; later with speed is positive.

    A crank turns 0.006° in a millisecond for each rpm.

    Raises
    ------
    BadInput
        If the two speeds are less than 500 rpm apart: a light's reading cannot tell a delay there.

    Examples
    --------
    >>> round(pickup_delay_ms(-2.16, 900.0, 3000.0), 3)
    0.171
    """
    if not to_rpm - from_rpm >= 500.0:
        raise BadInput("Read the two speeds at least 500 rpm apart.", "at_rpm")
    return -change_deg / (0.006 * (to_rpm - from_rpm))


def base_timing_calls(
    *, locked: float, read: float, hold_deg: float, stop_deg: float, high: float | None = None
) -> list[Call]:
    """Judge what the light read with spark locked: at idle against the locked value, and faster against that.

    Parameters
    ----------
    locked, read, high : float
        Spark as commanded, as the light reads it at idle, and as it reads it at the higher speed [° before
        top dead centre].
    hold_deg, stop_deg : float
        Difference that holds, and that stops [°].

    Raises
    ------
    BadInput
        If a reading is none.
    """
    for name, value in (("read", read), ("high", high if high is not None else 0.0), ("locked", locked)):
        if not isfinite(value):
            raise BadInput("Type what the light reads, in degrees.", name)
    off = read - locked
    verdict = _verdict(off, hold_deg, stop_deg)
    way = "early" if off > 0 else "late"
    calls = [
        Call(
            "timing.base",
            verdict=verdict,
            because=(
                Evidence("light at idle", round(read, 1), unit="°"),
                Evidence("spark locked at", round(locked, 1), unit="°"),
                Evidence("difference", round(off, 1), hold_deg, unit="°"),
            ),
            do_next=(
                "Spark is where the computer thinks it is."
                if verdict is Verdict.go
                else f"Spark is {abs(off):.1f}° {way}: enter the new offset, then read the light again. No"
                " load before."
            ),
            source="Timing light on a locked spark",
            title="Base timing at idle",
            protects="engine" if verdict is Verdict.stop else "",
        )
    ]
    if high is not None:
        change = high - read
        verdict = _verdict(change, hold_deg, stop_deg)
        calls.append(
            Call(
                "timing.speed",
                verdict=verdict,
                because=(
                    Evidence("light at the higher speed", round(high, 1), unit="°"),
                    Evidence("light at idle", round(read, 1), unit="°"),
                    Evidence("change with speed", round(change, 1), hold_deg, unit="°"),
                ),
                do_next=(
                    "It stays with speed."
                    if verdict is Verdict.go
                    else "Spark moves with speed: the wrong edge of the pickup is taken, or its delay is not"
                    " made good. Change the edge, or enter the delay; then base timing anew."
                ),
                source="Timing light on a locked spark, at two speeds",
                title="Base timing with speed",
                protects="engine" if verdict is Verdict.stop else "",
            )
        )
    return calls


def _verdict(off: float, hold_deg: float, stop_deg: float) -> Verdict:
    if abs(off) > stop_deg + 1e-9:
        return Verdict.stop
    return Verdict.hold if abs(off) > hold_deg + 1e-9 else Verdict.go
