"""Grids of wires: continuity, pin plan, grounds; and the torque list."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ..basics import BadInput, Call, Verdict, read_record, worst
from ..electrics import PinRow, check_pin_plan, common_side, ground_call
from ..runsheet import (
    Fastener,
    GroundsAsked,
    PinsAsked,
    SidesAsked,
    TorqueAsked,
    Wrench,
    choose_wrench,
    torque_call,
)
from .data import Cell, GroundEntry, GroundsData, PinsData, SidesData, TorqueData, TorqueEntry
from .model import GridResult, figure, missing


def continuity(about: SidesAsked, data: SidesData) -> GridResult:
    """``readings``: pairs of pins that beep or do not. Which side of each plug is the shared feed."""
    for reading in data.readings:
        for end in (reading.a, reading.b):
            if str(end[1]) not in about.pins:
                raise BadInput(
                    f"A reading is between two pins, each a plug and one of {', '.join(about.pins)}.",
                    "readings",
                )
    pairs = [(_place(reading.a), _place(reading.b), reading.beeps) for reading in data.readings]
    found = common_side(
        about.plugs,
        [(a, b) for a, b, beeps in pairs if beeps],
        [(a, b) for a, b, beeps in pairs if not beeps],
        about.banks,
        about.pins,
    )
    pins = list(found.side.values())
    usual = max(dict.fromkeys(pins), key=pins.count, default="")
    turned = [plug for plug, pin in found.side.items() if pin != usual]
    view = {
        "side": found.side,
        "wires": [[list(place) for place in wire] for wire in found.groups],
        "turned": turned,
    }
    return GridResult(found.calls, view, complete=worst(found.calls) is Verdict.go)


def _place(end: tuple[Cell, Cell]) -> tuple[str, str]:
    return str(end[0]), str(end[1])


def pin_plan(about: PinsAsked, data: PinsData) -> GridResult:
    """``rows``: pins as in `PinRow`, judged against the functions the device needs."""
    rows = pins_of(data)
    if not rows:
        return GridResult(
            (missing("wiring.pin_plan", "Pin plan", 0, 1, "Enter the pins, or bring a CSV."),), complete=False
        )
    return GridResult(tuple(check_pin_plan(rows, about.needs)))


def pin_rows(data: Mapping[str, Any]) -> list[PinRow]:
    """Typed rows as pins; a row needs its connector and number."""
    return pins_of(read_record(PinsData, data))


def pins_of(data: PinsData) -> list[PinRow]:
    """Typed rows as pins.

    Raises
    ------
    BadInput
        Naming the row without connector or number.
    """
    plan = []
    for number, row in enumerate(data.rows, 1):
        given = {name: value for name, value in row if value not in (None, "")}
        if "connector" not in given or "number" not in given:
            raise BadInput(f"Row {number}: a pin needs its connector and its number.", "rows")
        insulated = bool(given.pop("insulated", False))
        texts = {name: str(value).strip() for name, value in given.items()}
        plan.append(PinRow(**texts, insulated=insulated))  # type: ignore[arg-type]
    return plan


def grounds(about: GroundsAsked, data: GroundsData) -> GridResult:
    """``rows``: voltage drop of each listed ground, at rest or while cranking: every one that is asked."""
    typed = {row.name: row for row in data.rows}
    calls: list[Call] = []
    absent = []
    for name in about.grounds:
        row = typed.get(name, GroundEntry(name=name))
        if about.cranking:
            volts = figure(row.cranking, "voltage", "V", f"{name}, cranking")
        else:
            volts = figure(row.static, "voltage", "V", f"{name}, at rest")
        if volts is None:
            absent.append(name)
        else:
            label = f"{name}, cranking" if about.cranking else name
            calls.append(ground_call(label, volts, about.cranking, about.static_v, about.cranking_v))
    if absent:
        have, all_ = len(about.grounds) - len(absent), len(about.grounds)
        advice = f"Still to measure: {', '.join(absent)}."
        calls.append(missing("wiring.ground", "Grounds", have, all_, advice))
    return GridResult(tuple(calls), complete=not absent)


def torque(about: TorqueAsked, data: TorqueData) -> GridResult:
    """``rows``: name, ``applied`` torque, ``wrench`` (top of its range), ``snug``; ``about["wrenches"]``:
    those at hand.
    """
    typed = {row.name: row for row in data.rows}
    at_hand = [Wrench(tool.name, tool.high_nm) for tool in about.wrenches]
    calls, advice, complete = [], {}, True
    least = about.wrench_low
    for line in about.fasteners:
        fastener = Fastener(line.name, line.nm, count=line.count, critical=line.critical)
        row = typed.get(fastener.name, TorqueEntry(name=fastener.name))
        applied = figure(row.applied, "torque", "N·m", fastener.name)
        high = figure(row.wrench, "torque", "N·m", f"{fastener.name}, wrench")
        wrench = next(
            (w for w in at_hand if high is not None and abs(w.high_nm - high) < 1e-6),
            Wrench("wrench", high) if high else None,
        )
        best = choose_wrench(fastener.nm, at_hand, least)
        advice[fastener.name] = best.name if best else "none at hand sets this"
        snug = bool(row.snug)
        complete = complete and (applied is not None or snug)
        calls.append(torque_call(fastener, applied, wrench, snug, about.snug_allowed, least))
    return GridResult(tuple(calls), {"wrench": advice}, complete)
