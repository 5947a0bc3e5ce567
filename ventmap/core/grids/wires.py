"""Grids of wires: continuity, pin plan, grounds; and the torque list."""

from __future__ import annotations

from typing import Any

from ..basics import BadInput, Call
from ..electrics import PinRow, check_pin_plan, common_side, ground_call
from ..runsheet import Fastener, Wrench, choose_wrench, torque_call
from .model import About, Data, GridResult, figure, missing, rows_of


def continuity(about: About, data: Data) -> GridResult:
    """``readings``: rows of ``a`` and ``b`` ([plug, pin]) and ``beeps``. Which side of each plug is the
    shared feed.
    """
    rows = rows_of(data, "readings", ("a", "b", "beeps"))
    for row in rows:
        for end in (row["a"], row["b"]):
            if not isinstance(end, list) or len(end) != 2 or str(end[1]) not in about["pins"]:
                raise BadInput(
                    f"A reading is between two pins, each a plug and one of {', '.join(about['pins'])}.",
                    "readings",
                )
    pairs = [
        ((str(r["a"][0]), str(r["a"][1])), (str(r["b"][0]), str(r["b"][1])), bool(r["beeps"])) for r in rows
    ]
    found = common_side(
        about["plugs"],
        [(a, b) for a, b, beeps in pairs if beeps],
        [(a, b) for a, b, beeps in pairs if not beeps],
    )
    odd = {pin: plug for plug, pin in found.side.items()}
    usual = max(odd, key=lambda pin: list(found.side.values()).count(pin), default="")
    turned = [plug for plug, pin in found.side.items() if pin != usual]
    view = {
        "side": found.side,
        "wires": [[list(place) for place in wire] for wire in found.groups],
        "turned": turned,
    }
    return GridResult(found.calls, view, complete=len(found.side) == len(about["plugs"]))


def pin_plan(about: About, data: Data) -> GridResult:
    """``rows``: pins as in `PinRow`, judged against the functions the device needs."""
    rows = pin_rows(data)
    if not rows:
        return GridResult(
            (missing("wiring.pin_plan", "Pin plan", 0, 1, "Enter the pins, or bring a CSV."),), complete=False
        )
    return GridResult(tuple(check_pin_plan(rows, about.get("needs", ()))))


def pin_rows(data: Data) -> list[PinRow]:
    """Typed rows as pins; a row needs its connector and number."""
    plan = []
    for number, row in enumerate(rows_of(data, "rows", tuple(PinRow.__dataclass_fields__)), 1):
        given = {name: value for name, value in row.items() if value not in (None, "")}
        if not given.get("connector") or not given.get("number"):
            raise BadInput(f"Row {number}: a pin needs its connector and its number.", "rows")
        insulated = bool(given.pop("insulated", False))
        texts = {name: str(value).strip() for name, value in given.items()}
        plan.append(PinRow(**texts, insulated=insulated))  # type: ignore[arg-type]
    return plan


def grounds(about: About, data: Data) -> GridResult:
    """``rows``: name, ``static`` and ``cranking`` voltage drop. Every listed ground at rest; cranking where
    it was measured.
    """
    typed = {row["name"]: row for row in rows_of(data, "rows", ("name", "static", "cranking"))}
    calls: list[Call] = []
    absent = []
    still, turning = float(about.get("static_v", 0.05)), float(about.get("cranking_v", 0.2))
    for name in about["grounds"]:
        row: dict[str, Any] = typed.get(name, {})
        rest = figure(row.get("static"), "voltage", "V", f"{name}, at rest")
        crank = figure(row.get("cranking"), "voltage", "V", f"{name}, cranking")
        if rest is None:
            absent.append(name)
        else:
            calls.append(ground_call(name, rest, False, still, turning))
        if crank is not None:
            calls.append(ground_call(f"{name}, cranking", crank, True, still, turning))
    if absent:
        calls.append(
            missing(
                "wiring.ground",
                "Grounds",
                len(about["grounds"]) - len(absent),
                len(about["grounds"]),
                f"Still to measure: {', '.join(absent)}.",
            )
        )
    return GridResult(tuple(calls), complete=not absent)


def torque(about: About, data: Data) -> GridResult:
    """``rows``: name, ``applied`` torque, ``wrench`` (top of its range), ``snug``; ``about["wrenches"]``:
    those at hand.
    """
    typed = {row["name"]: row for row in rows_of(data, "rows", ("name", "applied", "wrench", "snug"))}
    at_hand = [Wrench(str(w["name"]), float(w["high_nm"])) for w in about.get("wrenches", ())]
    calls, advice, complete = [], {}, True
    least = float(about.get("wrench_low", 0.2))
    for line in about["fasteners"]:
        fastener = Fastener(
            str(line["name"]),
            float(line["nm"]),
            count=int(line.get("count", 1)),
            critical=bool(line.get("critical", True)),
        )
        row: dict[str, Any] = typed.get(fastener.name, {})
        applied = figure(row.get("applied"), "torque", "N·m", fastener.name)
        high = figure(row.get("wrench"), "torque", "N·m", f"{fastener.name}, wrench")
        wrench = next(
            (w for w in at_hand if high is not None and abs(w.high_nm - high) < 1e-6),
            Wrench("wrench", high) if high else None,
        )
        best = choose_wrench(fastener.nm, at_hand, least)
        advice[fastener.name] = best.name if best else "none at hand sets this"
        snug = bool(row.get("snug"))
        complete = complete and (applied is not None or snug)
        calls.append(torque_call(fastener, applied, wrench, snug, bool(about.get("snug_allowed")), least))
    return GridResult(tuple(calls), {"wrench": advice}, complete)
