"""Correction codes on the bodies of direct injectors."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..basics import BadInput, Call, Evidence, Verdict


@dataclass(frozen=True)
class BodyCode:
    """One field of a correction code on a direct injector's body.

    Parameters
    ----------
    cylinder : int
    code : int
        As read on the body.
    scale, offset : float
        Value to enter = code·scale + offset.
    storage_step : float
        Step in which the computer keeps it.
    """

    cylinder: int
    code: int
    scale: float = 1.0
    offset: float = 0.0
    storage_step: float = 1.0

    @property
    def entry_value(self) -> float:
        return self.code * self.scale + self.offset


def compare_read_back(
    codes: Sequence[BodyCode], read: Sequence[float], before: Sequence[float | None] = ()
) -> list[Call]:
    """Judge what is read back after entry: *fine*, *crossed* with another, *still the old one*, or *wrong*.

    Parameters
    ----------
    read : sequence of float
        What the computer says after entry, in the units that are entered.
    before : sequence of float or None
        What it held before, of the injectors that came out; empty where nobody read it.
    """
    if len(codes) != len(read):
        raise BadInput("Give one read-back value for each injector.", "read")

    def fits(code: BodyCode, value: float) -> bool:
        return abs(value - code.entry_value) <= code.storage_step / 2 + 1e-9

    calls = []
    held = [*before, *[None] * (len(codes) - len(before))]
    for code, value, was in zip(codes, read, held, strict=True):
        stale = was is not None and abs(value - was) <= code.storage_step / 2 + 1e-9
        other = next((c for c in codes if c is not code and fits(c, value)), None)
        because = (Evidence(f"cylinder {code.cylinder}", value, code.entry_value),)
        if fits(code, value):
            verdict, title, advice = (
                Verdict.go,
                "fine",
                "Equal within half a storage step: rounded, nothing to do.",
            )
        elif stale:
            verdict, title = Verdict.stop, "still the old one"
            advice = (
                "The computer kept the code of the injector that came out. Enter it again, ignition off and"
                " on, then read back."
            )
        elif other is not None:
            verdict, title = Verdict.stop, "crossed"
            advice = f"This is cylinder {other.cylinder}'s value. Enter both again, then read back."
        else:
            verdict, title, advice = (
                Verdict.stop,
                "wrong",
                "Enter it again from the code on the body, then read back.",
            )
        calls.append(
            Call(
                "injector.body_code",
                verdict=verdict,
                because=because,
                do_next=advice,
                source="Maker's injector coding",
                title=title,
            )
        )
    return calls
