"""What is asked of injectors and pumps of which little is known."""

from __future__ import annotations

from typing import Any

from .question import Column, Question


def _curve(rows: list[dict[str, Any]]) -> list[list[float]]:
    return sorted([row["kpa"], row["lph"]] for row in rows)


def _codes(rows: list[dict[str, Any]]) -> list[dict[str, Any]]:
    return [{"name": row["name"], "scale": row["scale"], "step": row["step"]} for row in rows]


OF_PARTS: tuple[Question, ...] = (
    Question(
        "injector",
        "ohms",
        title="Injectors: which resistance does their sheet give?",
        found="The sheet: saturated 10 Ω and more, peak-and-hold 1–4 Ω; direct ones by coil or piezo.",
        without="1–4 Ω burns a driver that expects more.",
        steps=("fit.ohms",),
        must=True,
        quantity="resistance",
        unit="Ω",
        rules=("plan.injector",),
    ),
    Question(
        "injector",
        "dead_time",
        title="Injectors: the table of dead times?",
        found="Their data sheet: milliseconds by battery voltage and pressure. Copy and paste it.",
        without="The map keeps the dead time that it came with; idle will show how wrong that is.",
        steps=("base-map.settings", "base-map.dead_time"),
        form="table",
        rules=("base-map.",),
    ),
    Question(
        "pump",
        "curve",
        title="Pump: flow at which pressures?",
        found="The pump's sheet: two points at least.",
        without="Whether it carries the goal is not known.",
        steps=("plan.pump", "fit.pump"),
        must=True,
        form="list",
        columns=(
            Column("kpa", "gauge pressure", "pressure", "kPa"),
            Column("lph", "flow", "pump_flow", "l/h"),
        ),
        build=_curve,
        rules=("plan.pump", "sum.fuel-pump"),
    ),
    Question(
        "pump",
        "volts",
        title="Pump: at which voltage is that measured?",
        found="Beside the curve on its sheet.",
        without="Flow follows voltage: without it the curve says little.",
        steps=("plan.pump",),
        must=True,
        quantity="voltage",
        unit="V",
        rules=("plan.pump", "sum.fuel-pump"),
    ),
    Question(
        "pump",
        "current_a",
        title="Pump: which current does it draw?",
        found="Its sheet, at the pressure of this engine.",
        without="Wire, fuse and relay cannot be chosen.",
        steps=("plan.pump", "fit.pump"),
        must=True,
        quantity="current",
        unit="A",
        rules=("plan.pump", "sum.wire-and-fuse"),
    ),
)
